import { generateKeyBetween } from 'fractional-indexing';

/**
 * A key that sorts between two others; null stands for the beginning or the end of the list.
 * Lists that came in with keys of another making are gone on from as well as text can.
 */
export function orderBetween(before: string | null, after: string | null): string {
  try {
    return generateKeyBetween(before, after);
  } catch {
    return `${before ?? 'a'}V`;
  }
}

/** The same list with an entry's key changed so that it stands `by` places further on; undefined when it is at the end already. */
export function orderMoved<T extends { readonly id: string; readonly order: string }>(
  list: readonly T[],
  id: string,
  by: -1 | 1,
): string | undefined {
  const sorted = inOrder(list);
  const at = sorted.findIndex((candidate) => candidate.id === id);
  const [before, after] = by === 1 ? [sorted[at + 1], sorted[at + 2]] : [sorted[at - 2], sorted[at - 1]];
  if (at < 0 || (by === 1 ? before : after) === undefined) return undefined;
  return orderBetween(before?.order ?? null, after?.order ?? null);
}

/** Entries of one list as they stand: by their keys, compared as plain text. */
export const inOrder = <T extends { readonly order: string }>(list: readonly T[]): T[] =>
  [...list].sort((a, b) => (a.order < b.order ? -1 : a.order > b.order ? 1 : 0));
