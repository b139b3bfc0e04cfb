import { Pressable, StyleSheet, Text } from 'react-native';
import { colour, font } from '../theme/tokens';

/** A line that tells what is chosen, and opens the list that it is chosen from. */
export const ChooseLine = ({
  title,
  value,
  label,
  onPress,
}: {
  readonly title: string;
  readonly value: string;
  readonly label: string;
  readonly onPress: () => void;
}) => (
  <Pressable role="button" accessibilityLabel={label} onPress={onPress} style={chooseStyles.line}>
    <Text style={chooseStyles.title}>{title}</Text>
    <Text style={chooseStyles.value}>{value}</Text>
  </Pressable>
);

/** How such a line looks, also where it holds something else. */
export const chooseStyles = StyleSheet.create({
  line: {
    flexDirection: 'row',
    alignItems: 'center',
    justifyContent: 'space-between',
    gap: 12,
    minHeight: 46,
    borderWidth: 1,
    borderColor: colour.hairline,
    borderRadius: 5,
    paddingHorizontal: 12,
  },
  title: { fontFamily: font.regular, fontSize: 15, color: colour.muted },
  value: { fontFamily: font.semibold, fontSize: 16, color: colour.text, flexShrink: 1 },
});
