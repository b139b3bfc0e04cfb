import type { Step } from '../show/index';
import type { StepKit } from './stepKit';
import type { Hold, Task } from './task';

/**
 * Whether a step waits for a touch first: in a run that is stepped through each does, but for what starts in one instant, what only ends
 * something, and the one line of a press that does nothing but run a macro.
 */
export function waitsForTouch(task: Task, step: Step): boolean {
  const { run } = task;
  if (run.request.stepped !== true || task.ungated || task.eachTried || run.hurried || run.stopping !== null)
    return false;
  return !(task.parent === null && step.kind === 'run' && run.request.steps.length === 1);
}

/** Keeps a step until somebody begins it. The time that this takes is nobody's lateness. */
export function gateStep(kit: StepKit, task: Task, step: Step, path: string, work: () => void): void {
  const { run } = task;
  const { clock, board } = kit.deps;
  const open = (): void => {
    run.gates.delete(path);
    task.letGo(hold);
    task.due = clock.now();
    work();
    if (!run.ended) kit.deps.onChange(run);
  };
  const hold: Hold = { cancel: () => void run.gates.delete(path), hurry: work };
  task.hold(hold);
  run.until = null;
  run.gates.set(path, { words: run.request.program.sentence(step), open: () => board.turn(open) });
  kit.deps.onChange(run);
}
