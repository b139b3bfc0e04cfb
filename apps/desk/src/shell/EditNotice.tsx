import { StyleSheet } from 'react-native';
import { Snackbar } from 'react-native-paper';
import { useEdits, useEditState } from '../show/ShowContext';
import { colour } from '../theme/tokens';

/** What became of an edit, when it needs telling: refused and why, undone, or kept until the engine is back. */
export function EditNotice({ wide }: { readonly wide: boolean }) {
  const edits = useEdits();
  const { notice, kept, waiting } = useEditState();
  const what = waiting === 1 ? 'One edit waits' : `${waiting} edits wait`;
  const words =
    kept !== null
      ? `The ${kept} does not answer. ${what} and ${waiting === 1 ? 'is' : 'are'} saved when it is back.`
      : (notice?.words ?? '');
  return (
    <Snackbar
      visible={kept !== null || notice !== null}
      duration={notice?.bad ? 12_000 : 4000}
      onDismiss={() => edits.dismiss()}
      action={{ label: 'Close', textColor: colour.warning, onPress: () => edits.dismiss() }}
      wrapperStyle={wide ? styles.wide : styles.narrow}
      style={[styles.bar, (kept !== null || notice?.bad) && styles.bad]}
      theme={{ colors: { inverseOnSurface: colour.text } }}
      testID="edit-notice"
    >
      {words}
    </Snackbar>
  );
}

const styles = StyleSheet.create({
  // Beside the rail, and above the line that asks for a name.
  wide: { bottom: 56, left: 92, maxWidth: 640 },
  narrow: { bottom: 128, maxWidth: 640 },
  bar: { backgroundColor: colour.raised, borderLeftWidth: 4, borderLeftColor: colour.hairline },
  bad: { borderLeftColor: colour.warning },
});
