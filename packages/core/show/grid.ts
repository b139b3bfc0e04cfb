import type { PlacedKeys, Station } from './entities';

/** A key of a grid: a button, the key that turns the page, or nothing. */
export type GridKey = { readonly button: string } | { readonly turn: true } | null;

/**
 * Lays strips on a grid of keys, row by row from the top left. A strip begins a row, or stands behind the one before it with a key between
 * them, where it fits whole; one that is longer than a row goes on in the next. What does not fit makes pages, and the last key of each then
 * turns to the next one.
 * @returns pages of `columns × rows` keys each; always one at least
 */
export function gridOf(strips: readonly (readonly string[])[], columns: number, rows: number): GridKey[][] {
  const item = laid(strips, columns, rows, false);
  // A single key has no room for one that turns.
  return item.length <= 1 || columns * rows < 2 ? item.slice(0, 1) : laid(strips, columns, rows, true);
}

function laid(strips: readonly (readonly string[])[], columns: number, rows: number, turns: boolean): GridKey[][] {
  const blank = (): GridKey[] =>
    Array.from({ length: columns * rows }, (_none, at) => (turns && at === columns * rows - 1 ? { turn: true } : null));
  const pages = [blank()];
  const widthOf = (row: number): number => (turns && row % rows === rows - 1 ? columns - 1 : columns);
  const lay = (row: number, column: number, button: string): void => {
    while (pages.length <= Math.floor(row / rows)) pages.push(blank());
    const page = pages[Math.floor(row / rows)];
    if (page !== undefined) page[(row % rows) * columns + column] = { button };
  };
  let [row, column] = [0, 0];
  const nextRow = (): void => {
    row += 1;
    column = 0;
  };
  for (const strip of strips) {
    if (strip.length === 0) continue;
    if (column > 0) {
      if (column + 1 + strip.length <= widthOf(row)) column += 1;
      else nextRow();
    }
    // One that fits a row is not broken for the sake of the key that turns.
    if (strip.length <= columns && strip.length > widthOf(row) && widthOf(row + 1) > widthOf(row)) nextRow();
    for (const button of strip) {
      while (column >= widthOf(row)) nextRow();
      lay(row, column, button);
      column += 1;
    }
  }
  return pages;
}

/** The keys of a panel that a person placed for a pad of this size at a station; undefined: nobody did. */
export const placedAt = (
  station: Pick<Station, 'placed'> | undefined,
  panelId: string | undefined,
  columns: number,
  rows: number,
): PlacedKeys | undefined =>
  station?.placed.find(
    (candidate) => candidate.panel === panelId && candidate.columns === columns && candidate.rows === rows,
  );

/** Keys as a person placed them. @param there whether a button is still there: the key of one that is gone is empty */
export function gridPlaced({ columns, rows, pages }: PlacedKeys, there: (button: string) => boolean): GridKey[][] {
  const keys = columns * rows;
  const turns = pages.length > 1 && keys > 1;
  return (turns ? pages : pages.slice(0, 1)).map((page) =>
    Array.from({ length: keys }, (_none, at): GridKey => {
      if (turns && at === keys - 1) return { turn: true };
      const button = page[at] ?? null;
      return button !== null && there(button) ? { button } : null;
    }),
  );
}
