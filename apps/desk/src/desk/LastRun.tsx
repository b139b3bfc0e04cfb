import { useQuery } from '@tanstack/react-query';
import type { RunReply } from '@umbek/core/api';
import { StyleSheet, Text, View } from 'react-native';
import type { z } from 'zod';
import { useLiveState } from '../live/LiveContext';
import { colour, font } from '../theme/tokens';

type Run = z.infer<typeof RunReply>;

/** Differences below this are those of the wire and the machine, not of the rehearsal. */
const WORTH_TELLING_MS = 100;

async function load(runId: string): Promise<Run | null> {
  const response = await fetch(`/api/runs/${encodeURIComponent(runId)}`);
  return response.ok ? ((await response.json()) as Run) : null;
}

const signed = (ms: number): string => `${ms > 0 ? '+' : '−'}${(Math.abs(ms) / 1000).toFixed(2)} s`;

/** How the last run went beside its rehearsal: a camera that is slower than it is declared is told, not hidden. */
export function LastRun() {
  const { lastRun } = useLiveState();
  const run = useQuery({
    queryKey: ['run', lastRun?.runId],
    queryFn: () => load(lastRun?.runId ?? ''),
    enabled: lastRun !== null,
  });
  if (lastRun === null || !run.data) return <Text style={styles.quiet}>Nothing runs.</Text>;
  const { name, lines, sameOrder } = run.data;
  const worst = lines.reduce<Run['lines'][number] | null>(
    (most, line) => (Math.abs(line.errorMs ?? 0) > Math.abs(most?.errorMs ?? 0) ? line : most),
    null,
  );
  const first = lines.find((line) => Math.abs(line.errorMs ?? 0) > WORTH_TELLING_MS && !line.what.startsWith('step'));
  const took = lines.at(-1)?.realMs ?? 0;
  if (!run.data.rehearsed) return <Text style={styles.quiet}>Nothing runs.</Text>;
  const told = !sameOrder
    ? 'went another way than rehearsed'
    : first && worst
      ? `${signed(worst.errorMs ?? 0)} against its rehearsal, from ${first.words}`
      : 'as rehearsed';
  return (
    <View style={[styles.line, told === 'as rehearsed' ? null : styles.off]} testID="last-run">
      <Text numberOfLines={2} style={styles.text}>
        <Text style={styles.name}>{name}</Text> took {(took / 1000).toFixed(2)} s · {told}
      </Text>
    </View>
  );
}

const styles = StyleSheet.create({
  line: { borderLeftWidth: 3, borderLeftColor: colour.hairline, paddingHorizontal: 10, paddingVertical: 4 },
  quiet: { fontFamily: font.regular, fontSize: 13, color: colour.muted },
  off: { borderLeftColor: colour.warning },
  text: { fontFamily: font.regular, fontSize: 13, lineHeight: 17, color: colour.muted, fontVariant: ['tabular-nums'] },
  name: { fontFamily: font.semibold, color: colour.text },
});
