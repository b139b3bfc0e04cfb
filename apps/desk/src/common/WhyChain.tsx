import type { Because } from '@umbek/protocol';
import { StyleSheet, Text, View } from 'react-native';
import { NoAnswer, useWhy } from '../show/useTriggers';
import { colour, font } from '../theme/tokens';
import { timeOfDay } from './timeWords';

/** Why something is as it is: its causes, the newest first. @param of a point, or the id of a button, macro, run, press or trigger @param as what it is now */
export function WhyChain({ of, as }: { readonly of: string; readonly as?: string | undefined }) {
  const { data, error } = useWhy(of, as);
  if (error !== null)
    return (
      <Text style={styles.unknown}>
        {error instanceof NoAnswer
          ? 'The engine does not answer. Ask again when it is back.'
          : 'What led to it is no longer known.'}
      </Text>
    );
  return <Chain because={data?.chain ?? []} />;
}

/** Causes one under the other, the newest first. */
export function Chain({ because }: { readonly because: readonly Because[] }) {
  if (because.length === 0) return null;
  return (
    <View style={styles.chain} testID="why-chain">
      {because.map(({ kind, id, at, words }, index) => (
        <View key={`${kind} ${id} ${index}`} style={styles.line}>
          <Text style={styles.time}>{at === null ? 'before' : timeOfDay(at)}</Text>
          <Text style={styles.words}>{words}</Text>
        </View>
      ))}
    </View>
  );
}

const styles = StyleSheet.create({
  chain: { gap: 4, borderLeftWidth: 2, borderLeftColor: colour.hairline, paddingLeft: 10 },
  line: { flexDirection: 'row', gap: 10 },
  time: { fontFamily: font.medium, fontSize: 13, lineHeight: 19, color: colour.muted, fontVariant: ['tabular-nums'] },
  unknown: { fontFamily: font.regular, fontSize: 14, lineHeight: 19, color: colour.muted },
  words: { flex: 1, fontFamily: font.regular, fontSize: 14, lineHeight: 19, color: colour.text },
});
