import { PNG } from 'pngjs';
import { notDrawn } from './drawn';

/** Ivory ground, with so many dark pixels in the box at 10, 10 of 20 × 10. */
function picture(dark: number): Buffer {
  const png = new PNG({ width: 60, height: 40 });
  png.data.fill(0xea);
  for (let at = 0; at < dark; at += 1)
    png.data.fill(
      0x15,
      ((10 + Math.floor(at / 20)) * 60 + 10 + (at % 20)) * 4,
      ((10 + Math.floor(at / 20)) * 60 + 10 + (at % 20)) * 4 + 3,
    );
  return PNG.sync.write(png);
}
const box = { text: 'SOURCES', x: 10, y: 10, width: 20, height: 10 };

describe('whether a text is drawn', () => {
  it('is told by its pixels: an empty box is not, a fortieth of dark pixels is', () => {
    expect(notDrawn([box], picture(0))).toEqual(['SOURCES']);
    expect(notDrawn([box], picture(2))).toEqual(['SOURCES']);
    expect(notDrawn([box], picture(5))).toEqual([]);
  });

  it('looks at no other place: ink beside the box does not count', () => {
    expect(notDrawn([{ ...box, x: 35 }], picture(100))).toEqual(['SOURCES']);
  });
});
