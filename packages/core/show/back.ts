import { entryOf, sameContent } from './apply';
import type { Change } from './edits';
import type { ShowDocument } from './entities';

type Entry = Readonly<Record<string, unknown>>;

/** What an entry was before some edits: whether it was there, and the first content of each field that they changed. */
interface Before {
  readonly entity: Change['entity'];
  readonly id: string;
  /** The whole entry as it was, null when it was not there; undefined while only fields of it are known to have changed. */
  whole: Entry | null | undefined;
  readonly fields: Map<string, unknown>;
}

/**
 * The changes that take a show back to where it was before some edits, whoever made them, and whatever was undone among them.
 * @param edits every edit since then, oldest first
 */
export function changesBack(document: ShowDocument, edits: readonly (readonly Change[])[]): Change[] {
  const entries = new Map<string, Before>();
  for (const { entity, id, field, from } of edits.flat()) {
    const key = `${entity}/${id}`;
    let before = entries.get(key);
    if (before === undefined) entries.set(key, (before = { entity, id, whole: undefined, fields: new Map() }));
    // What became of an entry after it was made, or after it went, says nothing of how it was.
    if (before.whole !== undefined) continue;
    if (field !== '*') {
      if (!before.fields.has(field)) before.fields.set(field, from ?? null);
    } else if (from === null || from === undefined) before.whole = null;
    else before.whole = { ...(from as Entry), ...Object.fromEntries(before.fields) };
  }
  return [...entries.values()].flatMap(({ entity, id, whole, fields }): Change[] => {
    const now = entryOf(document, entity, id) as Entry | undefined;
    const all = (from: unknown, to: unknown): Change[] => [{ entity, id, field: '*', from, to }];
    if (whole === null) return now === undefined ? [] : all(now, null);
    if (whole !== undefined) {
      if (now === undefined) return all(null, whole);
      // A key never changes: an entry that has another one is another entry.
      return now.key === whole.key ? differing(entity, id, now, whole) : all(now, whole);
    }
    return now === undefined ? [] : differing(entity, id, now, Object.fromEntries(fields));
  });
}

/** One change for each field of `to` that an entry holds otherwise. */
const differing = (entity: Change['entity'], id: string, now: Entry, to: Entry): Change[] =>
  Object.keys(to).flatMap((field) =>
    sameContent(now[field], to[field]) ? [] : [{ entity, id, field, from: now[field] ?? null, to: to[field] ?? null }],
  );
