import { useDroppable } from '@dnd-kit/core';
import type { StepAt } from '@umbek/core/programming';
import { childrenOf, type Step } from '@umbek/core/show';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { colour, font } from '../../theme/tokens';
import { placeText, stepLabel, useStepEditing } from './editing';
import { StepRow } from './StepRow';

/** The rows of a list, and of the lists inside its steps. @param inside of an inner list: place of its step, and its number */
export function StepRows({ steps, inside = [] }: { readonly steps: readonly Step[]; readonly inside?: StepAt }) {
  const { many } = useStepEditing();
  return (
    <View style={styles.rows}>
      {steps.map((step, index) => {
        const at = [...inside, index];
        return (
          <StepRow
            key={step.id}
            step={step}
            at={at}
            inner={(folded) => (folded ? null : <Inner step={step} at={at} />)}
          />
        );
      })}
      {many ? null : <End at={[...inside, steps.length]} inner={inside.length > 0} />}
    </View>
  );
}

/** Where a step can be dropped behind the last one. */
function End({ at, inner }: { readonly at: StepAt; readonly inner: boolean }) {
  const { drop, chosen } = useStepEditing();
  const place = placeText(at);
  const { setNodeRef } = useDroppable({ id: place });
  return (
    <View ref={setNodeRef as never} style={inner && chosen === null ? styles.innerEnd : styles.end}>
      {drop === place ? <View style={styles.drop} /> : null}
    </View>
  );
}

function Inner({ step, at }: { readonly step: Step; readonly at: StepAt }) {
  const { chosen, steps: all, onAdd } = useStepEditing();
  const lists = childrenOf(step);
  if (lists.length === 0) return null;
  const label = stepLabel(all, at);
  return (
    <View style={[styles.inner, step.off === true && styles.off]}>
      {lists.map((list, branch) => {
        const inside = [...at, branch];
        const where = branch === 1 ? 'otherwise' : 'inside';
        return (
          <View key={branch} style={styles.branch}>
            {branch === 1 ? <Text style={styles.otherwise}>Otherwise</Text> : null}
            <StepRows steps={list} inside={inside} />
            {chosen === null ? (
              <Button
                compact
                icon="plus"
                style={styles.add}
                onPress={() => onAdd(inside)}
                accessibilityLabel={`Add a step ${where} step ${label}`}
              >
                {list.length === 0 ? (branch === 1 ? 'Nothing. Add a step' : 'Nothing yet. Add a step') : 'Add a step'}
              </Button>
            ) : null}
          </View>
        );
      })}
    </View>
  );
}

const styles = StyleSheet.create({
  rows: { gap: 8 },
  end: { height: 4, marginTop: -8 },
  innerEnd: { height: 10, marginTop: -8, marginBottom: -8 },
  drop: { height: 3, borderRadius: 2, backgroundColor: colour.cap },
  inner: {
    marginTop: 8,
    marginLeft: 10,
    paddingLeft: 10,
    borderLeftWidth: 2,
    borderLeftColor: colour.hairline,
    gap: 4,
  },
  off: { opacity: 0.6 },
  branch: { gap: 4 },
  otherwise: { fontFamily: font.semibold, fontSize: 15, color: colour.muted, paddingVertical: 4 },
  add: { alignSelf: 'flex-start' },
});
