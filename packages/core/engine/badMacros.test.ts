import { rehearse } from '../rehearse/index';
import type { Macro, Step } from '../show/index';
import { circlesOf } from './rules/circles';
import { setValue, rule, ruled, turns } from './rules/testRules';
import { setUp } from './testEngine';
import { button, command, macro, step } from './testShow';

const runs = (id: string, target: Macro | string): Step =>
  step({ kind: 'run', id, macro: typeof target === 'string' ? target : target.id, params: {} });
const fine = button(2, [command('f', 'captions', 'countIn', { count: 1 })]);

describe('macros that go wrong', () => {
  it('10,000 that run one another are refused in words, live and rehearsed, and the next press is served', () => {
    const ids = Array.from({ length: 10_000 }, (_, at) => macro(at + 1, []).id);
    const macros = ids.map((id, at): Macro => {
      const next = ids[at + 1];
      return { ...macro(at + 1, []), id, steps: next === undefined ? [] : [runs('r', next)] };
    });
    const first = button(1, [runs('r', ids[0] ?? '')]);
    const { engine, press, ports } = setUp([first, fine], macros);
    const refused = {
      error: { code: 'broken-button', message: 'Button 1 runs macros that run others, more than 60 deep.' },
    };
    expect(press(first)).toMatchObject(refused);
    expect(rehearse({ program: engine.program, what: { buttonId: first.id } })).toMatchObject(refused);
    press(fine, 'down', { pressId: 'p2' });
    expect(ports.captions.names()).toEqual(['countIn']);
    expect(engine.program.faults().map(({ path, code }) => [path, code])).toEqual([
      ['macros.0.steps', 'nested-too-deep'],
      ['buttons.0.steps', 'nested-too-deep'],
    ]);
    const { document } = engine.program;
    const fires = rule(1, { on: turns('captions.countUp'), steps: [runs('r', ids[0] ?? '')] });
    expect(circlesOf({ ...document, triggers: [fires] })).toEqual([]);
  });

  it('60 that run the next one twice each are ended after 10,000 steps of one instant', () => {
    const macros = Array.from({ length: 50 }, (_, at) =>
      macro(at + 1, at === 49 ? [] : [runs('a', macro(at + 2, [])), runs('b', macro(at + 2, []))]),
    );
    const first = button(1, [runs('r', macro(1, []))]);
    const { press, ports, ends, engine } = setUp([first, fine], macros);
    press(first);
    expect(ends()).toEqual([expect.stringMatching(/^failed: It did more than 10000 steps/)]);
    expect(rehearse({ program: engine.program, what: { buttonId: first.id } })).toMatchObject({ ok: true });
    press(fine, 'down', { pressId: 'p2' });
    expect(ports.captions.names()).toEqual(['countIn']);
  });

  it('a repeat over an empty list goes round not once, and the step after it is done', () => {
    const each = step({
      kind: 'repeat',
      id: 'r',
      over: { each: [], as: 'one' },
      steps: [command('n', 'captions', 'countIn', { count: 7 })],
    });
    const first = button(1, [each, command('c', 'switcher', 'cut')]);
    const { press, ports, clock } = setUp([first]);
    const answer = press(first);
    clock.runTo(1000);
    expect([answer.accepted, ports.captions.names(), ports.switcher.names()]).toEqual([true, [], ['cut']]);
  });
});

describe('rules that go wrong', () => {
  it('with a condition of the wrong type, or on a point that went away, do nothing and say why; others go on', () => {
    const number = rule(1, { on: turns('switcher.program'), steps: [setValue('value.client', 'a')] });
    const text = rule(2, { on: turns('value.client > 3'), steps: [setValue('value.client', 'b')] });
    const gone = rule(3, { on: turns('captions.ghostUp'), steps: [setValue('value.client', 'c')] });
    const sound = rule(4, { on: turns('onAir("roofCam")'), steps: [setValue('value.meteors', 5)] });
    const { does, view, wordsOf, engine, troubles } = ruled([number, text, gone, sound]);
    does('switcher', 'program', { source: 'roofCam' });
    expect([number, text, gone].map((item) => [view(item)?.state, view(item)?.lastWords, wordsOf(item)])).toEqual([
      ['waiting', 'Its condition cannot be worked out: it says 4, where yes or no is asked.', []],
      ['waiting', 'Its condition cannot be worked out: Text and a number cannot be compared with >.', []],
      ['rests', 'Captions has no point ghostUp. (at character 1 of "captions.ghostUp")', []],
    ]);
    expect(wordsOf(sound)).toEqual(['fired: Roof cam is on air.']);
    expect(engine.board.read('value.meteors')).toBe(5);
    expect(troubles).toEqual([]);
  });
});
