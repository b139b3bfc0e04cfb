import { manyNames, valuesOf, wordsIn } from './index';

const names = (pattern: string, words: Record<string, string>): string[] | string => {
  const made = manyNames({ pattern, words });
  return made.ok ? made.value.map((item) => item.name) : `${made.error.path}: ${made.error.message}`;
};

describe('many names from a pattern', () => {
  it('runs through ranges and lists, the last word fastest', () => {
    expect(names('Recorder {{room}}-{{n}}', { room: 'Dome, Gate', n: '1-2' })).toEqual([
      'Recorder Dome-1',
      'Recorder Dome-2',
      'Recorder Gate-1',
      'Recorder Gate-2',
    ]);
  });

  it('keeps leading zeros, and takes the same word twice', () => {
    expect(names('{{n}}/{{ n }}', { n: '08-10' })).toEqual(['08/08', '09/09', '10/10']);
    expect(valuesOf('1-3, 7, Roof')).toEqual(['1', '2', '3', '7', 'Roof']);
    expect(wordsIn('{{a}} {{b}} {{a}}')).toEqual(['a', 'b']);
  });

  it('says what is missing, double or too much', () => {
    expect(names('Recorder', {})).toMatch(/^pattern: The pattern has no place/);
    expect(names('R {{n}}', { n: ' ' })).toBe('words.n: Nothing is given for {{n}}.');
    expect(names('R {{n}}', { n: '3-1' })).toBe('words.n: Nothing is given for {{n}}.');
    expect(names('R {{n}}', { n: 'A, A' })).toBe('words: R A would be there twice.');
    expect(names('R {{a}} {{b}}', { a: '1-100', b: '1-100' })).toBe(
      'words.b: These would be more than 1000 in one go.',
    );
    expect(names('R {{n}}', { n: '1-999999' })).toBe('words.n: These would be more than 1000 in one go.');
  });
});
