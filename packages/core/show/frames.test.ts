import { frameMs } from './frames';

describe('the length of a frame', () => {
  it('is that of the fraction where the rate is one', () => {
    // 30000/1001 frames a second: 1001/30 ms each. An hour has 107,892.107 of them; 107,892 are 3,599,996.4 ms.
    expect(frameMs(29.97) * 107_892).toBeCloseTo(3_599_996.4, 6);
    expect(frameMs(30_000 / 1001)).toBe(frameMs(29.97));
    expect(frameMs(59.94)).toBeCloseTo(16.683333, 6);
    expect([frameMs(23.976), frameMs(23.98)]).toEqual([1001 / 24, 1001 / 24]);
    expect([25, 30, 50, 60].map(frameMs)).toEqual([40, 1000 / 30, 20, 1000 / 60]);
  });
});
