import { made, removed } from '@umbek/core/changes';
import { newShortcut, shortcutsTo, turns } from '@umbek/core/programming';
import { onWords } from '@umbek/core/shortcut';
import type { Runs, ShowDocument } from '@umbek/core/show';
import { type ReactNode, useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { ulid } from 'ulid';
import { Heading } from '../common/fields';
import { useLayout } from '../keys/keyboard';
import { useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { LearnKey } from './LearnKey';

/** The keys that press a button or macro or do something to a trigger, and one more. */
export function KeysOf({
  document,
  runs,
  name,
  above = null,
}: {
  readonly document: ShowDocument;
  readonly runs: Runs;
  /** What it is called in the history of edits. */
  readonly name: string;
  /** Below the heading. */
  readonly above?: ReactNode;
}) {
  const edits = useEdits();
  const layout = useLayout();
  const [learning, setLearning] = useState(false);
  const keys = shortcutsTo(document, runs);
  const turned = turns(document, runs);
  return (
    <>
      <Heading words="Shortcuts" />
      {above}
      {keys.length === 0 ? (
        <Text style={styles.hint}>
          {turned
            ? 'Nothing outside the panels turns it: a MIDI controller or a lever of a stick can.'
            : 'trigger' in runs
              ? 'No shortcut does that.'
              : 'Nothing outside the panels presses it.'}
        </Text>
      ) : null}
      <View style={styles.row}>
        {keys.map((item) => {
          const words = onWords(item.on, layout);
          return (
            <Button
              key={item.id}
              mode="outlined"
              icon="close"
              accessibilityLabel={`Remove the shortcut ${words}`}
              onPress={() => edits.edit(`Remove shortcut ${words} of ${name}`, [removed('shortcuts', item)])}
            >
              {words}
            </Button>
          );
        })}
        <Button mode="outlined" icon="plus" onPress={() => setLearning(true)}>
          Add a shortcut
        </Button>
      </View>
      <LearnKey
        document={document}
        runs={runs}
        visible={learning}
        onClose={() => setLearning(false)}
        onLearn={(on, taken) =>
          edits.edit(`Shortcut ${onWords(on)} of ${name}`, [
            ...(taken === undefined ? [] : [removed('shortcuts', taken)]),
            made('shortcuts', newShortcut(document, ulid(), on, runs)),
          ])
        }
      />
    </>
  );
}

const styles = StyleSheet.create({
  hint: { fontFamily: font.regular, fontSize: 14, lineHeight: 19, color: colour.muted },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
});
