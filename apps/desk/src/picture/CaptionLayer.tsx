import { memo } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { usePoint } from '../live/LiveContext';
import { reducedMotion } from '../live/motion';
import { colour, families, font } from '../theme/tokens';

const clock = (seconds: number): string => {
  const [hours, minutes] = [Math.floor(seconds / 3600), Math.floor(seconds / 60) % 60];
  const tail = `${String(minutes).padStart(2, '0')}:${String(seconds % 60).padStart(2, '0')}`;
  return hours > 0 ? `${hours}:${tail}` : tail;
};

interface CaptionLayerProps {
  readonly scale: number;
  /** Keys of the caption engine and of the switcher whose keyer it fills. */
  readonly captions: string;
  readonly switcher: string;
}

/** The captions that are up, over the picture, coming and going as the caption engine says. Seen only while the first keyer is on. */
export const CaptionLayer = memo(function CaptionLayer({ scale, captions, switcher }: CaptionLayerProps) {
  const keyed = usePoint(`${switcher}.keyer1`) !== false;
  const stage = String(usePoint(`${captions}.nameStage`) ?? 'out');
  const nameUp = usePoint(`${captions}.nameUp`) === true;
  const name = String(usePoint(`${captions}.nameText`) ?? '');
  const title = String(usePoint(`${captions}.nameTitle`) ?? '');
  const countUp = usePoint(`${captions}.countUp`) === true;
  const count = Number(usePoint(`${captions}.count`) ?? 0);
  const label = String(usePoint(`${captions}.countLabel`) ?? '');
  const downUp = usePoint(`${captions}.countdownUp`) === true;
  const left = Number(usePoint(`${captions}.countdownLeft`) ?? 0);
  const downLabel = String(usePoint(`${captions}.countdownLabel`) ?? '');
  const length = stage === 'goingOut' ? '300ms' : '400ms';
  return (
    <View style={[styles.layer, !keyed && styles.hidden]} pointerEvents="none">
      <View
        style={[
          styles.name,
          moves(nameUp, '-108%', length),
          {
            left: 14 * scale,
            bottom: 12 * scale,
            borderLeftWidth: 5 * scale,
            paddingHorizontal: 8 * scale,
            paddingVertical: 2 * scale,
          },
        ]}
        testID={nameUp ? 'caption-up' : 'caption-out'}
        aria-hidden={!nameUp}
      >
        <Text numberOfLines={1} style={[styles.nameText, { fontSize: 15 * scale, lineHeight: 18 * scale }]}>
          {name}
        </Text>
        <Text numberOfLines={1} style={[styles.title, { fontSize: 11 * scale, lineHeight: 13 * scale }]}>
          {title}
        </Text>
      </View>
      <View
        style={[
          styles.board,
          moves(countUp, '130%', '400ms'),
          { right: 12 * scale, top: 12 * scale, padding: 5 * scale },
        ]}
        testID={countUp ? 'count-up' : 'count-out'}
        aria-hidden={!countUp}
      >
        <Text style={[styles.number, { fontSize: 24 * scale, lineHeight: 25 * scale }]}>{count}</Text>
        <Text numberOfLines={1} style={[styles.label, { fontSize: 10 * scale, lineHeight: 12 * scale }]}>
          {label}
        </Text>
      </View>
      {[1, 2, 3, 4, 5, 6].map((number) => (
        <TemplateLayer key={number} of={`${captions}.layer${number}`} number={number} scale={scale} />
      ))}
      <View
        style={[
          styles.board,
          moves(downUp, '-130%', '400ms'),
          { left: 12 * scale, top: 12 * scale, padding: 5 * scale },
        ]}
        testID={downUp ? 'countdown-up' : 'countdown-out'}
        aria-hidden={!downUp}
      >
        <Text style={[styles.number, { fontSize: 17 * scale, lineHeight: 19 * scale }]}>{clock(left)}</Text>
        <Text numberOfLines={1} style={[styles.label, { fontSize: 10 * scale, lineHeight: 12 * scale }]}>
          {downLabel}
        </Text>
      </View>
    </View>
  );
});

/** One layer of the caption engine as its template is drawn here; each template has a place of its own in the picture. */
const TemplateLayer = memo(function TemplateLayer({
  of,
  number,
  scale,
}: {
  /** Where the points of the layer begin. */ readonly of: string;
  readonly number: number;
  readonly scale: number;
}) {
  const up = usePoint(`${of}Up`) === true;
  const template = String(usePoint(`${of}Template`) ?? '');
  const [first, second, third] = [usePoint(`${of}Field1`), usePoint(`${of}Field2`), usePoint(`${of}Field3`)].map(
    (text) => String(text ?? ''),
  );
  const left = Number(usePoint(`${of}Left`) ?? 0);
  if (template === '') return null;
  const big = { fontSize: 14 * scale, lineHeight: 17 * scale };
  const small = { fontSize: 10 * scale, lineHeight: 12 * scale };
  const line = (text: string | undefined, style: object) =>
    text ? (
      <Text numberOfLines={1} style={style}>
        {text}
      </Text>
    ) : null;
  switch (template) {
    case 'Ticker':
      return (
        <View
          style={[
            styles.ticker,
            moves(up, '105%', '400ms'),
            { paddingHorizontal: 8 * scale, paddingVertical: 2 * scale },
          ]}
          testID={`layer${number}-${up ? 'up' : 'out'}`}
          aria-hidden={!up}
        >
          {line(first, [styles.tickerText, small])}
        </View>
      );
    case 'Logo':
      return (
        <View
          style={[
            styles.logo,
            moves(up, '130%', '400ms'),
            {
              right: 12 * scale,
              bottom: 12 * scale,
              width: 26 * scale,
              height: 26 * scale,
              borderRadius: 13 * scale,
              borderWidth: 3 * scale,
            },
          ]}
          testID={`layer${number}-${up ? 'up' : 'out'}`}
          aria-hidden={!up}
        >
          <View
            style={[
              styles.logoPeak,
              { borderLeftWidth: 6 * scale, borderRightWidth: 6 * scale, borderBottomWidth: 10 * scale },
            ]}
          />
        </View>
      );
    case 'Lower third':
      return (
        <View
          style={[
            styles.name,
            moves(up, '-108%', '400ms'),
            {
              left: 14 * scale,
              bottom: 12 * scale,
              borderLeftWidth: 5 * scale,
              paddingHorizontal: 8 * scale,
              paddingVertical: 2 * scale,
            },
          ]}
          testID={`layer${number}-${up ? 'up' : 'out'}`}
          aria-hidden={!up}
        >
          {line(first, [styles.nameText, big])}
          {line([second, third].filter(Boolean).join(' · '), [styles.title, small])}
        </View>
      );
    default:
      return (
        <View
          style={[
            styles.board,
            moves(up, '130%', '400ms'),
            { right: 12 * scale, top: (12 + 44 * (number - 1)) * scale, padding: 5 * scale },
          ]}
          testID={`layer${number}-${up ? 'up' : 'out'}`}
          aria-hidden={!up}
        >
          {line(
            template === 'Clock'
              ? new Date().toTimeString().slice(0, 5)
              : template === 'Countdown'
                ? clock(left || Number(second) || 0)
                : second,
            [styles.number, big],
          )}
          {line(first, [styles.label, small])}
        </View>
      );
  }
});

/** In its place, or beside the picture; the way between takes the caption's own time. */
const moves = (up: boolean, away: string, length: string): object => ({
  transform: [{ translateX: up ? 0 : away }],
  opacity: up ? 1 : 0,
  ...(reducedMotion()
    ? {}
    : {
        transitionProperty: 'transform, opacity',
        transitionDuration: length,
        transitionTimingFunction: 'cubic-bezier(.2,.7,.2,1)',
      }),
});

const styles = StyleSheet.create({
  layer: { position: 'absolute', top: 0, left: 0, right: 0, bottom: 0, overflow: 'hidden' },
  hidden: { opacity: 0 },
  name: { position: 'absolute', backgroundColor: colour.text, borderLeftColor: families.clay, maxWidth: '80%' },
  nameText: { fontFamily: font.bold, color: colour.legend },
  title: { fontFamily: font.regular, color: colour.note },
  ticker: {
    position: 'absolute',
    left: 0,
    right: 0,
    bottom: 0,
    backgroundColor: 'rgba(16,31,32,0.9)',
    borderTopWidth: 2,
    borderTopColor: families.lagoon,
  },
  tickerText: { fontFamily: font.medium, color: colour.text },
  logo: {
    position: 'absolute',
    borderColor: colour.text,
    backgroundColor: 'rgba(16,31,32,0.7)',
    alignItems: 'center',
    justifyContent: 'center',
  },
  logoPeak: { borderLeftColor: 'transparent', borderRightColor: 'transparent', borderBottomColor: families.ochre },
  board: {
    position: 'absolute',
    backgroundColor: 'rgba(16,31,32,0.86)',
    borderBottomWidth: 3,
    borderBottomColor: families.ochre,
    alignItems: 'center',
    minWidth: 40,
  },
  number: { fontFamily: font.bold, color: colour.text, fontVariant: ['tabular-nums'] },
  label: { fontFamily: font.medium, color: colour.text },
});
