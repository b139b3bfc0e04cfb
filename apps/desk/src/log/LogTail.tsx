import type { ShowDocument } from '@umbek/core/show';
import { StyleSheet, Text, View } from 'react-native';
import { timeOfDay } from '../common/timeWords';
import { colour, font } from '../theme/tokens';
import { entryWords, isBad, whoOf } from './entryWords';
import { useLog } from './useLog';

const TOLD = { kind: 'press,refusal,runEnd,command,device,stopAll', device: '', person: '' };

/** The last things that happened, beside the panel on a wide screen. */
export function LogTail({ document, lines }: { readonly document: ShowDocument; readonly lines: number }) {
  const { entries } = useLog(TOLD, lines);
  return (
    <View style={styles.all}>
      <Text style={styles.title} role="heading">
        JUST NOW
      </Text>
      {entries.map((entry) => (
        <View key={entry.seq} style={styles.row}>
          <Text style={styles.time}>{timeOfDay(entry.at)}</Text>
          <Text numberOfLines={1} style={[styles.words, isBad(entry) && styles.bad]}>
            {entryWords(entry, document)}
          </Text>
          <Text style={styles.time}>{whoOf(entry)}</Text>
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
