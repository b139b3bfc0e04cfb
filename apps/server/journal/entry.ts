import type { ClaimRecord, JournalEvent } from '@umbek/core/engine';
import type { PlainValue } from '@umbek/core/show';

/** What an engine that follows needs of the ones before it: written at the head of each file, so that no older one has to be read. */
export interface CheckpointEvent {
  readonly kind: 'checkpoint';
  readonly t: number;
  readonly runId?: string;
  readonly values: readonly (readonly [key: string, value: PlainValue])[];
  /** What *while* rules hold; files of older versions know of none. */
  readonly claims?: readonly ClaimRecord[];
  /** Files of older versions hold ids alone. */
  readonly openRuns: readonly (
    string | { readonly runId: string; readonly name: string; readonly buttonId?: string | undefined }
  )[];
  readonly openCommands: readonly { readonly commandId: string; readonly device: string; readonly runId?: string }[];
}

/** A journal event with its number and time of day: a line of the as-run. */
export type AsRunEntry = JournalEvent & { readonly seq: number; readonly at: string };
/** What stands in a file. */
export type FileEntry = (JournalEvent | CheckpointEvent) & { readonly seq: number; readonly at: string };

/** seq = epoch · 10⁹ + n. */
export const SEQ_PER_EPOCH = 1_000_000_000;
/** Numbers of what the parent of an engine writes itself, within that engine's epoch: the engine never counts so far. */
export const PARENT_FROM = 900_000_000;

/** Entries of one line: a JSON array of those written together. A line that a crash cut off gives none. */
export function entriesOfLine(line: string): FileEntry[] {
  if (!line.startsWith('[{')) return [];
  try {
    return JSON.parse(line) as FileEntry[];
  } catch {
    return [];
  }
}
