import { childrenOf, type Step, stepsWithin, withChildren } from '../show/index';

/**
 * Where a step stands: its number in the list, and for each list that it is inside of the number of the step and of that step's list before it.
 * `[2]` is the third step; `[2, 1, 0]` the first of what the third does otherwise. As a place to put something: before what stands there.
 */
export type StepAt = readonly number[];

/** A list of steps inside a step is changed; the rest stays the same. @param at of a step in the list */
function inList(steps: readonly Step[], at: StepAt, change: (list: readonly Step[], index: number) => Step[]): Step[] {
  const [index = 0, branch, ...rest] = at;
  if (branch === undefined) return change(steps, index);
  return steps.map((step, number) =>
    number === index
      ? withChildren(
          step,
          childrenOf(step).map((list, which) => (which === branch ? inList(list, rest, change) : list)),
        )
      : step,
  );
}

/** The list that a place is in, with what stands around it. */
export function listAt(steps: readonly Step[], at: StepAt): readonly Step[] {
  const [index = 0, branch, ...rest] = at;
  if (branch === undefined) return steps;
  const step = steps[index];
  return step === undefined ? [] : listAt(childrenOf(step)[branch] ?? [], rest);
}

export const stepAt = (steps: readonly Step[], at: StepAt): Step | undefined => listAt(steps, at)[at.at(-1) ?? 0];

export const putStep = (steps: readonly Step[], at: StepAt, step: Step): Step[] =>
  inList(steps, at, (list, index) => list.map((item, number) => (number === index ? step : item)));

export const insertSteps = (steps: readonly Step[], at: StepAt, more: readonly Step[]): Step[] =>
  inList(steps, at, (list, index) => [...list.slice(0, index), ...more, ...list.slice(index)]);

const compareAt = (a: StepAt, b: StepAt): number => {
  for (let place = 0; place < Math.min(a.length, b.length); place += 1) {
    const by = (a[place] ?? 0) - (b[place] ?? 0);
    if (by !== 0) return by;
  }
  return a.length - b.length;
};

const isWithin = (at: StepAt, outer: StepAt): boolean =>
  at.length > outer.length && outer.every((number, place) => at[place] === number);

/** Places in order, without those that stand inside another one of them. */
export function outermost(places: readonly StepAt[]): StepAt[] {
  const sorted = [...places].sort(compareAt);
  return sorted.filter(
    (at, index) =>
      !sorted.some((other) => isWithin(at, other)) && sorted.findIndex((other) => compareAt(other, at) === 0) === index,
  );
}

export function removedSteps(steps: readonly Step[], places: readonly StepAt[]): Step[] {
  // From the end, so that the places before stay as they are.
  return outermost(places)
    .reverse()
    .reduce<Step[]>(
      (left, at) => inList(left, at, (list, index) => list.filter((_step, number) => number !== index)),
      [...steps],
    );
}

/** A place after what stood at another one has gone; what stood before it in the same list moves it up. */
function without(at: StepAt, gone: StepAt): StepAt {
  const last = gone.length - 1;
  const sameList = gone.slice(0, last).every((number, place) => at[place] === number) && at.length > last;
  return sameList && (gone[last] ?? 0) < (at[last] ?? 0)
    ? at.map((number, place) => (place === last ? number - 1 : number))
    : at;
}

/** Steps moved, in their order, to a place. The same list when that place stands inside one of them, or nothing changes. */
export function movedSteps(steps: readonly Step[], places: readonly StepAt[], to: StepAt): readonly Step[] {
  const moved = outermost(places);
  if (moved.some((at) => isWithin(to, at))) return steps;
  const taken = moved.flatMap((at) => stepAt(steps, at) ?? []);
  const place = [...moved].reverse().reduce<StepAt>(without, to);
  const next = insertSteps(removedSteps(steps, moved), place, taken);
  return JSON.stringify(next) === JSON.stringify(steps) ? steps : next;
}

/** Where a step goes with a key: one up or down in its list, out of the step that it stands in, or into the one above it; null where that is nowhere. */
export function nextPlace(steps: readonly Step[], at: StepAt, way: 'up' | 'down' | 'out' | 'in'): StepAt | null {
  const index = at.at(-1) ?? 0;
  const around = at.slice(0, -1);
  switch (way) {
    case 'up':
      return index === 0 ? null : [...around, index - 1];
    case 'down':
      return index >= listAt(steps, at).length - 1 ? null : [...around, index + 2];
    case 'out':
      return at.length < 3 ? null : [...at.slice(0, -3), (at.at(-3) ?? 0) + 1];
    case 'in': {
      const above = index === 0 ? undefined : stepAt(steps, [...around, index - 1]);
      const lists = above === undefined ? [] : childrenOf(above);
      return lists.length === 0 ? null : [...around, index - 1, 0, lists[0]?.length ?? 0];
    }
  }
}

/** Copies with ids of their own, inner steps as well. @param among every step that they are to be told from */
export function freshSteps(copied: readonly Step[], among: readonly Step[]): Step[] {
  const taken = new Set([...stepsWithin(among)].map(({ id }) => id));
  let number = taken.size;
  const freshId = (): string => {
    do number += 1;
    while (taken.has(`s${number}`));
    taken.add(`s${number}`);
    return `s${number}`;
  };
  const fresh = (list: readonly Step[]): Step[] =>
    list.map((step) => {
      const id = freshId();
      return { ...withChildren(step, childrenOf(step).map(fresh)), id };
    });
  return fresh(copied);
}

/** What steps can be put into. */
export type Block = 'group' | 'together' | 'if' | 'repeat';

/** A step of this kind, with these in it. */
export function blockOf(kind: Block, id: string, steps: readonly Step[]): Step {
  const common = { id, onFail: 'stop' as const, steps: [...steps] };
  switch (kind) {
    case 'group':
      return { ...common, kind, name: 'Steps' };
    case 'together':
      return { ...common, kind };
    case 'if':
      return { ...common, kind, when: 'true', otherwise: [] };
    case 'repeat':
      return { ...common, kind, over: { times: 2 } };
  }
}

/** These steps inside one of that kind, which stands where the first of them stood. @param among every step that its id is to be told from */
export function wrapped(
  steps: readonly Step[],
  places: readonly StepAt[],
  kind: Block,
  among: readonly Step[],
): readonly Step[] {
  const chosen = outermost(places);
  const [first] = chosen;
  if (first === undefined) return steps;
  const taken = chosen.flatMap((at) => stepAt(steps, at) ?? []);
  const [block] = freshSteps([blockOf(kind, 'new', [])], among);
  if (block === undefined) return steps;
  return insertSteps(removedSteps(steps, chosen), first, [withChildren(block, [taken, []])]);
}

/** What stands inside a step in its place; what it did otherwise comes behind. */
export const unwrapped = (steps: readonly Step[], at: StepAt): Step[] =>
  inList(steps, at, (list, index) =>
    list.flatMap((step, number) => (number === index ? childrenOf(step).flat() : [step])),
  );

/** Steps switched off or on. */
export const switched = (steps: readonly Step[], places: readonly StepAt[], off: boolean): Step[] =>
  places.reduce<Step[]>(
    (now, at) => {
      const step = stepAt(now, at);
      if (step === undefined) return now;
      const { off: _was, ...rest } = step;
      return putStep(now, at, (off ? { ...rest, off } : rest) as Step);
    },
    [...steps],
  );

/** The place in a list of the step that is done as the so manieth of it; −1 for none. */
function placeOfDone(list: readonly Step[], done: number): number {
  let counted = -1;
  return list.findIndex(({ off }) => off !== true && (counted += 1) === done);
}

/** A step as the as-run tells of it. */
export interface ToldStep {
  readonly at: StepAt;
  /** False for what happens in a macro or button that the step runs. */
  readonly itself: boolean;
  /** Of what stands in repeats: whether each of them is in its first round. */
  readonly first: boolean;
}

/**
 * The step that a path of the as-run speaks of; null where it speaks of none of this list. Steps that are switched off are told nowhere.
 * @param list as-run path of the whole list, such as `steps`, or `steps.0.macro` where a button runs the macro
 */
export function stepTold(steps: readonly Step[], path: string, list: string): ToldStep | null {
  if (!path.startsWith(`${list}.`)) return null;
  const names = path.slice(list.length + 1).split('.');
  const at: number[] = [];
  let inside = steps;
  let first = true;
  for (;;) {
    const done = Number(names.shift());
    const index = placeOfDone(inside, done);
    const step = inside[index];
    if (step === undefined) return null;
    at.push(index);
    if (names.length === 0) return { at, itself: true, first };
    const lists = childrenOf(step);
    if (lists.length === 0) return { at, itself: false, first };
    const branch = step.kind === 'if' && names[0] === 'otherwise' ? 1 : 0;
    if (step.kind === 'repeat') first &&= Number(names[0]) === 0;
    // What starts at once is counted behind the step itself; of the others the list, or the round, is named first.
    if (step.kind !== 'together') names.shift();
    at.push(branch);
    inside = lists[branch] ?? [];
  }
}
