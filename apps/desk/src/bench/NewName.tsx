import { type ReactNode, useState } from 'react';
import { StyleSheet, TextInput, View } from 'react-native';
import { Button } from 'react-native-paper';
import { colour, font } from '../theme/tokens';

/** What is new gets its name first; Enter makes it. */
export function NewName({
  label,
  make,
  children,
  onMake,
  onCancel,
}: {
  /** What is named, as the field says it. */
  readonly label: string;
  /** What the button says. */
  readonly make: string;
  /** More that is asked before it is made. */
  readonly children?: ReactNode;
  readonly onMake: (name: string) => void;
  readonly onCancel: () => void;
}) {
  const [name, setName] = useState('');
  const named = name.trim();
  return (
    <View style={styles.box}>
      <TextInput
        autoFocus
        value={name}
        onChangeText={setName}
        maxLength={120}
        placeholder={label}
        placeholderTextColor={colour.muted}
        accessibilityLabel={label}
        onSubmitEditing={() => {
          if (named !== '') onMake(named);
        }}
        style={styles.name}
      />
      {children}
      <View style={styles.row}>
        <Button mode="contained" disabled={named === ''} onPress={() => onMake(named)}>
          {make}
        </Button>
        <Button onPress={onCancel}>Cancel</Button>
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  box: { gap: 10, padding: 12, borderRadius: 6, backgroundColor: colour.plate },
  name: {
    minHeight: 48,
    paddingHorizontal: 12,
    borderRadius: 5,
    borderWidth: 1,
    borderColor: colour.hairline,
    color: colour.text,
    fontFamily: font.medium,
    fontSize: 17,
  },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
});
