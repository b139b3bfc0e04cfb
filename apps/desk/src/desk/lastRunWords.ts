import type { RunReply } from '@umbek/protocol';
import type { z } from 'zod';
import type { LastRun } from '../live/runBook';

type Compared = z.infer<typeof RunReply>;

/** Differences below this are those of the wire and the machine, not of the rehearsal. */
const WORTH_TELLING_MS = 100;

const seconds = (ms: number): string => `${(ms / 1000).toFixed(2)} s`;
const signed = (ms: number): string => `${ms > 0 ? '+' : '−'}${seconds(Math.abs(ms))}`;
const because = (why: string): string => (why === '' ? '' : `, because: ${why}`);

/** What became of the last run, after its name. `well` only where it went as it was predicted to. */
export function lastRunWords(
  last: LastRun,
  compared: Compared | null,
): { readonly words: string; readonly well: boolean } {
  if (last.how === 'taken') return { words: last.why, well: false };
  if (last.how === 'refused') return { words: `refused: ${last.why}`, well: false };
  const why = (last.why ?? '').trim();
  const { stepNumber } = last.run;
  switch (last.how) {
    case 'failed':
      return { words: `failed${stepNumber === undefined ? '' : ` at step ${stepNumber}`}${because(why)}`, well: false };
    case 'interrupted':
      return { words: 'interrupted: the engine was started again. Look at what is on air.', well: false };
    case 'stopped':
      return { words: why === '' ? 'stopped' : `${why.charAt(0).toLowerCase()}${why.slice(1)}`, well: false };
    case 'done':
      return doneWords(compared);
  }
}

function doneWords(compared: Compared | null): { readonly words: string; readonly well: boolean } {
  if (compared === null) return { words: 'done', well: true };
  const { lines, sameOrder } = compared;
  const took = `took ${seconds(lines.at(-1)?.realMs ?? 0)}`;
  if (!compared.rehearsed) return { words: took, well: true };
  if (!sameOrder) return { words: `${took} · in another order than predicted`, well: false };
  const off = lines.filter((line) => Math.abs(line.errorMs ?? 0) > WORTH_TELLING_MS);
  const first = off.find((line) => line.what.kind !== 'step' && line.what.kind !== 'stepEnd');
  if (first === undefined) return { words: `${took} · as predicted`, well: true };
  const worst = off.reduce((most, line) => (Math.abs(line.errorMs ?? 0) > Math.abs(most.errorMs ?? 0) ? line : most));
  return { words: `${took} · ${signed(worst.errorMs ?? 0)} against the prediction, from ${first.words}`, well: false };
}
