import { button, command, macro, step, testShow } from '../engine/testShow';
import { applyEdit, type Change, type Macro, type ShowDocument } from '../show/index';
import { callersOf, fieldOfParam, fixedParam, macrosListed, madeParam, readsParam, wordsOfKey } from './macroParams';

const preview = command('a', 'switcher', 'preview', { source: 'roofCam' });
const plain = macro(1, [preview, command('b', 'switcher', 'aux', { output: 1, source: 'roofCam' })]);
const after = (changes: readonly Change[], from: Macro = plain): Macro => {
  const applied = applyEdit(testShow([], [from]), { changes });
  const [next] = applied.ok ? applied.value.macros : [];
  if (!next) throw new Error('It was refused.');
  return next;
};

describe('a parameter of a macro', () => {
  const made = after(madeParam(plain, 'steps', preview, 'source'));

  it('is made of what a step gives, and begins with it', () => {
    expect(made.params).toEqual([{ key: 'source', start: 'roofCam' }]);
    expect(made.steps[0]).toMatchObject({ params: { source: { cel: 'param.source' } } });
    // Only that step: the other one gives its own.
    expect(made.steps[1]).toEqual(plain.steps[1]);
  });

  it('has a key of its own where one is there already, and none is made of what is computed', () => {
    const again = after(madeParam(made, 'steps', made.steps[1] ?? preview, 'source'), made);
    expect(again.params.map(({ key }) => key)).toEqual(['source', 'source2']);
    expect(madeParam(made, 'steps', made.steps[0] ?? preview, 'source')).toEqual([]);
  });

  it('is fixed again to what it begins with, and goes with the last step that reads it', () => {
    const [first] = made.steps;
    if (!first) throw new Error('No step.');
    const fixed = after(fixedParam(made, 'steps', first, 'source'), made);
    expect([fixed.steps, fixed.params]).toEqual([plain.steps, []]);
    const waits = {
      ...made,
      stopSteps: [step({ kind: 'wait', id: 'w', until: 'onAir(param.source)', timeoutMs: 1000 })],
    };
    expect(readsParam({ ...waits, steps: [] }, 'source')).toBe(true);
    expect(after(fixedParam(waits, 'steps', first, 'source'), waits).params).toEqual(made.params);
  });

  it('is shown as the command shows it that it is given on to, or as what it begins with', () => {
    const show = testShow([], [made]);
    expect(fieldOfParam(show, made, 'source')).toMatchObject({ device: 'switcher', field: { reference: 'source' } });
    const free = { ...made, params: [{ key: 'fadeSeconds', start: 2 }], steps: [] };
    expect(fieldOfParam(show, free, 'fadeSeconds').field).toMatchObject({ type: 'number', title: 'Fade seconds' });
    expect(wordsOfKey('source2')).toBe('Source 2');
  });
});

describe('the list of macros', () => {
  const tested = (number: number, name: string, folder = '', more: Partial<Macro> = {}): Macro => ({
    ...macro(number, []),
    number,
    name,
    folder,
    ...more,
  });
  const opening = tested(12, 'Opening');
  const shutter = tested(3, 'Shutter', 'Dome');
  const both = tested(7, 'Open both', 'Dome', {
    steps: [step({ kind: 'run', id: 'r', macro: opening.id, params: {} })],
  });
  const run = step({ kind: 'run', id: 'r', macro: opening.id, params: {} });
  const show: ShowDocument = testShow(
    [button(1, [run, { ...run, id: 'r2' }]), button(2, [preview])],
    [opening, both, shutter],
  );

  it('stands by folder and number, those without a folder first', () => {
    expect(macrosListed(show, '').map(({ folder, macros }) => [folder, macros.map(({ number }) => number)])).toEqual([
      ['', [12]],
      ['Dome', [3, 7]],
    ]);
  });

  it('is searched by number, name and folder', () => {
    const found = (search: string) =>
      macrosListed(show, search).flatMap(({ macros }) => macros.map(({ name }) => name));
    expect([found('open'), found('dome open'), found('3'), found('nowhere')]).toEqual([
      ['Opening', 'Open both'],
      ['Open both'],
      ['Shutter'],
      [],
    ]);
  });

  it('counts each place that runs a macro once', () => {
    expect([...callersOf(show)]).toEqual([[opening.id, 2]]);
  });
});
