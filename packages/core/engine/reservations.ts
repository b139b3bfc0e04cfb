import type { Program } from './program';
import type { Scope } from './scope';
import type { StateBoard } from './stateBoard';

/**
 * A head that somebody reserved: whoever has less right moves it no more, by whatever they press. It stands on the board and nowhere else, so
 * that pages see it, and an engine that begins anew reserves nothing.
 */
export const reservedKey = (device: string): string => `reserved@${device}`;
const rankKey = (device: string): string => `reservedRank@${device}`;

/** @param by who, in words. @param rank of their right: the more, the higher */
export function reserve(board: StateBoard, device: string, by: string, rank: number): void {
  board.set(reservedKey(device), by);
  board.set(rankKey(device), rank);
}

export function free(board: StateBoard, device: string): void {
  board.forget(reservedKey(device));
  board.forget(rankKey(device));
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
