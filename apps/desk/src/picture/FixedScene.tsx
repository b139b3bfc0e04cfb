import { memo, useEffect, useRef, useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import Svg, { Circle, Line, Path, Rect, Text as SvgText } from 'react-native-svg';
import { reducedMotion } from '../live/motion';
import { colour, font } from '../theme/tokens';
import { HEIGHT, WIDTH } from './paint';
import { StillScene } from './Scene';
import { seeded } from './world';

/** The all-sky camera on the roof: wide, tilted up, over the dome's knoll. */
const ROOF = { pan: 46, tilt: 28, width: 74 };
/** Seconds from one meteor to the next, and how long one is seen. */
const METEOR_EVERY = 9;
const METEOR_MS = 700;

/** A meteor: when in its nine seconds it comes, where it begins, and where it goes. The same for everybody at the same time of day. */
export function meteorAt(slot: number): {
  readonly afterMs: number;
  readonly x: number;
  readonly y: number;
  readonly dx: number;
  readonly dy: number;
} {
  const random = seeded(slot * 7919 + 13);
  const angle = 0.5 + random() * 0.9;
  const length = 260 + random() * 320;
  return {
    afterMs: 500 + random() * (METEOR_EVERY * 1000 - 2000),
    x: 300 + random() * 1100,
    y: 60 + random() * 300,
    dx: -Math.cos(angle) * length,
    dy: Math.sin(angle) * length,
  };
}

/** @param sent how many were let cross by hand so far: one more crosses at once */
function Meteors({ sent }: { readonly sent: number }) {
  const [meteor, setMeteor] = useState<ReturnType<typeof meteorAt> | null>(null);
  const lastSent = useRef(sent);
  useEffect(() => {
    if (sent === lastSent.current || reducedMotion()) return undefined;
    lastSent.current = sent;
    setMeteor(meteorAt(-sent));
    const timer = setTimeout(() => setMeteor(null), METEOR_MS);
    return () => clearTimeout(timer);
  }, [sent]);
  useEffect(() => {
    if (reducedMotion()) return undefined;
    let timer: ReturnType<typeof setTimeout>;
    const plan = (): void => {
      const now = Date.now();
      const slot = Math.floor(now / 1000 / METEOR_EVERY);
      const next = meteorAt(slot);
      const due = slot * METEOR_EVERY * 1000 + next.afterMs;
      if (due > now) {
        timer = setTimeout(() => {
          setMeteor(next);
          timer = setTimeout(() => {
            setMeteor(null);
            plan();
          }, METEOR_MS);
        }, due - now);
      } else timer = setTimeout(plan, (slot + 1) * METEOR_EVERY * 1000 - now + 5);
    };
    plan();
    return () => clearTimeout(timer);
  }, []);
  if (!meteor) return null;
  const { x, y, dx, dy } = meteor;
  return (
    <View testID="meteor" style={StyleSheet.absoluteFill}>
      <Svg width="100%" height="100%" viewBox={`0 0 ${WIDTH} ${HEIGHT}`} preserveAspectRatio="xMidYMid slice">
        <Path d={`M${x} ${y} L${x + dx} ${y + dy} L${x + dx * 0.96 + 4} ${y + dy * 0.96 + 6} Z`} fill="#F6F1E0" />
        <Circle cx={x + dx} cy={y + dy} r={5} fill="#FFFFFF" />
      </Svg>
    </View>
  );
}

const CHART: readonly (readonly [number, number, number])[] = [
  [260, 640, 9],
  [420, 520, 6],
  [560, 560, 8],
  [700, 400, 7],
  [860, 470, 10],
  [1010, 330, 6],
  [1180, 380, 8],
  [1330, 250, 7],
  [760, 660, 6],
  [980, 690, 8],
];
const LINES: readonly (readonly [number, number])[] = [
  [0, 1],
  [1, 2],
  [2, 3],
  [3, 4],
  [4, 5],
  [5, 6],
  [6, 7],
  [4, 8],
  [8, 9],
];

function Chart() {
  return (
    <Svg width="100%" height="100%" viewBox={`0 0 ${WIDTH} ${HEIGHT}`} preserveAspectRatio="xMidYMid slice">
      <Rect width={WIDTH} height={HEIGHT} fill="#0C1A33" />
      {[150, 300, 450, 600, 750].map((y) => (
        <Line key={y} x1={80} x2={1520} y1={y} y2={y} stroke="#22365C" strokeWidth={2} />
      ))}
      {[200, 400, 600, 800, 1000, 1200, 1400].map((x) => (
        <Line key={x} x1={x} x2={x} y1={90} y2={820} stroke="#22365C" strokeWidth={2} />
      ))}
      {LINES.map(([a, b]) => (
        <Line
          key={`${a}-${b}`}
          x1={CHART[a]?.[0] ?? 0}
          y1={CHART[a]?.[1] ?? 0}
          x2={CHART[b]?.[0] ?? 0}
          y2={CHART[b]?.[1] ?? 0}
          stroke="#7C93C4"
          strokeWidth={3}
        />
      ))}
      {CHART.map(([x, y, r]) => (
        <Circle key={x} cx={x} cy={y} r={r} fill="#F3EEDC" />
      ))}
      <Circle cx={860} cy={470} r={90} fill="none" stroke="#D6A23C" strokeWidth={5} strokeDasharray="18 12" />
      <SvgText x={980} y={590} fill="#D6A23C" fontSize={54} fontFamily={font.semibold}>
        where they come from
      </SvgText>
      <SvgText x={100} y={150} fill="#E9E4D6" fontSize={72} fontFamily={font.bold}>
        Tonight
      </SvgText>
    </Svg>
  );
}

/** A source that no head moves. */
export const FixedScene = memo(function FixedScene({
  picture,
  name,
  meteors = 0,
}: {
  readonly picture: 'none' | 'sky' | 'chart' | 'black';
  readonly name: string;
  /** Meteors let cross by hand so far. */ readonly meteors?: number;
}) {
  switch (picture) {
    case 'sky':
      return (
        <>
          <StillScene {...ROOF} />
          <Meteors sent={meteors} />
        </>
      );
    case 'chart':
      return <Chart />;
    case 'black':
      return <View style={styles.black} />;
    case 'none':
      return (
        <View style={styles.none}>
          <Text numberOfLines={2} style={styles.name}>
            {name}
          </Text>
        </View>
      );
  }
});

const styles = StyleSheet.create({
  black: { flex: 1, backgroundColor: '#000000' },
  none: { flex: 1, alignItems: 'center', justifyContent: 'center', backgroundColor: colour.raised, padding: 8 },
  name: { fontFamily: font.semibold, fontSize: 18, color: colour.text, textAlign: 'center' },
});
