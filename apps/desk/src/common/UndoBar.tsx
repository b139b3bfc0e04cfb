import { useEffect } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { listen } from '../live/listen';
import { useEdits, useEditState } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';

/** Undo and redo of one's own edits; Ctrl+Z and Ctrl+Shift+Z outside of text fields. */
export function UndoBar() {
  const edits = useEdits();
  const { waiting } = useEditState();
  useEffect(() => {
    const key = (event: KeyboardEvent): void => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return;
      const target = event.target instanceof HTMLElement ? event.target.tagName : '';
      if (target === 'INPUT' || target === 'TEXTAREA') return;
      event.preventDefault();
      void edits.undo(event.shiftKey ? 'redo' : 'undo');
    };
    return listen(window, { keydown: key });
  }, [edits]);
  return (
    <View style={styles.bar}>
      {waiting > 0 ? <Text style={styles.waiting}>saving…</Text> : null}
      <Button compact icon="undo" onPress={() => void edits.undo('undo')} accessibilityLabel="Undo">
        Undo
      </Button>
      <Button compact icon="redo" onPress={() => void edits.undo('redo')} accessibilityLabel="Redo">
        Redo
      </Button>
    </View>
  );
}

const styles = StyleSheet.create({
  bar: { flexDirection: 'row', alignItems: 'center', flexWrap: 'wrap', flexShrink: 1 },
  waiting: { fontFamily: font.regular, fontSize: 13, color: colour.muted, marginRight: 6 },
});
