import { z } from 'zod';
import { unreachable } from './errors';
import { Argument, Id, Key, PlainValue } from './primitives';
import { PEOPLE_LIST } from './shown';

const common = {
  /** Names the step in the as-run and in outcomes; unique within its list. */
  id: z.string().min(1).max(40),
  /** What a failure does to the run: end it (with its stop steps) or go on. */
  onFail: z.enum(['stop', 'goOn']).default('stop'),
  /** Switched off: it stays in the list, and nothing does it. Left out: it is done. */
  off: z.boolean().optional(),
};

/** A condition or a computed value, as CEL text. */
const Cel = z.string().min(1).max(2000);
const Milliseconds = z.number().min(0).max(86_400_000);

/** A device key, or a selection that holds one (`chosen.camera`), pinned when the press comes in. */
export const DeviceReference = z.union([Key, z.string().regex(/^chosen\.[a-z][A-Za-z0-9]{0,39}$/)]);

/** Tell a device one thing. Ends when the device has accepted it; a long command goes on beside the steps that follow. */
export const CommandStep = z.strictObject({
  ...common,
  kind: z.literal('command'),
  device: DeviceReference,
  /**
   * A parameter of its macro, or of a repeat round it, that names the device each time; `device` is then the one that it begins with and says what
   * kind of device it is. Left out: `device` itself.
   */
  deviceFrom: Key.optional(),
  command: z.string().min(1).max(60),
  params: z.record(z.string().max(60), Argument).default({}),
  /** Does it also when the move is seen on air, without a hand's second touch. Left out: no. */
  moveOnAir: z.boolean().optional(),
});

/** Let time pass, in milliseconds or in frames of the show. Counted from when the step was due, so lateness does not add up. */
export const PauseStep = z.strictObject({
  ...common,
  kind: z.literal('pause'),
  length: z.union([
    z.strictObject({ ms: Milliseconds }),
    z.strictObject({ frames: z.number().int().min(0).max(5_184_000) }),
  ]),
});

/** Wait until a condition holds; unknown points satisfy nothing. */
export const WaitStep = z.strictObject({
  ...common,
  kind: z.literal('wait'),
  until: Cel,
  /** Milliseconds after which the wait has failed. */
  timeoutMs: z.number().min(1).max(86_400_000).default(10_000),
});

/** Put a show value (`value.count`) or a selection (`chosen.camera`) to something. */
export const SetStep = z.strictObject({
  ...common,
  kind: z.literal('set'),
  target: z.string().regex(/^(value|chosen)\.[a-z][A-Za-z0-9]{0,39}$/, 'Write value.name or chosen.name.'),
  to: Argument,
  /** Of the chosen person, in place of `to`: so many rows of the people list on from the one who is chosen. */
  by: z.number().int().min(-1000).max(1000).optional(),
});

/** Run a macro with its own parameters; ends when it has ended. Its stop steps, its owned devices and its second press apply as ever. */
export const RunStep = z.strictObject({
  ...common,
  kind: z.literal('run'),
  macro: Id,
  params: z.record(z.string().max(60), Argument).default({}),
});

/** Press another button of the show. A hold button is let go after `holdMs`, at most 30 s. */
export const PressStep = z.strictObject({
  ...common,
  kind: z.literal('press'),
  button: Id,
  holdMs: z.number().min(0).max(30_000).default(500),
});

/** Ask the operator to let the run go on. */
export const AskStep = z.strictObject({
  ...common,
  kind: z.literal('ask'),
  question: z.string().min(1).max(200),
  timeoutMs: z.number().min(1).max(86_400_000).default(60_000),
  /** What the silence of the operator means. */
  onTimeout: z.enum(['stop', 'goOn']).default('stop'),
});

/** Shows another panel, another page of one, or the people list on the station that pressed. What no station pressed shows nothing. */
export const ShowStep = z.strictObject({
  ...common,
  kind: z.literal('show'),
  panel: z.union([Id, z.literal(PEOPLE_LIST)]),
  /** Page of the panel; empty: the one that the station showed last. */
  page: z.string().max(40).default(''),
});

/** Arms or disarms a trigger, or fires it by hand. */
export const TriggerStep = z.strictObject({
  ...common,
  kind: z.literal('trigger'),
  trigger: Id,
  does: z.enum(['arm', 'disarm', 'fire']),
});

/**
 * Brings back what stood before this list began to do things: of the macro or the press that it stands in, never of what called that. What somebody
 * changed since stays, and is told in the as-run.
 */
export const RestoreStep = z.strictObject({
  ...common,
  kind: z.literal('restore'),
  /** Only what was done to these; empty: everything, values included. */
  devices: z.array(Key).max(40).default([]),
});

/** Words for whoever reads the list; does nothing. */
export const NoteStep = z.strictObject({ ...common, kind: z.literal('note'), text: z.string().max(500) });

interface Common {
  id: string;
  onFail: 'stop' | 'goOn';
  off?: boolean | undefined;
}

/** Steps with a name, one after the other: they are read, folded, moved and switched off as one. */
export interface GroupStep extends Common {
  kind: 'group';
  name: string;
  steps: Step[];
}

/** Start all of these in the same instant; ends when each has ended. */
export interface TogetherStep extends Common {
  kind: 'together';
  steps: Step[];
}

/** One list or the other. A condition that is unknown, or cannot be worked out, fails the step. */
export interface IfStep extends Common {
  kind: 'if';
  when: string;
  steps: Step[];
  otherwise: Step[];
}

/** How often a list is repeated. `while` is asked before each round and goes round at most once a frame of the show. */
export const Repetition = z.union([
  z.strictObject({ times: z.number().int().min(0).max(10_000) }),
  z.strictObject({ while: Cel }),
  /** Once for each value; the steps read it as `param.<as>`. */
  z.strictObject({ each: z.array(PlainValue).max(1000), as: Key }),
]);
export type Repetition = z.infer<typeof Repetition>;

export interface RepeatStep extends Common {
  kind: 'repeat';
  over: Repetition;
  steps: Step[];
}

export type CommandStep = z.infer<typeof CommandStep>;
export type Step =
  | CommandStep
  | z.infer<typeof PauseStep>
  | z.infer<typeof WaitStep>
  | z.infer<typeof SetStep>
  | z.infer<typeof RunStep>
  | z.infer<typeof PressStep>
  | z.infer<typeof AskStep>
  | z.infer<typeof ShowStep>
  | z.infer<typeof TriggerStep>
  | z.infer<typeof RestoreStep>
  | z.infer<typeof NoteStep>
  | GroupStep
  | TogetherStep
  | IfStep
  | RepeatStep;

const Inner = z.lazy(() => z.array(Step).max(200));
const GroupStep: z.ZodType<GroupStep> = z.lazy(() =>
  z.strictObject({ ...common, kind: z.literal('group'), name: z.string().min(1).max(120), steps: Inner }),
);
const TogetherStep: z.ZodType<TogetherStep> = z.lazy(() =>
  z.strictObject({ ...common, kind: z.literal('together'), steps: Inner }),
);
const IfStep: z.ZodType<IfStep> = z.lazy(() =>
  z.strictObject({ ...common, kind: z.literal('if'), when: Cel, steps: Inner, otherwise: Inner.default([]) }),
);
const RepeatStep: z.ZodType<RepeatStep> = z.lazy(() =>
  z.strictObject({ ...common, kind: z.literal('repeat'), over: Repetition, steps: Inner }),
);

/** One line of a macro or of a button. */
export const Step: z.ZodType<Step> = z
  .union([
    CommandStep,
    PauseStep,
    WaitStep,
    SetStep,
    RunStep,
    PressStep,
    AskStep,
    ShowStep,
    TriggerStep,
    RestoreStep,
    NoteStep,
    GroupStep,
    TogetherStep,
    IfStep,
    RepeatStep,
  ])
  .meta({ id: 'Step' });

/** Steps in order; at most 5,000. */
export const Steps = z.array(Step).max(5000);

const NONE: readonly (readonly Step[])[] = [];

/** The lists that stand inside a step: the one place that knows, for everything that walks through steps. */
export function childrenOf(step: Step): readonly (readonly Step[])[] {
  switch (step.kind) {
    case 'group':
    case 'together':
    case 'repeat':
      return [step.steps];
    case 'if':
      return [step.steps, step.otherwise];
    case 'command':
    case 'pause':
    case 'wait':
    case 'set':
    case 'run':
    case 'press':
    case 'ask':
    case 'show':
    case 'trigger':
    case 'restore':
    case 'note':
      return NONE;
    default:
      return unreachable(step);
  }
}

/** A step with other lists inside, in the order of `childrenOf`; what has no lists stays as it is. */
export function withChildren(step: Step, lists: readonly (readonly Step[])[]): Step {
  // The very lists: who made them may know more of them by what they are.
  const [steps = [], otherwise = []] = lists as readonly Step[][];
  switch (step.kind) {
    case 'group':
    case 'together':
    case 'repeat':
      return { ...step, steps };
    case 'if':
      return { ...step, steps, otherwise };
    default:
      return step;
  }
}

const listed = new WeakMap<readonly Step[], readonly number[]>();

/** The number of a step in the list that it was taken from by `switchedOn`; its own number in a list where nothing is off. */
export const numberListed = (steps: readonly Step[], index: number): number => listed.get(steps)?.[index] ?? index;

/** A list without what is switched off in it and further in; the very same list where nothing is. */
export function switchedOn(steps: readonly Step[]): readonly Step[] {
  let same = true;
  const kept: Step[] = [];
  const numbers: number[] = [];
  steps.forEach((step, index) => {
    if (step.off === true) {
      same = false;
      return;
    }
    numbers.push(index);
    const lists = childrenOf(step);
    const inner = lists.map(switchedOn);
    if (inner.every((list, at) => list === lists[at])) kept.push(step);
    else {
      same = false;
      kept.push(withChildren(step, inner));
    }
  });
  if (same) return steps;
  listed.set(kept, numbers);
  return kept;
}

/** Every step of a list and of the lists inside, outermost first. What runs elsewhere (macros, other buttons) is not gone into. */
export function* stepsWithin(steps: readonly Step[]): Generator<Step> {
  for (const step of steps) {
    yield step;
    for (const inner of childrenOf(step)) yield* stepsWithin(inner);
  }
}

/** What names the device of a command: its key, a selection, or a parameter (`param.room`). */
export const deviceNamed = ({ device, deviceFrom }: Pick<CommandStep, 'device' | 'deviceFrom'>): string =>
  deviceFrom === undefined ? device : `param.${deviceFrom}`;

/** Every expression that a step itself holds, as text; its inner lists are not gone into. */
export function expressionsOf(step: Step): string[] {
  const of = (argument: Argument): string[] => (typeof argument === 'object' ? [argument.cel] : []);
  switch (step.kind) {
    case 'command':
      return [...(step.deviceFrom === undefined ? [] : [deviceNamed(step)]), ...Object.values(step.params).flatMap(of)];
    case 'run':
      return Object.values(step.params).flatMap(of);
    case 'wait':
      return [step.until];
    case 'if':
      return [step.when];
    case 'repeat':
      return 'while' in step.over ? [step.over.while] : [];
    case 'set':
      return of(step.to);
    case 'pause':
    case 'press':
    case 'ask':
    case 'show':
    case 'trigger':
    case 'restore':
    case 'note':
    case 'group':
    case 'together':
      return [];
    default:
      return unreachable(step);
  }
}
