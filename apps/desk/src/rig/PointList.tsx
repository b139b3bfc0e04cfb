import type { PointDefinition } from '@umbek/core/devices';
import { type Device, timecodeText } from '@umbek/core/show';
import { memo } from 'react';
import { useRouter } from 'expo-router';
import { Pressable, StyleSheet, Text, View } from 'react-native';
import { usePoint } from '../live/LiveContext';
import { colour, font } from '../theme/tokens';

/** Every state that the device gives back, as it is now. Lamps, waits and conditions read these; a trigger is made from each where it stands. */
export function PointList({
  device,
  points,
  frameRate,
}: {
  readonly device: Device;
  readonly points: Readonly<Record<string, PointDefinition>>;
  /** Frames a second of the show, for timecode. */
  readonly frameRate: number;
}) {
  return (
    <View style={styles.list}>
      {Object.entries(points).map(([key, point]) => (
        <Row key={key} name={`${device.key}.${key}`} point={point} frameRate={frameRate} />
      ))}
    </View>
  );
}

/** Values that devices give as one word of a program, as people say them. */
const VALUE_WORDS: Readonly<Record<string, string>> = {
  comingIn: 'animating in',
  goingOut: 'animating out',
  onePush: 'one push',
};

const Row = memo(function Row({
  name,
  point,
  frameRate,
}: {
  readonly name: string;
  readonly point: PointDefinition;
  readonly frameRate: number;
}) {
  const value = usePoint(name);
  const router = useRouter();
  const shown =
    value === undefined
      ? 'not known'
      : typeof value === 'boolean'
        ? value
          ? 'yes'
          : 'no'
        : value === ''
          ? 'nothing'
          : point.means === 'timecode' && typeof value === 'number'
            ? timecodeText(value, frameRate)
            : (VALUE_WORDS[String(value)] ??
              `${value}${point.unit === undefined || typeof value !== 'number' ? '' : ` ${point.unit}`}`);
  return (
    <View style={styles.row}>
      <View style={styles.fill}>
        <Text style={styles.words}>{point.words}</Text>
        <Text style={styles.key}>{name}</Text>
      </View>
      <Text style={[styles.value, value === undefined && styles.unknown]}>{shown}</Text>
      <Pressable
        role="button"
        accessibilityLabel={`New trigger from ${point.words}`}
        onPress={() => router.navigate(`/bench?list=triggers&from=${name}` as never)}
        style={styles.trigger}
      >
        <Text style={styles.triggerWord}>Trigger…</Text>
      </Pressable>
    </View>
  );
});

const styles = StyleSheet.create({
  list: { maxWidth: 720 },
  row: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 12,
    paddingVertical: 7,
    borderBottomWidth: 1,
    borderBottomColor: colour.hairline,
  },
  fill: { flex: 1 },
  words: { fontFamily: font.medium, fontSize: 16, color: colour.text },
  key: { fontFamily: font.regular, fontSize: 13, color: colour.muted },
  value: {
    fontFamily: font.semibold,
    fontSize: 16,
    color: colour.text,
    fontVariant: ['tabular-nums'],
    maxWidth: '50%',
    textAlign: 'right',
  },
  unknown: { color: colour.warning },
  trigger: {
    minHeight: 44,
    minWidth: 72,
    alignItems: 'center',
    justifyContent: 'center',
  },
  triggerWord: { fontFamily: font.regular, fontSize: 14, color: colour.muted },
});
