/** How changes are worked into a show, without its schemas: a page that only shows what the engine tells needs none of them. */
import type { Change } from './edits';
import type { ShowDocument } from './entities';
import { type AppError, fail, ok, type Result } from './errors';

export type Entry = Readonly<Record<string, unknown>> & { readonly id: string };

/** The entries that an edit may name. */
export const entriesOf = (document: ShowDocument, entity: Change['entity']): readonly Entry[] =>
  entity === 'show' ? [document.show] : (document[entity] as readonly Entry[]);

/** Where each entry of a list stands; kept with the list, and handed on by edits that change entries in place. */
const placesOfList = new WeakMap<readonly Entry[], ReadonlyMap<string, number>>();

/** Where the entries of a list of the show stand, by id. */
export function placesOf(document: ShowDocument, entity: Change['entity']): ReadonlyMap<string, number> {
  if (entity === 'show') return new Map([[document.show.id, 0]]);
  const list = document[entity] as readonly Entry[];
  let places = placesOfList.get(list);
  if (places === undefined) placesOfList.set(list, (places = new Map(list.map(({ id }, at) => [id, at]))));
  return places;
}

/** One entry of the show. */
export const entryOf = (document: ShowDocument, entity: Change['entity'], id: string): Entry | undefined =>
  entriesOf(document, entity)[placesOf(document, entity).get(id) ?? -1];

/** A list under an edit: a copy in which entries are replaced, made and taken out. */
class ListDraft {
  readonly entries: (Entry | null)[];
  private readonly places: ReadonlyMap<string, number>;
  private readonly made = new Map<string, number>();
  private removed = false;

  constructor(document: ShowDocument, entity: Change['entity']) {
    this.entries = [...entriesOf(document, entity)];
    this.places = placesOf(document, entity);
  }

  private placeOf(id: string): number {
    return this.made.get(id) ?? this.places.get(id) ?? -1;
  }

  get(id: string): Entry | undefined {
    return this.entries[this.placeOf(id)] ?? undefined;
  }

  set(id: string, entry: Entry): void {
    if (this.get(id) !== undefined) this.entries[this.placeOf(id)] = entry;
    else this.made.set(id, this.entries.push(entry) - 1);
  }

  delete(id: string): void {
    if (this.get(id) === undefined) return;
    this.entries[this.placeOf(id)] = null;
    this.removed = true;
  }

  list(): readonly Entry[] {
    const list = this.removed
      ? this.entries.filter((entry): entry is Entry => entry !== null)
      : (this.entries as Entry[]);
    if (!this.removed && this.made.size === 0) placesOfList.set(list, this.places);
    return list;
  }
}

/** A field that somebody else changed meanwhile. */
export interface EditConflict extends AppError {
  readonly newer: unknown;
}

/** Whether two contents are equal, in whatever order their keys stand; undefined counts as null. */
export const sameContent = (a: unknown, b: unknown): boolean => canonical(a) === canonical(b);

/** JSON with its keys in order, so that equal content compares equal; undefined counts as null. */
function canonical(value: unknown): string {
  return JSON.stringify(value ?? null, (_key, part: unknown) =>
    part !== null && typeof part === 'object' && !Array.isArray(part)
      ? Object.fromEntries(Object.entries(part).sort(([a], [b]) => (a < b ? -1 : 1)))
      : part,
  );
}

/** Whether an entry may stand in its list as it is. @returns the entry as it is kept, or what is wrong with it */
export type EntryCheck = (entity: Change['entity'], entry: unknown, path: string) => Result<Entry, readonly AppError[]>;

/**
 * Applies changes to a copy of the show. All or nothing: a conflict or an entry that its check refuses refuses the whole.
 * @param check left out for changes that the engine has taken already
 * @param firstAt number of the first of these changes, where they are a slice of an edit: errors tell each by its place in that
 * @returns the new document, or every conflict and every bad field
 */
export function applyChanges(
  document: ShowDocument,
  changes: readonly Change[],
  check: EntryCheck = (_entity, entry) => ok(entry as Entry),
  firstAt = 0,
): Result<ShowDocument, readonly (AppError | EditConflict)[]> {
  // Only lists that the edit touches are made anew: the others stay the same objects, and what was worked out from them stays true.
  const next = new Map<Change['entity'], ListDraft>();
  const listOf = (entity: Change['entity']): ListDraft => {
    let list = next.get(entity);
    if (list === undefined) next.set(entity, (list = new ListDraft(document, entity)));
    return list;
  };
  const errors: (AppError | EditConflict)[] = [];
  changes.forEach((change, index) => {
    const path = `changes.${firstAt + index}`;
    const list = listOf(change.entity);
    const entry = list.get(change.id);
    const present = change.field === '*' ? (entry ?? null) : entry?.[change.field];
    if (change.field !== '*' && entry === undefined) {
      errors.push({
        code: 'unknown-id',
        message: `There is no ${change.entity} entry ${change.id}.`,
        mend: 'It may have been removed meanwhile; load the show again.',
        path: `${path}.id`,
      });
      return;
    }
    if (!sameContent(present, change.from)) {
      errors.push({
        code: 'conflict',
        message: `Somebody changed ${change.field} of this ${change.entity} entry meanwhile.`,
        mend: 'Look at the newer value and decide which of the two stays.',
        path: `${path}.from`,
        newer: present ?? null,
      });
      return;
    }
    if (change.entity === 'show' && change.field === '*') {
      errors.push({
        code: 'fixed-field',
        message: 'The show itself is neither made nor removed by an edit.',
        mend: 'Change its fields.',
        path,
      });
      return;
    }
    if (change.field === '*' && change.to === null) {
      list.delete(change.id);
      return;
    }
    const candidate = change.field === '*' ? change.to : { ...entry, [change.field]: change.to };
    const checked = check(change.entity, candidate, `${path}.to`);
    if (!checked.ok) errors.push(...checked.error);
    else if (checked.value.id !== change.id || (change.field !== '*' && ['id', 'key'].includes(change.field))) {
      errors.push({
        code: 'fixed-field',
        message: 'Ids and keys never change.',
        mend: 'Make a new entry instead.',
        path,
      });
    } else list.set(change.id, checked.value);
  });
  if (errors.length > 0) return fail(errors);
  const lists = Object.fromEntries(
    [...next].flatMap(([entity, draft]) => (entity === 'show' ? [] : [[entity, draft.list()]])),
  );
  const show = next.get('show')?.get(document.show.id) ?? document.show;
  return ok({ ...document, ...lists, show } as ShowDocument);
}
