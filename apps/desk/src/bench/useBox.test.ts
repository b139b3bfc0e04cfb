import { meets } from './useBox';

describe('a box that is drawn', () => {
  const box = { left: 10, top: 10, width: 100, height: 50 };
  it('meets what it shares a point with, at its edge as well', () => {
    expect(meets(box, { left: 0, top: 0, width: 9, height: 100 })).toBe(false);
    expect(meets(box, { left: 0, top: 0, width: 10, height: 10 })).toBe(true);
    expect(meets(box, { left: 50, top: 20, width: 5, height: 5 })).toBe(true);
    expect(meets(box, { left: 111, top: 20, width: 5, height: 5 })).toBe(false);
    expect(meets({ left: 50, top: 20, width: 0, height: 0 }, box)).toBe(true);
  });
});
