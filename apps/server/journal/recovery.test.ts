import { mkdtempSync, appendFileSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { VirtualClock } from '@umbek/core/rehearse';
import { entriesOf, LocalJournal, nextEpoch } from './localJournal';
import { readLeftBehind } from './recovery';

const folder = () => mkdtempSync(join(tmpdir(), 'umbek-journal-'));

describe('the local journal', () => {
  it('numbers entries epoch · 10⁹ + n, has them on the disk after a flush, and counts epochs up', () => {
    const place = folder();
    expect([nextEpoch(place), nextEpoch(place)]).toEqual([1, 2]);
    const journal = new LocalJournal(place, 2, new VirtualClock(0, new Date('2026-08-12T21:47:08.250Z')));
    journal.append({ kind: 'engine', t: 0, words: 'one' });
    journal.append({ kind: 'engine', t: 0, words: 'two' });
    expect(readFileSync(join(place, 'epoch-2.jsonl'), 'utf8')).toBe('');
    journal.flush();
    expect(entriesOf(readFileSync(join(place, 'epoch-2.jsonl'), 'utf8')).map(({ seq, at }) => [seq, at])).toEqual([
      [2_000_000_001, '2026-08-12T21:47:08.250Z'],
      [2_000_000_002, '2026-08-12T21:47:08.250Z'],
    ]);
    journal.close();
  });
});

describe('what an engine that died left behind', () => {
  it('is closed: interrupted runs, commands of unknown effect; its answers are known again', () => {
    const place = folder();
    const journal = new LocalJournal(place, 1, new VirtualClock());
    const press = { kind: 'press', t: 1, phase: 'down', buttonId: 'b', station: 'desk' } as const;
    journal.append({ ...press, pressId: 'p1' });
    journal.append({ kind: 'runStart', t: 1, runId: 'r1', name: 'One', cause: 'press p1' });
    journal.append({
      kind: 'command',
      t: 1,
      runId: 'r1',
      commandId: 'c1',
      device: 'switcher',
      command: { command: 'cut', params: {} },
    });
    journal.append({ kind: 'outcome', t: 2, runId: 'r1', commandId: 'c1', device: 'switcher', outcome: 'done' });
    journal.append({ kind: 'runEnd', t: 2, runId: 'r1', how: 'done' });
    journal.append({ ...press, pressId: 'p2' });
    journal.append({ kind: 'runStart', t: 3, runId: 'r2', name: 'Two', cause: 'press p2' });
    journal.append({
      kind: 'command',
      t: 3,
      runId: 'r2',
      commandId: 'c2',
      device: 'deskCam',
      command: { command: 'recall', params: {} },
    });
    journal.close();
    // The crash cut the last line off.
    appendFileSync(join(place, 'epoch-1.jsonl'), '[{"seq":1000000009,"kind":"outc');
    const { closing, answers } = readLeftBehind(place, 2, 50);
    expect(closing).toMatchObject([
      { kind: 'outcome', commandId: 'c2', device: 'deskCam', runId: 'r2', outcome: 'lost' },
      { kind: 'runEnd', runId: 'r2', how: 'interrupted' },
    ]);
    expect(answers.map(({ pressId, phase, answer }) => [pressId, phase, answer])).toEqual([
      ['p1', 'down', { accepted: true, runId: 'r1' }],
      ['p2', 'down', { accepted: true, runId: 'r2' }],
    ]);
  });
});
