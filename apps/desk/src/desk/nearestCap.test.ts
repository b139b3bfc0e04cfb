import { nearestCap } from './nearestCap';

/** Two rows of three caps, and a wide one under them. */
const boxes = [
  ...[0, 1, 2, 3, 4, 5].map((at) => ({ x: (at % 3) * 110, y: Math.floor(at / 3) * 70, width: 100, height: 60 })),
  { x: 0, y: 140, width: 320, height: 60 },
];

describe('arrow keys among caps', () => {
  it.each([
    [0, 'ArrowRight', 1],
    [1, 'ArrowDown', 4],
    [5, 'ArrowUp', 2],
    [4, 'ArrowLeft', 3],
    [4, 'ArrowDown', 6],
    [0, 'ArrowLeft', -1],
    [2, 'ArrowRight', -1],
    [0, 'Enter', -1],
  ])('from %s by %s to %s', (at, key, to) => {
    expect(nearestCap(boxes, at, key)).toBe(to);
  });
});
