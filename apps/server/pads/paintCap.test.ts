import { createCanvas, loadImage } from '@napi-rs/canvas';
import { join } from 'node:path';
import { loadFonts, paintCap } from './paintCap';
import type { PaintedCap } from './painter';

beforeAll(() => loadFonts(join(process.cwd(), 'apps/desk/public/fonts')));

const CAP: PaintedCap = { legend: 'Star charts', note: '', family: 'plum', lamp: null, lost: false };
const SIZE = { width: 96, height: 96 };

/** Reads a picture back. @returns the colour of a pixel as #RRGGBB, and how many pixels are dark */
async function pixelsOf(cap: PaintedCap, size = SIZE) {
  const image = await loadImage(Buffer.from(paintCap(cap, size)));
  const context = createCanvas(image.width, image.height).getContext('2d');
  context.drawImage(image, 0, 0);
  const { data } = context.getImageData(0, 0, image.width, image.height);
  const at = (x: number, y: number): string =>
    `#${[0, 1, 2].map((part) => (data[(y * image.width + x) * 4 + part] ?? 0).toString(16).padStart(2, '0')).join('')}`.toUpperCase();
  let dark = 0;
  for (let pixel = 0; pixel < data.length; pixel += 4) if ((data[pixel] ?? 0) < 0x60) dark += 1;
  return { at, dark, width: image.width, height: image.height };
}

describe('a cap as a picture', () => {
  it('has the asked size, its family at the foot, and words that are read', async () => {
    const { at, dark, width, height } = await pixelsOf(CAP);
    expect([width, height]).toEqual([96, 96]);
    expect([at(48, 92), at(2, 50), at(48, 4)]).toEqual(['#94639C', '#EAE3D2', '#D5CCB9']);
    expect(dark).toBeGreaterThan(200);
    expect((await pixelsOf({ ...CAP, legend: '' })).dark).toBe(0);
    const wide = await pixelsOf(CAP, { width: 120, height: 60 });
    expect([wide.width, wide.height, wide.at(60, 58)]).toEqual([120, 60, '#94639C']);
  });

  it('tells each lamp by a shape of its own', async () => {
    const head = async (lamp: PaintedCap['lamp']): Promise<string> => {
      const { at } = await pixelsOf({ ...CAP, lamp });
      return Array.from({ length: 12 }, (_none, part) =>
        [2, 5, 7].map((y) => (at(part * 8 + 4, y) === '#D5CCB9' ? '.' : '#')).join(''),
      ).join(' ');
    };
    const lamps = ['onAir', 'onPreview', 'chosen', 'up', 'arrived', 'armed', 'recording', 'working', 'failed'] as const;
    const shapes = await Promise.all([null, ...lamps].map(head));
    expect(new Set(shapes).size).toBe(10);
    expect((await pixelsOf({ ...CAP, lamp: 'onAir' })).at(48, 5)).toBe('#EC4A43');
  });

  it('hatches what does not answer, and leaves an empty key dark', async () => {
    const { at } = await pixelsOf({ ...CAP, legend: '', lost: true });
    expect(new Set(Array.from({ length: 40 }, (_none, x) => at(10 + x, 50))).size).toBeGreaterThan(1);
    expect((await pixelsOf({ ...CAP, legend: '', family: null })).at(48, 48)).toBe('#101F20');
  });

  it.each(['Unabhängigkeitserklärung', 'a b c d e f g h i j k l m n o p', 'שלום', '🎬', 'x'.repeat(120)])(
    'draws %s without leaving its edges',
    async (legend) => {
      const { at } = await pixelsOf({ ...CAP, legend, note: 'a note that is far too long for it' });
      for (let y = 12; y < 86; y += 1) expect([y, at(1, y), at(94, y)]).toEqual([y, '#EAE3D2', '#EAE3D2']);
    },
  );
});
