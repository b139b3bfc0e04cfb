import { StyleSheet, Text, View } from 'react-native';
import { usePoint, useScopes } from '../../live/LiveContext';
import { colour, font } from '../../theme/tokens';

const FLOOR_DB = -60;

/** The level of a microphone as it is now, with the mark from which somebody talks. Levels in dB below full scale. */
export function MicLevel({
  name,
  level,
  talksDb,
}: {
  readonly name: string;
  readonly level: string;
  readonly talksDb: number;
}) {
  useScopes([level.split('.')[0] ?? '']);
  const now = usePoint(level);
  const known = typeof now === 'number';
  const talks = known && now >= talksDb;
  return (
    <View
      style={styles.line}
      role="meter"
      aria-label={`Level of ${name}`}
      aria-valuemin={FLOOR_DB}
      aria-valuemax={0}
      {...(known ? { 'aria-valuenow': now } : {})}
      aria-valuetext={known ? `${Math.round(now)} dB` : 'not known'}
    >
      <View style={styles.track}>
        {known ? <View style={[styles.bar, { width: `${share(now)}%` }, talks ? styles.talks : styles.quiet]} /> : null}
        <View style={[styles.mark, { left: `${share(talksDb)}%` }]} />
      </View>
      <Text style={styles.number}>{known ? `${minus(Math.round(now))} dB` : 'not known'}</Text>
    </View>
  );
}

const share = (db: number): number => Math.min(100, Math.max(0, ((db - FLOOR_DB) / -FLOOR_DB) * 100));

const minus = (number: number): string => String(number).replace('-', '−');

const styles = StyleSheet.create({
  line: { flexDirection: 'row', alignItems: 'center', gap: 10, minHeight: 20 },
  track: { flex: 1, height: 8, borderRadius: 4, backgroundColor: colour.ground },
  bar: { height: 8, borderRadius: 4 },
  talks: { backgroundColor: '#86A04F' },
  quiet: { backgroundColor: colour.muted },
  mark: { position: 'absolute', top: -3, width: 2, height: 14, backgroundColor: colour.text },
  number: { minWidth: 64, textAlign: 'right', fontFamily: font.regular, fontSize: 14, color: colour.muted },
});
