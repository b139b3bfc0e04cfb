import { type CommandDefinition, kindOf } from '@umbek/core/devices';
import { type Field, fieldsOf, faultOf, searched, startOf } from '@umbek/core/programming';
import type { Argument, Device, PlainValue, ShowDocument } from '@umbek/core/show';
import { useState } from 'react';
import { Pressable, StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { Search } from '../common/Search';
import { ParamField } from '../steps/ParamField';
import { useLive, usePoint, usePressState } from '../live/LiveContext';
import { colour, font } from '../theme/tokens';
import { HoldCap } from './HoldCap';
import { isHead } from '@umbek/core/part';

/** Everything that this device can be told, to be searched, filled in and sent now. */
export function CommandCatalogue({ document, device }: { readonly document: ShowDocument; readonly device: Device }) {
  const [search, setSearch] = useState('');
  const [open, setOpen] = useState<string | null>(null);
  const commands = Object.entries(kindOf(device, document)?.commands ?? {}).map(([key, definition]) => ({
    key,
    group: key,
    words: definition.words,
    definition,
  }));
  return (
    <View style={styles.list}>
      <Search
        placeholder="Search the commands"
        value={search}
        onChangeText={setSearch}
        style={styles.search}
        inputStyle={styles.searchInput}
        accessibilityLabel="Search the commands"
      />
      {searched(commands, search).map(({ key, definition }) => (
        <View key={key} style={styles.card}>
          <Pressable
            role="button"
            aria-expanded={open === key}
            accessibilityLabel={definition.words}
            onPress={() => setOpen(open === key ? null : key)}
            style={styles.line}
          >
            <Text style={styles.words}>{definition.words}</Text>
            <Text style={styles.key}>{key}</Text>
          </Pressable>
          {open === key ? <SendNow document={document} device={device} command={key} definition={definition} /> : null}
        </View>
      ))}
    </View>
  );
}

/** One command with its parameters, to be sent now: held where it moves until told otherwise. */
export function SendNow({
  document,
  device,
  command,
  definition,
}: {
  readonly document: ShowDocument;
  readonly device: Device;
  readonly command: string;
  readonly definition: CommandDefinition;
}) {
  const live = useLive();
  const fields = fieldsOf(definition);
  const [params, setParams] = useState<Record<string, PlainValue>>(() =>
    Object.fromEntries(
      fields
        .filter((field) => field.required || field.start !== null)
        .map((field) => [
          field.key,
          field.reference === null ? startOf(field) : firstOf(document, device, field.reference),
        ]),
    ),
  );
  const press = usePressState(`${device.key}.${command}`);
  const onAir = useOnAir(document, device);
  const wrong = fields.find(
    (field) => params[field.key] !== undefined && faultOf(field, params[field.key] ?? '') !== null,
  );
  const seen = definition.seenOnAir && (!isHead(device, document) || onAir);
  return (
    <View style={styles.body}>
      {fields.map((field) => (
        <ParamField
          key={field.key}
          document={document}
          device={device.key}
          field={field}
          value={params[field.key]}
          onChange={(value: Argument | undefined) =>
            setParams((now) => {
              const { [field.key]: before, ...rest } = now;
              return value === undefined
                ? rest
                : { ...rest, [field.key]: typeof value === 'object' ? (before ?? '') : value };
            })
          }
        />
      ))}
      <View style={styles.row}>
        {definition.endedBy ? (
          <View style={styles.hold}>
            <HoldCap
              device={device.key}
              command={command}
              params={params}
              sign="Hold"
              label={`Hold to send: ${definition.words}`}
            />
          </View>
        ) : (
          <Button
            mode="contained"
            disabled={wrong !== undefined}
            onPress={() => live.sendCommand(device.key, command, params)}
          >
            Send now
          </Button>
        )}
        <Text style={[styles.state, press?.phase === 'failed' && styles.bad]}>
          {press
            ? press.phase === 'failed' || press.phase === 'asking'
              ? press.why
              : press.phase === 'done'
                ? 'done'
                : 'sent'
            : seen
              ? 'This is seen on air.'
              : ''}
        </Text>
      </View>
    </View>
  );
}

const firstOf = (document: ShowDocument, device: Device, reference: NonNullable<Field['reference']>): string =>
  (reference === 'person'
    ? document.people[0]?.key
    : reference === 'reframe'
      ? document.reframes[0]?.key
      : reference === 'position'
        ? document.positions.find((position) => position.camera === device.key)?.key
        : document.sources[0]?.key) ?? '';

/** Whether the picture of this head is on program. */
export function useOnAir(document: ShowDocument, device: Device): boolean {
  const switcher = document.devices.find((candidate) => candidate.kind === 'switcher')?.key ?? 'switcher';
  const program = usePoint(`${switcher}.program`);
  return document.sources.some(
    (source) => source.camera === device.key && source.input !== null && source.input === program,
  );
}

const styles = StyleSheet.create({
  list: { gap: 6, maxWidth: 720 },
  search: { backgroundColor: colour.plate, borderRadius: 6, height: 46 },
  searchInput: { fontFamily: font.regular, fontSize: 16, minHeight: 0 },
  card: { backgroundColor: colour.plate, borderRadius: 6 },
  line: { flexDirection: 'row', alignItems: 'center', gap: 10, minHeight: 48, paddingHorizontal: 14 },
  words: { flex: 1, fontFamily: font.medium, fontSize: 16, color: colour.text },
  key: { fontFamily: font.regular, fontSize: 14, color: colour.muted },
  body: { paddingHorizontal: 14, paddingBottom: 14, gap: 10 },
  row: { flexDirection: 'row', alignItems: 'center', gap: 12 },
  hold: { width: 96, flexDirection: 'row' },
  state: { flex: 1, fontFamily: font.medium, fontSize: 14, color: colour.warning },
  bad: { color: '#F08A62' },
});
