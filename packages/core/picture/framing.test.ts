import fc from 'fast-check';
import { aimAt, directionAt, project, viewHeight } from './framing';

const view = { pan: 10, tilt: 0, width: 90 };

describe('a picture', () => {
  it('shows the direction it looks at in its middle, and the edge at half its angle', () => {
    expect(project(10, 0, view)).toEqual({ x: 0.5, y: 0.5, depth: 1 });
    // At 90° wide the edge is 45° away: tan 45° = 1.
    expect(project(55, 0, view).x).toBeCloseTo(1, 12);
    expect(project(10, 0, { ...view, width: 60 }).y).toBe(0.5);
  });

  it('is 9/16 as high as it is wide on the plane, not in degrees', () => {
    // 2·atan(9/16) = 58.7155°
    expect(viewHeight(view)).toBeCloseTo(58.7155, 4);
  });

  it('has what is behind the camera behind', () => {
    expect(project(190, 0, view).depth).toBeCloseTo(-1, 12);
  });

  it('tells the direction of its own corner', () => {
    // Corner X = 1, Y = 9/16 at tilt 0: pan + 45°, tilt asin(0.5625/√(1 + 1 + 0.3164)) = 21.69°.
    const corner = directionAt(1, 0, view);
    expect(corner.pan).toBeCloseTo(55, 9);
    expect(corner.tilt).toBeCloseTo(21.69, 2);
  });
});

describe('aiming', () => {
  const place = fc.double({ min: 0.02, max: 0.98, noNaN: true });
  it('brings what is grabbed under the pointer', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -170, max: 170, noNaN: true }),
        fc.double({ min: -20, max: 55, noNaN: true }),
        fc.double({ min: 4, max: 63, noNaN: true }),
        place,
        place,
        (pan, tilt, width, x, y) => {
          const there = directionAt(x, y, { pan, tilt, width });
          const back = project(there.pan, there.tilt, { pan, tilt, width });
          expect([back.x, back.y]).toEqual([expect.closeTo(x, 6), expect.closeTo(y, 6)]);
          const aimed = aimAt(there, x, y, width);
          expect([aimed.pan, aimed.tilt]).toEqual([expect.closeTo(pan, 5), expect.closeTo(tilt, 5)]);
        },
      ),
      { numRuns: 300, seed: 7 },
    );
  });
});
