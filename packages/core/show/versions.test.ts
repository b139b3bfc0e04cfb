import fc from 'fast-check';
import { corvaneHill, demoId } from '@umbek/demo';
import { applyEdit, inverseOf } from './edits';
import type { ShowDocument } from './entities';
import { changesBetween, changeWords } from './versions';

const show = corvaneHill();
const ordered = (document: ShowDocument): string =>
  JSON.stringify(
    Object.fromEntries(
      Object.entries(document).map(([name, list]) => [
        name,
        Array.isArray(list) ? [...list].sort((a, b) => (a.id < b.id ? -1 : 1)) : list,
      ]),
    ),
  );

/** Some changes of an evening: a button renamed, a position gone, a source renumbered, a panel more. */
function evening(): ShowDocument {
  return {
    ...show,
    buttons: show.buttons.map((button) =>
      button.id === demoId('BTN', 7) ? { ...button, legend: 'Ines tight', note: 'arrive, cut' } : button,
    ),
    positions: show.positions.filter((position) => position.key !== 'hillBehind'),
    sources: show.sources.map((source) => (source.key === 'slides' ? { ...source, input: 12 } : source)),
    panels: [...show.panels, { id: demoId('PAN', 90), name: 'Late', pages: [], order: 'z0' }],
  };
}

describe('a version', () => {
  it('is gone back to by the changes that differ, and no others', () => {
    const changes = changesBetween(evening(), show);
    expect(changes.map(({ entity, field }) => `${entity} ${field}`).sort()).toEqual([
      'buttons legend',
      'buttons note',
      'panels *',
      'positions *',
      'sources input',
    ]);
    const back = applyEdit(evening(), { changes });
    expect(back.ok && ordered(back.value)).toBe(ordered(show));
  });

  it('is undone like any edit', () => {
    const changes = changesBetween(evening(), show);
    const back = applyEdit(evening(), { changes });
    if (!back.ok) throw new Error('refused');
    const { changes: again, kept } = inverseOf(back.value, { changes });
    const undone = applyEdit(back.value, { changes: again });
    expect(kept).toEqual([]);
    expect(undone.ok && ordered(undone.value)).toBe(ordered(evening()));
  });

  it('is told in words, a line for each thing', () => {
    expect(changeWords(changesBetween(evening(), show), evening()).sort()).toEqual([
      'Button Ines tight: legend, note',
      'Panel Late: goes',
      'Position Hill behind: comes back',
      'Source Star charts: input',
    ]);
    expect(changeWords(changesBetween(show, show), show)).toEqual([]);
  });

  it('is reached from any other by its changes', () => {
    const some = fc.subarray(show.buttons.map((button) => button.id));
    fc.assert(
      fc.property(some, some, fc.string({ minLength: 1, maxLength: 20 }), (kept, renamed, legend) => {
        const other = {
          ...show,
          buttons: show.buttons
            .filter((button) => kept.includes(button.id))
            .map((button) => (renamed.includes(button.id) ? { ...button, legend } : button)),
        };
        for (const [from, to] of [
          [show, other],
          [other, show],
        ] as const) {
          const applied = applyEdit(from, { changes: changesBetween(from, to) });
          expect(applied.ok && ordered(applied.value)).toBe(ordered(to));
        }
      }),
      { numRuns: 30 },
    );
  });
});
