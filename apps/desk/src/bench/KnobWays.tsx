import { changed } from '@umbek/core/changes';
import { canTurn, turns } from '@umbek/core/programming';
import type { Shortcut, ShowDocument } from '@umbek/core/show';
import { StyleSheet, Text, View } from 'react-native';
import { Switch } from 'react-native-paper';
import { useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';

/** How a knob or lever that turns a value is built; nothing for what is pressed. */
export function KnobWays({
  document,
  shortcut,
  words,
}: {
  readonly document: ShowDocument;
  readonly shortcut: Shortcut;
  readonly words: string;
}) {
  const edits = useEdits();
  const { on } = shortcut;
  if (!canTurn(on) || !turns(document, shortcut.runs)) return null;
  const set = (what: string, to: Shortcut['on']): void =>
    edits.edit(`${what} of ${words}`, [changed('shortcuts', shortcut, 'on', to)]);
  if (on.kind === 'axis')
    return (
      <Way
        words="The other way round: all the way towards you is most"
        label="The other way round"
        value={on.reversed === true}
        onChange={(reversed) => set('Direction', { ...on, reversed })}
      />
    );
  if (on.kind !== 'midi') return null;
  return (
    <Way
      words="A knob without ends: it sends how far it was turned, not where it stands"
      label="A knob without ends"
      value={on.endless === true}
      onChange={(endless) => set('Kind of knob', { ...on, endless })}
    />
  );
}

const Way = ({
  words,
  label,
  value,
  onChange,
}: {
  readonly words: string;
  readonly label: string;
  readonly value: boolean;
  readonly onChange: (value: boolean) => void;
}) => (
  <View style={styles.row}>
    <Text style={styles.words}>{words}</Text>
    <Switch value={value} onValueChange={onChange} accessibilityLabel={label} />
  </View>
);

const styles = StyleSheet.create({
  row: { flexDirection: 'row', alignItems: 'center', gap: 10, minHeight: 44 },
  words: { flex: 1, fontFamily: font.medium, fontSize: 15, lineHeight: 20, color: colour.text },
});
