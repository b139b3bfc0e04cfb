import { UNKNOWN } from '../expression/index';
import type { Person, PlainValue, Step } from '../show/index';
import type { Program } from './program';
import { boardKey, selectionKey } from './scope';
import type { StateBoard } from './stateBoard';

/** The selection that names one of the people list. */
export const CHOSEN_PERSON = 'chosen.person';

/** What legends and captions read of the chosen person, with the selection that holds it. */
const PARTS: readonly (readonly [selection: string, of: (person: Person) => string])[] = [
  ['chosen.personName', ({ name }) => name],
  ['chosen.personTitle', ({ title }) => title],
  ['chosen.personPlace', ({ place }) => place],
];

/** Everything that is put when a selection is put: of a person also name, title and place, so that all of it changes in one instant. */
export function withParts(program: Program, target: string, value: PlainValue): [target: string, value: PlainValue][] {
  if (target !== CHOSEN_PERSON) return [[target, value]];
  const person = program.people.get(String(value));
  return [
    [target, value],
    ...PARTS.map(([part, of]): [string, string] => [part, person === undefined ? '' : of(person)]),
  ];
}

/** Puts a selection or a show value, and what follows from it. @param target as a step names it */
export function setTarget(
  board: StateBoard,
  program: Program,
  linkGroup: string,
  target: string,
  value: PlainValue,
): void {
  for (const [key, part] of withParts(program, target, value)) board.set(boardKey(key, linkGroup), part);
}

const CHOSEN_AT = /^chosen@([a-zA-Z0-9-]+)\.person$/;

/** After an edit of the people list: whoever is chosen is told as they are named now. */
export function followPeople(board: StateBoard, program: Program): void {
  for (const [key, value] of [...board.entries()]) {
    const group = CHOSEN_AT.exec(key)?.[1];
    if (group !== undefined) setTarget(board, program, group, CHOSEN_PERSON, value);
  }
}

/** The link group's chosen person. */
export const personKey = (linkGroup: string): string => selectionKey(linkGroup, 'person');

/**
 * Who follows in the list, or what is in the way.
 * @param now key of the one who is chosen; UNKNOWN where nobody is: the list then begins at its first, or its last
 * @param by rows on; below zero towards the beginning
 */
export function personBy(
  program: Program,
  now: PlainValue | typeof UNKNOWN,
  by: number,
): { readonly key: string } | { readonly words: string } {
  const people = peopleInOrder(program);
  if (people.length === 0) return { words: 'The people list is empty. Add people in the Bench.' };
  const at = now === UNKNOWN ? -1 : people.findIndex(({ key }) => key === now);
  const next = people[at < 0 ? (by > 0 ? by - 1 : people.length + by) : at + by];
  if (next !== undefined) return { key: next.key };
  const name = program.people.get(String(now))?.name ?? 'This';
  return { words: `${name} is the ${by > 0 ? 'last' : 'first'} of the people list.` };
}

const lists = new WeakMap<readonly Person[], readonly Person[]>();

/** The people in their order; worked out once for each list. */
export function peopleInOrder({ document }: Program): readonly Person[] {
  let list = lists.get(document.people);
  if (list === undefined) {
    list = [...document.people].sort((a, b) => (a.order < b.order ? -1 : a.order > b.order ? 1 : 0));
    lists.set(document.people, list);
  }
  return list;
}

/** Words for choosing a person: "Choose the next person". */
export const byWords = (by: number): string =>
  by === 1
    ? 'Choose the next person'
    : by === -1
      ? 'Choose the previous person'
      : `Choose the person ${Math.abs(by)} ${by > 0 ? 'on' : 'back'}`;

/** Whether a step chooses a person whom the list does not have. */
export const strangerIn = (step: Step, program: Program): string | null =>
  step.kind === 'set' &&
  step.target === CHOSEN_PERSON &&
  step.by === undefined &&
  typeof step.to === 'string' &&
  !program.people.has(step.to)
    ? step.to
    : null;
