import type { PlainValue } from '../show/index';
import type { Clock } from './clock';
import type { Journal } from './journal';
import type { Program } from './program';
import type { Scope } from './scope';
import type { StateBoard } from './stateBoard';

/**
 * A head that somebody reserved: whoever has less right moves it no more, by whatever they press. It stands on the board, so that pages see it, and
 * in the journal: an engine that begins anew frees nobody's head behind their back.
 */
export const reservedKey = (device: string): string => `reserved@${device}`;
const rankKey = (device: string): string => `reservedRank@${device}`;
const ownerKey = (device: string): string => `reservedOwner@${device}`;

/** Who reserves a head: in words, the rank of their right (the more, the higher), and by what their station is known. */
export interface Reserver {
  readonly who: string;
  readonly rank: number;
  readonly owner: string;
}

interface Kept {
  readonly board: StateBoard;
  readonly journal: Journal;
  readonly clock: Clock;
}

/** @param by null: it is free again */
export function reserve({ board, journal, clock }: Kept, device: string, by: Reserver | null): void {
  const publish = (key: string, value: PlainValue | null): void => {
    if (value === null) board.forget(key);
    else board.set(key, value);
    journal.append({ kind: 'set', t: clock.now(), key, value });
  };
  publish(reservedKey(device), by?.who ?? null);
  publish(rankKey(device), by?.rank ?? null);
  publish(ownerKey(device), by?.owner ?? null);
}

/** By what the station is known that reserved a device; null: nobody did. */
export function ownerOf(board: StateBoard, device: string): string | null {
  const owner = board.read(ownerKey(device));
  return typeof owner === 'string' ? owner : null;
}

/** Rank of whoever reserved a device; null: nobody did. */
export function rankOf(board: StateBoard, device: string): number | null {
  const rank = board.read(rankKey(device));
  return typeof rank === 'number' ? rank : null;
}

/** Why a command may not move a device for whoever pressed; null: nothing speaks against it. What nobody pressed has every right. */
export function reservedAgainst(
  device: string,
  command: string,
  program: Program,
  { rank }: Pick<Scope, 'rank'>,
  board: StateBoard,
): { readonly message: string; readonly mend: string } | null {
  if (rank === undefined) return null;
  const needed = rankOf(board, device);
  if (needed === null || rank >= needed) return null;
  if (program.kindOf(device)?.commands[command]?.movesPicture !== true) return null;
  const by = board.read(reservedKey(device));
  return {
    message: `${program.devices.get(device)?.name ?? device} is reserved by ${typeof by === 'string' ? by : 'somebody'}.`,
    mend: 'Ask them to free it: Rig, the camera.',
  };
}
