import { useQuery } from '@tanstack/react-query';
import { keepableChoices, stepChoices } from '@umbek/core/programming';
import type { ShowDocument, Step } from '@umbek/core/show';
import { useEffect, useMemo, useRef, useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { Heading } from '../common/fields';
import { Picker } from '../common/Picker';
import { ask } from '../show/ask';
import { useEdits, useEditState } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { added, listChanged, listOf, nameOf, rehearsed, type StepLists, type StepOwner } from './owner';
import { StepRow } from './StepRow';
import { replyWords } from '../show/replyWords';

interface TimelineEntry {
  readonly kind: string;
  readonly t: number;
  readonly stepId?: string;
}
interface Timeline {
  readonly durationMs: number;
  readonly entries: readonly TimelineEntry[];
}

async function rehearse(what: ReturnType<typeof rehearsed>): Promise<Timeline | string> {
  const response = await ask('/api/rehearse', what);
  const reply = (await response.json()) as Timeline & { message?: string; mend?: string };
  return response.ok ? reply : replyWords(reply, 'It cannot be rehearsed.');
}

/** What a button or a macro does, as sentences with the times that a rehearsal from the present state predicts. */
export function StepList({
  document,
  owner,
  list,
  title,
  fresh,
}: {
  readonly document: ShowDocument;
  readonly owner: StepOwner;
  readonly list: StepLists;
  readonly title: string;
  readonly fresh: boolean;
}) {
  const edits = useEdits();
  const { revision, waiting } = useEditState();
  const steps = listOf(owner, list);
  const [picking, setPicking] = useState(false);
  // Whoever comes back to what is new has seen the list. Opened once the editor is there: it lies over it, and closes before it.
  const asks = useRef(fresh && steps.length === 0);
  useEffect(() => setPicking(asks.current), []);
  const [open, setOpen] = useState<string | null>(null);
  const name = nameOf(owner);
  const timeline = useQuery({
    queryKey: ['rehearse', owner.entry.id, revision],
    queryFn: () => rehearse(rehearsed(owner)),
    enabled: steps.length > 0 && waiting === 0,
    staleTime: 0,
  });
  const predicted = typeof timeline.data === 'object' ? timeline.data : null;
  const times = useMemo(() => {
    const found = new Map<string, { start: number; end: number }>();
    for (const entry of predicted?.entries ?? []) {
      if (entry.stepId === undefined) continue;
      const known = found.get(entry.stepId);
      if (entry.kind === 'step') found.set(entry.stepId, { start: entry.t, end: entry.t });
      else if (entry.kind === 'stepEnd' && known) found.set(entry.stepId, { ...known, end: entry.t });
    }
    return found;
  }, [predicted]);
  // A while rule is offered what it can take back by itself.
  const keeps = owner.entity === 'triggers' && owner.entry.kind === 'while';
  const choices = useMemo(
    () => (keeps ? keepableChoices(document, steps) : stepChoices(document, steps)),
    [document, steps, keeps],
  );
  const put = (next: readonly Step[], what: string): void =>
    edits.edit(`${what} in ${name}`, [listChanged(owner, list, next)]);
  const add = (choice: (typeof choices)[number]): void => {
    edits.change(`Add to ${name}: ${choice.words}`, (show) => added(owner, list, choice, show));
  };
  return (
    <View style={styles.list}>
      {title === '' ? null : (
        <Heading words={title}>
          {predicted && list === 'steps' && steps.length > 0 ? (
            <Text style={styles.whole}>rehearsed: {(predicted.durationMs / 1000).toFixed(2)} s</Text>
          ) : null}
        </Heading>
      )}
      {steps.length === 0 ? <Text style={styles.nothing}>Nothing yet.</Text> : null}
      {steps.map((step, index) => (
        <StepRow
          key={step.id}
          document={document}
          owner={owner}
          list={list}
          step={step}
          index={index}
          steps={steps}
          time={times.get(step.id) ?? null}
          open={open === step.id}
          onOpen={() => setOpen(open === step.id ? null : step.id)}
          onChange={put}
        />
      ))}
      {typeof timeline.data === 'string' && list === 'steps' && steps.length > 0 ? (
        <Text style={styles.fault}>{timeline.data}</Text>
      ) : null}
      <View style={styles.row}>
        <Button mode="outlined" icon="plus" style={styles.add} onPress={() => setPicking(true)} testID={`add-${list}`}>
          Add a step
        </Button>
        {list === 'steps' && steps.length > 0 ? (
          <Button mode="outlined" onPress={() => void timeline.refetch()} loading={timeline.isFetching}>
            Rehearse
          </Button>
        ) : null}
      </View>
      <Picker
        title={`Add to ${name}`}
        memory="steps"
        visible={picking}
        several
        choices={choices}
        onChoose={add}
        onClose={() => setPicking(false)}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  list: { gap: 8 },
  whole: { fontFamily: font.medium, fontSize: 14, color: colour.muted, fontVariant: ['tabular-nums'] },
  nothing: { fontFamily: font.regular, fontSize: 16, color: colour.muted },
  fault: { fontFamily: font.medium, fontSize: 14, color: colour.warning },
  row: { flexDirection: 'row', gap: 8 },
  add: { flex: 1, borderStyle: 'dashed' },
});
