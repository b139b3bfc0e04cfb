import { dragged, keyed, onScale, placeOf, valueText } from './dial';

const level = { min: -60, max: 12, step: 1 };
const share = { min: 0, max: 1, step: 0.01 };

describe('a value in the hand', () => {
  it('stays within its limits and in its steps', () => {
    expect([onScale(3.4, level), onScale(99, level), onScale(-99, level)]).toEqual([3, 12, -60]);
    expect(onScale(0.1 + 0.2, share)).toBe(0.3);
    expect(onScale(0.97, { min: 0, max: 1, step: 0.4 })).toBe(0.8);
  });

  it('is dragged from where it was taken: nothing jumps under the finger', () => {
    expect(dragged(-20, 0, 200, level)).toBe(-20);
    // 50 of 200 pixels are a quarter of 72 dB.
    expect(dragged(-20, 50, 200, level)).toBe(-2);
    expect(dragged(-20, 500, 200, level)).toBe(12);
  });

  it('is turned by keys, a step, ten steps, or to an end', () => {
    expect(['ArrowUp', 'ArrowLeft', 'PageUp', 'Home', 'End', 'a'].map((key) => keyed(key, 0, level))).toEqual([
      1,
      -1,
      10,
      -60,
      12,
      null,
    ]);
    expect(keyed('PageUp', 5, level)).toBe(12);
  });

  it('is read with as many digits as its step has, and stands along its track', () => {
    expect(valueText(-3, { step: 1, unit: 'dB' })).toBe('-3 dB');
    expect(valueText(0.5, { step: 0.01, unit: '' })).toBe('0.50');
    expect([placeOf(-24, level), placeOf(99, level), placeOf(0, { min: 0, max: 0 })]).toEqual([0.5, 1, 0]);
  });
});
