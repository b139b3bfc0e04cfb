import { Pressable, StyleSheet, Text, View } from 'react-native';
import { Icon } from '../theme/Icon';
import { CAP_SIGNS } from '../theme/iconPaths';
import { colour, font } from '../theme/tokens';

/** One of the signs that a cap can carry before its legend, or none. */
export const SignChoice = ({
  value,
  onChange,
}: {
  readonly value: string;
  readonly onChange: (sign: string) => void;
}) => (
  <View style={styles.row} role="radiogroup" aria-label="Sign">
    {['', ...CAP_SIGNS].map((sign) => (
      <Pressable
        key={sign}
        role="radio"
        aria-checked={value === sign}
        accessibilityLabel={sign === '' ? 'No sign' : sign.replaceAll('-', ' ')}
        onPress={() => onChange(sign)}
        style={[styles.sign, value === sign && styles.chosen]}
      >
        {sign === '' ? <Text style={styles.none}>none</Text> : <Icon name={sign} size={24} color={colour.legend} />}
      </Pressable>
    ))}
  </View>
);

const styles = StyleSheet.create({
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 6 },
  sign: {
    width: 46,
    height: 46,
    borderRadius: 5,
    backgroundColor: colour.cap,
    alignItems: 'center',
    justifyContent: 'center',
  },
  chosen: { boxShadow: `0 0 0 2px ${colour.ground}, 0 0 0 5px ${colour.text}` },
  none: { fontFamily: font.medium, fontSize: 13, color: colour.legend },
});
