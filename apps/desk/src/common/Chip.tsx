import { Pressable, StyleSheet, Text } from 'react-native';
import { colour, font } from '../theme/tokens';

/** One of several things that can be on, together or one at a time. */
export function Chip({
  on,
  words,
  label = words,
  role = 'button',
  onPress,
}: {
  readonly on: boolean;
  readonly words: string;
  /** What is read aloud. */
  readonly label?: string;
  /** `radio`: one of a few, where only one is on. */
  readonly role?: 'button' | 'checkbox' | 'radio';
  readonly onPress: () => void;
}) {
  return (
    <Pressable
      role={role}
      {...(role === 'button' ? { 'aria-pressed': on } : { 'aria-checked': on })}
      accessibilityLabel={label}
      onPress={onPress}
      style={[styles.chip, on && styles.on]}
    >
      <Text style={[styles.words, on && styles.onWords]}>{words}</Text>
    </Pressable>
  );
}

const styles = StyleSheet.create({
  chip: {
    minHeight: 44,
    justifyContent: 'center',
    paddingHorizontal: 14,
    borderRadius: 6,
    borderWidth: 1,
    borderColor: colour.hairline,
  },
  on: { backgroundColor: '#36595A', borderColor: '#36595A' },
  words: { fontFamily: font.medium, fontSize: 15, color: colour.muted },
  onWords: { fontFamily: font.semibold, color: colour.text },
});
