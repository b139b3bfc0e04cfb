import { keysOfStep, stepAt, stepTold, toldOf } from '@umbek/core/programming';
import type { ShowDocument, Step } from '@umbek/core/show';
import type { LiveRun } from '@umbek/protocol';
import { useMemo, useRef } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { ulid } from 'ulid';
import { act } from '../../live/deeds';
import { Answer } from '../Answer';
import { readIdentity } from '../../live/identity';
import { useLiveState, usePoints, useScopes } from '../../live/LiveContext';
import { scopeOf } from '../../live/shownHere';
import { useEdits } from '../../show/ShowContext';
import { replyWords } from '../../show/replyWords';
import { colour, font } from '../../theme/tokens';
import type { StepLists, StepOwner } from '../owner';
import { placeText, stepLabel } from './editing';

interface Stepping {
  /** Whether this list can be stepped through: what is held cannot wait. */
  readonly can: boolean;
  readonly runId: string | null;
  /** Where the run has got to in this list; null for nowhere. */
  readonly place: string | null;
  readonly step: Step | undefined;
  readonly label: string;
  readonly next: { readonly path: string; readonly words: string } | null;
  /** What it does or asks at present. */
  readonly words: string;
  readonly ask: LiveRun['ask'] | null;
  readonly begin: () => Promise<void>;
  readonly goOn: () => Promise<void>;
  readonly stop: () => Promise<void>;
}

/** The as-run names the list of a macro by the button that is made up to run it. */
const listPath = ({ entity }: StepOwner): string => (entity === 'macros' ? 'steps.0.macro' : 'steps');

/** A run of these steps in which each of them waits for a touch. What it sends is real. */
export function useStepThrough(owner: StepOwner, steps: readonly Step[], list: StepLists): Stepping {
  const edits = useEdits();
  const { runs } = useLiveState();
  // Whoever opens what is stepped through sees it, and a page that was loaded again goes on with it.
  const run =
    list === 'steps'
      ? runs.find((liveRun) => liveRun.buttonId === owner.entry.id && liveRun.next !== undefined)
      : undefined;
  const runId = run?.runId ?? null;
  const send = async (path: string, body: object): Promise<void> => {
    try {
      const response = await act(path, body);
      const reply = (await response.json()) as { message?: string; mend?: string };
      if (!response.ok) edits.tell(replyWords(reply), true);
    } catch (error) {
      edits.tell(error instanceof Error ? error.message : 'It failed.', true);
    }
  };
  /** While a step is under way, it is the one that was touched last. */
  const last = useRef('');
  if (run?.next) last.current = run.next.path;
  const path = runId === null ? '' : last.current;
  const waiting = useMemo(() => stepTold(steps, path, listPath(owner)), [steps, path, owner]);
  const place = waiting === null ? null : placeText(waiting.at);
  return {
    can:
      list === 'steps' && !(owner.entity === 'buttons' && (owner.entry.mode === 'hold' || owner.entry.dial !== null)),
    runId,
    place: runId === null ? null : place,
    step: waiting === null ? undefined : stepAt(steps, waiting.at),
    label: waiting === null ? '' : stepLabel(steps, waiting.at),
    next: run?.next ?? null,
    words: run?.step ?? '',
    ask: run?.ask ?? null,
    begin: async () => {
      const { station, person } = readIdentity();
      const [first] = steps;
      // The whole of a trigger fires by its rule; from its first step on is the same list.
      const part = owner.entity === 'triggers' && first !== undefined ? { stepId: first.id, onward: true } : {};
      await send('/api/try', {
        pressId: ulid(),
        buttonId: owner.entry.id,
        ...part,
        stepped: true,
        station,
        person,
      });
    },
    goOn: async () => {
      if (run?.next)
        await send(`/api/runs/${run.runId}/next`, { path: run.next.path, station: readIdentity().station });
    },
    stop: async () => {
      if (run) await send(`/api/runs/${run.runId}/stop`, { station: readIdentity().station });
    },
  };
}

/** The bar of a list that is stepped through: what the next touch does, and what is so now. */
export function StepThrough({ document, stepping }: { readonly document: ShowDocument; readonly stepping: Stepping }) {
  const { runId, next, words, label, step, ask } = stepping;
  const keys = useMemo(() => (step === undefined ? [] : keysOfStep(step, document)), [step, document]);
  if (runId === null) return null;
  return (
    <View style={styles.all} testID="step-through">
      <Text style={styles.head} role="heading">
        {next === null
          ? words === ''
            ? 'Begins …'
            : `Under way: ${words}`
          : `Next${label === '' ? '' : `, step ${label}`}: ${next.words}`}
      </Text>
      <Values document={document} keys={keys} />
      {ask == null ? null : <Answer runId={runId} ask={ask} />}
      <View style={styles.row}>
        <Button mode="contained" disabled={next === null} onPress={() => void stepping.goOn()} testID="do-next">
          Do this step
        </Button>
        <Button mode="outlined" onPress={() => void stepping.stop()}>
          Stop it
        </Button>
      </View>
    </View>
  );
}

/** What these points and values are now. */
function Values({ document, keys }: { readonly document: ShowDocument; readonly keys: readonly string[] }) {
  useScopes(useMemo(() => [...new Set(keys.map(scopeOf))], [keys]));
  const points = usePoints(keys);
  const lines = keys.flatMap((key, at) => toldOf(key, points[at], document) ?? []);
  if (lines.length === 0) return null;
  return (
    <View testID="values-in-sight">
      {lines.map(({ about, is }) => (
        <Text key={about} style={styles.value}>
          {about}: <Text style={styles.is}>{is}</Text>
        </Text>
      ))}
    </View>
  );
}

const styles = StyleSheet.create({
  all: {
    gap: 8,
    padding: 12,
    borderRadius: 6,
    backgroundColor: colour.raised,
    boxShadow: `inset 0 0 0 2px ${colour.cap}`,
  },
  head: { fontFamily: font.semibold, fontSize: 17, color: colour.text },
  value: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
  is: { fontFamily: font.semibold, color: colour.text },
  row: { flexDirection: 'row', gap: 8 },
});
