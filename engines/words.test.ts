import { readFileSync } from 'node:fs';
import { everythingSaid, retiredWords } from './words';

const FOLDERS = ['apps/desk/src', 'apps/desk/app', 'apps/server', 'packages/core', 'packages/wire'];
const said = everythingSaid(FOLDERS);
const retired = retiredWords(readFileSync('docs/glossary.md', 'utf8'));

describe('the words of the interface', () => {
  it('are all collected: literals, templates, and what stands between tags', () => {
    expect(said.length).toBeGreaterThan(2000);
    const texts = said.map(({ text }) => text);
    expect(texts).toContain('No position yet. Aim the camera, then store what it sees.');
    expect(texts).toContain('Run this step');
    expect(texts.some((text) => text.startsWith('… does not answer at …'))).toBe(true);
  });

  it('hold none of the retired words of the glossary', () => {
    expect(retired.length).toBeGreaterThan(30);
    // A word of a program alone, such as the name of a state, is not read by people: what is shown of it is worded.
    const read = said.filter(({ text }) => /\s/.test(text) || /^[A-Z]/.test(text));
    const found = read.flatMap(({ file, text }) =>
      retired.flatMap(({ pattern, not, but }) =>
        pattern.test(text) ? [`${file}: "${text}" says ${not}; say: ${but}`] : [],
      ),
    );
    expect(found).toEqual([]);
  });

  it('find one where it stands', () => {
    const [word] = retired.filter(({ not }) => not === 'foreseen');
    expect(word?.pattern.test('The times foreseen by the rehearsal')).toBe(true);
  });
});
