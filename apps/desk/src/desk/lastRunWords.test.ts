import type { LastRun } from '../live/runBook';
import type { LineSubject } from '@umbek/core/rehearse';
import { lastRunWords } from './lastRunWords';

const run = { runId: 'r', name: 'Dome close', buttonId: 'b', step: '', stepNumber: 3, leftMs: null };
const switcher: LineSubject = { kind: 'outcome', device: 'switcher', outcome: 'done' };
const end: LineSubject = { kind: 'runEnd', how: 'done' };
const line = (what: LineSubject, words: string, predictedMs: number, realMs: number) => ({
  what,
  words,
  predictedMs,
  realMs,
  errorMs: realMs - predictedMs,
});
const compared = (...lines: ReturnType<typeof line>[]) => ({
  runId: 'r',
  name: 'Dome close',
  lines,
  sameOrder: true,
  worstMs: null,
  rehearsed: true,
});

describe('the line of the last run', () => {
  it.each<[string, LastRun, ReturnType<typeof compared> | null, string, boolean]>([
    [
      'refused',
      { how: 'refused', buttonId: 'b', why: 'Dome cam is silent.' },
      null,
      'refused: Dome cam is silent.',
      false,
    ],
    ['failed', { how: 'failed', run, why: 'Timed out.' }, null, 'failed at step 3, because: Timed out.', false],
    ['stopped', { how: 'stopped', run, why: 'Stopped by Desk.' }, null, 'stopped by Desk.', false],
    ['done and unknown', { how: 'done', run }, null, 'done', true],
    [
      'as predicted',
      { how: 'done', run },
      compared(line(switcher, 'switcher: done', 900, 950), line(end, 'run done', 1000, 1080)),
      'took 1.08 s · as predicted',
      true,
    ],
    [
      'late',
      { how: 'done', run },
      compared(
        line({ kind: 'outcome', device: 'domeCam', outcome: 'done' }, 'domeCam: done', 1770, 2370),
        line(end, 'run done', 1800, 2410),
      ),
      'took 2.41 s · +0.61 s against the prediction, from domeCam: done',
      false,
    ],
  ])('%s', (_name, last, its, words, well) => {
    expect(lastRunWords(last, its)).toEqual({ words, well });
  });

  it('never says "as predicted" of a run that a crash ended', () => {
    expect(lastRunWords({ how: 'interrupted', run }, compared(line(end, 'run done', 1, 1))).words).toMatch(
      /^interrupted/,
    );
  });
});
