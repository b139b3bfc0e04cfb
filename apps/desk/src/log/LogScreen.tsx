import { useLocalSearchParams, useRouter } from 'expo-router';
import { useMemo, useState } from 'react';
import { FlatList, Pressable, StyleSheet, Text, useWindowDimensions, View } from 'react-native';
import { Button, Chip } from 'react-native-paper';
import type { ShowDocument } from '@umbek/core/show';
import { AnchoredMenu } from '../common/AnchoredMenu';
import { timeOfDay } from '../common/timeWords';
import { useLayer } from '../common/useLayer';
import { Loading } from '../common/Loading';
import { useShow } from '../show/ShowContext';
import { colour, font, WIDE } from '../theme/tokens';
import { EditHistory } from './EditHistory';
import { kindWords, whoOf } from './entryWords';
import { type LogRow, logRows, plainRows } from './logRows';
import { RunSheet } from './RunSheet';
import { useLog } from './useLog';
import { Segments } from '../common/Segments';

const KINDS: readonly { readonly label: string; readonly kinds: string }[] = [
  { label: 'Everything', kinds: '' },
  { label: 'Presses', kinds: 'press,refusal,stopAll' },
  { label: 'Runs', kinds: 'runStart,runEnd' },
  { label: 'Commands', kinds: 'command,outcome,settled' },
  { label: 'Triggers', kinds: 'trigger' },
  { label: 'Devices', kinds: 'device,engine' },
];
const PAGE = 200;
const MOST = 1000;

/** Log: what really happened, and who changed what. */
export function LogScreen() {
  const document = useShow();
  return document ? <Log document={document} /> : <Loading />;
}

function Log({ document }: { readonly document: ShowDocument }) {
  const { width } = useWindowDimensions();
  const wide = width >= WIDE;
  const router = useRouter();
  const { run } = useLocalSearchParams<{ run?: string }>();
  const [part, setPart] = useState('asRun');
  const [kind, setKind] = useState('');
  const [device, setDevice] = useState('');
  const [person, setPerson] = useState('');
  const [limit, setLimit] = useState(PAGE);
  const { entries, failed, loaded } = useLog({ kind, device, person }, limit);
  const people = [
    ...new Set([...entries.map(whoOf).filter((candidate) => candidate !== ''), ...(person === '' ? [] : [person])]),
  ];
  // A filter shows the single entries of its kind.
  const rows = useMemo(
    () => (kind === '' ? logRows(entries, document) : plainRows(entries, document)),
    [entries, kind, document],
  );
  const open = (runId: string | undefined): void => router.setParams({ run: runId } as never);
  // On a phone the run lies over the list.
  useLayer(!wide && run !== undefined, () => open(undefined));
  const list = (
    <FlatList
      tabIndex={0}
      accessibilityLabel="The as-run"
      data={rows}
      keyExtractor={(row) => String(row.key)}
      initialNumToRender={30}
      style={styles.fill}
      contentContainerStyle={styles.rows}
      ListEmptyComponent={
        <Text style={styles.hint}>
          {failed ? 'The engine cannot be reached.' : loaded ? 'Nothing of this kind has happened yet.' : 'Reading…'}
        </Text>
      }
      ListFooterComponent={
        entries.length >= limit && limit < MOST ? (
          <Button onPress={() => setLimit(Math.min(MOST, limit + PAGE))}>Show earlier ones</Button>
        ) : null
      }
      renderItem={({ item }) => (
        <Row row={item} chosen={run !== undefined && item.runId === run} onOpen={open} wide={wide} />
      )}
    />
  );
  return (
    <View style={styles.all}>
      <View style={styles.head}>
        <Text style={styles.title} role="heading">
          Log
        </Text>
        <View style={styles.parts}>
          <Segments
            value={part}
            onChange={setPart}
            options={[
              { value: 'asRun', label: 'As run' },
              { value: 'edits', label: 'Edits' },
            ]}
          />
        </View>
      </View>
      {part === 'edits' ? (
        <EditHistory />
      ) : (
        <>
          <View style={styles.filters}>
            <Filter
              label={KINDS.find((candidate) => candidate.kinds === kind)?.label ?? 'Kind'}
              active={kind !== ''}
              choices={KINDS.map((item) => ({ value: item.kinds, label: item.label }))}
              onChoose={setKind}
              name="Kind"
            />
            <Filter
              label={document.devices.find((candidate) => candidate.key === device)?.name ?? 'All devices'}
              active={device !== ''}
              choices={[
                { value: '', label: 'All devices' },
                ...document.devices.map((item) => ({ value: item.key, label: item.name })),
              ]}
              onChoose={setDevice}
              name="Device"
            />
            <Filter
              label={person === '' ? 'Everybody' : person}
              active={person !== ''}
              choices={[{ value: '', label: 'Everybody' }, ...people.map((item) => ({ value: item, label: item }))]}
              onChoose={setPerson}
              name="Person"
            />
          </View>
          <View style={styles.body}>
            {run !== undefined && !wide ? null : list}
            {run === undefined ? null : <RunSheet runId={run} onClose={() => open(undefined)} wide={wide} />}
          </View>
        </>
      )}
    </View>
  );
}

function Filter({
  name,
  label,
  active,
  choices,
  onChoose,
}: {
  readonly name: string;
  readonly label: string;
  readonly active: boolean;
  readonly choices: readonly { value: string; label: string }[];
  readonly onChoose: (value: string) => void;
}) {
  return (
    <AnchoredMenu
      items={choices.map((choice) => ({ title: choice.label, onPress: () => onChoose(choice.value) }))}
      anchor={(open) => (
        <Chip
          selected={active}
          showSelectedCheck={false}
          mode={active ? 'flat' : 'outlined'}
          onPress={open}
          accessibilityLabel={`${name}: ${label}`}
        >
          {label}
        </Chip>
      )}
    />
  );
}

function Row({
  row,
  chosen,
  onOpen,
  wide,
}: {
  readonly row: LogRow;
  readonly chosen: boolean;
  readonly onOpen: (runId: string) => void;
  readonly wide: boolean;
}) {
  const { runId, words, bad, who } = row;
  const inner = (
    <>
      <Text style={styles.time}>{timeOfDay(row.at)}</Text>
      {wide ? <Text style={styles.kind}>{kindWords[row.kind]}</Text> : null}
      <View style={styles.fill}>
        <Text style={[styles.words, bad && styles.bad]}>{`${bad ? '! ' : ''}${words}`}</Text>
        {who === '' ? null : <Text style={styles.who}>{who}</Text>}
      </View>
      {runId === undefined ? null : <Text style={styles.open}>›</Text>}
    </>
  );
  if (runId === undefined) return <View style={styles.row}>{inner}</View>;
  return (
    <Pressable
      role="button"
      accessibilityLabel={`${words}: open its run`}
      onPress={() => onOpen(runId)}
      style={[styles.row, chosen && styles.chosen]}
    >
      {inner}
    </Pressable>
  );
}

const styles = StyleSheet.create({
  all: { flex: 1, backgroundColor: colour.ground, padding: 12, gap: 10 },
  head: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 12 },
  title: { fontFamily: font.bold, fontSize: 22, color: colour.text },
  parts: { flexGrow: 1, flexShrink: 1, flexBasis: 160, maxWidth: 320, marginLeft: 'auto' },
  filters: { flexDirection: 'row', gap: 8, flexWrap: 'wrap' },
  body: { flex: 1, flexDirection: 'row', gap: 14 },
  fill: { flex: 1 },
  rows: { paddingBottom: 20 },
  row: {
    flexDirection: 'row',
    gap: 10,
    minHeight: 40,
    paddingVertical: 6,
    alignItems: 'center',
    borderBottomWidth: 1,
    borderBottomColor: colour.hairline,
  },
  chosen: { backgroundColor: colour.raised },
  time: { fontFamily: font.regular, fontSize: 14, color: colour.muted, fontVariant: ['tabular-nums'], minWidth: 90 },
  kind: { fontFamily: font.regular, fontSize: 14, color: colour.muted, minWidth: 74 },
  words: { fontFamily: font.medium, fontSize: 16, lineHeight: 20, color: colour.text },
  bad: { color: colour.warning },
  who: { fontFamily: font.regular, fontSize: 13, color: colour.muted },
  open: { fontFamily: font.medium, fontSize: 20, color: colour.muted, paddingHorizontal: 6 },
  hint: { fontFamily: font.regular, fontSize: 16, color: colour.muted, padding: 12 },
});
