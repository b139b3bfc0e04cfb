import type { LiveRun } from '@umbek/protocol';
import { useMutation } from '@tanstack/react-query';
import { memo, useState } from 'react';
import { Pressable, StyleSheet, Text, View } from 'react-native';
import { IconButton } from 'react-native-paper';
import { readIdentity } from '../live/identity';
import { useLiveState } from '../live/LiveContext';
import { TimeLeft } from '../live/TimeLeft';
import { colour, font } from '../theme/tokens';
import { LastRun } from './LastRun';
import { act, answerAsk } from '../live/deeds';

async function stopRun(runId: string): Promise<void> {
  await act(`/api/runs/${runId}/stop`, { station: readIdentity().station });
}

/** Everything that runs, each with its step, the time left and a stop. */
export function Runs() {
  const { runs } = useLiveState();
  return (
    <View style={styles.list}>
      {runs.map((run) => (
        <Running key={run.runId} run={run} />
      ))}
    </View>
  );
}

/**
 * The same on a phone, in a place of fixed height above the caps: a cap must never move under a finger because a run has begun or ended.
 * Of several runs the newest is shown, or the newest that asks something; a touch on the count shows all of them.
 */
export function RunSlot() {
  const { runs } = useLiveState();
  const [all, setAll] = useState(false);
  // A question waits for an answer: it goes before what only runs.
  const newest = runs.findLast((run) => run.ask !== undefined) ?? runs.at(-1);
  if (all && runs.length > 1) {
    return (
      <View style={styles.list}>
        <Runs />
        <Pressable
          role="button"
          accessibilityLabel="Show only the newest run"
          onPress={() => setAll(false)}
          style={styles.more}
        >
          <Text style={styles.moreText}>only the newest</Text>
        </Pressable>
      </View>
    );
  }
  return (
    <View style={styles.slot}>
      {newest ? (
        <>
          <View style={styles.fill}>
            <Running key={newest.runId} run={newest} />
          </View>
          {runs.length > 1 ? (
            <Pressable
              role="button"
              accessibilityLabel={`Show all ${runs.length} runs`}
              onPress={() => setAll(true)}
              style={styles.more}
            >
              <Text style={styles.moreText}>{`+${runs.length - 1}`}</Text>
            </Pressable>
          ) : null}
        </>
      ) : (
        <LastRun />
      )}
    </View>
  );
}

const Running = memo(function Running({ run }: { readonly run: LiveRun }) {
  const { runId, name, step, leftMs, ask, next } = run;
  const stop = useMutation({ mutationFn: () => stopRun(runId) });
  const answer = useMutation({ mutationFn: (what: 'goOn' | 'stop') => answerAsk(runId, ask?.askId ?? '', what) });
  if (ask !== undefined)
    return (
      <View style={[styles.run, styles.asks]} testID="running" role="alert">
        <Text numberOfLines={2} style={styles.runText}>
          <Text style={styles.runName}>{name}</Text> asks: {ask.question}
        </Text>
        <Choice words="Continue" label={`${name}: continue`} onPress={() => answer.mutate('goOn')} />
        <Choice words="Stop" label={`${name}: stop`} onPress={() => answer.mutate('stop')} />
      </View>
    );
  return (
    <View style={styles.run} testID="running">
      <Text numberOfLines={2} style={styles.runText}>
        <Text style={styles.runName}>{name}</Text> · {next ? `stepped through, next: ${next.words}` : step}
      </Text>
      {leftMs === null ? null : <TimeLeft leftMs={leftMs} style={styles.left} />}
      <IconButton
        icon="stop"
        size={18}
        iconColor={colour.text}
        accessibilityLabel={`Stop ${name}`}
        onPress={() => stop.mutate()}
        style={styles.stop}
      />
    </View>
  );
});

const Choice = ({
  words,
  label,
  onPress,
}: {
  readonly words: string;
  readonly label: string;
  readonly onPress: () => void;
}) => (
  <Pressable role="button" accessibilityLabel={label} onPress={onPress} style={styles.choice}>
    <Text style={styles.choiceWord}>{words}</Text>
  </Pressable>
);

const styles = StyleSheet.create({
  list: { gap: 8 },
  slot: { height: 46, flexDirection: 'row', alignItems: 'center', gap: 6 },
  fill: { flex: 1 },
  more: { minWidth: 44, minHeight: 44, alignItems: 'center', justifyContent: 'center' },
  moreText: { fontFamily: font.semibold, fontSize: 15, color: colour.warning },
  run: {
    flexDirection: 'row',
    alignItems: 'center',
    backgroundColor: colour.plate,
    borderRadius: 6,
    paddingLeft: 12,
    gap: 10,
    borderBottomWidth: 3,
    borderBottomColor: colour.warning,
    minHeight: 44,
  },
  asks: { borderBottomColor: colour.cap },
  choice: {
    minHeight: 44,
    minWidth: 56,
    paddingHorizontal: 10,
    borderRadius: 5,
    backgroundColor: colour.cap,
    alignItems: 'center',
    justifyContent: 'center',
  },
  choiceWord: { fontFamily: font.semibold, fontSize: 15, color: colour.legend },
  runText: { flex: 1, fontFamily: font.regular, fontSize: 14, color: colour.text },
  runName: { fontFamily: font.semibold },
  left: { fontFamily: font.semibold, fontSize: 15, color: colour.warning, fontVariant: ['tabular-nums'] },
  stop: { margin: 0, width: 44, height: 44 },
});
