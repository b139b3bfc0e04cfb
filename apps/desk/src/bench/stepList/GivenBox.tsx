import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { colour, font } from '../../theme/tokens';

/** A parameter of its macro stands where a step would say something itself, and may be put back. */
export function GivenBox({
  title,
  given,
  onFixed,
}: {
  readonly title: string;
  /** The parameter in people's words. */
  readonly given: string;
  readonly onFixed: () => void;
}) {
  return (
    <View style={styles.given}>
      <Text style={styles.words}>{`${title}: the ${given.toLowerCase()} given`}</Text>
      <Button compact accessibilityLabel={`Set it here: ${title}`} onPress={onFixed}>
        Set it here
      </Button>
    </View>
  );
}

const styles = StyleSheet.create({
  given: {
    flexDirection: 'row',
    alignItems: 'center',
    minHeight: 46,
    gap: 8,
    paddingLeft: 12,
    borderWidth: 1,
    borderColor: colour.hairline,
    borderRadius: 5,
  },
  words: { flex: 1, fontFamily: font.semibold, fontSize: 16, color: colour.text },
});
