import { corvaneHill, demoId } from '@umbek/demo';
import { compileProgram } from '@umbek/core/engine';
import { applyEdit, type Change } from '@umbek/core/show';
import { CHANGES_A_SLICE, programAfter } from './slicedEdit';

const show = corvaneHill();
const first = show.buttons[0];
if (first === undefined) throw new Error('The demo has no buttons.');
const made = (count: number): Change[] =>
  Array.from({ length: count }, (_, at) => {
    const id = demoId('BTN', 2000 + at);
    return { entity: 'buttons', id, field: '*', from: null, to: { ...first, id, legend: `New ${at}` } };
  });

describe('a large edit', () => {
  it('is worked out in slices with room between them, and comes out as if it were one', async () => {
    const before = compileProgram(show, 7);
    const changes = made(95);
    let breaths = 0;
    const partsSeen = new Set<number>();
    const after = await programAfter(before, changes, () => {
      breaths += 1;
      // Whoever looks meanwhile sees the show as it was.
      partsSeen.add(before.buttons.size);
      return Promise.resolve();
    });
    const whole = applyEdit(show, { changes });
    if (!after.ok || !whole.ok) throw new Error('It was refused.');
    expect(after.value.document).toEqual(whole.value);
    expect(after.value.revision).toBe(8);
    expect(after.value.changedButtons?.size).toBe(95);
    expect([...partsSeen]).toEqual([show.buttons.length]);
    // 95 changes are five slices: four breaths between them, one before the check, five while the buttons are prepared.
    expect(CHANGES_A_SLICE).toBe(20);
    expect(breaths).toBe(10);
  });

  it('of twenty changes is one piece', async () => {
    let breaths = 0;
    const after = await programAfter(compileProgram(show, 1), made(20), () => Promise.resolve(void (breaths += 1)));
    expect([after.ok, breaths]).toEqual([true, 0]);
  });

  it('of one macro that hundreds of buttons run is compiled in pieces too, and a press between finds what it needs', async () => {
    const [macro] = show.macros;
    if (macro === undefined) throw new Error('The demo has no macros.');
    const step = { id: 'r', onFail: 'stop' as const, kind: 'run' as const, macro: macro.id, params: {} };
    const many = Array.from({ length: 450 }, (_, at) => ({
      ...first,
      id: demoId('BTN', 3000 + at),
      steps: [step],
    }));
    const before = compileProgram({ ...show, buttons: many }, 1);
    before.complete();
    const gone: Change[] = [{ entity: 'macros', id: macro.id, field: '*', from: macro, to: null }];
    let breaths = 0;
    const after = await programAfter(before, gone, () => Promise.resolve(void (breaths += 1)));
    if (!after.ok) throw new Error('It was refused.');
    // 450 buttons: five pieces with four breaths between them, then one before each twenty that are prepared.
    expect(breaths).toBe(4 + 23);
    expect(after.value.changedButtons?.size).toBe(450);
    expect(many.filter(({ id }) => after.value.faultOf(id)?.code === 'dangling')).toHaveLength(450);
    expect(before.faultOf(many[449]?.id ?? '')).toBeUndefined();
    // Asked for while it waits, an entry is compiled then.
    const waiting = compileProgram(after.value.document, 3, before);
    expect(waiting.faultOf(many[449]?.id ?? '')).toMatchObject({ code: 'dangling' });
    expect(waiting.compileSome(1)).toBe(true);
    expect(waiting.faults().filter(({ code }) => code === 'dangling').length).toBeGreaterThanOrEqual(450);
    expect(waiting.compileSome(1)).toBe(false);
  });

  it('is refused as a whole, with what is wrong in every slice and where', async () => {
    const changes = made(60);
    const wrong = (at: number): void => {
      const change = changes[at];
      if (change) changes[at] = { ...change, to: { ...(change.to as object), legend: 5 } };
    };
    wrong(3);
    wrong(41);
    const before = compileProgram(show, 1);
    const after = await programAfter(before, changes, () => Promise.resolve());
    expect(after.ok ? [] : after.error.map(({ path }) => path)).toEqual([
      'changes.3.to.legend',
      'changes.41.to.legend',
    ]);
    expect(before.buttons.size).toBe(show.buttons.length);
  });
});
