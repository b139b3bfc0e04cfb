import { type AppError, fail, ok, type Result } from '../show/index';

/** What many alike are made from. */
export interface ManyPlan {
  /** Name with places for words in double braces: `Recorder {{room}}-{{n}}`. */
  readonly pattern: string;
  /**
   * What each word runs through: a list of texts, or a range such as `1-30` or, with leading zeros, `01-30`. Both may be
   * mixed, with commas between: `Dome, Gate, 1-3`.
   */
  readonly words: Readonly<Record<string, string>>;
}

/** One of many: its name and the words that it was made from. */
export interface ManyName {
  readonly name: string;
  readonly words: Readonly<Record<string, string>>;
}

/** More than this in one go is a slip of the finger. */
export const MOST_AT_ONCE = 1000;
const WORD = /\{\{\s*([A-Za-z]\w*)\s*\}\}/g;
const RANGE = /^(\d{1,6})\s*-\s*(\d{1,6})$/;

/** The words that a pattern has places for, each once, in their order. */
export const wordsIn = (pattern: string): string[] => [
  ...new Set([...pattern.matchAll(WORD)].map((match) => match[1] ?? '')),
];

/** `1-3` → 1, 2, 3; `01-03` → 01, 02, 03; `Dome, Gate` → Dome, Gate. */
export function valuesOf(text: string): string[] {
  return text
    .split(',')
    .map((part) => part.trim())
    .filter(Boolean)
    .flatMap((part) => {
      const [, first, last] = RANGE.exec(part) ?? [];
      if (first === undefined || last === undefined) return [part];
      const [from, to] = [Number(first), Number(last)];
      // As many digits as the range begins with, when it begins with a zero.
      const digits = first.startsWith('0') ? first.length : 0;
      return Array.from({ length: Math.min(MOST_AT_ONCE + 1, Math.max(0, to - from + 1)) }, (_, index) =>
        String(from + index).padStart(digits, '0'),
      );
    });
}

/** Every name of a pattern, the last word running fastest. @returns why it cannot be made, with the mend */
export function manyNames({ pattern, words }: ManyPlan): Result<ManyName[], AppError> {
  const keys = wordsIn(pattern);
  if (keys.length === 0)
    return fail({
      code: 'no-word',
      message: 'The pattern has no place for a word, so every name would be the same.',
      mend: 'Write one in double braces, such as {{n}}.',
      path: 'pattern',
    });
  let made: Record<string, string>[] = [{}];
  for (const key of keys) {
    const values = valuesOf(words[key] ?? '');
    if (values.length === 0)
      return fail({
        code: 'empty-word',
        message: `Nothing is given for {{${key}}}.`,
        mend: 'Give a list such as Dome, Gate or a range such as 1-6.',
        path: `words.${key}`,
      });
    made = made.flatMap((item) => values.map((value) => ({ ...item, [key]: value })));
    if (made.length > MOST_AT_ONCE)
      return fail({
        code: 'too-many',
        message: `These would be more than ${MOST_AT_ONCE} in one go.`,
        mend: 'Make fewer at a time.',
        path: `words.${key}`,
      });
  }
  const names = made.map((item) => ({
    name: pattern.replace(WORD, (_, key: string) => item[key] ?? '').trim(),
    words: item,
  }));
  const twice = names.find(({ name }, index) => names.findIndex((other) => other.name === name) !== index);
  if (twice)
    return fail({
      code: 'name-twice',
      message: `${twice.name} would be there twice.`,
      mend: 'Give different words, or a word more.',
      path: 'words',
    });
  return ok(names);
}
