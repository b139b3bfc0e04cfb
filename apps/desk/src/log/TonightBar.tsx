import type { HistoryReply } from '@umbek/protocol';
import type { ShowDocument } from '@umbek/core/show';
import { useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { ulid } from 'ulid';
import { act } from '../live/deeds';
import { editorName } from '../live/identity';
import { replyWords } from '../show/replyWords';
import { useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { GoBack } from './GoBack';

/** Edits of one evening, kept or dropped as one: since when, how many, and what becomes of them. */
export function TonightBar({
  tonight,
  document,
  onChanged,
}: {
  readonly tonight: HistoryReply['tonight'];
  readonly document: ShowDocument;
  readonly onChanged: () => void;
}) {
  const edits = useEdits();
  const [dropping, setDropping] = useState(false);
  const mark = async (what: 'begin' | 'end'): Promise<void> => {
    try {
      const response = await act('/api/tonight', { editId: ulid(), what, by: editorName() });
      if (!response.ok) edits.tell(replyWords((await response.json()) as { message?: string; mend?: string }), true);
    } catch (error) {
      edits.tell(error instanceof Error ? error.message : 'It was not done.', true);
    }
    onChanged();
  };
  if (tonight === null)
    return (
      <View style={styles.bar}>
        <Text style={styles.words}>Edits of one evening can be kept or dropped as one.</Text>
        <Button mode="outlined" onPress={() => void mark('begin')}>
          Begin tonight
        </Button>
      </View>
    );
  const count = tonight.edits === 1 ? '1 edit' : `${tonight.edits} edits`;
  if (dropping)
    return (
      <GoBack
        editId={tonight.editId}
        document={document}
        words={() => `Drop tonight’s edits: ${count}? The show goes back to where it was when tonight began.`}
        go="Drop them"
        keep="Do not drop them"
        label={() => 'Drop tonight’s edits'}
        onDone={(gone) => {
          setDropping(false);
          if (gone) void mark('end');
        }}
      />
    );
  return (
    <View style={[styles.bar, styles.on]} testID="tonight">
      <Text style={styles.words}>{`Tonight since ${new Date(tonight.at).toTimeString().slice(0, 5)}: ${count}`}</Text>
      <View style={styles.row}>
        <Button mode="outlined" onPress={() => void mark('end')}>
          Keep them
        </Button>
        <Button mode="outlined" disabled={tonight.edits === 0} onPress={() => setDropping(true)}>
          Drop them
        </Button>
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  bar: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
  on: { borderLeftWidth: 4, borderLeftColor: colour.warning, paddingLeft: 10 },
  words: { flexGrow: 1, flexBasis: 180, fontFamily: font.regular, fontSize: 15, color: colour.muted },
  row: { flexDirection: 'row', gap: 8 },
});
