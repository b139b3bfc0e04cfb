import type { Family } from '@umbek/core/show';
import { createContext, memo, type ReactNode, type Ref, use } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import Svg, { Defs, Line, Pattern, Rect } from 'react-native-svg';
import { TimeLeft } from '../live/TimeLeft';
import { Icon } from '../theme/Icon';
import { flat, unstacked } from '../theme/flat';
import { familyFill } from '../theme/patterns';
import { colour, font } from '../theme/tokens';
import { Lamp, type LampKind } from './Lamp';

/** The family of a cap that says none: a change of it alone draws the foot anew, not the cap. */
export const FamilyHere = createContext<Family>('stone');

interface CapFaceProps {
  readonly legend: string;
  /** A sign before the legend; empty for none. */
  readonly icon?: string;
  readonly second: string;
  /** A picture above the words; left out for none. */
  readonly picture?: ReactNode;
  /** Time that a press still takes, in place of the second line. */
  readonly leftMs?: number | null;
  readonly lamp: LampKind;
  readonly lost: boolean;
  /** Left out: what `FamilyHere` says. */
  readonly family?: Family;
  readonly large?: boolean;
  /** The second line tells of the press itself: why it failed, or what it asks. */
  readonly telling?: boolean;
  readonly down?: boolean;
  /** The key that presses it; left out: none. */
  readonly keyHint?: string;
  /** Room is left below the words. */
  readonly raised?: boolean;
  readonly hostRef?: Ref<View>;
  readonly label?: string;
  readonly testID?: string;
  readonly data?: Record<string, string>;
}

/** Where words stand that may change without the cap being drawn anew. */
const WORDS = {
  legend: { dataSet: { words: 'legend' } } as object,
  second: { dataSet: { words: 'second', lines: '1' } } as object,
  why: { dataSet: { words: 'second', lines: '2' } } as object,
};

/** How a cap looks, whatever it does. */
export const CapFace = memo(function CapFace({
  legend,
  icon = '',
  second,
  picture,
  leftMs = null,
  lamp,
  lost,
  family,
  large = false,
  telling = false,
  down = false,
  keyHint,
  raised = false,
  hostRef,
  label,
  testID,
  data,
}: CapFaceProps) {
  const press = label === undefined ? {} : { role: 'button' as const, tabIndex: 0 as const, accessibilityLabel: label };
  const line =
    leftMs === null ? (
      // A box of its own around it: what the line says is laid out by itself, and nothing else of the panel with it.
      <View style={[flat, styles.block]}>
        <Text
          {...(telling ? WORDS.why : WORDS.second)}
          numberOfLines={telling ? 2 : 1}
          dir="auto"
          style={[styles.note, telling ? styles.why : styles.block]}
        >
          {second}
        </Text>
      </View>
    ) : (
      <TimeLeft leftMs={leftMs} style={styles.note} />
    );
  return (
    <View
      {...(hostRef === undefined ? {} : { ref: hostRef })}
      {...press}
      {...(testID === undefined ? {} : { testID })}
      {...(keyHint === undefined ? {} : { 'aria-keyshortcuts': keyHint.replaceAll(' + ', '+') })}
      {...(data === undefined ? {} : { dataSet: data })}
      style={[
        unstacked,
        styles.cap,
        label === undefined ? styles.shown : styles.pressed,
        large && styles.large,
        lamp === 'onAir' && styles.onAir,
        lamp === 'onPreview' && styles.onPreview,
        down && styles.down,
      ]}
    >
      <View style={[flat, styles.head]}>
        <Lamp kind={lamp} />
      </View>
      {picture}
      {lost ? <Hatch /> : null}
      {/* Its words stand over the hatch of a lost device. */}
      <View style={[!lost && flat, styles.words, raised && styles.wordsRaised]}>
        <Says legend={legend} icon={icon} large={large} lost={lost} lines={telling ? 1 : 2} />
        {keyHint === undefined || telling ? (
          line
        ) : (
          <View style={[flat, styles.lineWithKey]}>
            <View style={[flat, styles.line]}>{line}</View>
            <Text style={styles.key} numberOfLines={1} aria-hidden>
              {keyHint}
            </Text>
          </View>
        )}
      </View>
      {family === undefined ? <FootHere /> : <Foot family={family} />}
    </View>
  );
});

/** The legend and its sign. Of its own, as the foot is: a touch changes neither, and is shown sooner without them. */
const Says = memo(function Says({
  legend,
  icon,
  large,
  lost,
  lines,
}: {
  readonly legend: string;
  readonly icon: string;
  readonly large: boolean;
  readonly lost: boolean;
  readonly lines: number;
}) {
  return (
    <View style={[flat, styles.says]}>
      {icon === '' ? null : <Icon name={icon} size={large ? 20 : 17} color={colour.legend} />}
      <Text
        {...WORDS.legend}
        numberOfLines={lines}
        dir="auto"
        style={[styles.legend, large && styles.legendLarge, lost && styles.faint]}
      >
        {legend}
      </Text>
    </View>
  );
});

const Foot = memo(function Foot({ family }: { readonly family: Family }) {
  return <View style={[flat, styles.foot, familyFill(family)]} />;
});

const FootHere = memo(function FootHere() {
  return <Foot family={use(FamilyHere)} />;
});

/** A lost device's cap is hatched: told apart without colour. */
function Hatch() {
  return (
    <Svg style={styles.hatch} width="100%" height="100%">
      <Defs>
        <Pattern id="hatch" width={12} height={12} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <Line x1={0} y1={0} x2={0} y2={12} stroke="#A49C8B" strokeWidth={7} />
        </Pattern>
      </Defs>
      <Rect width="100%" height="100%" fill="url(#hatch)" />
    </Svg>
  );
}

const styles = StyleSheet.create({
  cap: {
    flexGrow: 1,
    flexBasis: 0,
    minWidth: 0,
    // Room for a reason of two lines: a cap that grew would push the others from under the finger.
    minHeight: 66,
    backgroundColor: colour.cap,
    borderRadius: 5,
    overflow: 'hidden',
    boxShadow: 'inset 0 1px 0 #FFFBEF, 0 2px 3px rgba(0,0,0,0.55)',
  } as object,
  large: { minHeight: 66, minWidth: 0 },
  onAir: { boxShadow: `0 0 0 2px ${colour.onAir}, 0 0 12px ${colour.onAir}66` },
  onPreview: { boxShadow: `0 0 0 2px ${colour.onPreview}, 0 0 10px ${colour.onPreview}55` },
  // A swipe that begins on a cap is a press, never a scroll: a press must not be lost to a moving finger.
  pressed: { cursor: 'pointer', userSelect: 'none', touchAction: 'none' } as object,
  shown: {},
  down: { transform: [{ translateY: 1 }], backgroundColor: colour.capDown },
  head: { height: 6, backgroundColor: colour.capHead },
  words: { flex: 1, justifyContent: 'center', paddingHorizontal: 7, paddingTop: 2, paddingBottom: 1 },
  wordsRaised: { paddingBottom: 14 },
  says: { flexDirection: 'row', alignItems: 'center', gap: 5 },
  legend: { flexShrink: 1, fontFamily: font.semibold, fontSize: 15, lineHeight: 17, color: colour.legend },
  legendLarge: { fontSize: 19, lineHeight: 22 },
  faint: { color: '#3A423F' },
  note: { fontFamily: font.regular, fontSize: 13, lineHeight: 15, color: colour.note, fontVariant: ['tabular-nums'] },
  block: { display: 'block' } as object,
  why: { color: '#8A2E12', fontFamily: font.medium, fontSize: 12, lineHeight: 14 },
  // At the end of the second line: the reason of a refusal takes its place.
  lineWithKey: { flexDirection: 'row', alignItems: 'center', gap: 4 },
  line: { flexGrow: 1, flexShrink: 1, minWidth: 0 },
  key: {
    flexShrink: 0,
    paddingHorizontal: 4,
    borderRadius: 3,
    fontFamily: font.medium,
    fontSize: 12,
    lineHeight: 15,
    color: colour.legend,
    backgroundColor: colour.capHead,
  },
  foot: { height: 5 },
  hatch: { position: 'absolute', top: 6, left: 0, opacity: 0.45 },
});
