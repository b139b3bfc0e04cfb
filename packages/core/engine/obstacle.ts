import type { ReadKey } from '../expression/index';
import { type AppError, type Button, deviceNamed, ok, type Step } from '../show/index';
import { callReader } from './callReader';
import type { Program } from './program';
import { resolveDevice } from './resolve';
import { motorlessOf } from './motorless';
import { reservedAgainst } from './reservations';
import { reachedKey, readerOf, type Scope } from './scope';
import type { StateBoard } from './stateBoard';

/** How far the first step is looked for through macros and lists. */
const DEEPEST_FIRST = 20;

/** A cap whose thing has gone does nothing, also for a finger that was on its way. What is not known the device tells of itself. */
export function awayOf({ there }: Button, program: Program, read: ReadKey): AppError | null {
  if (there === '' || program.expression(there)?.evaluate(read) !== false) return null;
  return {
    code: 'not-there',
    message: 'What this cap stood for is gone.',
    mend: 'Look at the panel, then press again.',
  };
}

/** Why the first step cannot go: its device is silent or reserved, or a choice is missing. */
export function obstacleOf(
  step: Step | undefined,
  program: Program,
  scope: Scope,
  board: StateBoard,
  read: ReadKey = readerOf(board, scope),
  depth = 0,
): AppError | null {
  if (step === undefined)
    return depth > 0
      ? null
      : { code: 'empty-button', message: 'This button does nothing yet.', mend: 'Give it a step in the Bench.' };
  if (depth > DEEPEST_FIRST) return null;
  if (step.kind === 'run') {
    const macro = program.macros.get(step.macro);
    const [first] = macro?.steps ?? [];
    if (macro === undefined || first === undefined) return obstacleOf(first, program, scope, board, read, depth + 1);
    const given = callReader(step, macro, (cel, by) => program.expression(cel)?.evaluate(by), read);
    return obstacleOf(first, program, scope, board, given.read, depth + 1);
  }
  if (step.kind === 'press')
    return obstacleOf(program.buttons.get(step.button)?.steps[0], program, scope, board, read, depth + 1);
  if (step.kind === 'together') {
    for (const item of step.steps) {
      const found = obstacleOf(item, program, scope, board, read, depth + 1);
      if (found) return found;
    }
    return null;
  }
  if (step.kind !== 'command') return null;
  const window = motorlessOf(deviceNamed(step), program, read);
  if (window !== null && 'code' in window) return window;
  const device = window === null ? resolveDevice(step, program, read) : ok(window.switcher);
  if (!device.ok) return device.error;
  if (window === null) {
    const reserved = reservedAgainst(device.value, step.command, program, scope, board);
    if (reserved !== null) return { code: 'reserved', ...reserved };
  }
  if (board.read(reachedKey(device.value)) === true) return null;
  const known = program.devices.get(device.value);
  const wrong = program.deviceFault(device.value);
  if (wrong) return { code: 'broken-device', message: wrong.message, mend: wrong.mend };
  return {
    code: 'device-silent',
    message: `${known?.name ?? device.value} does not answer at ${known?.host ?? '?'}:${known?.port ?? '?'}; nothing was sent.`,
    mend: 'Check its power, address and port.',
  };
}
