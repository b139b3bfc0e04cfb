import { type Step, stepsWithin } from '../show/index';
import { DeedLedger, wayBack } from './deeds';
import type { StateBoard } from './stateBoard';
import type { StepKit } from './stepKit';
import { type Closing, type Finish, FINE, type Task } from './task';

const known = new WeakMap<readonly Step[], boolean>();

/** Whether a list brings back what it found, so that what it does has to be written down. What it calls writes down its own. */
export function restores(steps: readonly Step[]): boolean {
  let answer = known.get(steps);
  if (answer === undefined) {
    answer = [...stepsWithin(steps)].some(({ kind }) => kind === 'restore');
    known.set(steps, answer);
  }
  return answer;
}

/** What has to follow when a list is ended early: stop steps, or the way back to what it found; null for nothing. */
export function closingOf(
  owner: Task,
  path: string,
  steps: readonly Step[] | 'asBefore',
  board: StateBoard,
): Closing | null {
  if (steps !== 'asBefore') return steps.length === 0 ? null : { owner, path, steps };
  const deeds = (owner.deeds ??= new DeedLedger());
  return { owner, path, steps: () => wayBack(deeds, board, 'release').steps };
}

/** Brings back what stood before the list that it belongs to. What stays as it is is told as a line of its own. */
export function restoreStep(
  kit: StepKit,
  task: Task,
  step: Extract<Step, { kind: 'restore' }>,
  path: string,
  end: Finish,
): void {
  if (task.deeds === null) return end(FINE);
  const { steps, stays } = wayBack(task.deeds, kit.deps.board, 'release');
  const wanted = (item: Step): boolean =>
    step.devices.length === 0 || (item.kind === 'command' && step.devices.includes(item.device));
  const notes = stays.map((words, at): Step => ({
    id: `stays-${at + 1}`,
    onFail: 'goOn',
    kind: 'note',
    text: `Left as it is: ${words}`.slice(0, 500),
  }));
  const inner = kit.inner(task, `${path}.steps`);
  // Each is tried: one device that is away must not keep the others from coming back.
  inner.tolerant = true;
  let trouble: string | null = null;
  const list = [...steps.filter(wanted), ...(step.devices.length === 0 ? notes : [])];
  const next = (at: number): void => {
    const item = list[at];
    if (item === undefined) {
      task.due = inner.due;
      inner.end();
      return end(trouble === null ? FINE : { ok: false, why: trouble });
    }
    kit.step(inner, item, at, (result) => {
      if (!result.ok) trouble ??= result.why;
      next(at + 1);
    });
  };
  next(0);
}
