import { Pressable, StyleSheet, Text, View } from 'react-native';
import { SegmentedButtons } from 'react-native-paper';
import { colour, font } from '../theme/tokens';

interface SegmentsProps {
  readonly value: string;
  readonly onChange: (value: string) => void;
  readonly options: readonly { readonly value: string; readonly label: string; readonly accessibilityLabel?: string }[];
  /** More than these wrap as chips instead of shrinking until nobody can read them. */
  readonly most?: number;
}

/** So many short words fit a phone's width as chips close together; as one bar they were cut short. */
const FIVE = 5;

/** One of a few: side by side where they fit, as chips in rows where they do not. */
export function Segments({ value, onChange, options, most = 5 }: SegmentsProps) {
  if (options.length > most) {
    return (
      <View style={[styles.chips, options.length === FIVE && styles.closeChips]} role="radiogroup">
        {options.map((option) => (
          <Pressable
            key={option.value}
            role="radio"
            aria-checked={option.value === value}
            accessibilityLabel={option.accessibilityLabel ?? option.label}
            onPress={() => onChange(option.value)}
            style={[styles.chip, options.length === FIVE && styles.close, option.value === value && styles.chipOn]}
          >
            <Text style={[styles.label, option.value === value && styles.chosen]}>{option.label}</Text>
          </Pressable>
        ))}
      </View>
    );
  }
  return (
    <SegmentedButtons
      density="small"
      value={value}
      onValueChange={onChange}
      buttons={options.map((option) => ({
        ...option,
        style: options.length > 4 ? styles.tight : styles.segment,
        labelStyle: [styles.label, option.value === value && styles.chosen, options.length > 4 && styles.tightLabel],
      }))}
    />
  );
}

const styles = StyleSheet.create({
  chips: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  chip: {
    minHeight: 44,
    justifyContent: 'center',
    paddingHorizontal: 14,
    borderRadius: 6,
    borderWidth: 1,
    borderColor: colour.hairline,
  },
  close: { paddingHorizontal: 8, flexGrow: 1, alignItems: 'center' },
  closeChips: { gap: 6 },
  chipOn: { backgroundColor: '#36595A', borderColor: '#36595A' },
  segment: { minWidth: 0, flex: 1 },
  // Each as wide as its word: on a phone five of one width cut the longer ones short.
  tight: { minWidth: 0, flexGrow: 1, flexShrink: 1, flexBasis: 'auto' },
  // Into Paper's own padding.
  tightLabel: { marginHorizontal: -9 },
  label: { marginHorizontal: 0, fontFamily: font.medium, fontSize: 14, color: colour.muted },
  chosen: { fontFamily: font.semibold, color: colour.text },
});
