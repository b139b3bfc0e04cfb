import { corvaneHill } from '@umbek/demo';
import type { LogEntry } from './entryWords';
import { logRows } from './logRows';

const show = corvaneHill();
let seq = 0;
const entry = (kind: string, t: number, more: object): LogEntry =>
  ({ kind, t, seq: (seq += 1), at: `at ${String(t).padStart(4, '0')}`, ...more }) as unknown as LogEntry;
const run = (how: string, why?: string): LogEntry[] => [
  entry('press', 1000, { pressId: 'p', phase: 'down', buttonId: 'b', station: 'Desk#1', person: 'Ada' }),
  entry('runStart', 1000, { runId: 'r', name: 'Ines close', cause: { kind: 'press', id: 'p' } }),
  entry('step', 1001, { runId: 'r', stepId: 's', path: 'steps.0', words: 'Recall Ines close' }),
  entry('command', 1001, { runId: 'r', commandId: 'c', device: 'deskCam', command: { command: 'recall', params: {} } }),
  entry('press', 1100, { pressId: 'p', phase: 'up', buttonId: 'b', station: 'Desk#1', person: 'Ada' }),
  entry('outcome', 3300, {
    runId: 'r',
    commandId: 'c',
    device: 'deskCam',
    outcome: how === 'done' ? 'done' : 'refused',
  }),
  entry('runEnd', 3370, { runId: 'r', how, why }),
];
const words = (entries: LogEntry[]): string[] => logRows([...entries].reverse(), show).map((row) => row.words);

describe('the log', () => {
  it('tells a press with all that it did in one line, with who pressed and how long it took', () => {
    const [row, ...more] = logRows([...run('done')].reverse(), show);
    expect(more).toEqual([]);
    expect(row).toMatchObject({
      words: 'Pressed Ines close · done in 2.37 s',
      who: 'Ada',
      at: 'at 1000',
      kind: 'press',
      runId: 'r',
      bad: false,
    });
  });

  it('tells of a trigger by what it did, and not by what is kept of it besides', () => {
    const id = show.triggers[0]?.id ?? '';
    const row = words([
      entry('set', 900, { key: `armed@${id}`, value: true }),
      entry('trigger', 900, { trigger: id, name: 'Count board', what: 'armed', words: 'Armed by Ines.' }),
      entry('claim', 1000, { trigger: id, claim: null }),
      entry('trigger', 1001, {
        trigger: id,
        name: 'Count board',
        what: 'left',
        words: 'It ended: nothing was to be sent.',
      }),
    ]);
    expect(row).toEqual(['Count board: It ended: nothing was to be sent.', 'Count board: Armed by Ines.']);
  });

  it('says by which key it was pressed, as the keys are today', () => {
    const on = { kind: 'key', code: 'F2', shift: true, ctrl: false, alt: false, meta: false } as const;
    const keyed = { ...show, shortcuts: [{ id: 'k', on, runs: { button: 'b' }, station: null, order: 'a' }] };
    const press = (shortcut: string): LogEntry[] => {
      const [first, ...rest] = run('done');
      return [{ ...first, shortcut } as LogEntry, ...rest].reverse();
    };
    expect(logRows(press('k'), keyed)[0]?.words).toBe('Pressed Ines close by Shift + F2 · done in 2.37 s');
    expect(logRows(press('gone'), keyed)[0]?.words).toBe('Pressed Ines close by a shortcut · done in 2.37 s');
    expect(logRows(press('k').slice(-1), keyed)[0]?.words).toBe('Pressed b by Shift + F2');
  });

  it('says there what failed, and why', () => {
    const rows = logRows([...run('failed', 'The head refused it.')].reverse(), show);
    expect(rows).toMatchObject([
      { words: 'Pressed Ines close · failed after 2.37 s: The head refused it.', bad: true },
    ]);
  });

  it('says that a run goes on, and hides nothing that belongs to no run that is listed', () => {
    expect(words(run('done').slice(0, 4))).toEqual(['Pressed Ines close · still running']);
    expect(words(run('done').slice(2))).toHaveLength(5);
    expect(words([entry('device', 1, { device: 'deskCam', state: 'silent', words: 'Desk cam is silent.' })])).toEqual([
      'Desk cam is silent.',
    ]);
  });

  it('goes by the time of day: what the parent of the engine wrote stands where it happened, not on top', () => {
    const began = { ...entry('engine', 500, { words: 'Epoch 1 begins.' }), seq: 900_000 } as LogEntry;
    expect(words([...run('done'), began])).toEqual(['Pressed Ines close · done in 2.37 s', 'Epoch 1 begins.']);
  });

  it('keeps a release that nobody made, with its reason', () => {
    const lost = entry('press', 1500, {
      pressId: 'p',
      phase: 'up',
      buttonId: 'b',
      station: 'Desk#1',
      why: 'The press was no longer renewed.',
    });
    expect(words([...run('done').slice(0, 4), lost])[0]).toMatch(/^Released .* · The press was no longer renewed\.$/);
  });
});
