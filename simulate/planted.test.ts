import { readFileSync } from 'node:fs';

interface Planted {
  readonly name: string;
  readonly edits: readonly { readonly file: string; readonly from: string; readonly to: string }[];
}

/** `node simulate/planted.mjs` plants them one at a time and says after how many shows each was found; that takes a quarter of an hour. */
describe('the faults that are planted to try the simulation', () => {
  const faults = JSON.parse(readFileSync('simulate/plantedFaults.json', 'utf8')) as readonly Planted[];

  it.each(faults.map((fault) => [fault.name, fault] as const))('%s can still be planted', (_name, { edits }) => {
    for (const { file, from, to } of edits) {
      const text = readFileSync(file, 'utf8');
      expect(text.split(from).length).toBeGreaterThan(1);
      expect(text.replace(from, () => to)).not.toBe(text);
    }
  });

  it('are sixteen', () => expect(faults.length).toBe(16));
});
