import type { Right } from '@umbek/protocol';
import { StyleSheet, Text, View } from 'react-native';
import { Chip } from '../../common/Chip';
import { GIVEN } from '../../live/rightsWords';
import { colour, font } from '../../theme/tokens';

/** What a station or a person may do beside looking. */
export const RightsChoice = ({
  label,
  rights,
  onChange,
}: {
  readonly label: string;
  readonly rights: readonly Right[];
  readonly onChange: (rights: readonly Right[]) => void;
}) => (
  <View style={styles.row} role="group" accessibilityLabel={label}>
    <Text style={styles.may}>May look, and</Text>
    {GIVEN.map(({ right, words }) => (
      <Chip
        key={right}
        role="checkbox"
        on={rights.includes(right)}
        words={words}
        onPress={() =>
          onChange(rights.includes(right) ? rights.filter((candidate) => candidate !== right) : [...rights, right])
        }
      />
    ))}
  </View>
);

const styles = StyleSheet.create({
  row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
  may: { fontFamily: font.medium, fontSize: 15, color: colour.text },
});
