import { type Button, type Macro, type Step, switchedOn, type Trigger } from '../show/index';

const known = new WeakMap<object, object>();

/** An entry as it is done: without what is switched off in it. The very same entry where nothing is, and the same each time. */
function asDone<T extends object>(entry: T, without: (entry: T) => T): T {
  let done = known.get(entry) as T | undefined;
  if (done === undefined) known.set(entry, (done = without(entry)));
  return done;
}

const list = (steps: readonly Step[]): Step[] => switchedOn(steps) as Step[];

export const buttonAsDone = (button: Button): Button =>
  asDone(button, (one) => {
    const steps = list(one.steps);
    const releaseSteps = list(one.releaseSteps);
    const sets = one.sets.map((set) => ({ set, steps: list(set.steps) }));
    const additions = one.additions.map((addition) => ({ addition, steps: list(addition.steps) }));
    const same =
      steps === one.steps &&
      releaseSteps === one.releaseSteps &&
      sets.every(({ set, steps: left }) => left === set.steps) &&
      additions.every(({ addition, steps: left }) => left === addition.steps);
    if (same) return one;
    return {
      ...one,
      steps,
      releaseSteps,
      sets: sets.map(({ set, steps: left }) => ({ ...set, steps: left })),
      additions: additions.map(({ addition, steps: left }) => ({ ...addition, steps: left })),
    };
  });

export const macroAsDone = (macro: Macro): Macro =>
  asDone(macro, (one) => {
    const steps = list(one.steps);
    const stopSteps = list(one.stopSteps);
    return steps === one.steps && stopSteps === one.stopSteps ? one : { ...one, steps, stopSteps };
  });

export const triggerAsDone = (trigger: Trigger): Trigger =>
  asDone(trigger, (one) => {
    const steps = list(one.steps);
    return steps === one.steps ? one : { ...one, steps };
  });
