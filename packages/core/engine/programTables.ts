import { LayeredMap } from './layeredMap';

/** Tables of a show that steps and conditions name things of. */
export type Table =
  | 'devices'
  | 'sources'
  | 'positions'
  | 'values'
  | 'roles'
  | 'reframes'
  | 'people'
  | 'macros'
  | 'buttons'
  | 'panels'
  | 'triggers';
/** What an entry is named by in its table. */
const keyOf = (table: Table, entry: { readonly id: string; readonly key?: string }): string =>
  table === 'macros' || table === 'buttons' || table === 'triggers' ? entry.id : (entry.key ?? entry.id);

const same = <T>(entry: T): T => entry;

/**
 * Entries of a list by key. What is new, gone or another is added to `changed` as `table/key`.
 * @param as how an entry stands in the table
 * @param old the table of the program before, made from `oldList`
 */
export function tableOf<T extends { readonly id: string; readonly key?: string }>(
  name: Table,
  list: readonly T[],
  old: LayeredMap<T> | undefined,
  oldList: readonly T[] | undefined,
  changed: Set<string>,
  as: (entry: T) => T = same,
): LayeredMap<T> {
  if (old !== undefined && list === oldList) return old;
  const followed = old && oldList && follow(name, list, old, oldList, changed, as);
  if (followed) return followed;
  const map = new Map<string, T>();
  // The first of two with one key stands, as everywhere a thing is looked for in a list.
  for (const entry of list) {
    const key = keyOf(name, entry);
    if (map.has(key)) continue;
    const done = as(entry);
    map.set(key, done);
    if (old?.get(key) !== done) changed.add(`${name}/${key}`);
  }
  if (old !== undefined) for (const key of old.keys()) if (!map.has(key)) changed.add(`${name}/${key}`);
  return LayeredMap.of(map);
}

/** A list in which entries were replaced in place or added at the end; null when more has changed. */
function follow<T extends { readonly id: string; readonly key?: string }>(
  name: Table,
  list: readonly T[],
  old: LayeredMap<T>,
  oldList: readonly T[],
  changed: Set<string>,
  as: (entry: T) => T,
): LayeredMap<T> | null {
  if (list.length < oldList.length) return null;
  const map = old.next();
  const found: string[] = [];
  for (let at = 0; at < list.length; at += 1) {
    const entry = list[at];
    const before = oldList[at];
    if (entry === before || entry === undefined) continue;
    const key = keyOf(name, entry);
    // Another key, or one of two with the same key: not as simple as it looks.
    if (before === undefined ? map.has(key) : keyOf(name, before) !== key || old.get(key) !== as(before)) return null;
    map.set(key, as(entry));
    found.push(`${name}/${key}`);
  }
  for (const item of found) changed.add(item);
  return map;
}
