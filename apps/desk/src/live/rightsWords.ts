import type { Right } from '@umbek/protocol';

/** What can be given beside looking, which everybody may who is in. */
export const GIVEN: readonly { readonly right: Right; readonly words: string }[] = [
  { right: 'operate', words: 'Operate' },
  { right: 'program', words: 'Change the show' },
  { right: 'admit', words: 'Let others in' },
];

/** What a station or a person may do, to stand behind its name: *may look, operate and change the show*. */
export function rightsWords(rights: readonly Right[]): string {
  const all = ['look', ...GIVEN.flatMap(({ right, words }) => (rights.includes(right) ? [words.toLowerCase()] : []))];
  const last = all.pop() ?? '';
  return `may ${all.length === 0 ? last : `${all.join(', ')} and ${last}`}`;
}

/** Begins a sentence. */
export const titled = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1);
