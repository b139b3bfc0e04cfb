import type { ReadKey } from '../expression/index';
import { type AppError, type Button, type PlainValue, type Step, stepsWithin } from '../show/index';
import { directButton } from './directButton';
import type { PressInput } from './pressInput';
import type { Program } from './program';
import { resolveArgument, resolveCommand, resolveDevice } from './resolve';
import { callIdentity, type RunRequest } from './run';

/** Why a command that is sent directly does not fit its device's declaration. */
export function unfit(button: Button, program: Program, read: ReadKey): AppError | null {
  const [step] = button.steps;
  const resolved = step?.kind === 'command' ? resolveCommand(step, program, read) : null;
  return resolved === null || resolved.ok ? null : resolved.error;
}

/** Whether a part of a button begins a move that only a release ends. */
const movesOn = (steps: readonly Step[], program: Program, read: ReadKey): boolean =>
  [...stepsWithin(steps)].some((step) => {
    if (step.kind !== 'command' || step.params.forSeconds !== undefined) return false;
    const device = resolveDevice(step.device, program, read);
    return device.ok && program.kindOf(device.value)?.commands[step.command]?.endedBy !== undefined;
  });

/** The button that a press means: the show's, one made up for a direct command, or the show's with one step alone, or from one on. Undefined when there is no such button or step. */
export function buttonFor(input: PressInput, program: Program, read: ReadKey): Button | undefined {
  if (input.direct) return directButton(input.buttonId, input.direct, program, read);
  const button = program.buttons.get(input.buttonId);
  if (button === undefined || input.only === undefined) return button;
  const list = [button.steps, button.releaseSteps].find((steps) => steps.some((step) => step.id === input.only));
  if (list === undefined) return undefined;
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
