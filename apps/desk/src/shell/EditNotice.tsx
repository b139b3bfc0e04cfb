import { StyleSheet } from 'react-native';
import { Snackbar } from 'react-native-paper';
import { useEdits, useEditState } from '../show/ShowContext';
import { colour } from '../theme/tokens';

/** What became of an edit, when it needs telling: refused and why, undone, or kept until the engine is back. */
export function EditNotice({ wide }: { readonly wide: boolean }) {
  const edits = useEdits();
  const { notice, kept, waiting } = useEditState();
  const words = kept
    ? `The engine cannot be reached. ${waiting === 1 ? 'One edit is' : `${waiting} edits are`} kept and sent when it is back.`
    : (notice?.words ?? '');
  return (
    <Snackbar
      visible={kept || notice !== null}
      duration={notice?.bad ? 12_000 : 4000}
      onDismiss={() => edits.dismiss()}
      action={{ label: 'Close', textColor: colour.warning, onPress: () => edits.dismiss() }}
      wrapperStyle={{ bottom: wide ? 12 : 128, maxWidth: 640, alignSelf: 'center' }}
      style={[styles.bar, (kept || notice?.bad) && styles.bad]}
      theme={{ colors: { inverseOnSurface: colour.text } }}
      testID="edit-notice"
    >
      {words}
    </Snackbar>
  );
}

const styles = StyleSheet.create({
  bar: { backgroundColor: colour.raised, borderLeftWidth: 4, borderLeftColor: colour.hairline },
  bad: { borderLeftColor: colour.warning },
});
