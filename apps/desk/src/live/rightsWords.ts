import type { Right } from '@umbek/protocol';

/** What can be given beside looking, which everybody may who is in. */
export const GIVEN: readonly { readonly right: Right; readonly words: string }[] = [
  { right: 'operate', words: 'Operate' },
  { right: 'program', words: 'Change the show' },
  { right: 'admit', words: 'Let others in' },
];

/** What a station may do, in words. */
export const rightsWords = (rights: readonly Right[]): string =>
  ['Looks', ...GIVEN.flatMap(({ right, words }) => (rights.includes(right) ? [words.toLowerCase()] : []))].join(', ');
