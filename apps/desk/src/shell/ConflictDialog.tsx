import { entryWords } from '@umbek/core/entryWords';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { AppDialog } from '../common/AppDialog';
import { fieldWords } from '../show/editStore';
import { useEdits, useEditState } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';

const shown = (value: unknown): string =>
  (value === null || value === undefined
    ? 'nothing'
    : typeof value === 'string'
      ? value
      : JSON.stringify(value, null, 1)
  ).slice(0, 600);

/** Two engineers changed the same field: both values, and the choice. */
export function ConflictDialog() {
  const edits = useEdits();
  const { conflict, document } = useEditState();
  return (
    <AppDialog
      visible={conflict !== null}
      title="Somebody changed this meanwhile"
      actions={
        <>
          <Button onPress={() => edits.decide(false)}>Keep theirs</Button>
          <Button mode="contained" onPress={() => edits.decide(true)}>
            Put mine
          </Button>
        </>
      }
    >
      {conflict?.fields.map(({ change, newer }) => (
        <View key={`${change.id}${change.field}`} style={styles.field}>
          <Text style={styles.label}>
            {[
              document === null ? '' : entryWords(document, change),
              change.field === '*' ? '' : fieldWords(change.field),
            ]
              .filter(Boolean)
              .join(': ')}
          </Text>
          <Text style={styles.who}>Theirs, as it is now</Text>
          <Text style={styles.value} testID="conflict-theirs">
            {shown(newer)}
          </Text>
          <Text style={styles.who}>Yours</Text>
          <Text style={styles.value} testID="conflict-mine">
            {shown(change.to)}
          </Text>
        </View>
      ))}
    </AppDialog>
  );
}

const styles = StyleSheet.create({
  field: { gap: 3 },
  label: { fontFamily: font.semibold, fontSize: 15, color: colour.text },
  who: { fontFamily: font.regular, fontSize: 13, color: colour.muted },
  value: {
    fontFamily: font.medium,
    fontSize: 15,
    color: colour.text,
    backgroundColor: colour.ground,
    padding: 8,
    borderRadius: 4,
  },
});
