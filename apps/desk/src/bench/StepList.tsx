import { DndContext } from '@dnd-kit/core';
import { useQuery } from '@tanstack/react-query';
import {
  freshSteps,
  insertSteps,
  keepableChoices,
  type NowStep,
  playersOf,
  type StepAt,
  stepChoices,
  stepTold,
} from '@umbek/core/programming';
import { type ShowDocument, type Step, stepsWithin } from '@umbek/core/show';
import { useEffect, useMemo, useRef, useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { Heading } from '../common/fields';
import { Picker } from '../common/Picker';
import { useEdits, useEditState } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { added, appended, listChanged, listOf, nameOf, type StepLists, type StepOwner, stepsOf } from './owner';
import { ChosenSteps } from './stepList/ChosenSteps';
import { useCopiedSteps } from './stepList/copiedSteps';
import { placeText, type StepEditing, StepEditingContext, type StepTime } from './stepList/editing';
import { ClipsSheet } from './stepList/ClipsSheet';
import { FromRig } from './stepList/FromRig';
import { useRecording } from './stepList/recording';
import { RecordingBar, RecordSheet } from './stepList/RecordSteps';
import { rehearsalOf } from './stepList/rehearsal';
import { StepRows } from './stepList/StepRows';
import { StepThrough, useStepThrough } from './stepList/StepThrough';
import { useStepDrag } from './stepList/useStepDrag';

/** What a button, a macro or a trigger does, as sentences with the times that a rehearsal from the present state predicts. */
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
  /** Which list the next step comes to; null while none is being chosen. */
  const [adding, setAdding] = useState<StepAt | null>(null);
  // Whoever comes back to what is new has seen the list. Opened once the editor is there: it lies over it, and closes before it.
  const asks = useRef(fresh && steps.length === 0);
  useEffect(() => setAdding(asks.current ? [] : null), []);
  const [open, setOpen] = useState<string | null>(null);
  const [chosen, setChosen] = useState<ReadonlySet<string> | null>(null);
  const copied = useCopiedSteps();
  const name = nameOf(owner);
  const timeline = useQuery({
    queryKey: ['rehearse', owner.entry.id, revision],
    queryFn: () => rehearsalOf(owner),
    enabled: steps.length > 0 && waiting === 0,
    staleTime: 0,
  });
  const predicted = typeof timeline.data === 'object' ? timeline.data : null;
  const times = useMemo(() => {
    const found = new Map<string, StepTime>();
    for (const { kind, path = '', stepId, t } of predicted?.entries ?? []) {
      if (kind !== 'step' && kind !== 'stepEnd') continue;
      const place = placeTold(steps, list, path, stepId);
      if (place === null) continue;
      const known = found.get(place);
      if (kind === 'step') found.set(place, { start: t, end: t });
      else if (known) found.set(place, { ...known, end: t });
    }
    return found;
  }, [predicted, steps, list]);
  // A while rule is offered what it can take back by itself.
  const keeps = owner.entity === 'triggers' && owner.entry.kind === 'while';
  const picking = adding !== null;
  const choices = useMemo(
    () => (!picking ? [] : keeps ? keepableChoices(document, steps) : stepChoices(document, steps)),
    [document, steps, keeps, picking],
  );
  const change = (next: readonly Step[], what: string): void => {
    if (next !== steps) edits.edit(`${what} in ${name}`, [listChanged(owner, list, next)]);
  };
  const [more, setMore] = useState<'rig' | 'record' | 'clips' | null>(null);
  const players = useMemo(() => playersOf(document).length > 0, [document]);
  const recording = useRecording();
  /** At the end of the list as the show has it now. */
  const append = (what: string, made: readonly (Step | NowStep['step'])[]): void =>
    edits.change(`${what} in ${name}`, (show) => appended(owner, list, made, show));
  const stepping = useStepThrough(owner, steps, list);
  const many = useMemo(() => [...stepsWithin(steps)].length > MOST_DRAGGED, [steps]);
  const drag = useStepDrag(steps, change);
  const editing: StepEditing = {
    document,
    owner,
    list,
    steps,
    times,
    open,
    onOpen: (place) => setOpen(open === place ? null : place),
    chosen,
    onChoose: (place) => {
      const next = new Set(chosen);
      if (!next.delete(place)) next.add(place);
      setChosen(next);
    },
    running: stepping.place,
    many,
    dragged: drag.dragged,
    drop: drag.drop,
    onPut: change,
    onAdd: setAdding,
  };
  const main = list === 'steps';
  return (
    <StepEditingContext.Provider value={editing}>
      <View style={styles.list}>
        {title === '' ? null : (
          <Heading words={title}>
            {predicted && main && steps.length > 0 ? (
              <Text style={styles.whole}>rehearsed: {(predicted.durationMs / 1000).toFixed(2)} s</Text>
            ) : null}
          </Heading>
        )}
        <StepThrough document={document} stepping={stepping} />
        {recording !== null && recording.owner === owner.entry.id && recording.list === list ? (
          <RecordingBar
            document={document}
            recording={recording}
            onAdd={(found) => {
              // What is recorded into must not run itself.
              const others = found.filter((step) => !runs(step, owner.entry.id));
              append(`Record ${counted(others.length)}`, others);
            }}
          />
        ) : null}
        {steps.length === 0 ? <Text style={styles.nothing}>Nothing yet.</Text> : null}
        <DndContext {...drag.context}>
          <StepRows steps={steps} />
        </DndContext>
        {typeof timeline.data === 'string' && main && steps.length > 0 ? (
          <Text style={styles.fault}>{timeline.data}</Text>
        ) : null}
        {chosen === null ? null : <ChosenSteps onEnd={() => setChosen(null)} />}
        <View style={styles.row}>
          <Button mode="outlined" icon="plus" style={styles.add} onPress={() => setAdding([])} testID={`add-${list}`}>
            Add a step
          </Button>
          {copied.length === 0 ? null : (
            <Button
              mode="outlined"
              onPress={() =>
                change(
                  insertSteps(steps, [steps.length], freshSteps(copied, stepsOf(owner))),
                  `Paste ${counted(copied.length)}`,
                )
              }
            >
              {`Paste ${counted(copied.length)}`}
            </Button>
          )}
          {steps.length > 0 && chosen === null ? (
            <Button
              mode="outlined"
              onPress={() => setChosen(new Set())}
              accessibilityLabel={main ? 'Choose several steps' : `Choose several steps: ${title}`}
            >
              Choose
            </Button>
          ) : null}
          {main && !keeps ? (
            <>
              <Button
                mode="outlined"
                onPress={() => setMore('rig')}
                accessibilityLabel="Steps from what devices show now"
              >
                From the rig
              </Button>
              {players ? (
                <Button mode="outlined" onPress={() => setMore('clips')} accessibilityLabel="Clips as steps">
                  Clips
                </Button>
              ) : null}
              {recording === null ? (
                <Button mode="outlined" onPress={() => setMore('record')} accessibilityLabel="Record touches as steps">
                  Record
                </Button>
              ) : null}
            </>
          ) : null}
          {main && steps.length > 0 ? (
            <Button mode="outlined" onPress={() => void timeline.refetch()} loading={timeline.isFetching}>
              Rehearse
            </Button>
          ) : null}
          {main && steps.length > 0 && stepping.can && stepping.runId === null ? (
            <Button mode="outlined" onPress={() => void stepping.begin()}>
              Step through
            </Button>
          ) : null}
        </View>
        <FromRig
          document={document}
          visible={more === 'rig'}
          onClose={() => setMore(null)}
          onAdd={(found) =>
            append(
              `Add ${counted(found.length)} from the rig`,
              found.map(({ step }) => step),
            )
          }
        />
        <ClipsSheet
          document={document}
          visible={more === 'clips'}
          onClose={() => setMore(null)}
          onAdd={(made, clips) => append(`Add ${clips === 1 ? '1 clip' : `${clips} clips`}`, made)}
        />
        <RecordSheet
          document={document}
          visible={more === 'record'}
          owner={owner.entry.id}
          list={list}
          onClose={() => setMore(null)}
        />
        <Picker
          title={`Add to ${name}`}
          memory="steps"
          visible={picking}
          several
          choices={choices}
          onChoose={(choice) =>
            edits.change(`Add to ${name}: ${choice.words}`, (show) => added(owner, list, choice, show, adding ?? []))
          }
          onClose={() => setAdding(null)}
        />
      </View>
    </StepEditingContext.Provider>
  );
}

/** In a list of more steps than this none is dragged. */
const MOST_DRAGGED = 120;

const runs = (step: Step, id: string): boolean =>
  (step.kind === 'run' && step.macro === id) || (step.kind === 'press' && step.button === id);

const counted = (number: number): string => (number === 1 ? '1 step' : `${number} steps`);

/** The row that a line of the timeline is about: that of a repeat by its first round. Other lists than the main one are told by the ids of their steps. */
function placeTold(steps: readonly Step[], list: StepLists, path: string, stepId = ''): string | null {
  if (list === 'steps') {
    const waiting = stepTold(steps, path, list);
    return waiting !== null && waiting.itself && waiting.first ? placeText(waiting.at) : null;
  }
  // What ends it is in no rehearsal that comes to its own end.
  if (list === 'stopSteps') return null;
  const at = path.includes('.macro.') || path.includes('.button.') ? -1 : steps.findIndex(({ id }) => id === stepId);
  return at < 0 ? null : String(at);
}

const styles = StyleSheet.create({
  list: { gap: 8 },
  whole: { fontFamily: font.medium, fontSize: 14, color: colour.muted, fontVariant: ['tabular-nums'] },
  nothing: { fontFamily: font.regular, fontSize: 16, color: colour.muted },
  fault: { fontFamily: font.medium, fontSize: 14, color: colour.warning },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  add: { flexGrow: 1, borderStyle: 'dashed' },
});
