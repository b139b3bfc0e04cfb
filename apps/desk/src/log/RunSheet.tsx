import { useQuery } from '@tanstack/react-query';
import type { RunReply } from '@umbek/protocol';
import { ScrollView, StyleSheet, Text, View } from 'react-native';
import { ActivityIndicator } from 'react-native-paper';
import type { z } from 'zod';
import { EditorHead } from '../common/EditorHead';
import { WhyChain } from '../common/WhyChain';
import { ask } from '../show/ask';
import { useLiveState } from '../live/LiveContext';
import { colour, font } from '../theme/tokens';
import { replyWords } from '../show/replyWords';

type Run = z.infer<typeof RunReply>;

const seconds = (ms: number | null): string => (ms === null ? '–' : (ms / 1000).toFixed(2));
const signed = (ms: number | null): string =>
  ms === null ? '' : `${ms >= 0 ? '+' : '−'}${(Math.abs(ms) / 1000).toFixed(2)}`;
/** Differences below this are those of the wire and the machine. */
const WORTH_TELLING_MS = 100;

/** A run with the times that its rehearsal predicted and those that were. */
export function RunSheet({
  runId,
  onClose,
  wide,
}: {
  readonly runId: string;
  readonly onClose: () => void;
  readonly wide: boolean;
}) {
  const { runs } = useLiveState();
  const running = runs.some((run) => run.runId === runId);
  const { data, isPending } = useQuery({
    queryKey: ['run-sheet', runId, running],
    queryFn: async (): Promise<Run | string> => {
      const response = await ask(`/api/runs/${encodeURIComponent(runId)}`);
      const reply = (await response.json()) as Run & { message?: string; mend?: string };
      return response.ok ? reply : replyWords(reply, 'It cannot be shown.');
    },
  });
  return (
    <View style={[styles.sheet, wide && styles.wide]} testID="run-sheet">
      <EditorHead title={typeof data === 'object' ? data.name : 'Run'} onClose={onClose} />
      {isPending ? <ActivityIndicator accessibilityLabel="Reading the run" /> : null}
      {typeof data === 'string' ? <Text style={styles.text}>{data}</Text> : null}
      {typeof data === 'object' ? (
        <ScrollView contentContainerStyle={styles.lines} tabIndex={0} accessibilityLabel="Lines of the run">
          <Text style={styles.text}>
            {!data.rehearsed
              ? 'There is no prediction to compare with.'
              : data.sameOrder
                ? 'In the predicted order.'
                : 'Not in the predicted order.'}{' '}
            {data.worstMs === null || !data.rehearsed
              ? ''
              : `Largest difference ${(data.worstMs / 1000).toFixed(2)} s.`}
          </Text>
          <WhyChain of={runId} />
          <View style={styles.line}>
            <Text style={[styles.what, styles.muted]}>seconds from its start</Text>
            <Text style={[styles.number, styles.muted]}>predicted</Text>
            <Text style={[styles.number, styles.muted]}>real</Text>
            <Text style={[styles.number, styles.muted]}>error</Text>
          </View>
          {data.lines.map((line, at) => (
            <View key={at} style={styles.line}>
              <Text style={styles.what}>{line.why === undefined ? line.words : `${line.words}: ${line.why}`}</Text>
              <Text style={styles.number}>{seconds(line.predictedMs)}</Text>
              <Text style={styles.number}>{seconds(line.realMs)}</Text>
              <Text style={[styles.number, Math.abs(line.errorMs ?? 0) > WORTH_TELLING_MS && styles.off]}>
                {signed(line.errorMs)}
              </Text>
            </View>
          ))}
        </ScrollView>
      ) : null}
    </View>
  );
}

const styles = StyleSheet.create({
  sheet: { flex: 1, backgroundColor: colour.plate, borderRadius: 8, padding: 12, gap: 8 },
  wide: { flex: 1.1 },
  lines: { paddingBottom: 20 },
  line: {
    flexDirection: 'row',
    gap: 8,
    paddingVertical: 5,
    borderBottomWidth: 1,
    borderBottomColor: colour.hairline,
    alignItems: 'baseline',
  },
  what: { flex: 1, fontFamily: font.medium, fontSize: 15, color: colour.text },
  number: {
    minWidth: 52,
    textAlign: 'right',
    fontFamily: font.medium,
    fontSize: 15,
    color: colour.text,
    fontVariant: ['tabular-nums'],
  },
  muted: { color: colour.muted, fontFamily: font.regular, fontSize: 13 },
  off: { color: colour.warning },
  text: { fontFamily: font.regular, fontSize: 15, color: colour.muted, paddingBottom: 6 },
});
