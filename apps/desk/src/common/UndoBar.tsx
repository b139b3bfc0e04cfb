import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { HistoryReply } from '@umbek/protocol';
import { useEffect } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { editorName } from '../live/identity';
import { usePerson } from '../live/LiveContext';
import { listen } from '../live/listen';
import { ask } from '../show/ask';
import { useEdits, useEditState } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';

/** Undo and redo of one's own edits; Ctrl+Z and Ctrl+Shift+Z outside of text fields. */
export function UndoBar() {
  const edits = useEdits();
  const { waiting, revision } = useEditState();
  // Whoever works here next has edits of their own.
  usePerson();
  // Grey when there is nothing of one's own to undo. Where that is not known, it can be tried.
  const { data } = useQuery({
    queryKey: ['undo', revision, editorName()],
    queryFn: async () => {
      const response = await ask(`/api/edits?by=${encodeURIComponent(editorName())}`);
      if (!response.ok) throw new Error(String(response.status));
      const { undo, redo } = (await response.json()) as HistoryReply;
      return { undo, redo };
    },
    placeholderData: keepPreviousData,
    staleTime: 0,
    retry: false,
  });
  const nothing = (label: string | null | undefined): boolean => data !== undefined && label === null && waiting === 0;
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
      <Button
        compact
        icon="undo"
        disabled={nothing(data?.undo)}
        onPress={() => void edits.undo('undo')}
        accessibilityLabel="Undo"
      >
        Undo
      </Button>
      <Button
        compact
        icon="redo"
        disabled={nothing(data?.redo)}
        onPress={() => void edits.undo('redo')}
        accessibilityLabel="Redo"
      >
        Redo
      </Button>
    </View>
  );
}

const styles = StyleSheet.create({
  bar: { flexDirection: 'row', alignItems: 'center', flexWrap: 'wrap', flexShrink: 1 },
  waiting: { fontFamily: font.regular, fontSize: 13, color: colour.muted, marginRight: 6 },
});
