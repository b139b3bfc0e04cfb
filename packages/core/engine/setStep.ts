import type { Step } from '../show/index';
import { UNKNOWN } from '../expression/index';
import { deedOfSet } from './deeds';
import { resolveArgument } from './resolve';
import { boardKey } from './scope';
import { bad, type StepKit } from './stepKit';
import { type Finish, FINE, type Task } from './task';

/** A show value or a selection gets another content. */
export function setStep(kit: StepKit, task: Task, step: Extract<Step, { kind: 'set' }>, end: Finish): void {
  const { board, clock, journal } = kit.deps;
  const value = resolveArgument(step.to, task.run.request.program, task.read);
  if (!value.ok) return end(bad(value.error.message));
  const key = boardKey(step.target, task.scope.linkGroup);
  const before = board.read(key);
  task.deeds?.add(
    deedOfSet(
      step.target,
      key,
      task.run.request.program.sentence(step),
      before === UNKNOWN ? undefined : before,
      value.value,
    ),
    clock.now(),
  );
  board.set(key, value.value);
  journal.append({ kind: 'set', t: clock.now(), runId: task.run.runId, key, value: value.value });
  end(FINE);
}
