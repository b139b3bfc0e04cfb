import { z } from 'zod';
import { ENTITIES, type EntityName, ShowDocument, ShowHead } from './entities';
import { type AppError, fail, ok, type Result } from './errors';
import { errorsOf } from './issues';

/**
 * One change of one field. `field` `*` stands for the whole entry: from null makes it, to null removes it.
 * `from` is what the editor saw; a stored value that differs is a conflict of that field.
 */
export const Change = z.strictObject({
  /** A list of the show, or `show` for its name, frame rate and what counts as air. */
  entity: z.enum(['show', ...(Object.keys(ENTITIES) as EntityName[])]),
  id: z.ulid(),
  field: z.string().min(1).max(40),
  from: z.unknown(),
  to: z.unknown(),
});
export type Change = z.infer<typeof Change>;

type Entry = Readonly<Record<string, unknown>> & { readonly id: string };

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

/** Changes that belong together: all are taken or none. */
export const Edit = z.strictObject({
  editId: z.ulid(),
  label: z.string().min(1).max(200),
  /** Who made it: undo and redo go by the engineer. */
  by: z.string().max(120).default(''),
  changes: z.array(Change).min(1).max(1000),
});
export type Edit = z.infer<typeof Edit>;

/**
 * The edit that takes another one back, in reverse order. Changes whose field no longer holds what the edit left are left out and told:
 * somebody went on from there.
 * @returns the changes to make, and words for each that stays
 */
export function inverseOf(document: ShowDocument, edit: Pick<Edit, 'changes'>): { changes: Change[]; kept: string[] } {
  const kept: string[] = [];
  const changes = [...edit.changes].reverse().flatMap((change): Change[] => {
    const entry = entryOf(document, change.entity, change.id);
    const present = change.field === '*' ? (entry ?? null) : entry?.[change.field];
    if (sameContent(present, change.to)) return [{ ...change, from: present ?? null, to: change.from ?? null }];
    const name = String(entry?.name ?? entry?.legend ?? change.entity);
    kept.push(
      entry === undefined
        ? `${name} is gone.`
        : `${change.field === '*' ? 'All' : change.field} of ${name} was changed since.`,
    );
    return [];
  });
  return { changes, kept };
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

/**
 * Applies an edit to a copy of the show. All or nothing: a conflict or an entry that no longer fits its schema refuses the whole.
 * @returns the new document, or every conflict and every bad field
 */
export function applyEdit(
  document: ShowDocument,
  edit: { readonly changes: readonly Change[] },
): Result<ShowDocument, readonly (AppError | EditConflict)[]> {
  // Only lists that the edit touches are made anew: the others stay the same objects, and what was worked out from them stays true.
  const next = new Map<Change['entity'], ListDraft>();
  const listOf = (entity: Change['entity']): ListDraft => {
    let list = next.get(entity);
    if (list === undefined) next.set(entity, (list = new ListDraft(document, entity)));
    return list;
  };
  const errors: (AppError | EditConflict)[] = [];
  edit.changes.forEach((change, index) => {
    const path = `changes.${index}`;
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
    const parsed = (change.entity === 'show' ? ShowHead : ENTITIES[change.entity]).safeParse(candidate);
    if (!parsed.success) errors.push(...errorsOf(parsed.error, `${path}.to`));
    else if (parsed.data.id !== change.id || (change.field !== '*' && ['id', 'key'].includes(change.field))) {
      errors.push({
        code: 'fixed-field',
        message: 'Ids and keys never change.',
        mend: 'Make a new entry instead.',
        path,
      });
    } else list.set(change.id, parsed.data as Entry);
  });
  if (errors.length > 0) return fail(errors);
  const lists = Object.fromEntries(
    [...next].flatMap(([entity, draft]) => (entity === 'show' ? [] : [[entity, draft.list()]])),
  );
  const show = next.get('show')?.get(document.show.id) ?? document.show;
  return ok({ ...document, ...lists, show } as ShowDocument);
}
