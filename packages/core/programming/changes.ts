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
