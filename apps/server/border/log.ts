import { mkdirSync, renameSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { destination, levels, type Logger, pino, stdTimeFunctions } from 'pino';

/** What a process says of itself, for those who look into how it works; what the show did stands in the as-run. */
export type Log = Pick<Logger, 'debug' | 'info' | 'warn' | 'error'>;

const FILE = 'umbek.log';
/** A file that has grown so far is put aside at the next start; the one put aside before goes. */
const PUT_ASIDE_AT = 8 * 1024 * 1024;

/** Puts the log of earlier days aside, where it has grown large. The parent does so before its engine writes. */
export function putLogAside(folder: string): void {
  const path = join(folder, FILE);
  try {
    if (statSync(path).size >= PUT_ASIDE_AT) renameSync(path, `${path}.1`);
  } catch {
    // There is none yet, or it cannot be put aside: then it goes on growing, which ends nothing.
  }
}

/**
 * A log with levels, one JSON line an entry, appended to `umbek.log` in the data folder by parent and engine. Written without waiting; a disk that
 * fails loses lines of it and nothing else. UMBEK_LOG sets the level: debug, info (unless set), warn, error, silent.
 */
export function openLog(folder: string, who: 'parent' | 'engine', level = process.env.UMBEK_LOG ?? 'info'): Log {
  mkdirSync(folder, { recursive: true });
  const out = destination({ dest: join(folder, FILE), sync: false, append: true });
  out.on('error', () => undefined);
  const known = level in levels.values || level === 'silent' ? level : 'info';
  return pino({ level: known, base: { who, pid: process.pid }, timestamp: stdTimeFunctions.isoTime }, out);
}
