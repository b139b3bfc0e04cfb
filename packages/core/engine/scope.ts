import type { ReadKey } from '../expression/index';
import { UNKNOWN } from '../expression/index';
import type { PlainValue } from '../show/index';
import type { Sure } from './onAir';
import type { StateBoard } from './stateBoard';

/** Values that a run sees in place of the board's: its parameters, and the selections pinned when the press came in. */
export interface Scope {
  readonly linkGroup: string;
  /** Station that pressed; left out where none did. */
  readonly station?: string;
  /** How much right whoever pressed has: the more, the higher. Left out: every right. */
  readonly rank?: number;
  readonly params: Readonly<Record<string, PlainValue>>;
  /** `chosen.*` as they were at the press, or as its own steps chose since, so that a release goes where the press went. */
  readonly pins: Map<string, PlainValue>;
  /** What a hand has allowed to be seen on air. */
  readonly sure: Sure;
}

const reachedKeys = new Map<string, string>();

/** Board key of whether a device answers; put together once for each, since a key made anew has to be hashed anew. */
export function reachedKey(device: string): string {
  let key = reachedKeys.get(device);
  if (key === undefined) reachedKeys.set(device, (key = `${device}.reached`));
  return key;
}

/** Board key of a selection in a link group. */
export const selectionKey = (linkGroup: string, name: string): string => `chosen@${linkGroup}.${name}`;

/** Translates a key of an expression into the board's key for a link group. */
export const boardKey = (key: string, linkGroup: string): string =>
  key.startsWith('chosen.') ? selectionKey(linkGroup, key.slice('chosen.'.length)) : key;

/** Reads as a lamp of a link group does. */
export const readerFor =
  (board: StateBoard, linkGroup: string): ReadKey =>
  (key) =>
    board.read(boardKey(key, linkGroup));

/** Reads as a run does: parameters and pinned selections first, then the board. */
export const readerOf =
  (board: StateBoard, scope: Scope): ReadKey =>
  (key) => {
    if (key.startsWith('param.')) return scope.params[key.slice('param.'.length)] ?? UNKNOWN;
    if (key.startsWith('chosen.')) return scope.pins.get(key) ?? board.read(boardKey(key, scope.linkGroup));
    return board.read(key);
  };

/** The selections of a link group as they are now. */
export function pinsOf(board: StateBoard, linkGroup: string): Map<string, PlainValue> {
  const prefix = `chosen@${linkGroup}.`;
  const pins = new Map<string, PlainValue>();
  for (const [key, value] of board.entries())
    if (key.startsWith(prefix)) pins.set(`chosen.${key.slice(prefix.length)}`, value);
  return pins;
}
