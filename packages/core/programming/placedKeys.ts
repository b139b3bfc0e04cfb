/** The keys of a pad placed by hand: pure edits of where each button stands. */
import type { GridKey } from '../show/grid';
import type { PlacedKeys, Station } from '../show/index';

/** A key of a grid: its page and its place on it. */
export interface KeyAt {
  readonly page: number;
  readonly key: number;
}

/** As the keys stand by themselves: what a person begins with. */
export const placedFrom = (panel: string, columns: number, rows: number, pages: readonly GridKey[][]): PlacedKeys => ({
  panel,
  columns,
  rows,
  pages: pages.map((page) => page.map((key) => (key !== null && 'button' in key ? key.button : null))),
});

const onPage = (placed: PlacedKeys, at: number, page: (string | null)[]): PlacedKeys => ({
  ...placed,
  pages: placed.pages.map((item, index) => (index === at ? page : item)),
});

const whole = ({ columns, rows, pages }: PlacedKeys, page: number): (string | null)[] =>
  Array.from({ length: columns * rows }, (_none, key) => pages[page]?.[key] ?? null);

/** Puts a button on a key, or takes it off: null. */
export const keyPut = (placed: PlacedKeys, { page, key }: KeyAt, button: string | null): PlacedKeys =>
  onPage(
    placed,
    page,
    whole(placed, page).map((item, at) => (at === key ? button : item)),
  );

/** Two keys change places; onto an empty one a button moves. */
export function keysSwapped(placed: PlacedKeys, item: KeyAt, other: KeyAt): PlacedKeys {
  const [first, second] = [whole(placed, item.page)[item.key] ?? null, whole(placed, other.page)[other.key] ?? null];
  return keyPut(keyPut(placed, item, second), other, first);
}

/** One more page, empty, at the end. What stood on the last key of the first page moves to it: that one turns pages from now on. */
export function pageAdded(placed: PlacedKeys): PlacedKeys {
  const last = placed.columns * placed.rows - 1;
  const blank = Array.from({ length: last + 1 }, () => null);
  const added: PlacedKeys = { ...placed, pages: [...placed.pages, blank] };
  if (placed.pages.length > 1) return added;
  return keysSwapped(added, { page: 0, key: last }, { page: 1, key: 0 });
}

/** Without a page; the last one that is left stays. */
export const pageRemoved = (placed: PlacedKeys, page: number): PlacedKeys =>
  placed.pages.length === 1 ? placed : { ...placed, pages: placed.pages.filter((_one, at) => at !== page) };

/** What a station has placed, with these keys in place of those of the same panel and size; left out: without them, they stand by themselves again. */
export const placedWith = (
  { placed }: Pick<Station, 'placed'>,
  of: Pick<PlacedKeys, 'panel' | 'columns' | 'rows'>,
  keys?: PlacedKeys,
): PlacedKeys[] => [
  ...placed.filter(
    (candidate) => candidate.panel !== of.panel || candidate.columns !== of.columns || candidate.rows !== of.rows,
  ),
  ...(keys === undefined ? [] : [keys]),
];
