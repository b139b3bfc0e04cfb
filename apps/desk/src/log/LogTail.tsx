import type { ShowDocument } from '@umbek/core/show';
import { StyleSheet, Text, View } from 'react-native';
import { timeOfDay } from '../common/timeWords';
import { colour, font } from '../theme/tokens';
import { logRows } from './logRows';
import { useLog } from './useLog';

const TOLD = { kind: 'press,refusal,runStart,runEnd,trigger,device,stopAll', device: '', person: '' };
/** A press makes three entries of these: enough for the lines asked for, few enough to read often. */
const ENTRIES_A_LINE = 3;

/** The last things that happened, beside the panel on a wide screen. */
export function LogTail({ document, lines }: { readonly document: ShowDocument; readonly lines: number }) {
  const { entries } = useLog(TOLD, lines * ENTRIES_A_LINE);
  return (
    <View style={styles.all}>
      <Text style={styles.title} role="heading">
        JUST NOW
      </Text>
      {logRows(entries, document)
        .slice(0, lines)
        .map((row) => (
          <View key={row.key} style={styles.row}>
            <Text style={styles.time}>{timeOfDay(row.at)}</Text>
            <Text numberOfLines={1} style={[styles.words, row.bad && styles.bad]}>
              {row.words}
            </Text>
            <Text style={styles.time}>{row.who}</Text>
          </View>
        ))}
    </View>
  );
}

const styles = StyleSheet.create({
  all: { paddingTop: 14, borderTopWidth: 1, borderTopColor: colour.hairline, gap: 2 },
  title: { fontFamily: font.semibold, fontSize: 13, letterSpacing: 0.8, color: colour.muted, paddingBottom: 4 },
  row: { flexDirection: 'row', gap: 12, minHeight: 24, alignItems: 'center' },
  time: { fontFamily: font.regular, fontSize: 14, color: colour.muted, fontVariant: ['tabular-nums'] },
  words: { flex: 1, fontFamily: font.medium, fontSize: 15, color: colour.text },
  bad: { color: colour.warning },
});
