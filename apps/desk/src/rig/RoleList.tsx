import { changed, made, removed } from '@umbek/core/changes';
import { seatOf } from '@umbek/core/roles';
import { inOrder, newRole, usesOf } from '@umbek/core/programming';
import type { Role, ShowDocument } from '@umbek/core/show';
import { UNKNOWN } from '@umbek/core/expression';
import { useState } from 'react';
import { Pressable, StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { ulid } from 'ulid';
import { Confirm } from '../common/Confirm';
import { Heading, TextField } from '../common/fields';
import { Picker } from '../common/Picker';
import { useLive, usePoints, usePressState } from '../live/LiveContext';
import { useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { RemoveWithUses } from './RemoveWithUses';

const LINES = [1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12];

/** Roles stand for people: a button that names one finds whoever has it, whatever line they sit on. */
export function RoleList({ document }: { readonly document: ShowDocument }) {
  const edits = useEdits();
  const [open, setOpen] = useState<string | null>(null);
  const [fresh, setFresh] = useState<string | null>(null);
  const roles = inOrder(document.roles);
  const add = (): void => {
    const role = newRole(document, ulid());
    edits.edit(`New role ${role.name}`, [made('roles', role)]);
    setOpen(role.id);
    setFresh(role.id);
  };
  return (
    <View style={styles.list}>
      <Heading words="Roles">
        <Button compact icon="plus" onPress={add}>
          Add a role
        </Button>
      </Heading>
      {roles.length === 0 ? (
        <Text style={styles.small}>
          No role yet. A role such as Host stands wherever a source may, and finds the person on their line.
        </Text>
      ) : null}
      {roles.map((role) => (
        <View key={role.id} style={styles.card}>
          <Pressable
            role="button"
            aria-expanded={open === role.id}
            accessibilityLabel={`Role ${role.name}`}
            onPress={() => setOpen(open === role.id ? null : role.id)}
            style={styles.line}
          >
            <Text style={styles.name}>{role.name}</Text>
            <SeatNow document={document} role={role} />
          </Pressable>
          {open === role.id ? <RoleForm document={document} role={role} fresh={fresh === role.id} /> : null}
        </View>
      ))}
    </View>
  );
}

/** Everything that the gateways tell of who sits where. */
function useGateways(document: ShowDocument): (key: string) => string | number | boolean | undefined {
  const keys = document.devices
    .filter((device) => device.kind === 'guestGateway')
    .flatMap((device) => [`${device.key}.waiting`, ...LINES.map((line) => `${device.key}.line${line}Guest`)]);
  const values = usePoints(keys);
  return (key) => values[keys.indexOf(key)];
}

function SeatNow({ document, role }: { readonly document: ShowDocument; readonly role: Role }) {
  const point = useGateways(document);
  const seat = seatOf(role, document, (key) => point(key) ?? UNKNOWN);
  const source = seat.source?.name ?? 'no source';
  return (
    <Text style={styles.small}>
      {seat.line
        ? `${role.person} on line ${seat.line.number}: ${source}`
        : role.person === ''
          ? source
          : `${role.person} on no line: ${source}`}
    </Text>
  );
}

function RoleForm({
  document,
  role,
  fresh,
}: {
  readonly document: ShowDocument;
  readonly role: Role;
  /** Made just now: its name comes next. */
  readonly fresh: boolean;
}) {
  const edits = useEdits();
  const live = useLive();
  const point = useGateways(document);
  const [picking, setPicking] = useState(false);
  const [sure, setSure] = useState<{ gateway: string; line: number; guest: string } | null>(null);
  const set = (field: keyof Role, to: unknown, what: string): void =>
    edits.edit(`${what} of ${role.name}`, [changed('roles', role, field, to)]);
  const seat = seatOf(role, document, (key) => point(key) ?? UNKNOWN);
  const gateway = document.devices.find(
    (device) =>
      device.kind === 'guestGateway' &&
      String(point(`${device.key}.waiting`) ?? '')
        .split('\n')
        .includes(role.person),
  );
  const lines = gateway ? LINES.filter((line) => point(`${gateway.key}.line${line}Guest`) !== undefined) : [];
  const bring = (line: number, guest: string): void => {
    if (!gateway) return;
    if (guest !== '') return setSure({ gateway: gateway.key, line, guest });
    live.sendCommand(gateway.key, 'putOnLine', { guest: role.person, line });
  };
  const displace = (): void => {
    if (!sure) return;
    live.sendCommand(sure.gateway, 'takeOff', { line: sure.line });
    live.sendCommand(sure.gateway, 'putOnLine', { guest: role.person, line: sure.line });
  };
  // A line on air asks for a second touch: the question stays until the person sits there.
  const [taken, given] = [
    usePressState(`${gateway?.key ?? 'none'}.takeOff`),
    usePressState(`${gateway?.key ?? 'none'}.putOnLine`),
  ];
  const refused = [taken, given].find((press) => press?.phase === 'asking' || press?.phase === 'failed');
  return (
    <View style={styles.form}>
      <TextField
        label="Name of the role"
        fresh={fresh}
        value={role.name}
        longest={120}
        fault={(text) => (text === '' ? 'Give the role a name.' : null)}
        onChange={(text) => set('name', text, 'Name')}
      />
      <TextField
        label="Person, as the gateway names them"
        value={role.person}
        longest={120}
        onChange={(text) => set('person', text.trim(), 'Person')}
      />
      <Text style={styles.small}>While the person sits on a line, its source is meant; otherwise this one:</Text>
      <Button mode="outlined" style={styles.left} onPress={() => setPicking(true)}>
        {document.sources.find((source) => source.key === role.source)?.name ?? 'No source'}
      </Button>
      {gateway && seat.line === undefined ? (
        <View style={styles.form}>
          <Text style={styles.small}>{`${role.person} waits and is on no line. Bring onto:`}</Text>
          <View style={styles.row}>
            {lines.map((line) => {
              const guest = String(point(`${gateway.key}.line${line}Guest`) ?? '');
              return (
                <Button key={line} mode="outlined" compact onPress={() => bring(line, guest)}>
                  {guest === '' ? `Line ${line}` : `Line ${line}: ${guest}`}
                </Button>
              );
            })}
          </View>
        </View>
      ) : null}
      {refused && seat.line === undefined ? (
        <Text style={styles.refused} role="alert">
          {refused.why}
        </Text>
      ) : null}
      {sure && seat.line === undefined ? (
        <Confirm
          words={`${sure.guest} is on line ${sure.line}. Replace ${sure.guest} with ${role.person}?`}
          keep={`Keep ${sure.guest}`}
          go="Replace"
          onKeep={() => setSure(null)}
          onGo={displace}
        />
      ) : null}
      <RemoveWithUses
        what={role.name}
        uses={usesOf(document, { kind: 'role', key: role.key })}
        onRemove={() => edits.edit(`Remove ${role.name}`, [removed('roles', role)])}
      />
      <Picker
        title="Which source, otherwise?"
        memory="sources"
        visible={picking}
        onClose={() => setPicking(false)}
        choices={[
          { key: '', group: 'Sources', words: 'No source' },
          ...document.sources.map((source) => ({ key: source.key, group: 'Sources', words: source.name })),
        ]}
        onChoose={(choice) => set('source', choice.key === '' ? null : choice.key, 'Source')}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  list: { gap: 8, maxWidth: 720 },
  card: { backgroundColor: colour.plate, borderRadius: 6, overflow: 'hidden' },
  line: { flexDirection: 'row', alignItems: 'center', gap: 12, minHeight: 50, paddingHorizontal: 14 },
  name: { fontFamily: font.semibold, fontSize: 17, color: colour.text, flexGrow: 1 },
  small: { fontFamily: font.regular, fontSize: 14, lineHeight: 19, color: colour.muted, flexShrink: 1 },
  refused: { fontFamily: font.medium, fontSize: 15, color: colour.warning },
  form: { padding: 14, gap: 10 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  left: { alignSelf: 'flex-start' },
});
