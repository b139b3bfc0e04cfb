import type { LiveRun } from '@umbek/protocol';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { answerAsk } from '../live/deeds';
import { useEdits } from '../show/ShowContext';
import { replyWords } from '../show/replyWords';
import { colour, font } from '../theme/tokens';

/** The question that a run waits with, answered where it was tried. */
export function Answer({ runId, ask }: { readonly runId: string; readonly ask: NonNullable<LiveRun['ask']> }) {
  const edits = useEdits();
  const answer = async (what: 'goOn' | 'stop'): Promise<void> => {
    try {
      const response = await answerAsk(runId, ask.askId, what);
      if (!response.ok) edits.tell(replyWords((await response.json()) as { message?: string; mend?: string }), true);
    } catch (error) {
      edits.tell(error instanceof Error ? error.message : 'It was not answered. Try again.', true);
    }
  };
  return (
    <View style={styles.all} role="alert" testID="question">
      <Text style={styles.words}>{ask.question}</Text>
      <Button mode="contained" onPress={() => void answer('goOn')}>
        Continue
      </Button>
      <Button mode="outlined" onPress={() => void answer('stop')}>
        Stop
      </Button>
    </View>
  );
}

const styles = StyleSheet.create({
  all: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
  words: { flexGrow: 1, fontFamily: font.semibold, fontSize: 17, color: colour.text },
});
