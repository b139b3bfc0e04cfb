import { chosenBy, deflectionOf, fullOf, type Pad, rests, shaped } from './stick';

const pad = (axes: number[], pressed: number[] = [], mapping = '', values: Record<number, number> = {}): Pad => ({
  mapping,
  axes,
  buttons: Array.from({ length: 10 }, (_, index) => ({
    pressed: pressed.includes(index),
    value: values[index] ?? (pressed.includes(index) ? 1 : 0),
  })),
});

describe('a joystick', () => {
  it('rests inside its dead zone, and goes from nothing to all behind it along a curve', () => {
    expect([shaped(0.12), shaped(-0.05), shaped(1), shaped(-1)]).toEqual([0, 0, 1, -1]);
    // Halfway between the edge at 0.12 and the end: a half, squared.
    expect(shaped(0.56)).toBeCloseTo(0.25, 9);
    expect(rests(deflectionOf(pad([0.1, -0.1, 0.05])))).toBe(true);
  });

  it('goes by the show’s dead zone and curve, and to no more than its full speed', () => {
    const even = { deadZone: 0.2, curve: 1, full: 1 };
    expect([shaped(0.2, even), shaped(-1, even)]).toEqual([0, -1]);
    expect(shaped(0.6, even)).toBeCloseTo(0.5, 9);
    expect(shaped(0.6, { ...even, full: 0.4 })).toBeCloseTo(0.2, 9);
    expect(deflectionOf(pad([1, 0.6, -1]), { ...even, full: 0.25 })).toEqual({ x: 0.25, y: -0.12, zoom: -0.25 });
    expect([fullOf(0.4), fullOf(0), fullOf(7), fullOf(-1), fullOf('fast'), fullOf(undefined)]).toEqual([
      0.4, 0, 1, 0, 1, 1,
    ]);
  });

  it('moves right and up with the stick, and zooms by twist or by the shoulders', () => {
    expect(deflectionOf(pad([1, -1, 1]))).toEqual({ x: 1, y: 1, zoom: 1 });
    expect(deflectionOf(pad([0.56, 0, 0.9], [], 'standard', { 6: 1, 7: 0 }))).toEqual({ x: 0.25, y: 0, zoom: -1 });
  });

  it('chooses a camera by a held button', () => {
    expect([chosenBy(pad([], [1]), 3), chosenBy(pad([], [3]), 3), chosenBy(pad([]), 3)]).toEqual([1, null, null]);
  });
});
