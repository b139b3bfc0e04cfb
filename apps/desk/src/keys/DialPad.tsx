import type { Shortcut } from '@umbek/core/show';
import { Pressable, StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { Chip } from '../common/Chip';
import { usePressState } from '../live/LiveContext';
import { useHeld } from '../live/useHeld';
import { Icon } from '../theme/Icon';
import { answerOf } from './answerOf';
import { colour, font } from '../theme/tokens';
import { type Match, type Takes, useDial } from './useDial';

const ROWS = [
  ['7', '8', '9'],
  ['4', '5', '6'],
  ['1', '2', '3'],
] as const;

/** What the digits of a pad can number. */
const TAKES: readonly { readonly takes: Takes; readonly words: string }[] = [
  { takes: 'code', words: 'Macro' },
  { takes: 'preview', words: 'Preview' },
  { takes: 'position', words: 'Position' },
  { takes: 'destination', words: 'Destination' },
  { takes: 'source', words: 'Source' },
  { takes: 'crosspoint', words: 'Crosspoint' },
];
const EMPTY: Readonly<Record<Takes, string>> = {
  code: 'Type a macro’s number or a code',
  preview: 'Type the number of a source, for preview',
  position: 'Type the number of a position of the chosen camera',
  destination: 'Type the number of a destination, to choose it',
  source: 'Type the number of a source, for the chosen destination',
  crosspoint: 'Type a destination, then a source',
};

/** What Enter would do, before it is pressed. */
function matchWords(match: Match | null, takes: Takes): string {
  if (match === null) return EMPTY[takes];
  if ('lost' in match) return 'The engine did not answer: nothing was pressed';
  if ('asking' in match) return ' ';
  const more = match.longer === 0 ? '' : match.longer === 1 ? '1 longer code' : `${match.longer} longer codes`;
  if (takes !== 'code') return match.words;
  if (match.runs === null) return more === '' ? 'Nothing has this code' : `Nothing yet · ${more}`;
  return [match.words, more].filter(Boolean).join(' · ');
}

/** The dial pad: whether it dials, the digits, what they would run before Enter, and what became of it. Shut, it is one button. */
export function DialPad({
  shortcuts,
  numbers,
  station,
}: {
  readonly shortcuts: readonly Shortcut[];
  /** What else than codes there is to be dialled in this show. */
  readonly numbers: readonly Takes[];
  /** Station of the show that this page acts as. */
  readonly station: string | null;
}) {
  const dial = useDial(shortcuts, station);
  const { on, digits, match, last, takes } = dial;
  const offered = TAKES.filter((candidate) => candidate.takes === 'code' || numbers.includes(candidate.takes));
  const state = usePressState(last ?? '');
  if (!on)
    return (
      <Button mode="outlined" style={styles.left} onPress={() => dial.switchTo(true)}>
        Dial a number
      </Button>
    );
  const ready = match !== null && 'runs' in match && (match.runs !== null || match.sends !== undefined);
  const digitKey = (item: string) => (
    <Pressable
      key={item}
      role="button"
      accessibilityLabel={`Dial ${item}`}
      style={styles.key}
      onPress={() => dial.digit(item)}
    >
      <Text style={styles.digit}>{item}</Text>
    </Pressable>
  );
  const bad = match !== null && ('lost' in match || ('runs' in match && !ready && match.longer === 0));
  return (
    <View style={styles.pad} role="group" accessibilityLabel="Dial pad" testID="dial-pad">
      <View style={styles.head}>
        <View style={styles.lit} />
        <Text style={styles.dialling}>Dialling</Text>
        <Text
          style={styles.digits}
          testID="dial-digits"
          accessibilityLabel={digits === '' ? 'no digits' : [...digits].join(' ')}
        >
          {digits === '' ? '–' : digits}
        </Text>
        <Button compact onPress={() => dial.switchTo(false)}>
          Close
        </Button>
      </View>
      {offered.length === 1 ? null : (
        <View style={styles.takes} role="group" accessibilityLabel="What the number is of">
          {offered.map((item) => (
            <Chip
              key={item.takes}
              on={item.takes === takes}
              words={item.words}
              onPress={() => dial.takeAs(item.takes)}
            />
          ))}
        </View>
      )}
      <Text style={[styles.match, bad && styles.bad]} numberOfLines={2} role="status" testID="dial-match">
        {digits === '' && last !== null && state !== undefined ? answerOf(state) : matchWords(match, takes)}
      </Text>
      {ROWS.map((row) => (
        <View key={row[0]} style={styles.row}>
          {row.map(digitKey)}
        </View>
      ))}
      <View style={styles.row}>
        <Pressable role="button" accessibilityLabel="Take the last digit back" style={styles.key} onPress={dial.back}>
          <Icon name="arrow-left" size={24} />
        </Pressable>
        {digitKey('0')}
        <EnterKey ready={ready} enter={dial.enter} />
      </View>
    </View>
  );
}

/** Enter holds what was dialled as long as a finger or a key holds it. */
function EnterKey({ ready, enter }: { readonly ready: boolean; readonly enter: () => (() => void) | null }) {
  const ref = useHeld(() => enter() ?? (() => undefined));
  return (
    <View
      ref={ref}
      role="button"
      tabIndex={0}
      accessibilityLabel="Enter"
      aria-disabled={!ready}
      style={[styles.key, styles.steady, ready && styles.enter]}
    >
      <Text style={[styles.digit, ready && styles.enterWords]}>Enter</Text>
    </View>
  );
}

const styles = StyleSheet.create({
  steady: { touchAction: 'none', userSelect: 'none' } as object,
  left: { alignSelf: 'flex-start' },
  pad: { gap: 6, padding: 10, borderRadius: 8, backgroundColor: colour.plate, maxWidth: 416 },
  head: { flexDirection: 'row', alignItems: 'center', gap: 8, minHeight: 44 },
  lit: { width: 26, height: 6, borderRadius: 3, backgroundColor: colour.warning },
  dialling: { fontFamily: font.semibold, fontSize: 15, color: colour.text },
  digits: {
    flex: 1,
    fontFamily: font.bold,
    fontSize: 26,
    lineHeight: 32,
    color: colour.text,
    textAlign: 'right',
    fontVariant: ['tabular-nums'],
  },
  match: { fontFamily: font.medium, fontSize: 16, lineHeight: 21, minHeight: 42, color: colour.text },
  bad: { color: colour.warning },
  row: { flexDirection: 'row', gap: 6 },
  takes: { flexDirection: 'row', flexWrap: 'wrap', gap: 6 },
  key: {
    flex: 1,
    minHeight: 52,
    alignItems: 'center',
    justifyContent: 'center',
    borderRadius: 6,
    backgroundColor: colour.raised,
  },
  digit: { fontFamily: font.semibold, fontSize: 22, color: colour.text },
  enter: { backgroundColor: colour.cap },
  enterWords: { color: colour.legend },
});
