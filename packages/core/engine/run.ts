import type { PlainValue, Step } from '../show/index';
import type { Cause } from './journal';
import type { DeedLedger } from './deeds';
import type { DriveLedger } from './driveLedger';
import type { Program } from './program';
import type { Scope } from './scope';
import type { Task } from './task';

/** What starting a thing does that is under way already. */
export type SecondPress = 'startOver' | 'ignore' | 'runAfterwards' | 'end';

/** What a run is asked to be. */
export interface RunRequest {
  readonly name: string;
  /** Runs of the same identity meet the rule for a second press: a button's id, or a macro with its arguments. */
  readonly identity: string;
  readonly program: Program;
  readonly scope: Scope;
  readonly steps: readonly Step[];
  readonly again: SecondPress;
  readonly cause: Cause;
  readonly buttonId?: string | undefined;
  readonly macroId?: string | undefined;
  /** Stop steps and owned devices of what runs as a whole. */
  readonly stopSteps?: readonly Step[] | 'asBefore';
  readonly owns?: readonly string[];
  /** The press's own, where the run belongs to a held press: its release ends what the run began. */
  readonly drives?: DriveLedger;
  /** Where what it does is written down, so that it can be taken back. */
  readonly deeds?: DeedLedger;
  /** Release steps: each is tried, whatever the others did. */
  readonly eachTried?: boolean;
  /** Without pauses and waits. */
  readonly hurried?: boolean;
  /** Each step waits for a touch. */
  readonly stepped?: boolean;
  /** Some steps of what it is named after, tried alone. */
  readonly part?: boolean;
  /** It is over. @param done whether it came to its end as it should */
  readonly onEnd?: (done: boolean) => void;
}

/** A step that waits for a touch. */
export interface Gate {
  readonly words: string;
  readonly open: () => void;
}

/** A question to the operator that a run waits for. */
export interface OpenQuestion {
  readonly askId: string;
  readonly question: string;
  readonly answer: (what: 'goOn' | 'stop') => void;
}

/** A run as others see it. */
export interface RunView {
  readonly runId: string;
  readonly name: string;
  readonly buttonId?: string | undefined;
  readonly startedAt: number;
  readonly step: string;
  readonly stepPath: string;
  /** Engine time at which the present pause ends or the present wait gives up; null when neither. */
  readonly until: number | null;
  readonly stopping: boolean;
  readonly ask: { readonly askId: string; readonly question: string } | null;
  /** Of a run that is stepped through: the step that the next touch begins; null while one is under way. */
  readonly next?: { readonly path: string; readonly words: string } | null;
  /** It does not do all of the button or macro that it is named after: no rehearsal of that foretells it. */
  readonly part?: boolean;
}

export interface Run {
  readonly request: RunRequest;
  readonly runId: string;
  readonly startedAt: number;
  root: Task | null;
  /** Lists that run because something was ended early; the run is not over before they are. */
  readonly closings: Set<Task>;
  /** Commands whose outcome has not come, with what takes them back while they are not sent. */
  readonly pending: Map<string, () => void>;
  readonly questions: Map<string, OpenQuestion>;
  /** Steps that wait for a touch, by path. */
  readonly gates: Map<string, Gate>;
  stopping: { how: 'failed' | 'stopped'; why: string } | null;
  /** First thing that went wrong in a list whose steps are each tried. */
  trouble: string | null;
  hurried: boolean;
  ended: boolean;
  step: string;
  stepPath: string;
  until: number | null;
  /** Steps of the present instant, against lists that go round without end. */
  instant: number;
  turn: number;
  stepsInInstant: number;
}

export function viewOf(run: Run): RunView {
  const [question] = run.questions.values();
  const [gate] = run.gates;
  return {
    runId: run.runId,
    name: run.request.name,
    buttonId: run.request.buttonId,
    startedAt: run.startedAt,
    step: run.step,
    stepPath: run.stepPath,
    until: run.until,
    stopping: run.stopping !== null,
    ...(run.request.part === true ? { part: true } : {}),
    ask: question === undefined ? null : { askId: question.askId, question: question.question },
    ...(run.request.stepped === true
      ? { next: gate === undefined ? null : { path: gate[0], words: gate[1].words } }
      : {}),
  };
}

/** A macro with its arguments: started again with others, it is another thing. */
export const callIdentity = (macroId: string, params: Readonly<Record<string, PlainValue>>): string =>
  `${macroId} ${JSON.stringify(Object.entries(params).sort(([a], [b]) => (a < b ? -1 : 1)))}`;
