import { z } from 'zod';
import { ENTITIES, type EntityName, ShowDocument, ShowHead } from './entities';
import { applyChanges, type EditConflict, type Entry, type EntryCheck, entryOf, sameContent } from './apply';
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

const bySchema: EntryCheck = (entity, entry, path) => {
  const parsed = (entity === 'show' ? ShowHead : ENTITIES[entity]).safeParse(entry);
  return parsed.success ? ok(parsed.data as Entry) : fail(errorsOf(parsed.error, path));
};

/**
 * Applies an edit to a copy of the show. All or nothing: a conflict or an entry that no longer fits its schema refuses the whole.
 * @returns the new document, or every conflict and every bad field
 */
export const applyEdit = (
  document: ShowDocument,
  edit: { readonly changes: readonly Change[] },
  firstAt = 0,
): Result<ShowDocument, readonly (AppError | EditConflict)[]> =>
  applyChanges(document, edit.changes, bySchema, firstAt);

/**
 * Changes with the contents as they were stored: what an edit left out stands there with its usual value.
 * @param document the show after them
 */
export function asStored(document: ShowDocument, changes: readonly Change[]): Change[] {
  const times = new Map<string, number>();
  for (const { id } of changes) times.set(id, (times.get(id) ?? 0) + 1);
  return changes.map((change) => {
    const entry = times.get(change.id) === 1 ? entryOf(document, change.entity, change.id) : undefined;
    if (entry === undefined) return change;
    return { ...change, to: change.field === '*' ? entry : (entry[change.field] ?? null) };
  });
}
