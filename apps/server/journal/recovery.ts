import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { JournalEvent, PressAnswer } from '@umbek/core/engine';
import { type AsRunEntry, entriesOf, journalFiles } from './localJournal';

/** What the engine before this one left behind. */
export interface LeftBehind {
  /** Entries that close what it left open: interrupted runs, commands of unknown effect. */
  readonly closing: readonly JournalEvent[];
  /** Presses that it answered, so that they are not served twice. */
  readonly answers: readonly {
    readonly pressId: string;
    readonly buttonId: string;
    readonly station: string;
    readonly phase: 'down' | 'up';
    readonly answer: PressAnswer;
  }[];
}

/** Reads the newest journal file before an epoch. Commands without an outcome are never sent again: their effect is unknown. */
export function readLeftBehind(folder: string, epoch: number, now: number): LeftBehind {
  const last = journalFiles(folder)
    .filter((one) => one.epoch < epoch)
    .at(-1);
  return last === undefined
    ? { closing: [], answers: [] }
    : leftBehindIn(entriesOf(readFileSync(join(folder, last.file), 'utf8')), now);
}

export function leftBehindIn(entries: readonly AsRunEntry[], now: number): LeftBehind {
  const runs = new Map<string, AsRunEntry>();
  const commands = new Map<string, Extract<AsRunEntry, { kind: 'command' }>>();
  const answers: LeftBehind['answers'][number][] = [];
  const runOfPress = new Map<string, string>();
  for (const entry of entries) {
    switch (entry.kind) {
      case 'runStart':
        runs.set(entry.runId, entry);
        if (entry.cause.startsWith('press ')) runOfPress.set(entry.cause.slice('press '.length), entry.runId);
        break;
      case 'runEnd':
        runs.delete(entry.runId);
        break;
      case 'command':
        commands.set(entry.commandId, entry);
        break;
      case 'outcome':
        commands.delete(entry.commandId);
        break;
      case 'refusal':
        if (entry.phase === 'down')
          answers.push({ ...entry, phase: 'down', answer: { accepted: false, error: entry.error } });
        break;
      default:
    }
  }
  for (const entry of entries) {
    if (entry.kind !== 'press') continue;
    answers.push({ ...entry, answer: { accepted: true, runId: runOfPress.get(entry.pressId) ?? null } });
  }
  const why = 'The engine ended before it was over.';
  return {
    closing: [
      ...[...commands.values()].map((command) => ({
        kind: 'outcome' as const,
        t: now,
        commandId: command.commandId,
        device: command.device,
        ...(command.runId === undefined ? {} : { runId: command.runId }),
        outcome: 'lost' as const,
        why: 'The engine ended before an answer came; its effect is unknown.',
      })),
      ...[...runs.keys()].map((runId) => ({
        kind: 'runEnd' as const,
        t: now,
        runId,
        how: 'interrupted' as const,
        why,
      })),
    ],
    answers,
  };
}
