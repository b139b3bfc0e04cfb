import type { ReadKey } from '../expression/index';
import {
  type AppError,
  type Button,
  listsOf,
  type Macro,
  ok,
  PLAIN_BUTTON,
  type PlainValue,
  type Step,
  childrenOf,
  stepsWithin,
} from '../show/index';
import { directButton } from './directButton';
import type { PressInput } from './pressInput';
import type { Program } from './program';
import { resolveArgument, resolveCommand, resolveDevice } from './resolve';
import { callIdentity, type RunRequest } from './run';
import { motorlessOf, unfitForWindow } from './motorless';
import { mayBeChosen, notThere } from './selections';

const NO_PARAMS: Readonly<Record<string, PlainValue>> = {};

/** Why a command that is sent directly does not fit its device's declaration. */
export function unfit(button: Button, program: Program, read: ReadKey): AppError | null {
  const [step] = button.steps;
  if (step?.kind === 'set') return noChoice(step, program);
  const window = step?.kind === 'command' ? motorlessOf(step.device, program, read) : null;
  if (window !== null && step?.kind === 'command') return 'code' in window ? window : unfitForWindow(step, window);
  const resolved = step?.kind === 'command' ? resolveCommand(step, program, read) : null;
  return resolved === null || resolved.ok ? null : resolved.error;
}

/** A station may choose without a button what may be chosen at all. */
const noChoice = ({ target, to }: Extract<Step, { kind: 'set' }>, { document }: Program): AppError | null =>
  mayBeChosen(target, to, document) ? null : { code: 'unknown-choice', ...notThere(target, to) };

/** Whether a part of a button begins a move that only a release ends. */
const movesOn = (steps: readonly Step[], program: Program, read: ReadKey): boolean =>
  [...stepsWithin(steps)].some((step) => {
    if (step.kind !== 'command' || step.params.forSeconds !== undefined) return false;
    if (motorlessOf(step.device, program, read) !== null) return step.command === 'nudge';
    // Whichever device a macro is given, it is one like that of the step.
    const device = step.deviceFrom === undefined ? resolveDevice(step, program, read) : ok(step.device);
    return device.ok && program.kindOf(device.value)?.commands[step.command]?.endedBy !== undefined;
  });

/** A macro as it is run without a button: one made up that runs it, with the parameters that it begins with where none are given. */
const macroButton = (macro: Macro, given: Readonly<Record<string, PlainValue>> = NO_PARAMS): Button => ({
  ...PLAIN_BUTTON,
  id: macro.id,
  stripId: '',
  legend: macro.name,
  steps: [{ id: 'run', onFail: 'stop', kind: 'run', macro: macro.id, params: { ...given } }],
  order: 'a',
});

/** A hand fires, arms or disarms a trigger from outside the panels: `pressedId` writes it so. */
const RULE_PRESSED = /^(\w+)\.(fire|arm|disarm)$/;

function ruleButton(pressed: string, program: Program): Button | undefined {
  const [, id = '', does] = RULE_PRESSED.exec(pressed) ?? [];
  const trigger = program.triggers.get(id);
  if (trigger === undefined || does === undefined) return undefined;
  const step: Step = {
    id: 'rule',
    onFail: 'stop',
    kind: 'trigger',
    trigger: id,
    does: does as 'fire' | 'arm' | 'disarm',
  };
  return {
    ...PLAIN_BUTTON,
    id: pressed,
    stripId: '',
    legend: program.sentence(step).slice(0, 120),
    steps: [step],
    order: 'a',
  };
}

/** Id of the button that is made up for taking a press back. */
const TAKE_BACK = 'takeBack';

/** A press that brings back what stood before another one. */
export const takeBackButton = (legend: string, steps: readonly Step[]): Button => ({
  ...PLAIN_BUTTON,
  id: TAKE_BACK,
  stripId: '',
  legend: `Take back: ${legend}`.slice(0, 120),
  steps: [...steps],
  order: 'a',
});

/** What the steps of a macro read as its parameters when one of them is tried alone; of a button nothing. */
export function startParams(input: PressInput, program: Program, read: ReadKey): Readonly<Record<string, PlainValue>> {
  const macro = input.only === undefined ? undefined : program.macros.get(input.buttonId);
  if (macro === undefined) return NO_PARAMS;
  const params: Record<string, PlainValue> = {};
  for (const { key, start } of macro.params) {
    const value = resolveArgument(start, program, read);
    if (value.ok) params[key] = value.value;
  }
  return params;
}

/**
 * The button that a press means: the show's, one made up for a direct command or for a macro that is tried, or the show's with one step alone,
 * or from one on. Undefined when there is no such button or step.
 */
export function buttonFor(input: PressInput, program: Program, read: ReadKey): Button | undefined {
  if (input.direct) return directButton(input.buttonId, input.direct, program, read);
  const macro = program.macros.get(input.buttonId);
  // Of a trigger a step is tried; the whole of it fires.
  const trigger = input.only === undefined ? undefined : program.triggers.get(input.buttonId);
  const button =
    program.buttons.get(input.buttonId) ??
    (macro && macroButton(macro, input.given)) ??
    (trigger && {
      ...PLAIN_BUTTON,
      id: trigger.id,
      stripId: '',
      legend: trigger.name,
      steps: trigger.steps,
      order: 'a',
    }) ??
    (input.only === undefined ? ruleButton(input.buttonId, program) : undefined);
  if (button === undefined || input.only === undefined) return button;
  const lists = macro === undefined ? listsOf(button).map(([, steps]) => steps) : [macro.steps, macro.stopSteps];
  const list = listWith(lists, input.only);
  if (list === null) return undefined;
  const at = list.findIndex((step) => step.id === input.only);
  const steps = input.onward === true ? list.slice(at) : list.slice(at, at + 1);
  const part = input.onward === true ? `from step ${at + 1}` : 'one step';
  return {
    ...button,
    legend: `${button.legend} · ${part}`.slice(0, 120),
    // A step of a held button is held as well: what it moves is ended with it.
    mode: movesOn(steps, program, read) ? 'hold' : 'press',
    steps,
    releaseSteps: [],
    sets: [],
    additions: [],
  };
}

/** The list that a step stands in, however far inside; null where none has it. */
function listWith(lists: readonly (readonly Step[])[], stepId: string): readonly Step[] | null {
  const near = lists.find((steps) => steps.some(({ id }) => id === stepId));
  if (near !== undefined) return near;
  for (const step of lists.flat()) {
    const inner = listWith(childrenOf(step), stepId);
    if (inner !== null) return inner;
  }
  return null;
}

/** A value in the hand turned to a value: held, so that it can be turned on, and its release does nothing. */
export function turnedTo(button: Button, value: number): Button {
  const { dial } = button;
  const [first, ...rest] = button.steps;
  if (dial === null || first === undefined) return button;
  const turned: Step =
    first.kind === 'command' || first.kind === 'run'
      ? { ...first, params: { ...first.params, [dial.param]: value } }
      : first.kind === 'set'
        ? { ...first, to: value }
        : first;
  return {
    ...button,
    mode: 'hold',
    atRelease: 'steps',
    releaseSteps: [],
    additions: [],
    sets: [],
    steps: [turned, ...rest],
  };
}

/** Steps that are nothing but one macro meet its rule for a second press, whichever button runs it. */
export function secondPressOf(button: Button, program: Program, read: ReadKey): Pick<RunRequest, 'identity' | 'again'> {
  const own = { identity: button.id, again: 'startOver' } as const;
  const steps = button.steps.filter((step) => step.kind !== 'note');
  const [only] = steps;
  if (steps.length !== 1 || only?.kind !== 'run') return own;
  const macro = program.macros.get(only.macro);
  if (macro === undefined) return own;
  const params: Record<string, PlainValue> = {};
  for (const param of macro.params) {
    const value = resolveArgument(only.params[param.key] ?? param.start, program, read);
    if (!value.ok) return own;
    params[param.key] = value.value;
  }
  return { identity: callIdentity(macro.id, params), again: macro.again };
}

/**
 * What a press turns a value in the hand to: what the hand says; of one that goes step by step, a step on from what it is now. A press from outside
 * the panel, such as a key, brings no value: one that is dragged must not jump to what happens to stand in its step.
 * @returns undefined where nothing is turned
 */
export function valueOf(
  button: Button,
  input: PressInput,
  program: Program,
  read: ReadKey,
): number | AppError | undefined {
  const { dial, legend } = button;
  if (dial === null) return undefined;
  if (input.value !== undefined) return input.value;
  // A rehearsal has no hand, and a step that is tried goes as it is written.
  if (input.sure === true || input.only !== undefined) return undefined;
  if (dial.by === 0)
    return {
      code: 'no-value',
      message: `${legend} is turned by hand: a key or a press cannot set it.`,
      mend: 'Turn it on its panel, or make it go step by step in the Bench.',
      short: 'turn it',
    };
  const now = program.expression(dial.reads)?.evaluate(read);
  return typeof now === 'number' || typeof now === 'bigint'
    ? Math.min(dial.max, Math.max(dial.min, Number(now) + dial.by))
    : {
        code: 'unknown-value',
        message: `The present value of ${legend} is not known.`,
        mend: 'Wait until its device answers.',
        short: 'not known',
      };
}
