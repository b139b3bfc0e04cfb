import type { GuardedMove } from '../engine/deviceSockets';
import type { DiskState } from '../journal/journalWriter';
import type { LeftBehind } from '../journal/fold';
import type { ServerConfig } from '../serve';

export type FromEngine =
  | { readonly type: 'hello' }
  | { readonly type: 'beat' }
  | { readonly type: 'guard'; readonly device: string; readonly move: GuardedMove | null }
  | { readonly type: 'ready'; readonly port: number; readonly room: readonly string[] }
  | { readonly type: 'failed'; readonly words: string };

export type FromParent =
  | { readonly type: 'begin'; readonly config: ServerConfig; readonly epoch: number; readonly left: LeftBehind }
  | { readonly type: 'disk'; readonly state: DiskState };

/** File descriptor of the pipe that takes the as-run to the parent. */
export const JOURNAL_FD = 4;
