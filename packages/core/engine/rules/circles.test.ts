import { corvaneHill } from '@umbek/demo';
import type { Step, Trigger } from '../../show/index';
import { command, macro } from '../testShow';
import { circleFaults, circlesOf, circleWith, circleWords } from './circles';
import { setValue, rule, turns } from './testRules';

const cutTo = (source: string): Step[] => [
  command('a', 'switcher', 'preview', { source }),
  command('b', 'switcher', 'cut'),
];
const showWith = (triggers: Trigger[], more: Partial<ReturnType<typeof corvaneHill>> = {}) => ({
  ...corvaneHill(),
  ...more,
  triggers,
});
/** Circles by the numbers of their rules. */
const circles = (triggers: Trigger[], more = {}): string[][] => {
  const show = showWith(triggers, more);
  const name = (id: string): string =>
    show.triggers.find((trigger) => trigger.id === id)?.name.replace('Rule ', '') ?? id;
  return circlesOf(show).map((circle) => circle.map(name));
};

describe('circles of triggers, found beforehand', () => {
  it('are none in the demo', () => {
    expect(circlesOf(corvaneHill())).toEqual([]);
  });

  it('are two that cut to each other', () => {
    const firstRule = rule(1, { on: turns('onAir("roofCam")'), steps: cutTo('deskCam') });
    const two = rule(2, { on: turns('onAir("deskCam")'), steps: cutTo('roofCam') });
    const bystander = rule(3, { on: turns('onAir("roofCam")'), steps: [command('c', 'captions', 'countIn')] });
    expect(circles([firstRule, two, bystander])).toEqual([['1', '2']]);
    const show = showWith([firstRule, two, bystander]);
    expect(circleWith(two.id, show)).toEqual([two.id, firstRule.id]);
    expect(circleWith(bystander.id, show)).toBeNull();
    expect(circleWords([two.id, firstRule.id], show)).toBe(
      'Rule 2 may set itself off again: Rule 2, then Rule 1, then Rule 2.',
    );
  });

  it('are none where a rule cuts to something that begins no other', () => {
    const firstRule = rule(1, { on: turns('onAir("roofCam")'), steps: cutTo('deskCam') });
    const two = rule(2, { on: turns('onAir("lawnCam")'), steps: cutTo('roofCam') });
    expect(circles([firstRule, two])).toEqual([]);
    // Nor where it ends what would have to begin: Roof cam leaves air by it.
    expect(circles([rule(3, { on: turns('onAir("roofCam")'), steps: cutTo('slides') })])).toEqual([]);
  });

  it('count what a cut takes from a preview that nobody knows', () => {
    const cut = rule(1, { on: turns('onAir("roofCam")'), steps: [command('b', 'switcher', 'cut')] });
    expect(circles([cut])).toEqual([['1']]);
  });

  it('run over values, over what turns false, and over fires', () => {
    const counts = rule(1, { on: { kind: 'changes', of: 'value.meteors' }, steps: [setValue('value.client', 'x')] });
    const back = rule(2, {
      on: turns('value.client == "x"'),
      steps: [setValue('value.meteors', { cel: 'value.meteors + 1' })],
    });
    expect(circles([counts, back])).toEqual([['1', '2']]);
    const other = rule(2, { on: turns('value.client == "y"'), steps: [setValue('value.meteors', 2)] });
    expect(circles([counts, other])).toEqual([]);
    const leaves = rule(3, { on: turns('onAir("roofCam")', false), steps: cutTo('deskCam') });
    expect(circles([leaves])).toEqual([['3']]);
    const fires = rule(4, {
      on: { kind: 'time', at: '20:00:00', date: '' },
      steps: [{ id: 'f', onFail: 'stop', kind: 'trigger', trigger: leaves.id, does: 'fire' }],
    });
    const calls = rule(3, {
      on: turns('captions.nameUp'),
      steps: [{ id: 'f', onFail: 'stop', kind: 'trigger', trigger: fires.id, does: 'fire' }],
    });
    expect(circles([calls, fires])).toEqual([['3', '4']]);
  });

  it('run over macros, and not over what is switched off', () => {
    const inner = macro(77, cutTo('roofCam'));
    const run: Step = { id: 'r', onFail: 'stop', kind: 'run', macro: inner.id, params: {} };
    const firstRule = rule(1, { on: turns('onAir("roofCam")', false), steps: [{ ...run }] });
    const two = rule(2, { on: turns('onAir("roofCam")'), steps: cutTo('deskCam') });
    expect(circles([firstRule, two], { macros: [inner] })).toEqual([['1', '2']]);
    expect(circles([{ ...firstRule, steps: [{ ...run, off: true }] }, two], { macros: [inner] })).toEqual([]);
  });

  it('hold while rules too: what one keeps ends the other, and what leaves begins it', () => {
    const firstRule = rule(1, {
      kind: 'while',
      on: turns('!captions.countUp'),
      steps: [command('a', 'captions', 'countIn', { count: 1 })],
    });
    expect(circles([firstRule])).toEqual([['1']]);
  });

  const ring = (length: number): Trigger[] =>
    Array.from({ length }, (_, at) =>
      rule(at, {
        id: `R${at}`,
        on: turns(`value.client == "${at}"`),
        steps: [setValue('value.client', String((at + 1) % length))],
      }),
    );

  it('are found in a large show: a ring of 1,000 rules', () => {
    expect(circlesOf(showWith(ring(1000))).map((circle) => circle.length)).toEqual([1000]);
  });

  it('are listed as faults that keep nothing from being done, in words that can be read', () => {
    expect(circleFaults(showWith(ring(40)))).toEqual([
      {
        code: 'trigger-circle',
        path: 'triggers.0.steps',
        weight: 'listed',
        message:
          'Rule 0 may set itself off again: Rule 0, then Rule 1, then Rule 2, then Rule 3, then Rule 4, then 35 more, then Rule 0. It is stopped when it comes round within 2 s.',
        mend: 'Take one of the steps out that lead there.',
      },
    ]);
    expect(circleFaults(corvaneHill())).toEqual([]);
  });
});
