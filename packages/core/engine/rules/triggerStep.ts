import type { Step } from '../../show/index';
import { UNKNOWN } from '../../expression/index';
import { bad, type StepKit } from '../stepKit';
import { type Finish, FINE, type Task } from '../task';
import { armedKey } from './ruleView';

type TriggerStep = Extract<Step, { kind: 'trigger' }>;

/** A trigger is armed, disarmed or fired by a run. */
export function triggerStep(kit: StepKit, task: Task, step: TriggerStep, end: Finish): void {
  const { board, clock, rules } = kit.deps;
  const { program, name } = task.run.request;
  const key = armedKey(step.trigger);
  const before = board.read(key);
  const why =
    rules?.(step.trigger, step.does, { station: task.scope.station ?? name, rank: task.scope.rank }, task.run.runId) ??
    null;
  if (why !== null) return end(bad(why));
  if (step.does === 'fire' || before === UNKNOWN || before === (step.does === 'arm')) {
    if (step.does === 'fire')
      task.deeds?.add(
        { words: program.sentence(step), made: new Map(), back: null, relative: false, drives: false, refused: false },
        clock.now(),
      );
    return end(FINE);
  }
  const back: Step = { ...step, id: 'back', onFail: 'goOn', does: step.does === 'arm' ? 'disarm' : 'arm' };
  task.deeds?.add(
    {
      words: program.sentence(step),
      made: new Map([[key, { before, after: step.does === 'arm' }]]),
      back: [{ step: back, puts: [key] }],
      relative: false,
      drives: false,
      refused: false,
    },
    clock.now(),
  );
  end(FINE);
}
