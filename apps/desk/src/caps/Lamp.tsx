import { memo, useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import Svg, { Path, Polyline } from 'react-native-svg';
import { reducedMotion } from '../live/motion';
import type { LampKind } from '@umbek/look';
import { colour, families } from '../theme/tokens';

export { type LampKind, lampWords } from '@umbek/look';

/** The light bar along a cap's head. Every state has a shape of its own; the colour only repeats it. */
export const Lamp = memo(function Lamp({ kind }: { readonly kind: LampKind }) {
  switch (kind) {
    case 'onAir':
      return <View style={[styles.bar, styles.onAir]} />;
    case 'onPreview':
      return <View style={[styles.bar, styles.onPreview]} />;
    case 'chosen':
      return <Mark path="M0 0 L8 9 L16 0 Z" fill={colour.legend} width={16} />;
    case 'up':
      return <Mark path="M0 9 L8 0 L16 9 Z" fill={families.clay} width={16} />;
    case 'arrived':
      return <Mark path="M4.5 0 A4.5 4.5 0 1 0 4.51 0 Z" fill={families.lagoon} width={9} />;
    case 'recording':
      return <Mark path="M4.5 0 A4.5 4.5 0 1 0 4.51 0 Z" fill={colour.onAir} width={9} left />;
    case 'armed':
      return (
        <View style={styles.dashes}>
          {[0, 1, 2, 3, 4].map((dash) => (
            <View key={dash} style={styles.dash} />
          ))}
        </View>
      );
    case 'working':
      return <Travelling />;
    case 'done':
      return <Mark path="M1 4 L6 8 L15 0" stroke={colour.legend} width={16} />;
    case 'failed':
      return (
        <Svg style={styles.zigzag} width="100%" height={6} viewBox="0 0 60 6" preserveAspectRatio="none">
          <Polyline
            points={Array.from({ length: 16 }, (_, at) => `${at * 4},${at % 2 === 0 ? 1 : 5}`).join(' ')}
            fill="none"
            stroke="#B3541E"
            strokeWidth={2}
          />
        </Svg>
      );
    default:
      return null;
  }
});

function Mark({
  path,
  fill,
  stroke,
  width,
  left = false,
}: {
  readonly path: string;
  readonly fill?: string;
  readonly stroke?: string;
  readonly width: number;
  readonly left?: boolean;
}) {
  return (
    <Svg style={[styles.mark, left ? styles.left : null]} width={width} height={9} viewBox={`0 0 ${width} 9`}>
      <Path d={path} fill={fill ?? 'none'} stroke={stroke ?? 'none'} strokeWidth={2.2} />
    </Svg>
  );
}

const STEPS = 8;

/** A dash that travels along the head while the press works; standing in the middle when motion is not wanted. */
function Travelling() {
  const [step, setStep] = useState(0);
  useEffect(() => {
    if (reducedMotion()) return undefined;
    const timer = setInterval(() => setStep((now) => (now + 1) % STEPS), 120);
    return () => clearInterval(timer);
  }, []);
  const place = reducedMotion() ? '36%' : (`${(step / (STEPS - 1)) * 72}%` as const);
  return <View style={[styles.bar, styles.travelling, { left: place }]} />;
}

const styles = StyleSheet.create({
  bar: { position: 'absolute', top: 0, height: 6 },
  onAir: { left: 0, right: 0, backgroundColor: colour.onAir, boxShadow: `0 2px 10px ${colour.onAir}` },
  onPreview: {
    left: '25%',
    right: '25%',
    backgroundColor: colour.onPreview,
    boxShadow: `0 2px 8px ${colour.onPreview}`,
  },
  travelling: { width: '28%', backgroundColor: colour.warning },
  dashes: { position: 'absolute', top: 0, left: 4, right: 4, flexDirection: 'row', justifyContent: 'space-between' },
  dash: { width: '14%', height: 6, backgroundColor: colour.warning },
  zigzag: { position: 'absolute', top: 0, left: 0 },
  mark: { position: 'absolute', top: 1, left: '50%', transform: [{ translateX: '-50%' }] },
  left: { left: 6, transform: [] },
});
