import { useQuery } from '@tanstack/react-query';
import type { RunReply } from '@umbek/protocol';
import { StyleSheet, Text, View } from 'react-native';
import type { z } from 'zod';
import { useLiveState, usePoint } from '../live/LiveContext';
import { ask } from '../show/ask';
import { useDeskShow } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { lastRunWords } from './lastRunWords';
import { TakeBack } from './TakeBack';

async function load(runId: string): Promise<z.infer<typeof RunReply> | null> {
  const response = await ask(`/api/runs/${encodeURIComponent(runId)}`);
  return response.ok ? ((await response.json()) as z.infer<typeof RunReply>) : null;
}

/** What became of the last press: how it went beside its rehearsal, or why it did not. A transition that it began is told as long as it goes on. */
export function LastRun() {
  const { lastRun: last, runs } = useLiveState();
  const { document } = useDeskShow();
  const switcher = document?.devices.find((device) => device.kind === 'switcher')?.key ?? 'none';
  const mixing = usePoint(`${switcher}.mixing`) === true;
  const position = Number(usePoint(`${switcher}.mixPosition`) ?? 0);
  const [kind = 'mix'] = String(usePoint(`${switcher}.transition`) ?? 'mix').split(' ');
  const runId = last !== null && 'run' in last ? last.run.runId : null;
  const run = useQuery({
    queryKey: ['run', runId],
    queryFn: () => load(runId ?? ''),
    enabled: last?.how === 'done',
  });
  if (last === null && !mixing)
    return (
      <View style={styles.row}>
        <Text style={[styles.fill, styles.quiet]}>
          {runs.length === 0 ? 'Nothing runs.' : 'The first run goes on.'}
        </Text>
        <TakeBack />
      </View>
    );
  const name =
    last === null ? '' : 'buttonId' in last ? legendOf(last.buttonId, document) : (run.data?.name ?? last.run.name);
  const outcome = mixing
    ? { words: `the ${kind} goes on: ${Math.round(position * 100)} %`, well: true }
    : last === null
      ? { words: '', well: true }
      : lastRunWords(last, run.data ?? null);
  return (
    <View style={styles.row}>
      <View style={[styles.fill, styles.line, outcome.well ? null : styles.off]} testID="last-run">
        <Text numberOfLines={2} style={styles.text}>
          <Text style={styles.name}>{name}</Text> {outcome.words}
        </Text>
      </View>
      <TakeBack />
    </View>
  );
}

const legendOf = (id: string, document: ReturnType<typeof useDeskShow>['document']): string =>
  document?.buttons.find((button) => button.id === id)?.legend ?? 'The last press';

const styles = StyleSheet.create({
  row: { flex: 1, flexDirection: 'row', alignItems: 'center', gap: 8, minHeight: 44 },
  fill: { flex: 1 },
  line: { borderLeftWidth: 3, borderLeftColor: colour.hairline, paddingHorizontal: 10, paddingVertical: 4 },
  quiet: { fontFamily: font.regular, fontSize: 13, color: colour.muted },
  off: { borderLeftColor: colour.warning },
  text: { fontFamily: font.regular, fontSize: 13, lineHeight: 17, color: colour.muted, fontVariant: ['tabular-nums'] },
  name: { fontFamily: font.semibold, color: colour.text },
});
