import type { Change, EntityName } from '../show/index';

interface Entry {
  readonly id: string;
}

/** One field of an entry, from what it is to what it shall be. */
export const changed = <T extends Entry>(
  entity: Change['entity'],
  entry: T,
  field: keyof T & string,
  to: unknown,
): Change => ({ entity, id: entry.id, field, from: entry[field] ?? null, to });

/** A new entry. */
export const made = <T extends Entry>(entity: EntityName, entry: T): Change => ({
  entity,
  id: entry.id,
  field: '*',
  from: null,
  to: entry,
});

/** An entry that goes. */
export const removed = <T extends Entry>(entity: EntityName, entry: T): Change => ({
  entity,
  id: entry.id,
  field: '*',
  from: entry,
  to: null,
});

/** An edit holds so many changes at most. */
const MOST_IN_AN_EDIT = 1000;

/** Many changes as the edits that they take: nearly always one. Each is taken back by itself, and says which it is. */
export function inParts(
  label: string,
  changes: readonly Change[],
): readonly { readonly label: string; readonly part: readonly Change[] }[] {
  const count = Math.ceil(changes.length / MOST_IN_AN_EDIT);
  return Array.from({ length: count }, (_, at) => ({
    label: count === 1 ? label : `${label} (${at + 1} of ${count})`,
    part: changes.slice(at * MOST_IN_AN_EDIT, (at + 1) * MOST_IN_AN_EDIT),
  }));
}
