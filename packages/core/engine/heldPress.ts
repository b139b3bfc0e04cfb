import type { Addition, Button, Step } from '../show/index';
import type { Cancel } from './clock';
import { type DeedLedger, wayBack } from './deeds';
import type { DriveLedger } from './driveLedger';
import type { Program } from './program';
import { resolveDevice } from './resolve';
import { readerOf, type Scope } from './scope';
import type { StateBoard } from './stateBoard';
import { windowOfKey } from './windowDrive';

/** A button that is held: what it was pressed with, and what its release has to end. */
export interface Held {
  /** A hold button's release ends its run; that of a press button only adds steps to it. */
  readonly ends: boolean;
  /** What the press did. */
  readonly deeds: DeedLedger;
  /** Moves that its release has to end. */
  readonly drives: DriveLedger;
  /** As pressed, or as steered since. */
  button: Button;
  readonly program: Program;
  readonly scope: Scope;
  runId: string;
  renewedAt: number;
  cancelLease: Cancel;
  /** Ends the wait for what it does once it has been held for so long. */
  cancelLater: Cancel;
}

/** What ends the moves that the press began, before anything else that its release does; left out where the release begins with the same. */
export function endsOf(held: Held, board: StateBoard): Step[] {
  const [first] = held.button.releaseSteps;
  const read = readerOf(board, held.scope);
  const saidFirst = (device: string, command: string): boolean => {
    if (first?.kind !== 'command' || first.command !== command) return false;
    const spoken = resolveDevice(first, held.program, read);
    return spoken.ok && spoken.value === device;
  };
  return held.drives.drain().flatMap(([device, end]) =>
    saidFirst(device, end.command)
      ? []
      : [
          {
            id: `end-${device}`.replace(':', '-').slice(0, 40),
            onFail: 'goOn',
            kind: 'command',
            // The window of a source is ended as the chosen camera that the press pinned.
            device: windowOfKey(device) === null ? device : 'chosen.camera',
            command: end.command,
            params: { ...end.params },
          },
        ],
  );
}

/** What the release of this press does, as things are now. */
export function releaseOf(held: Held, board: StateBoard): readonly Step[] {
  const { button } = held;
  if (!held.ends) return additionOf(button, 'release')?.steps ?? [];
  if (button.atRelease === 'asBefore') return wayBack(held.deeds, board, 'release').steps;
  return button.releaseSteps;
}

/** What a press button does beside its press at one of these moments. */
export const additionOf = (button: Button, at: Addition['at']): Addition | undefined =>
  button.mode === 'press'
    ? button.additions.find((addition) => addition.at === at && addition.steps.length > 0)
    : undefined;
