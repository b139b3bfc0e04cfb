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

/** The captions that are up, over the picture, coming and going as the caption engine says. Seen only while the first keyer is on. */
export const CaptionLayer = memo(function CaptionLayer({ scale }: { readonly scale: number }) {
  const keyed = usePoint('switcher.keyer1') !== false;
  const stage = String(usePoint('captions.nameStage') ?? 'out');
  const nameUp = usePoint('captions.nameUp') === true;
  const name = String(usePoint('captions.nameText') ?? '');
  const title = String(usePoint('captions.nameTitle') ?? '');
  const countUp = usePoint('captions.countUp') === true;
  const count = Number(usePoint('captions.count') ?? 0);
  const label = String(usePoint('captions.countLabel') ?? '');
  const downUp = usePoint('captions.countdownUp') === true;
  const left = Number(usePoint('captions.countdownLeft') ?? 0);
  const downLabel = String(usePoint('captions.countdownLabel') ?? '');
  const length = stage === 'goingOut' ? '300ms' : '400ms';
  return (
    <View style={[styles.layer, !keyed && styles.hidden]} pointerEvents="none">
      <View style={[styles.name, moves(nameUp, '-108%', length), { left: 14 * scale, bottom: 12 * scale, borderLeftWidth: 5 * scale, paddingHorizontal: 8 * scale, paddingVertical: 2 * scale }]} testID={nameUp ? 'caption-up' : 'caption-out'} aria-hidden={!nameUp}>
        <Text numberOfLines={1} style={[styles.nameText, { fontSize: 15 * scale, lineHeight: 18 * scale }]}>
          {name}
        </Text>
        <Text numberOfLines={1} style={[styles.title, { fontSize: 11 * scale, lineHeight: 13 * scale }]}>
          {title}
        </Text>
      </View>
      <View style={[styles.board, moves(countUp, '130%', '400ms'), { right: 12 * scale, top: 12 * scale, padding: 5 * scale }]} testID={countUp ? 'count-up' : 'count-out'} aria-hidden={!countUp}>
        <Text style={[styles.number, { fontSize: 24 * scale, lineHeight: 25 * scale }]}>{count}</Text>
        <Text numberOfLines={1} style={[styles.label, { fontSize: 10 * scale, lineHeight: 12 * scale }]}>
          {label}
        </Text>
      </View>
      <View style={[styles.board, moves(downUp, '-130%', '400ms'), { left: 12 * scale, top: 12 * scale, padding: 5 * scale }]} testID={downUp ? 'countdown-up' : 'countdown-out'} aria-hidden={!downUp}>
        <Text style={[styles.number, { fontSize: 17 * scale, lineHeight: 19 * scale }]}>{clock(left)}</Text>
        <Text numberOfLines={1} style={[styles.label, { fontSize: 10 * scale, lineHeight: 12 * scale }]}>
          {downLabel}
        </Text>
      </View>
    </View>
  );
});

/** In its place, or beside the picture; the way between takes the caption's own time. */
const moves = (up: boolean, away: string, length: string): object => ({
  transform: [{ translateX: up ? 0 : away }],
  opacity: up ? 1 : 0,
  ...(reducedMotion() ? {} : { transitionProperty: 'transform, opacity', transitionDuration: length, transitionTimingFunction: 'cubic-bezier(.2,.7,.2,1)' }),
});

const styles = StyleSheet.create({
  layer: { position: 'absolute', top: 0, left: 0, right: 0, bottom: 0, overflow: 'hidden' },
  hidden: { opacity: 0 },
  name: { position: 'absolute', backgroundColor: colour.text, borderLeftColor: families.clay, maxWidth: '80%' },
  nameText: { fontFamily: font.bold, color: colour.legend },
  title: { fontFamily: font.regular, color: colour.note },
  board: { position: 'absolute', backgroundColor: 'rgba(16,31,32,0.86)', borderBottomWidth: 3, borderBottomColor: families.ochre, alignItems: 'center', minWidth: 40 },
  number: { fontFamily: font.bold, color: colour.text, fontVariant: ['tabular-nums'] },
  label: { fontFamily: font.medium, color: colour.text },
});
