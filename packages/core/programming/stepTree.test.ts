import { rehearse } from '../rehearse/index';
import { button, programOf, step, testShow } from '../engine/testShow';
import type { Step } from '../show/index';
import {
  freshSteps,
  insertSteps,
  movedSteps,
  nextPlace,
  outermost,
  putStep,
  removedSteps,
  type StepAt,
  stepAt,
  stepTold,
  switched,
  unwrapped,
  wrapped,
} from './stepTree';

const note = (id: string): Step => step({ kind: 'note', id, text: id });
const group = (id: string, ...steps: Step[]): Step => step({ kind: 'group', id, name: id, steps });
const choice = (id: string, steps: Step[], otherwise: Step[]): Step =>
  step({ kind: 'if', id, when: 'true', steps, otherwise });
/** The tree as a text: a(b c|d) is a step with b and c in its first list and d in its second. */
const read = (steps: readonly Step[]): string =>
  steps
    .map((item) => {
      const mark = item.off === true ? '-' : '';
      if (item.kind === 'if') return `${mark}${item.id}(${read(item.steps)}|${read(item.otherwise)})`;
      return 'steps' in item ? `${mark}${item.id}(${read(item.steps)})` : `${mark}${item.id}`;
    })
    .join(' ');

// a g(b c) i(d|e f) h
const tree = [note('a'), group('g', note('b'), note('c')), choice('i', [note('d')], [note('e'), note('f')]), note('h')];

describe('steps in steps', () => {
  it('are found, put, inserted and removed by their place', () => {
    expect(stepAt(tree, [2, 1, 1])?.id).toBe('f');
    expect(read(putStep(tree, [1, 0, 0], note('x')))).toBe('a g(x c) i(d|e f) h');
    expect(read(insertSteps(tree, [2, 1, 2], [note('x')]))).toBe('a g(b c) i(d|e f x) h');
    expect(read(removedSteps(tree, [[0], [2, 1, 0], [3]]))).toBe('g(b c) i(d|f)');
    // What stands inside another one that goes, goes with it.
    expect(outermost([[1, 0, 1], [1], [0], [0]])).toEqual([[0], [1]]);
    expect(read(removedSteps(tree, [[1, 0, 1], [1]]))).toBe('a i(d|e f) h');
  });

  it.each<[string, StepAt[], StepAt, string]>([
    ['down in a list', [[0]], [2], 'g(b c) a i(d|e f) h'],
    ['up in a list', [[3]], [0], 'h a g(b c) i(d|e f)'],
    ['into another', [[0]], [1, 0, 1], 'g(b a c) i(d|e f) h'],
    ['out of one', [[1, 0, 0]], [0], 'b a g(c) i(d|e f) h'],
    ['from list to list of one step', [[2, 1, 0]], [2, 0, 0], 'a g(b c) i(e d|f) h'],
    ['several, in their order', [[3], [0]], [1, 0, 2], 'g(b c a h) i(d|e f)'],
    ['never into itself', [[1]], [1, 0, 1], 'a g(b c) i(d|e f) h'],
    ['to where it stands', [[1]], [2], 'a g(b c) i(d|e f) h'],
  ])('are moved %s', (_how, places, to, then) => expect(read(movedSteps(tree, places, to))).toBe(then));

  it('go with a key one place on, out and in', () => {
    const gone = (at: StepAt, way: 'up' | 'down' | 'out' | 'in'): string | null => {
      const to = nextPlace(tree, at, way);
      return to && read(movedSteps(tree, [at], to));
    };
    expect(gone([0], 'down')).toBe('g(b c) a i(d|e f) h');
    expect(gone([0], 'up')).toBeNull();
    expect(gone([3], 'up')).toBe('a g(b c) h i(d|e f)');
    expect(gone([3], 'down')).toBeNull();
    expect(gone([1, 0, 0], 'out')).toBe('a g(c) b i(d|e f) h');
    expect(gone([0], 'out')).toBeNull();
    expect(gone([2], 'in')).toBe('a g(b c i(d|e f)) h');
    expect(gone([1], 'in')).toBeNull();
  });

  it('are put into a step of their own, and out of it again', () => {
    const grouped = wrapped(tree, [[3], [0]], 'together', tree);
    // Nine steps have ids: the new one is the tenth.
    expect(read(grouped)).toBe('s10(a h) g(b c) i(d|e f)');
    expect(read(unwrapped(grouped, [0]))).toBe('a h g(b c) i(d|e f)');
    expect(read(unwrapped(tree, [2]))).toBe('a g(b c) d e f h');
  });

  it('are switched off and on, and copied with ids of their own', () => {
    const off = switched(tree, [[0], [1, 0, 1]], true);
    expect(read(off)).toBe('-a g(b -c) i(d|e f) h');
    expect(switched(off, [[0], [1, 0, 1]], false)).toEqual(tree);
    expect(read(freshSteps([tree[1] ?? note('x')], tree))).toBe('s10(s11 s12)');
  });

  it('are told in the as-run where the engine tells them', () => {
    const steps = [
      note('a'),
      { ...note('b'), off: true },
      group('g', note('c')),
      choice('i', [note('d')], [note('never')]),
      step({ kind: 'together', id: 't', steps: [note('e'), group('k', note('f'))] }),
      step({ kind: 'repeat', id: 'r', over: { times: 2 }, steps: [note('h')] }),
    ];
    const words = rehearse({ program: programOf(testShow([button(1, steps)])), what: { buttonId: button(1, []).id } });
    const paths = words.ok
      ? words.value.entries.flatMap((entry) => (entry.kind === 'step' ? [[entry.stepId, entry.path]] : []))
      : [];
    const told_ = paths.map(([id, path = '']) => {
      const found = stepTold(steps, path, 'steps');
      return [id, found?.at.join('.'), found?.first];
    });
    expect(told_).toEqual([
      ['a', '0', true],
      ['g', '2', true],
      ['c', '2.0.0', true],
      ['i', '3', true],
      ['d', '3.0.0', true],
      ['t', '4', true],
      ['e', '4.0.0', true],
      ['k', '4.0.1', true],
      ['f', '4.0.1.0.0', true],
      ['r', '5', true],
      ['h', '5.0.0', true],
      ['h', '5.0.0', false],
    ]);
    expect(stepTold(steps, 'steps.0.macro.3', 'steps')).toEqual({ at: [0], itself: false, first: true });
    expect(stepTold(steps, 'stopSteps.0', 'steps')).toBeNull();
    expect(stepTold(steps, 'steps.17', 'steps')).toBeNull();
    expect(stepTold(steps, 'steps.0.macro.2.otherwise.0', 'steps.0.macro')?.at).toEqual([3, 1, 0]);
  });
});
