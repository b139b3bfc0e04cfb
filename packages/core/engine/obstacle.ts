import type { AppError, Step } from '../show/index';
import type { Program } from './program';
import { resolveDevice } from './resolve';
import { reachedKey, readerOf, type Scope } from './scope';
import type { StateBoard } from './stateBoard';

/** How far the first step is looked for through macros and lists. */
const DEEPEST_FIRST = 20;

/** Why the first step cannot go: its device is silent, or a choice is missing. */
export function obstacleOf(
  step: Step | undefined,
  program: Program,
  scope: Scope,
  board: StateBoard,
  depth = 0,
): AppError | null {
  if (step === undefined)
    return depth > 0
      ? null
      : { code: 'empty-button', message: 'This button does nothing yet.', mend: 'Give it a step in the Bench.' };
  if (depth > DEEPEST_FIRST) return null;
  if (step.kind === 'run')
    return obstacleOf(program.macros.get(step.macro)?.steps[0], program, scope, board, depth + 1);
  if (step.kind === 'press')
    return obstacleOf(program.buttons.get(step.button)?.steps[0], program, scope, board, depth + 1);
  if (step.kind === 'together') {
    for (const one of step.steps) {
      const found = obstacleOf(one, program, scope, board, depth + 1);
      if (found) return found;
    }
    return null;
  }
  if (step.kind !== 'command') return null;
  const device = resolveDevice(step.device, program, readerOf(board, scope));
  if (!device.ok) return device.error;
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
