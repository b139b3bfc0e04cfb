import { type Block, outermost, removedSteps, stepAt, switched, wrapped } from '@umbek/core/programming';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { useEdits } from '../../show/ShowContext';
import { colour, font } from '../../theme/tokens';
import { stepsOf } from '../owner';
import { copySteps } from './copiedSteps';
import { placeAt, useStepEditing } from './editing';

const BLOCKS: readonly { readonly kind: Block; readonly words: string }[] = [
  { kind: 'group', words: 'Group' },
  { kind: 'together', words: 'Together' },
  { kind: 'if', words: 'If …' },
  { kind: 'repeat', words: 'Repeat' },
];

/** What can be done with the chosen steps. */
export function ChosenSteps({ onEnd }: { readonly onEnd: () => void }) {
  const { steps, owner, chosen, onPut } = useStepEditing();
  const edits = useEdits();
  const places = outermost([...(chosen ?? [])].map(placeAt));
  const taken = places.flatMap((at) => stepAt(steps, at) ?? []);
  const none = taken.length === 0;
  const words = `${taken.length} ${taken.length === 1 ? 'step' : 'steps'}`;
  const allOff = taken.length > 0 && taken.every(({ off }) => off === true);
  const change = (next: typeof steps, what: string): void => {
    onPut(next, what);
    onEnd();
  };
  return (
    <View style={styles.all} testID="chosen-steps">
      <View style={styles.row}>
        <Text style={styles.words}>{none ? 'Choose steps' : `${words} chosen`}</Text>
        <Button compact onPress={onEnd}>
          Done
        </Button>
      </View>
      <View style={styles.row}>
        {BLOCKS.map((block) => (
          <Button
            key={block.kind}
            compact
            mode="outlined"
            disabled={none}
            accessibilityLabel={`Put ${words} into: ${block.words}`}
            onPress={() => change(wrapped(steps, places, block.kind, stepsOf(owner)), `${block.words} of ${words}`)}
          >
            {block.words}
          </Button>
        ))}
      </View>
      <View style={styles.row}>
        <Button
          compact
          disabled={none}
          onPress={() => {
            copySteps(taken);
            edits.tell(`${words} copied. Paste them in any list of steps.`, false);
            onEnd();
          }}
        >
          Copy
        </Button>
        <Button
          compact
          disabled={none}
          onPress={() => change(switched(steps, places, !allOff), `Switch ${words} ${allOff ? 'on' : 'off'}`)}
        >
          {allOff ? 'Switch on' : 'Switch off'}
        </Button>
        <Button compact disabled={none} onPress={() => change(removedSteps(steps, places), `Remove ${words}`)}>
          Remove
        </Button>
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  all: { gap: 6, padding: 10, borderRadius: 6, borderWidth: 1, borderColor: colour.hairline },
  row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 6 },
  words: { flex: 1, fontFamily: font.semibold, fontSize: 16, color: colour.text },
});
