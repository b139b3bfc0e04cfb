import { made } from '@umbek/core/changes';
import { DEVICE_KINDS, GENERIC, kindOf } from '@umbek/core/devices';
import { inOrder, keyFrom, orderBetween } from '@umbek/core/programming';
import type { Device, ShowDocument } from '@umbek/core/show';
import { Link } from 'expo-router';
import { memo, useMemo, useState } from 'react';
import { Pressable, StyleSheet, Text, useWindowDimensions, View } from 'react-native';
import { Button } from 'react-native-paper';
import { ulid } from 'ulid';
import { Heading, TextField } from '../common/fields';
import { Search } from '../common/Search';
import { useLiveState } from '../live/LiveContext';
import { useEdits } from '../show/ShowContext';
import { colour, font, WIDE } from '../theme/tokens';
import { CsvImport } from '../csv/CsvImport';
import { hostFault, portFault } from '../csv/address';
import { type Found, FoundDevices } from './FoundDevices';
import { ManyDevices } from './ManyDevices';
import { ageWords, useHealth } from './useHealth';
import { Segments } from '../common/Segments';

/** Every device with its state in words and the age of its last reply. */
export function DeviceList({ document }: { readonly document: ShowDocument }) {
  const { width } = useWindowDimensions();
  const health = useHealth();
  const { devices: states } = useLiveState();
  const [adding, setAdding] = useState<'one' | 'many' | 'list' | null>(null);
  const [found, setFound] = useState<Found | null>(null);
  const [search, setSearch] = useState('');
  const stateOf = (device: Device) =>
    states.find((candidate) => candidate.key === device.key) ??
    health?.devices.find((candidate) => candidate.key === device.key);
  const groups = useMemo(() => groupsOf(document, search), [document, search]);
  return (
    <View style={styles.list}>
      {adding === 'one' ? (
        <NewDevice
          key={found === null ? '' : `${found.host}:${found.port}`}
          document={document}
          first={found}
          onClose={() => {
            setAdding(null);
            setFound(null);
          }}
        />
      ) : (
        <FoundDevices
          onAdd={(item) => {
            setFound(item);
            setAdding('one');
          }}
        />
      )}
      {adding === 'many' ? <ManyDevices document={document} onClose={() => setAdding(null)} /> : null}
      {adding === 'list' ? <CsvImport document={document} target="devices" onClose={() => setAdding(null)} /> : null}
      {adding === null ? (
        <View style={styles.row}>
          <Button mode="outlined" icon="plus" onPress={() => setAdding('one')}>
            Add a device
          </Button>
          <Button mode="outlined" icon="plus-box-multiple" onPress={() => setAdding('many')}>
            Add many alike
          </Button>
          <Button mode="outlined" icon="table-arrow-down" onPress={() => setAdding('list')}>
            From a list
          </Button>
        </View>
      ) : null}
      {document.devices.length > MANY ? (
        <Search
          placeholder="Search by name, kind, room or address"
          value={search}
          onChangeText={setSearch}
          accessibilityLabel="Search the devices"
          style={styles.search}
          inputStyle={styles.searchInput}
        />
      ) : null}
      {groups.length === 0 && document.devices.length > 0 ? (
        <Text style={styles.hint}>
          No device found. Search for a part of its name, its kind, its room or its address.
        </Text>
      ) : null}
      {document.devices.length === 0 ? (
        <Text style={styles.hint}>
          No device yet. Add the switcher first, then the cameras: buttons and sources are made from what is here.
        </Text>
      ) : null}
      {groups.map((group) => (
        <View key={group.room} style={[styles.cards, width >= WIDE && styles.cardsWide]}>
          {groups.length > 1 || group.room !== '' ? (
            <View style={styles.wholeLine}>
              <Heading words={group.room === '' ? 'Elsewhere' : group.room} />
            </View>
          ) : null}
          {group.devices.map((device) => {
            const state = stateOf(device);
            const age = health?.devices.find((candidate) => candidate.key === device.key)?.lastReplyMs ?? null;
            const reached = state?.state === 'reached';
            return (
              <DeviceCard
                key={device.id}
                device={device}
                kind={kindOf(device, document)?.words ?? device.kind}
                wide={width >= WIDE}
                state={state?.state}
                words={state?.words ?? ''}
                age={reached ? ageWords(age) : ''}
              />
            );
          })}
        </View>
      ))}
    </View>
  );
}

interface DeviceCardProps {
  readonly device: Device;
  readonly kind: string;
  readonly wide: boolean;
  readonly state: string | undefined;
  readonly words: string;
  readonly age: string;
}

/** One device in the list. Drawn anew only when something of it changes: there may be hundreds. */
const DeviceCard = memo(function DeviceCard({ device, kind, wide, state, words, age }: DeviceCardProps) {
  const reached = state === 'reached';
  return (
    <Link href={`/rig/${device.key}` as never} asChild>
      <Pressable
        accessibilityLabel={`${device.name}, ${state ?? 'not known'}`}
        style={StyleSheet.flatten([styles.card, wide && styles.cardWide, !reached && styles.away])}
      >
        <View style={styles.line}>
          <Text style={styles.name}>{device.name}</Text>
          <Text style={[styles.state, { color: reached ? colour.onPreview : colour.warning }]}>
            {reached ? `• reached · ${age}` : `! ${state ?? 'not known'}`}
          </Text>
        </View>
        <Text style={styles.small}>{`${kind} · ${device.host}:${device.port}`}</Text>
        {reached || state === undefined ? null : <Text style={styles.words}>{words}</Text>}
      </Pressable>
    </Link>
  );
});

/** From so many on they are searched rather than looked through. */
const MANY = 8;

/** Devices by room in the order of the show, those that a search finds: every word of it in name, kind, room or address. */
export function groupsOf(document: ShowDocument, search: string): { room: string; devices: Device[] }[] {
  const wanted = search.toLowerCase().split(/\s+/).filter(Boolean);
  const groups = new Map<string, Device[]>();
  for (const device of inOrder(document.devices)) {
    const text =
      `${device.name} ${kindOf(device, document)?.words ?? device.kind} ${device.room} ${device.host}:${device.port}`.toLowerCase();
    if (!wanted.every((word) => text.includes(word))) continue;
    const group = groups.get(device.room);
    if (group) group.push(device);
    else groups.set(device.room, [device]);
  }
  // Those without a room come last.
  return [...groups]
    .map(([room, found]) => ({ room, devices: found }))
    .sort((a, b) => Number(a.room === '') - Number(b.room === ''));
}

function NewDevice({
  document,
  first,
  onClose,
}: {
  readonly document: ShowDocument;
  /** What was found on the network; null: all is to be typed. */
  readonly first: Found | null;
  readonly onClose: () => void;
}) {
  const edits = useEdits();
  const [kind, setKind] = useState(first?.kind ?? 'ptzHead');
  const [name, setName] = useState(first?.name ?? '');
  const [host, setHost] = useState(first?.host ?? '127.0.0.1');
  const [port, setPort] = useState(String(first?.port ?? 52_381));
  const [room, setRoom] = useState('');
  const [profile, setProfile] = useState(document.profiles[0]?.key ?? '');
  const wrong =
    (kind === GENERIC && profile === '') ||
    name.trim() === '' ||
    hostFault(host) !== null ||
    portFault(port, host, document, null) !== null;
  const add = (): void => {
    const device: Device = {
      id: ulid(),
      key: keyFrom(name, new Set(document.devices.map((item) => item.key)), kind),
      name: name.trim(),
      kind,
      host: host.trim(),
      port: Number(port),
      room: room.trim(),
      settings: kind === 'switcher' ? { frameRate: document.show.frameRate } : kind === GENERIC ? { profile } : {},
      order: orderBetween(inOrder(document.devices).at(-1)?.order ?? null, null),
    };
    edits.edit(`Add ${device.name}`, [made('devices', device)]);
    onClose();
  };
  return (
    <View style={styles.form}>
      <Heading words="A new device" />
      <Segments
        value={kind}
        onChange={setKind}
        options={Object.values(DEVICE_KINDS).map((deviceKind) => ({ value: deviceKind.key, label: deviceKind.words }))}
      />
      {kind !== GENERIC ? null : document.profiles.length === 0 ? (
        <Text style={styles.hint}>There is no profile yet. Make one under Profiles first.</Text>
      ) : (
        <Segments
          value={profile}
          onChange={setProfile}
          options={document.profiles.map((item) => ({ value: item.key, label: item.content.name }))}
        />
      )}
      <TextField label="Name" value={name} longest={120} onChange={setName} />
      <TextField label="Address" value={host} fault={hostFault} onChange={setHost} />
      <TextField label="Port" value={port} fault={(text) => portFault(text, host, document, null)} onChange={setPort} />
      <TextField label="Room" value={room} longest={60} onChange={setRoom} />
      <View style={styles.line}>
        <Button onPress={onClose}>Cancel</Button>
        <Button mode="contained" disabled={wrong} onPress={add}>
          Add it
        </Button>
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  list: { gap: 12 },
  hint: { fontFamily: font.regular, fontSize: 16, lineHeight: 22, color: colour.muted },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  cards: { gap: 8 },
  wholeLine: { width: '100%' },
  search: { backgroundColor: colour.plate, borderRadius: 6, height: 48 },
  searchInput: { fontFamily: font.regular, fontSize: 17, minHeight: 0 },
  cardsWide: { flexDirection: 'row', flexWrap: 'wrap' },
  card: {
    backgroundColor: colour.plate,
    borderRadius: 6,
    paddingHorizontal: 14,
    paddingVertical: 10,
    gap: 3,
    borderLeftWidth: 4,
    borderLeftColor: colour.hairline,
  },
  cardWide: { width: '49%' },
  away: { borderLeftColor: colour.warning },
  line: { flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between', gap: 10 },
  name: { fontFamily: font.semibold, fontSize: 18, color: colour.text, flexShrink: 1 },
  state: { fontFamily: font.medium, fontSize: 14, fontVariant: ['tabular-nums'] },
  small: { fontFamily: font.regular, fontSize: 14, color: colour.muted },
  words: { fontFamily: font.medium, fontSize: 14, color: colour.text },
  form: { gap: 10, backgroundColor: colour.plate, borderRadius: 6, padding: 14, maxWidth: 560 },
  left: { alignSelf: 'flex-start' },
});
