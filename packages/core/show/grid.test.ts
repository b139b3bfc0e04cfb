import { type GridKey, gridOf, gridPlaced, placedAt } from './grid';

/** A page as rows of letters: a dot for nothing, an angle for the key that turns. */
const drawn = (page: readonly GridKey[] | undefined, columns: number): string[] =>
  Array.from({ length: (page?.length ?? 0) / columns }, (_none, row) =>
    (page ?? [])
      .slice(row * columns, (row + 1) * columns)
      .map((key) => (key === null ? '.' : 'turn' in key ? '>' : key.button))
      .join(''),
  );
const pages = (strips: string[], columns: number, rows: number): string[][] =>
  gridOf(
    strips.map((strip) => [...strip]),
    columns,
    rows,
  ).map((page) => drawn(page, columns));

describe('a panel on a grid of keys', () => {
  it('begins each strip in a row, or behind the one before where it fits whole', () => {
    expect(pages(['abcd', 'ef', 'gh', 'ijk'], 5, 4)).toEqual([['abcd.', 'ef.gh', 'ijk..', '.....']]);
    expect(pages(['abc', 'd', 'ef'], 5, 2)).toEqual([['abc.d', 'ef...']]);
  });

  it('goes on in the next row with a strip that is longer than one', () => {
    expect(pages(['abcdefg', 'h'], 3, 3)).toEqual([['abc', 'def', 'g.h']]);
  });

  it('makes pages of what does not fit, with a key that turns them, and breaks no strip for it', () => {
    expect(pages(['abc', 'def', 'ghi'], 3, 2)).toEqual([
      ['abc', '..>'],
      ['def', '..>'],
      ['ghi', '..>'],
    ]);
    expect(pages(['ab', 'cd', 'e'], 2, 2)).toEqual([
      ['ab', '.>'],
      ['cd', 'e>'],
    ]);
    expect(pages(['abcdefgh'], 2, 2)).toEqual([
      ['ab', 'c>'],
      ['de', 'f>'],
      ['gh', '.>'],
    ]);
  });

  it('fills a column, a single key and nothing without end', () => {
    expect(pages(['abc'], 1, 2)).toEqual([
      ['a', '>'],
      ['b', '>'],
      ['c', '>'],
    ]);
    expect(pages(['ab'], 1, 1)).toEqual([['a']]);
    expect(pages([], 2, 1)).toEqual([['..']]);
    expect(pages(['', ''], 2, 1)).toEqual([['..']]);
  });

  it('keeps every button once, however many there are', () => {
    const strips = Array.from({ length: 300 }, (_none, strip) =>
      Array.from({ length: (strip * 7) % 40 }, (_other, at) => `${strip}-${at}`),
    );
    for (const [columns, rows] of [
      [1, 2],
      [2, 1],
      [5, 3],
      [8, 4],
      [32, 32],
    ] as const) {
      const found = gridOf(strips, columns, rows)
        .flat()
        .flatMap((key) => (key !== null && 'button' in key ? [key.button] : []));
      expect(found).toEqual(strips.flat());
    }
  });
});

describe('keys that were placed by hand', () => {
  const placed = { panel: 'p', columns: 2, rows: 2, pages: [['a', null, 'gone', 'b'], ['c']] };
  const there = (id: string): boolean => id !== 'gone';

  it('stand where they were put; of several pages the last key of each turns', () => {
    expect(gridPlaced(placed, there)).toEqual([
      [{ button: 'a' }, null, null, { turn: true }],
      [{ button: 'c' }, null, null, { turn: true }],
    ]);
    expect(gridPlaced({ ...placed, pages: [['a', null, 'gone', 'b', 'too many']] }, there)).toEqual([
      [{ button: 'a' }, null, null, { button: 'b' }],
    ]);
  });

  it('are those of the same panel for a pad of the same size', () => {
    const station = { placed: [placed] };
    expect(placedAt(station, 'p', 2, 2)).toBe(placed);
    for (const [panel, columns, rows] of [
      ['p', 2, 3],
      ['p', 4, 2],
      ['q', 2, 2],
    ] as const)
      expect(placedAt(station, panel, columns, rows)).toBeUndefined();
    expect(placedAt(undefined, 'p', 2, 2)).toBeUndefined();
  });
});
