import { corvaneHill } from '@umbek/demo';
import { applyEdit, type Change, type ShowDocument } from '../show/index';
import { movedBy, movedTo } from './move';
import { inOrder } from './order';

const show = corvaneHill();
const strip = (name: string, document = show) => {
  const found = document.strips.find((candidate) => candidate.name === name);
  if (!found) throw new Error(name);
  return found;
};
const legends = (document: ShowDocument, name: string): string[] =>
  inOrder(document.buttons.filter(({ stripId }) => stripId === strip(name).id)).map(({ legend }) => legend);
const after = (changes: readonly Change[], document = show): ShowDocument => {
  const applied = applyEdit(document, { changes });
  if (!applied.ok) throw new Error(applied.error[0]?.message);
  return applied.value;
};
const sources = inOrder(show.buttons.filter(({ stripId }) => stripId === strip('Sources').id));
const ids = (...legendsOf: readonly string[]): ReadonlySet<string> =>
  new Set(sources.filter(({ legend }) => legendsOf.includes(legend)).map(({ id }) => id));
const idOf = (legend: string): string => sources.find((source) => source.legend === legend)?.id ?? '';

describe('buttons that move', () => {
  it('stand before another one, or at the end, in the order of the panel', () => {
    const moved = movedTo(show, ids('Roof cam', 'Desk cam'), strip('Sources').id, idOf('Black'));
    expect(legends(after(moved), 'Sources')).toEqual([
      'Lawn cam',
      'Dome cam',
      'Star charts',
      'Desk cam',
      'Roof cam',
      'Black',
    ]);
    const last = movedTo(show, ids('Lawn cam'), strip('Sources').id, null);
    expect(legends(after(last), 'Sources').at(-1)).toBe('Lawn cam');
    // One change for each: its strip is the same.
    expect(last).toHaveLength(1);
  });

  it('go to another strip', () => {
    const next = after(movedTo(show, ids('Black', 'Lawn cam'), strip('Names').id, null));
    expect(legends(next, 'Names').slice(-2)).toEqual(['Lawn cam', 'Black']);
    expect(legends(next, 'Sources')).toHaveLength(4);
  });

  it('change nothing where they stand already, also before one that moves along', () => {
    expect(movedTo(show, ids('Lawn cam'), strip('Sources').id, idOf('Lawn cam'))).toEqual([]);
    expect(movedTo(show, ids('Lawn cam'), strip('Sources').id, idOf('Dome cam'))).toEqual([]);
    expect(movedTo(show, ids('Black'), strip('Sources').id, null)).toEqual([]);
  });

  it('go by one place with the keys, together, and no further than the end', () => {
    expect(legends(after(movedBy(show, ids('Lawn cam', 'Dome cam'), 'right')), 'Sources').slice(0, 4)).toEqual([
      'Desk cam',
      'Roof cam',
      'Lawn cam',
      'Dome cam',
    ]);
    expect(legends(after(movedBy(show, ids('Dome cam'), 'left')), 'Sources').slice(0, 3)).toEqual([
      'Desk cam',
      'Dome cam',
      'Lawn cam',
    ]);
    expect([movedBy(show, ids('Desk cam'), 'left'), movedBy(show, ids('Black'), 'right')]).toEqual([[], []]);
  });

  it('go to the strip above or below at the same place', () => {
    const panel = strip('Sources').panelId;
    const strips = inOrder(show.strips.filter(({ panelId }) => panelId === panel));
    const below = strips[strips.findIndex(({ name }) => name === 'Sources') + 1]?.name ?? '';
    expect(legends(after(movedBy(show, ids('Lawn cam'), 'down')), below)[1]).toBe('Lawn cam');
    // Sources is the first strip of its panel.
    expect(strips[0]?.name).toBe('Sources');
    // Sources is the first strip of its panel.
    expect(strips[0]?.name).toBe('Sources');
    expect(movedBy(show, ids('Lawn cam'), 'up')).toEqual([]);
  });
});
