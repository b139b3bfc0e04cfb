import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ICON_PATHS } from './iconPaths';

const SOURCE = join(__dirname, '..');
const texts = readdirSync(SOURCE, { recursive: true, encoding: 'utf8' })
  .filter((file) => /\.tsx?$/.test(file) && !file.includes('.test.'))
  .map((file) => readFileSync(join(SOURCE, file), 'utf8'));

describe('icons', () => {
  it('are all there that are asked for by name', () => {
    const asked = texts.flatMap((text) =>
      [...text.matchAll(/\bicon(?:=|: )["']([a-z-]+)["']/g)].map(([, name = '']) => name),
    );
    expect(asked.length).toBeGreaterThan(30);
    expect(asked.filter((name) => !Object.hasOwn(ICON_PATHS, name))).toEqual([]);
  });

  it('and every sign in a text is one that the shipped font has', () => {
    // Latin and its punctuation; arrows up and down, minus. Others come from another font in each browser, larger or as a coloured picture.
    const odd = texts.flatMap(
      (text) => text.match(/[^\n\u0020-\u00FF\u2000-\u206F\u2191\u2193\u2212\u2501-\u254D]/g) ?? [],
    );
    expect(odd).toEqual([]);
  });
});
