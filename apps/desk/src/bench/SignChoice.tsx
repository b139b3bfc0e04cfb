import { memo, useRef, useState } from 'react';
import { Pressable, StyleSheet, Text, View } from 'react-native';
import { Icon } from '../theme/Icon';
import { CAP_SIGNS } from '../theme/iconPaths';
import { colour, font } from '../theme/tokens';

interface SignChoiceProps {
  readonly value: string;
  readonly onChange: (sign: string) => void;
}

/** One of the signs that a cap can carry before its legend, or none. */
export function SignChoice({ value, onChange }: SignChoiceProps) {
  const latest = useRef(onChange);
  latest.current = onChange;
  const [choose] = useState(() => (sign: string) => latest.current(sign));
  return <Signs value={value} onChange={choose} />;
}

/** Fifty of them: a letter that is typed beside them draws none anew. */
const Signs = memo(function Signs({ value, onChange }: SignChoiceProps) {
  return (
    <View style={styles.row} role="radiogroup" aria-label="Sign">
      {['', ...CAP_SIGNS].map((sign) => (
        <Sign key={sign} sign={sign} chosen={value === sign} onChoose={onChange} />
      ))}
    </View>
  );
});

const Sign = memo(function Sign({
  sign,
  chosen,
  onChoose,
}: {
  readonly sign: string;
  readonly chosen: boolean;
  readonly onChoose: (sign: string) => void;
}) {
  return (
    <Pressable
      role="radio"
      aria-checked={chosen}
      accessibilityLabel={sign === '' ? 'No sign' : sign.replaceAll('-', ' ')}
      onPress={() => onChoose(sign)}
      style={[styles.sign, chosen && styles.chosen]}
    >
      {sign === '' ? <Text style={styles.none}>none</Text> : <Icon name={sign} size={24} color={colour.legend} />}
    </Pressable>
  );
});

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
