import type { Button, Step } from '../show/index';
import type { Cancel } from './clock';
import type { DriveLedger } from './driveLedger';
import type { Program } from './program';
import { resolveDevice } from './resolve';
import { readerOf, type Scope } from './scope';
import type { StateBoard } from './stateBoard';

/** A button that is held: what it was pressed with, and what its release has to end. */
export interface Held {
  /** Moves that its release has to end. */
  readonly drives: DriveLedger;
  /** As pressed, or as steered since. */
  button: Button;
  readonly program: Program;
  readonly scope: Scope;
  runId: string;
  renewedAt: number;
  cancelLease: Cancel;
}

/** What ends the moves that the press began, before anything else that its release does; left out where the release begins with the same. */
export function endsOf(held: Held, board: StateBoard): Step[] {
  const [first] = held.button.releaseSteps;
  const read = readerOf(board, held.scope);
  const saidFirst = (device: string, command: string): boolean => {
    if (first?.kind !== 'command' || first.command !== command) return false;
    const spoken = resolveDevice(first.device, held.program, read);
    return spoken.ok && spoken.value === device;
  };
  return held.drives.take().flatMap(([device, end]) =>
    saidFirst(device, end.command)
      ? []
      : [
          {
            id: `end-${device}`.slice(0, 40),
            onFail: 'goOn',
            kind: 'command',
            device,
            command: end.command,
            params: { ...end.params },
          },
        ],
  );
}
