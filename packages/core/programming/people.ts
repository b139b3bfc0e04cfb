import type { Change, Person, ShowDocument } from '../show/index';
import { changed } from './changes';
import { inOrder, orderBetween } from './order';

/** Small letters without accents: "lucia" finds Lucía. */
const folded = (text: string): string => text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase();

const sorted = new WeakMap<readonly Person[], { readonly person: Person; readonly text: string }[]>();

/** Those in whose name, title or place every word of the search is found, in the order of the list. */
export function peopleFound(people: readonly Person[], search: string): Person[] {
  let rows = sorted.get(people);
  if (rows === undefined) {
    rows = inOrder(people).map((person) => ({
      person,
      text: folded(`${person.name} ${person.title} ${person.place}`),
    }));
    sorted.set(people, rows);
  }
  const words = folded(search).split(/\s+/).filter(Boolean);
  return rows.flatMap(({ person, text }) => (words.every((word) => text.includes(word)) ? [person] : []));
}

/** The change that puts somebody one place earlier or later in the list; none at its end. */
export function personMoved(
  { people }: Pick<ShowDocument, 'people'>,
  person: Person,
  way: 'earlier' | 'later',
): Change[] {
  const list = inOrder(people);
  const at = list.indexOf(person);
  const [before, after] = way === 'earlier' ? [list[at - 2], list[at - 1]] : [list[at + 1], list[at + 2]];
  if (at < 0 || (way === 'earlier' ? after : before) === undefined) return [];
  return [changed('people', person, 'order', orderBetween(before?.order ?? null, after?.order ?? null))];
}
