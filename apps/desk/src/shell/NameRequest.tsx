import { useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button, IconButton } from 'react-native-paper';
import { editorName, nameWasAsked, readIdentity } from '../live/identity';
import { useEditPart } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';

/**
 * Asks once, after the first edit that was saved here, who works at this station. It stands below the place, covers nothing and moves nothing that
 * is above it, and goes for good at "Not now".
 */
export function NameRequest({ onName }: { readonly onName: () => void }) {
  const saved = useEditPart((state) => state.saved);
  const [asked, setAsked] = useState(() => nameWasAsked());
  if (asked || saved === 0 || readIdentity().person !== '') return null;
  const over = (): void => {
    nameWasAsked(true);
    setAsked(true);
  };
  return (
    <View style={styles.bar} testID="name-request">
      <Text style={styles.words}>{`Saved as “${editorName()}”. With your name, undo and the log know you.`}</Text>
      <Button
        compact
        onPress={() => {
          over();
          onName();
        }}
      >
        Give my name
      </Button>
      <IconButton icon="close" size={20} accessibilityLabel="Not now" onPress={over} style={styles.close} />
    </View>
  );
}

const styles = StyleSheet.create({
  bar: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 4,
    minHeight: 48,
    paddingLeft: 12,
    backgroundColor: colour.raised,
    borderTopWidth: 1,
    borderTopColor: colour.hairline,
  },
  words: { flex: 1, fontFamily: font.regular, fontSize: 14, lineHeight: 18, color: colour.text },
  close: { margin: 0, width: 44, height: 44 },
});
