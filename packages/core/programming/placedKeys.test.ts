import { keyPut, keysSwapped, pageAdded, pageRemoved, placedFrom, placedWith } from './placedKeys';

const placed = placedFrom('p', 2, 2, [[{ button: 'a' }, { button: 'b' }, null, { button: 'c' }]]);
const at = (page: number, key: number) => ({ page, key });

describe('keys placed by hand', () => {
  it('begin as they stood by themselves', () => {
    expect(placed).toEqual({ panel: 'p', columns: 2, rows: 2, pages: [['a', 'b', null, 'c']] });
    expect(placedFrom('p', 1, 2, [[{ button: 'a' }, { turn: true }]]).pages).toEqual([['a', null]]);
  });

  it('are put, taken off, and change places, onto an empty one as well', () => {
    expect(keyPut(placed, at(0, 2), 'd').pages).toEqual([['a', 'b', 'd', 'c']]);
    expect(keyPut(placed, at(0, 0), null).pages).toEqual([[null, 'b', null, 'c']]);
    expect(keysSwapped(placed, at(0, 0), at(0, 3)).pages).toEqual([['c', 'b', null, 'a']]);
    expect(keysSwapped(placed, at(0, 1), at(0, 2)).pages).toEqual([['a', null, 'b', 'c']]);
    // A page that is shorter than its grid is filled up.
    expect(keyPut({ ...placed, pages: [['a']] }, at(0, 3), 'z').pages).toEqual([['a', null, null, 'z']]);
  });

  it('get pages: what stood on the key that turns from now on moves along', () => {
    const two = pageAdded(placed);
    expect(two.pages).toEqual([
      ['a', 'b', null, null],
      ['c', null, null, null],
    ]);
    expect(pageAdded(two).pages).toHaveLength(3);
    expect(keysSwapped(two, at(0, 0), at(1, 0)).pages.map(([first]) => first)).toEqual(['c', 'a']);
    expect(pageRemoved(two, 0).pages).toEqual([['c', null, null, null]]);
    expect(pageRemoved(placed, 0)).toBe(placed);
  });

  it('take the place of those of the same panel and size alone, or go', () => {
    const others = [
      { ...placed, panel: 'q' },
      { ...placed, columns: 3 },
    ];
    const station = { placed: [placed, ...others] };
    const next = keyPut(placed, at(0, 0), null);
    expect(placedWith(station, placed, next)).toEqual([...others, next]);
    expect(placedWith(station, placed)).toEqual(others);
  });
});
