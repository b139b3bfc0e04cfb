import { useQuery } from '@tanstack/react-query';
import type { ShowDocument } from '@umbek/core/show';
import { useMemo, useState } from 'react';
import { type GestureResponderEvent, Pressable, StyleSheet, Text, View } from 'react-native';
import { ActivityIndicator, Button } from 'react-native-paper';
import { Segments } from '../../common/Segments';
import { useLive, useScopes } from '../../live/LiveContext';
import { useEditState } from '../../show/ShowContext';
import { colour, font } from '../../theme/tokens';
import type { StepOwner } from '../owner';
import { type Lane, lanesOf, markEvery, stateAt } from './lanes';
import { rehearsalOf, type Timeline } from './rehearsal';

/** So many lines tell what is so at a moment. */
const MOST_LINES = 8;
/** Names of lanes are so wide. */
const NAMES_PX = 84;

/** What the same engine foresees, from how things are now or from devices just switched on: lanes to look along, and what is so at each step. */
export function RehearsalView({ document, owner }: { readonly document: ShowDocument; readonly owner: StepOwner }) {
  const { revision, waiting } = useEditState();
  const [from, setFrom] = useState<'live' | 'start'>('live');
  const { data, isFetching, refetch } = useQuery({
    queryKey: ['rehearsal-view', owner.entry.id, revision, from],
    queryFn: () => rehearsalOf(owner, { watch: true, from }),
    enabled: waiting === 0,
    staleTime: 0,
    gcTime: 0,
  });
  return (
    <View style={styles.all} testID="rehearsal">
      <Segments
        value={from}
        onChange={(to) => setFrom(to === 'start' ? 'start' : 'live')}
        options={[
          { value: 'live', label: 'From now' },
          { value: 'start', label: 'From show start' },
        ]}
      />
      {data === undefined ? <ActivityIndicator accessibilityLabel="Rehearsing" /> : null}
      {typeof data === 'string' ? (
        <Text style={styles.fault} role="alert">
          {data}
        </Text>
      ) : null}
      {typeof data === 'object' ? (
        <Walk key={`${from} ${revision}`} document={document} timeline={data} live={from === 'live'} />
      ) : null}
      <Button mode="outlined" style={styles.left} loading={isFetching} onPress={() => void refetch()}>
        Rehearse again
      </Button>
    </View>
  );
}

const seconds = (ms: number): string => `${(ms / 1000).toFixed(2)} s`;

function Walk({
  document,
  timeline,
  live,
}: {
  readonly document: ShowDocument;
  readonly timeline: Timeline;
  readonly live: boolean;
}) {
  const store = useLive();
  const switcher = document.devices.find(({ kind }) => kind === 'switcher')?.key ?? 'switcher';
  useScopes(useMemo(() => [switcher], [switcher]));
  const steps = useMemo(() => timeline.entries.filter(({ kind }) => kind === 'step'), [timeline]);
  const lanes = useMemo(
    () => lanesOf(timeline, document, live ? store.point : () => undefined),
    [timeline, document, store, live],
  );
  const [t, setT] = useState(0);
  const [step, setStep] = useState(0);
  const state = useMemo(() => stateAt(timeline, t, document), [timeline, t, document]);
  const end = timeline.entries.find(({ kind }) => kind === 'runEnd');
  const commands = timeline.entries.filter(({ kind }) => kind === 'command').length;
  const shown = steps[step];
  const go = (to: number): void => {
    const next = steps[to];
    if (next === undefined) return;
    setStep(to);
    // What a step does at once is so when it ends, not when it begins.
    const over = timeline.entries.find(({ kind, path }) => kind === 'stepEnd' && path === next.path);
    setT(over?.t ?? next.t);
  };
  const look = (to: number): void => {
    setT(to);
    setStep(
      Math.max(
        0,
        steps.findLastIndex((timelineEntry) => timelineEntry.t <= to),
      ),
    );
  };
  return (
    <>
      <Text style={styles.whole}>
        {`${seconds(timeline.durationMs)} · ${steps.length} ${steps.length === 1 ? 'step' : 'steps'} · ${commands} ${commands === 1 ? 'command' : 'commands'}${timeline.cutOff ? ' · cut off here: it goes on longer' : ''}`}
      </Text>
      {end?.how === 'failed' || end?.how === 'stopped' ? (
        <Text style={styles.fault} role="alert">{`${seconds(end.t)}: it would be ${end.how}. ${end.why ?? ''}`}</Text>
      ) : null}
      <Lanes lanes={lanes} durationMs={Math.max(1, timeline.durationMs)} t={t} onLook={look} />
      <View style={styles.row}>
        <Button mode="outlined" disabled={step === 0} onPress={() => go(step - 1)}>
          Step back
        </Button>
        <Button mode="outlined" disabled={step >= steps.length - 1} onPress={() => go(step + 1)}>
          Next step
        </Button>
      </View>
      {shown === undefined ? null : (
        <View testID="at-this-moment" aria-live="polite">
          <Text style={styles.at}>{`At ${seconds(t)}, step ${step + 1} of ${steps.length}`}</Text>
          <Text style={styles.words}>{shown.words}</Text>
          {state.slice(0, MOST_LINES).map(({ key, about, is }) => (
            <Text key={key} style={styles.value}>
              {about}: <Text style={styles.is}>{is}</Text>
            </Text>
          ))}
          {state.length > MOST_LINES ? (
            <Text style={styles.value}>{`and ${state.length - MOST_LINES} more that changed before`}</Text>
          ) : null}
          {state.length === 0 ? <Text style={styles.value}>Nothing has changed yet.</Text> : null}
        </View>
      )}
    </>
  );
}

function Lanes({
  lanes,
  durationMs,
  t,
  onLook,
}: {
  readonly lanes: readonly Lane[];
  readonly durationMs: number;
  readonly t: number;
  readonly onLook: (t: number) => void;
}) {
  const [width, setWidth] = useState(0);
  const every = markEvery(durationMs) * 1000;
  const marks = Array.from({ length: Math.floor(durationMs / every) + 1 }, (_one, at) => at * every);
  const place = (ms: number): `${number}%` => `${(Math.min(ms, durationMs) / durationMs) * 100}%`;
  const touch = ({ nativeEvent }: GestureResponderEvent): void => {
    const x = (nativeEvent as unknown as { offsetX?: number }).offsetX ?? nativeEvent.locationX;
    if (width > 0) onLook(Math.max(0, Math.min(durationMs, (x / width) * durationMs)));
  };
  return (
    <View style={styles.lanes}>
      <View style={styles.names}>
        {lanes.map(({ key, name }) => (
          <Text key={key} numberOfLines={1} style={styles.name}>
            {name}
          </Text>
        ))}
      </View>
      <View style={styles.fill} onLayout={({ nativeEvent }) => setWidth(nativeEvent.layout.width)}>
        {lanes.map((lane) => (
          <View key={lane.key} style={styles.lane} accessibilityLabel={laneWords(lane)} role="img">
            {lane.bars.map((bar, at) => (
              <View
                key={at}
                style={[
                  styles.bar,
                  lane.kind === 'air' ? styles.air : lane.kind === 'waits' ? styles.waits : styles.device,
                  lane.kind === 'air' && at % 2 === 1 && styles.other,
                  bar.trouble && styles.trouble,
                  { left: place(bar.start), width: place(bar.end - bar.start) },
                ]}
              >
                {lane.kind === 'air' ? (
                  <Text numberOfLines={1} style={styles.barWords}>
                    {bar.words}
                  </Text>
                ) : null}
              </View>
            ))}
          </View>
        ))}
        <View style={styles.axis}>
          {marks.map((mark) => (
            <Text key={mark} style={[styles.mark, { left: place(mark) }]}>
              {mark / 1000}
            </Text>
          ))}
        </View>
        <View pointerEvents="none" style={[styles.cursor, { left: place(t) }]} />
        <Pressable
          style={styles.over}
          onPress={touch}
          accessibilityLabel="Look at a moment"
          role="button"
          testID="lanes"
        />
      </View>
    </View>
  );
}

/** A lane read aloud. */
const laneWords = ({ name, bars }: Lane): string =>
  `${name}: ${bars.map(({ words, start, end }) => `${words} ${seconds(start)} to ${seconds(end)}`).join(', ')}`;

const LANE_PX = 30;

const styles = StyleSheet.create({
  all: { gap: 10 },
  left: { alignSelf: 'flex-start' },
  whole: { fontFamily: font.medium, fontSize: 15, color: colour.muted, fontVariant: ['tabular-nums'] },
  fault: { fontFamily: font.medium, fontSize: 15, color: colour.warning },
  row: { flexDirection: 'row', gap: 8 },
  at: { fontFamily: font.semibold, fontSize: 14, color: colour.muted, fontVariant: ['tabular-nums'] },
  words: { fontFamily: font.semibold, fontSize: 18, lineHeight: 23, color: colour.text },
  value: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
  is: { fontFamily: font.semibold, color: colour.text },
  lanes: { flexDirection: 'row' },
  names: { width: NAMES_PX },
  name: { height: LANE_PX, lineHeight: LANE_PX, fontFamily: font.regular, fontSize: 15, color: colour.text },
  fill: { flex: 1 },
  lane: { height: LANE_PX, borderBottomWidth: 1, borderBottomColor: colour.hairline, overflow: 'hidden' },
  bar: { position: 'absolute', minWidth: 4, justifyContent: 'center' },
  air: { top: 3, bottom: 3, backgroundColor: '#2D5470', paddingLeft: 6, overflow: 'hidden' },
  other: { backgroundColor: '#5B4A78' },
  device: { top: 8, bottom: 8, backgroundColor: colour.cap, borderRadius: 2 },
  waits: { top: 13, bottom: 13, backgroundColor: colour.muted },
  trouble: { backgroundColor: colour.warning },
  barWords: { fontFamily: font.medium, fontSize: 13, color: colour.text },
  axis: { height: 20 },
  mark: {
    position: 'absolute',
    top: 2,
    fontFamily: font.regular,
    fontSize: 13,
    color: colour.muted,
    fontVariant: ['tabular-nums'],
  },
  cursor: { position: 'absolute', top: 0, bottom: 16, width: 2, marginLeft: -1, backgroundColor: colour.text },
  over: { position: 'absolute', top: 0, left: 0, right: 0, bottom: 0, cursor: 'pointer' } as object,
});
