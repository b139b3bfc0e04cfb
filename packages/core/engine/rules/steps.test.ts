import { corvaneHill, demoId } from '@umbek/demo';
import { compileProgram } from '../program';
import { nextSet } from '../truth';
import type { Step } from '../../show/index';
import { button, command, macro } from '../testShow';
import { setValue, rule, ruled, turns } from './testRules';

const trigger = (id: string, does: 'arm' | 'disarm' | 'fire'): Step => ({
  id: does,
  onFail: 'stop',
  kind: 'trigger',
  trigger: id,
  does,
});

describe('a step that arms, disarms or fires a trigger', () => {
  const board = rule(1, { on: turns('value.meteors > 50'), steps: [command('a', 'captions', 'countIn')] });

  it('does so, and its rule tells who did', () => {
    const switches = rule(2, { on: { kind: 'changes', of: 'value.client' }, steps: [trigger(board.id, 'disarm')] });
    const { engine, pass, view } = ruled([board, switches]);
    engine.board.set('value.client', 'Corvane');
    pass(50);
    expect([view(board)?.armed, view(board)?.lastWords]).toEqual([false, 'Disarmed by Rule 2.']);
  });

  it('that fires a rule which fires it again ends in the first round', () => {
    const id = demoId('TRG', 502);
    const first = rule(1, { on: turns('value.meteors > 50'), steps: [trigger(id, 'fire')] });
    const second = rule(2, { on: turns('value.meteors > 9000'), steps: [trigger(first.id, 'fire')] });
    const { engine, pass, entries, wordsOf } = ruled([first, second]);
    engine.board.set('value.meteors', 60);
    pass(30_000);
    expect(entries.filter(({ kind }) => kind === 'runStart')).toHaveLength(2);
    expect(wordsOf(first).at(-1)).toBe(
      'notFired: It led to itself: Rule 1, then Rule 2, then Rule 1. It was stopped there.',
    );
    const ends = entries.flatMap((entry) => (entry.kind === 'runEnd' ? [entry.how] : []));
    expect(ends).toContain('failed');
  });

  it('lights a lamp, and alternates with its opposite by what is so', () => {
    const arms = button(1, [trigger(board.id, 'arm')], {
      sets: [{ id: 'off', legend: 'Disarm', so: '', steps: [trigger(board.id, 'disarm')] }],
    });
    const program = compileProgram({ ...corvaneHill(), buttons: [arms], macros: [macro(1, [])], triggers: [board] }, 1);
    const read = (armed: boolean) => (key: string) => (key === `armed@${board.id}` ? armed : '');
    expect(nextSet(arms, program, read(true)).index).toBe(1);
    expect(nextSet(arms, program, read(false)).index).toBe(0);
    expect(program.expression(`armed("${board.id}")`)?.evaluate(read(true))).toBe(true);
  });

  it('of a rule that is gone refuses its press', () => {
    const { engine } = ruled([]);
    const lost = button(1, [trigger(board.id, 'arm')]);
    const program = compileProgram({ ...corvaneHill(), buttons: [lost], triggers: [] }, 2);
    engine.setProgram(program);
    expect(program.faultOf(lost.id)?.message).toBe(`There is no trigger ${board.id}.`);
  });

  it('is pressed from outside the panels as well: a key arms, disarms and fires, and its press is taken back', () => {
    const { engine, pass, view, entries } = ruled([board]);
    const press = (does: string) =>
      engine.press({ pressId: `${does} ${engine.board.turns}`, buttonId: does, phase: 'down', station: 'Desk 1' });
    expect(press(`${board.id}.disarm`)).toMatchObject({ accepted: true });
    pass(50);
    expect([view(board)?.armed, view(board)?.lastWords]).toEqual([false, 'Disarmed by Desk 1.']);
    expect(engine.takeBack('Desk 1')?.steps.map((step) => engine.program.sentence(step))).toEqual(['Arm Rule 1']);
    press(`${board.id}.arm`);
    pass(50);
    expect(view(board)?.armed).toBe(true);
    press(`${board.id}.fire`);
    pass(50);
    expect(view(board)?.lastWords).toBe('Fired by Desk 1.');
    expect(entries.flatMap((entry) => (entry.kind === 'runStart' ? [entry.name] : []))).toEqual([
      'Disarm Rule 1',
      'Arm Rule 1',
      'Fire Rule 1',
      'Rule 1',
    ]);
    for (const wrong of [`${board.id}.delete`, 'nothing.fire', board.id])
      expect(press(wrong)).toMatchObject({ accepted: false, error: { code: 'unknown-button' } });
  });

  it('is taken back by its opposite', () => {
    const { engine, pass, view } = ruled([board]);
    const arms = button(1, [trigger(board.id, 'disarm')]);
    engine.setProgram(compileProgram({ ...engine.program.document, buttons: [arms], triggers: [board] }, 2));
    engine.press({ pressId: 'p', buttonId: arms.id, phase: 'down', station: 'Desk 1' });
    pass(50);
    expect(view(board)?.armed).toBe(false);
    expect(engine.takeBack('Desk 1')?.steps.map((step) => engine.program.sentence(step))).toEqual(['Arm Rule 1']);
  });
});

describe('what a rule reads', () => {
  it('may be whether another one holds', () => {
    const holds = rule(1, { kind: 'while', on: turns('value.meteors > 50'), steps: [setValue('value.client', 'a')] });
    const other = rule(2, { on: turns(`holds("${holds.id}")`), steps: [setValue('value.showName', 'b')] });
    const { engine, pass, wordsOf } = ruled([holds, other]);
    engine.board.set('value.meteors', 60);
    pass(50);
    expect(wordsOf(other)).toHaveLength(1);
  });
});
