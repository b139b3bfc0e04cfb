import type { Step } from '../show/index';
import type { DriveLedger } from './driveLedger';
import type { RunnerDependencies } from './macroRunner';
import type { Owners } from './owners';
import type { Run } from './run';
import type { Scope } from './scope';
import type { SecondPresses } from './secondPress';
import type { WindowDrives } from './windowDrive';
import type { Closing, Finish, StepResult, Task } from './task';

/** Steps of one run in one instant; a list that goes round without end meets it. */
export const MOST_STEPS_AN_INSTANT = 10_000;

/** A step that failed, and why. */
export const bad = (why: string): StepResult => ({ ok: false, why });
/** A time in people's words. */
export const tenths = (ms: number): string => `${Math.round(ms / 100) / 10} s`;

/** What steps need of the rest of the engine. */
export interface StepRunnerDependencies extends RunnerDependencies {
  readonly owners: Owners;
  readonly second: SecondPresses;
  readonly windows: WindowDrives;
  readonly fail: (run: Run, why: string) => void;
  readonly stop: (run: Run, why: string) => void;
  readonly close: (run: Run, closings: readonly Closing[]) => void;
  readonly maybeEnd: (run: Run) => void;
  readonly onChange: (run: Run) => void;
}

/** What a kind of step needs of the runner: lists inside it, time, and the end of a list. */
export interface StepKit {
  readonly deps: StepRunnerDependencies;
  /** Steps one after the other. */
  list(task: Task, steps: readonly Step[], finish: Finish): void;
  /** One step, told in the as-run. */
  step(task: Task, step: Step, index: number, next: Finish): void;
  /** A list inside a step. */
  inner(parent: Task, path: string, scope?: Scope, eachTried?: boolean, drives?: DriveLedger): Task;
  /** Ends a list early, with what has to follow. */
  close(task: Task): void;
  /** Goes on at a time, or at once when nothing is to wait any more. */
  later(task: Task, due: number, work: () => void): void;
  /** Counts one more step of this instant. @returns whether that is too many */
  exhausted(run: Run): boolean;
  /** A move that fails after its acceptance still ends the innermost list that runs, wherever that has got to. */
  failedLate(task: Task, step: Step, why: string): void;
}
