import type { LineSubject } from '@umbek/core/rehearse';
import { ranSteps, sentWords } from './runSteps';

const line = (what: LineSubject, why?: string) => ({
  what,
  words: '',
  predictedMs: null,
  realMs: 0,
  errorMs: null,
  ...(why === undefined ? {} : { why }),
});
const end = (at: number, ok: boolean, why?: string) =>
  line({ kind: 'stepEnd', stepId: `command${at}`, path: `steps.${at}`, ok }, why);
const commands = ['Name of input 1', 'Keyer 1 fill', 'Box 2'].map((words) => ({
  words,
  command: { command: 'x', params: {} },
}));

describe('a list of commands sent as one run', () => {
  it('is waited for until its run has ended', () => {
    expect(ranSteps({ lines: [end(0, true)] })).toBeNull();
  });

  it('tells which parts went through, and why the first of the others did not', () => {
    const ran = ranSteps({
      lines: [
        end(0, true),
        end(1, false, 'Keyer 1 has no fill.'),
        end(2, false, 'Refused.'),
        line({ kind: 'runEnd', how: 'done' }),
      ],
    });
    expect(ran).toEqual({
      why: 'Keyer 1 has no fill.',
      done: new Set(['command0']),
      failed: new Map([
        ['command1', 'Keyer 1 has no fill.'],
        ['command2', 'Refused.'],
      ]),
    });
    expect(ran && sentWords(commands, ran)).toEqual({
      words: '1 of 3 went through. Not: Keyer 1 fill, Box 2. Keyer 1 has no fill.',
      bad: true,
    });
  });

  it('tells all the parts that a stop left out', () => {
    const ran = ranSteps({ lines: [end(0, true), line({ kind: 'runEnd', how: 'stopped' }, 'Stopped by Desk.')] });
    expect(ran && sentWords(commands, ran).words).toBe(
      '1 of 3 went through. Not: Keyer 1 fill, Box 2. Stopped by Desk.',
    );
  });

  it('says so when all went through', () => {
    const all = { why: null, done: new Set(['command0', 'command1', 'command2']), failed: new Map<string, string>() };
    expect(sentWords(commands, all)).toEqual({ words: 'All 3 went through.', bad: false });
  });
});
