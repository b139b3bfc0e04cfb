import type { Strip as StripData } from '@umbek/core/show';
import { isValidElement, memo, type ReactNode } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { flat, unstacked } from '../theme/flat';
import { familyFill } from '../theme/patterns';
import { colour, families, font } from '../theme/tokens';

/** Height of a cap, and of one with a picture, CSS pixels. */
const [CAP, CAP_WITH_PICTURE] = [66, 96];
/** Between two caps, CSS pixels. */
const GAP = 8;
/** How far the glow of a cap reaches beyond it, CSS pixels; no more than the margin of the page. */
const GLOW = 12;
/** Height of a name that stands above its caps, with what is between them, CSS pixels. */
const ABOVE = 27;
/** Letters that fit beside one row of caps; a longer name stands above it. */
const FITS_ONE_ROW = 9;

/** How many caps fit side by side, at least as wide as a finger needs. @param width of the strips, CSS pixels */
export const columnsIn = (width: number): number => Math.max(1, Math.floor((width - 36 + 8) / (104 + 8)));

/** How wide each of them is then, CSS pixels. */
export const capWidthIn = (width: number): number => {
  const columns = columnsIn(width);
  return (width - 36 - (columns - 1) * GAP) / columns;
};

/** A labelled row of things: the name stands beside it where there is room, above it where one row is too low for it. */
export function StripFrame({
  strip,
  columns,
  items,
  places = items.length,
}: {
  readonly strip: StripData;
  readonly columns: number;
  /** `broad`: it takes the place of about two; `tall`: it holds a picture. */
  readonly items: readonly {
    readonly key: string;
    readonly node: ReactNode;
    readonly broad?: boolean;
    readonly tall?: boolean;
  }[];
  /** Room is kept for so many, so that nothing moves when other ones are shown in their place. */
  readonly places?: number;
}) {
  // What is dragged needs a way to go: about two columns, so many of them side by side that no room is left over.
  const broad = Math.max(1, Math.round(columns / 2));
  const taken = items.reduce((sum, item) => sum + (item.broad === true ? columns / broad : 1), 0);
  const rows = Math.max(1, Math.ceil(Math.max(places, taken) / columns));
  // In one list, each by its own key: a cap that is held stays what it is when an edit puts another one before it.
  const widthOf = (beside: number): `${number}%` =>
    `calc((100% - ${(beside - 1) * GAP}px) / ${beside})` as `${number}%`;
  // The turned name is as long as the caps beside it are high, with a little air at its ends.
  const cap = items.some((item) => item.tall === true) ? CAP_WITH_PICTURE : CAP;
  const upright = rows === 1 ? cap - 2 : rows * cap + (rows - 1) * GAP - 10;
  const beside = rows > 1 || strip.name.length <= FITS_ONE_ROW;
  const height = rows * cap + (rows - 1) * GAP;
  return (
    <View
      style={[
        unstacked,
        beside ? styles.strip : styles.stacked,
        styles.skipped,
        { containIntrinsicSize: `auto ${height + 2 * GLOW + (beside ? 0 : ABOVE)}px` } as object,
      ]}
      role="group"
      accessibilityLabel={strip.name}
    >
      <View style={[unstacked, beside ? styles.plate : styles.plateAbove, familyFill(strip.family)]}>
        <View style={[beside ? [styles.label, { width: upright }] : null, { backgroundColor: families[strip.family] }]}>
          <Text numberOfLines={1} style={[styles.name, beside && strip.name.length > 6 && rows === 1 && styles.small]}>
            {strip.name.toUpperCase()}
          </Text>
        </View>
      </View>
      <View style={[flat, styles.rows, { minHeight: height }]}>
        {items.map(({ key, node, broad: isBroad = false }) => (
          <Place key={key} width={widthOf(isBroad ? broad : columns)} node={node} />
        ))}
      </View>
    </View>
  );
}

/** The same thing to draw: of one kind, with the same properties. */
function sameNode(was: ReactNode, now: ReactNode): boolean {
  if (!isValidElement<object>(was) || !isValidElement<object>(now)) return was === now;
  const [before, after] = [Object.entries(was.props), now.props as Readonly<Record<string, unknown>>];
  return (
    was.type === now.type &&
    before.length === Object.keys(after).length &&
    before.every(([name, value]) => Object.is(value, after[name]))
  );
}

/** Where a cap stands. It is left alone while neither its place nor what stands in it changes, however often the strip is laid anew. */
const Place = memo(
  function Place({ width, node }: { readonly width: `${number}%`; readonly node: ReactNode }) {
    return <View style={[flat, styles.place, { width }]}>{node}</View>;
  },
  (before, after) => before.width === after.width && sameNode(before.node, after.node),
);

const styles = StyleSheet.create({
  // What is scrolled away is neither laid out nor painted, nor looked through for what a finger is on: a panel may hold hundreds of caps. What glows
  // would be cut off at the box, which therefore is larger by that much, takes no room, and no touches of what lies beside it.
  skipped: {
    contentVisibility: 'auto',
    padding: GLOW,
    margin: -GLOW,
    marginBottom: 10 - GLOW,
    pointerEvents: 'box-none',
  } as object,
  strip: { flexDirection: 'row', gap: 8 },
  stacked: { gap: 6 },
  plate: { width: 28, borderRadius: 6, alignItems: 'center', justifyContent: 'center', overflow: 'hidden' },
  plateAbove: { alignSelf: 'flex-start', borderRadius: 5, paddingHorizontal: 8, paddingVertical: 2 },
  // Reads from below to above, as on a label turned to the left. Turned as a whole: text that is set upright and then turned is not drawn by one engine.
  label: { paddingVertical: 2, paddingHorizontal: 1, borderRadius: 3, transform: [{ rotate: '-90deg' }] },
  name: {
    fontFamily: font.bold,
    fontSize: 12,
    letterSpacing: 0.5,
    color: colour.ink,
    textAlign: 'center',
  },
  small: { fontSize: 10.5, letterSpacing: 0 },
  rows: { flex: 1, flexDirection: 'row', flexWrap: 'wrap', alignContent: 'flex-start', gap: GAP },
  place: { minWidth: 0, flexDirection: 'row' },
});
