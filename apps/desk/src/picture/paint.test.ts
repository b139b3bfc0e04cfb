import { project } from '@umbek/core/picture';
import { FILLS, HEIGHT, paint, WIDTH } from './paint';
import { meteorAt } from './FixedScene';
import { placeAt } from './Scene';
import { SHAPES, SKY } from './world';

jest.mock('../live/LiveContext', () => ({}));

const cornersOf = (path: string): [number, number][] =>
  [...path.matchAll(/[ML](-?\d+) (-?\d+)/g)].map((match) => [Number(match[1]), Number(match[2])]);
const shapesFrom = SKY + 3 + 3;

describe('the painted picture', () => {
  it('has a fill for each of its paths', () => {
    expect(paint({ pan: 0, tilt: 0, width: 63 })).toHaveLength(FILLS.length);
  });

  it('puts each corner where the perspective of the camera puts its direction', () => {
    const view = { pan: 12, tilt: 4, width: 40 };
    const paths = paint(view);
    let compared = 0;
    SHAPES.forEach((shape, index) => {
      const corners = cornersOf(paths[shapesFrom + index] ?? '');
      if (corners.length !== shape.points.length) return;
      shape.points.forEach(([direction, elevation], at) => {
        const there = project(direction, elevation, view);
        expect(corners[at]?.[0]).toBeCloseTo(there.x * WIDTH, -0.5);
        expect(corners[at]?.[1]).toBeCloseTo(there.y * HEIGHT, -0.5);
        compared += 1;
      });
    });
    expect(compared).toBeGreaterThan(100);
  });

  it('leaves out what is behind the camera', () => {
    const desk = paint({ pan: 0, tilt: 0, width: 63 }).filter((path) => path !== '').length;
    const dome = paint({ pan: -120, tilt: 30, width: 63 }).filter((path) => path !== '').length;
    expect(desk).toBeLessThan(FILLS.length);
    expect(dome).toBeLessThan(FILLS.length);
    expect(
      paint({ pan: 0, tilt: 0, width: 63 })[shapesFrom + SHAPES.findIndex((shape) => shape.points[0]?.[0] === -187.4)],
    ).toBe('');
  });

  it('covers the whole frame with the lowest sky wherever it looks', () => {
    for (let pan = -170; pan <= 170; pan += 17) {
      const corners = cornersOf(paint({ pan, tilt: -20, width: 50 }).find((path) => path !== '') ?? '');
      expect(Math.min(...corners.map(([x]) => x))).toBeLessThanOrEqual(0);
      expect(Math.max(...corners.map(([x]) => x))).toBeGreaterThanOrEqual(WIDTH);
      expect(Math.max(...corners.map(([, y]) => y))).toBeGreaterThanOrEqual(HEIGHT);
    }
  });

  it('leaves out the bands of sky that another one hides', () => {
    // Corner of a picture 10° wide: atan √(tan² 5° + (9/16 tan 5°)²) = 5.7°. The bands that begin at 7° and 5° are the tenth and the next.
    const sky = paint({ pan: 0, tilt: 0, width: 10 }).slice(0, SKY);
    expect(sky.slice(0, 9).every((path) => path === '')).toBe(true);
    expect(sky[9]).toBe('M0 0L1600 0L1600 900L0 900Z');
    expect(sky.slice(10).every((path) => path.length > 100)).toBe(true);
  });
});

describe('a travelling picture', () => {
  const readings = [
    { at: 0, pan: 0, tilt: 0, zoom: 1 },
    { at: 100, pan: 10, tilt: 2, zoom: 3 },
  ];
  it('is evenly between two readings, and stays at the last one', () => {
    expect(placeAt(readings, 25)).toEqual({ at: 25, pan: 2.5, tilt: 0.5, zoom: 1.5 });
    expect(placeAt(readings, 500)).toEqual(readings[1]);
    expect(placeAt(readings, -5)).toEqual(readings[0]);
  });
});

describe('a meteor', () => {
  it('comes at the same moment and place for everybody', () => {
    expect(meteorAt(7)).toEqual(meteorAt(7));
    expect(meteorAt(7).x).not.toBe(meteorAt(8).x);
    for (let slot = 0; slot < 50; slot += 1) expect(meteorAt(slot).afterMs).toBeLessThan(9000 - 700);
  });
});
