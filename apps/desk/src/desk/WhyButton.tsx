import { Pressable, StyleSheet, Text, View } from 'react-native';
import { colour, font } from '../theme/tokens';

/** The next cap that is touched tells why it is as it is. */
export const WhyButton = ({ asking, onPress }: { readonly asking: boolean; readonly onPress: () => void }) => (
  <Pressable
    role="button"
    aria-pressed={asking}
    accessibilityLabel="Why? Asks the next cap, or picture, that is touched."
    onPress={onPress}
    hitSlop={6}
    style={[styles.button, asking && styles.on]}
    testID="why-ask"
  >
    <Text style={[styles.word, asking && styles.wordOn]}>Why?</Text>
  </Pressable>
);

/** What the next touch does while it asks, where it stands in nobody's way. */
export const WhyPrompt = ({ onCancel }: { readonly onCancel: () => void }) => (
  <View style={styles.prompt} role="status" testID="why-prompt">
    <Text numberOfLines={2} style={styles.text}>
      Touch a cap, or what is on air: you are told why. It is not pressed.
    </Text>
    <Pressable role="button" onPress={onCancel} style={styles.cancel}>
      <Text style={styles.wordOn}>Cancel</Text>
    </Pressable>
  </View>
);

const styles = StyleSheet.create({
  button: {
    minWidth: 52,
    height: 32,
    alignItems: 'center',
    justifyContent: 'center',
    borderRadius: 6,
    borderWidth: 1,
    borderColor: colour.hairline,
  },
  on: { backgroundColor: '#36595A', borderColor: '#36595A' },
  word: { fontFamily: font.medium, fontSize: 14, color: colour.muted },
  wordOn: { fontFamily: font.semibold, fontSize: 14, color: colour.text },
  prompt: {
    height: 46,
    flexDirection: 'row',
    alignItems: 'center',
    gap: 10,
    paddingLeft: 12,
    borderRadius: 6,
    backgroundColor: colour.raised,
  },
  text: { flex: 1, fontFamily: font.medium, fontSize: 14, lineHeight: 18, color: colour.text },
  cancel: { minHeight: 44, minWidth: 76, alignItems: 'center', justifyContent: 'center' },
});
