import type { Family } from '@umbek/core/show';
import { Pressable, StyleSheet, Text, View } from 'react-native';
import { FAMILY_NAMES, familyFill } from '../theme/patterns';
import { colour, font } from '../theme/tokens';

/** The eight families, each with its colour, its pattern and its name. */
export function FamilyChoice({
  value,
  onChange,
  inherit,
}: {
  /** Undefined where several things differ in it. */
  readonly value: Family | null | undefined;
  readonly onChange: (family: Family | null) => void;
  readonly inherit?: Family;
}) {
  return (
    <View style={styles.families} role="radiogroup" accessibilityLabel="Family">
      {inherit === undefined ? null : (
        <Swatch family={inherit} label="as strip" chosen={value === null} onPress={() => onChange(null)} />
      )}
      {FAMILY_NAMES.map((family) => (
        <Swatch
          key={family}
          family={family}
          label={family}
          chosen={value === family}
          onPress={() => onChange(family)}
        />
      ))}
    </View>
  );
}

const Swatch = ({
  family,
  label,
  chosen,
  onPress,
}: {
  readonly family: Family;
  readonly label: string;
  readonly chosen: boolean;
  readonly onPress: () => void;
}) => (
  <Pressable
    role="radio"
    aria-checked={chosen}
    accessibilityLabel={label}
    onPress={onPress}
    style={[styles.swatch, chosen && styles.swatchOn]}
  >
    <View style={[styles.fill, familyFill(family)]} />
    <Text style={styles.swatchName}>{chosen ? `• ${label}` : label}</Text>
  </Pressable>
);

const styles = StyleSheet.create({
  families: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  swatch: {
    width: 76,
    height: 52,
    borderRadius: 5,
    overflow: 'hidden',
    backgroundColor: colour.cap,
    borderWidth: 2,
    borderColor: 'transparent',
  },
  swatchOn: { boxShadow: `0 0 0 2px ${colour.plate}, 0 0 0 5px ${colour.text}` },
  swatchName: {
    fontFamily: font.semibold,
    fontSize: 13,
    color: colour.legend,
    textAlign: 'center',
    paddingVertical: 1,
  },
  fill: { flex: 1 },
});
