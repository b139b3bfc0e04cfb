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
  asDone(button, (item) => {
    const steps = list(item.steps);
    const releaseSteps = list(item.releaseSteps);
    const sets = item.sets.map((set) => ({ set, steps: list(set.steps) }));
    const additions = item.additions.map((addition) => ({ addition, steps: list(addition.steps) }));
    const same =
      steps === item.steps &&
      releaseSteps === item.releaseSteps &&
      sets.every(({ set, steps: left }) => left === set.steps) &&
      additions.every(({ addition, steps: left }) => left === addition.steps);
    if (same) return item;
    return {
      ...item,
      steps,
      releaseSteps,
      sets: sets.map(({ set, steps: left }) => ({ ...set, steps: left })),
      additions: additions.map(({ addition, steps: left }) => ({ ...addition, steps: left })),
    };
  });

export const macroAsDone = (macro: Macro): Macro =>
  asDone(macro, (item) => {
    const steps = list(item.steps);
    const stopSteps = list(item.stopSteps);
    return steps === item.steps && stopSteps === item.stopSteps ? item : { ...item, steps, stopSteps };
  });

export const triggerAsDone = (trigger: Trigger): Trigger =>
  asDone(trigger, (item) => {
    const steps = list(item.steps);
    return steps === item.steps ? item : { ...item, steps };
  });
