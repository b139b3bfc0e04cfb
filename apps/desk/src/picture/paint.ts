import type { View } from '@umbek/core/picture';
import { HORIZONS, SHAPES, SKY, STARS } from './world';

/** The drawing's own measure: a picture is 1600 by 900 of these. */
export const WIDTH = 1600;
export const HEIGHT = 900;

const RADIAN = Math.PI / 180;
/** What is nearer to the camera's own plane than this is cut off. */
const NEAR = 0.03;
/** Points of a horizon across one picture. */
const HORIZON_POINTS = 26;

/**
 * The painted place as unit vectors (three numbers a point: east, up, north at pan 0), worked out once, so that a frame costs a few
 * multiplications a point and no sines. A shape also has the middle of its points and the cosine of how far they lie from it, by which what
 * is out of sight is left out whole.
 */
interface Outline {
  readonly points: Float64Array;
  readonly middle: readonly [number, number, number];
  readonly spread: number;
}

const unit = (direction: number, elevation: number): [number, number, number] => {
  const [turn, rise] = [direction * RADIAN, elevation * RADIAN];
  return [Math.cos(rise) * Math.sin(turn), Math.sin(rise), Math.cos(rise) * Math.cos(turn)];
};

function outlineOf(points: readonly (readonly [number, number])[]): Outline {
  const vectors = points.map(([direction, elevation]) => unit(direction, elevation));
  const sum = vectors.reduce<[number, number, number]>(
    (all, item) => [all[0] + item[0], all[1] + item[1], all[2] + item[2]],
    [0, 0, 0],
  );
  const length = Math.hypot(...sum) || 1;
  const middle: [number, number, number] = [sum[0] / length, sum[1] / length, sum[2] / length];
  const nearest = Math.min(...vectors.map((item) => item[0] * middle[0] + item[1] * middle[1] + item[2] * middle[2]));
  return { points: Float64Array.from(vectors.flat()), middle, spread: Math.acos(Math.min(1, Math.max(-1, nearest))) };
}

const outlines = SHAPES.map((shape) => outlineOf(shape.points));
const starVectors = ([0, 1, 2] as const).map((grade) =>
  Float64Array.from(
    STARS.filter((star) => star.grade === grade).flatMap((star) => unit(star.direction, star.elevation)),
  ),
);
/** Each horizon's line once around, a point for each degree from −180°. */
const horizonLines = HORIZONS.map((horizon) =>
  Float64Array.from(Array.from({ length: 360 }, (_, at) => unit(at - 180, horizon.height(at - 180))).flat()),
);

/** Lowest elevation of each horizon, degrees. */
const lowest = HORIZONS.map((horizon) => Math.min(...Array.from({ length: 360 }, (_, at) => horizon.height(at - 180))));

/** The camera's axes for one picture. */
class Lens {
  readonly sinP: number;
  readonly cosP: number;
  readonly sinT: number;
  readonly cosT: number;
  readonly byWidth: number;
  readonly byHeight: number;
  /** Angle from the middle of the picture to its corner. */
  readonly corner: number;

  constructor(readonly view: View) {
    this.sinP = Math.sin(view.pan * RADIAN);
    this.cosP = Math.cos(view.pan * RADIAN);
    this.sinT = Math.sin(view.tilt * RADIAN);
    this.cosT = Math.cos(view.tilt * RADIAN);
    const across = Math.tan((view.width * RADIAN) / 2);
    const up = (across * 9) / 16;
    this.byWidth = WIDTH / (2 * across);
    this.byHeight = HEIGHT / (2 * up);
    this.corner = Math.atan(Math.hypot(across, up));
  }

  /** Whether anything of an outline can be in the picture. */
  sees({ middle, spread }: Outline): boolean {
    const level = middle[0] * this.sinP + middle[2] * this.cosP;
    const ahead = level * this.cosT + middle[1] * this.sinT;
    return Math.acos(Math.min(1, Math.max(-1, ahead))) <= this.corner + spread;
  }
}

/** Points of one picture on their way to a path; used again and again. */
const [rights, ups, aheads] = [new Float64Array(512), new Float64Array(512), new Float64Array(512)];

function turnInto(points: Float64Array, from: number, at: number, lens: Lens): void {
  const [east, up, north] = [points[from] ?? 0, points[from + 1] ?? 0, points[from + 2] ?? 0];
  const level = east * lens.sinP + north * lens.cosP;
  rights[at] = east * lens.cosP - north * lens.sinP;
  ups[at] = up * lens.cosT - level * lens.sinT;
  aheads[at] = level * lens.cosT + up * lens.sinT;
}

/** What a picture is painted with, path after path from behind to before. */
export interface Brush {
  /** Begins the path of this place in `FILLS`; rings and stars up to the next are of it. */
  path(at: number): void;
  /** A closed line through the first so many points. */
  ring(xs: Int32Array, ys: Int32Array, count: number): void;
  /** A small diamond round a point, so far out. */
  star(x: number, y: number, size: number): void;
}

/** Corners of one ring in the drawing's own measure; used again and again. A cut adds at most a corner for each that it takes. */
const [xs, ys] = [new Int32Array(1024), new Int32Array(1024)];

/** The first so many points as a closed ring, cut along the plane just before the camera; nothing when no part is in the picture. */
function closed(count: number, lens: Lens, brush: Brush): void {
  let [left, right, top, bottom] = [Infinity, -Infinity, Infinity, -Infinity];
  let corners = 0;
  const add = (r: number, u: number, a: number): void => {
    const x = Math.round(WIDTH / 2 + (r / a) * lens.byWidth);
    const y = Math.round(HEIGHT / 2 - (u / a) * lens.byHeight);
    if (x < left) left = x;
    if (x > right) right = x;
    if (y < top) top = y;
    if (y > bottom) bottom = y;
    xs[corners] = x;
    ys[corners] = y;
    corners += 1;
  };
  for (let at = 0; at < count; at += 1) {
    const next = at + 1 === count ? 0 : at + 1;
    const [a, b] = [aheads[at] ?? 0, aheads[next] ?? 0];
    const [r, u] = [rights[at] ?? 0, ups[at] ?? 0];
    if (a >= NEAR) add(r, u, a);
    if (a >= NEAR !== b >= NEAR) {
      const share = (NEAR - a) / (b - a);
      add(r + ((rights[next] ?? 0) - r) * share, u + ((ups[next] ?? 0) - u) * share, NEAR);
    }
  }
  if (corners > 0 && right >= 0 && left <= WIDTH && bottom >= 0 && top <= HEIGHT) brush.ring(xs, ys, corners);
}

/** The whole picture. */
function whole(brush: Brush): void {
  xs.set([0, WIDTH, WIDTH, 0]);
  ys.set([0, 0, HEIGHT, HEIGHT]);
  brush.ring(xs, ys, 4);
}

function shape(outline: Outline, lens: Lens, brush: Brush): void {
  if (!lens.sees(outline)) return;
  const count = outline.points.length / 3;
  for (let at = 0; at < count; at += 1) turnInto(outline.points, at * 3, at, lens);
  closed(count, lens, brush);
}

/** Everything below a horizon, over as much of the compass as the picture can hold. */
function below(line: Float64Array, lens: Lens, brush: Brush): void {
  const { pan, tilt, width } = lens.view;
  const steep = Math.abs(tilt) + width * 0.35 > 55;
  const reach = steep ? 175 : width * 0.62 + 6;
  const step = Math.max(1, Math.floor((2 * reach) / HORIZON_POINTS));
  const first = Math.floor(pan - reach);
  let count = 0;
  for (let direction = first; direction <= pan + reach + step; direction += step) {
    const at = (((direction + 180) % 360) + 360) % 360;
    turnInto(line, at * 3, count, lens);
    count += 1;
  }
  const floor = Math.max(-89, tilt - 70);
  for (let at = 0; at < 7; at += 1) {
    ground.set(unit(pan + reach + step - ((2 * reach + step) * at) / 6, floor));
    turnInto(ground, 0, count, lens);
    count += 1;
  }
  closed(count, lens, brush);
}
const ground = new Float64Array(3);

const STAR_SIZE = [1.4, 2.2, 3.4] as const;

function stars(grade: 0 | 1 | 2, lens: Lens, brush: Brush): void {
  // A longer lens shows a star a little larger, so that it does not get lost.
  const size = Math.round(STAR_SIZE[grade] * (1 + 12 / lens.view.width) * 10) / 10;
  const vectors = starVectors[grade] ?? new Float64Array(0);
  for (let from = 0; from < vectors.length; from += 3) {
    turnInto(vectors, from, 0, lens);
    const ahead = aheads[0] ?? 0;
    if (ahead < NEAR) continue;
    const x = Math.round(WIDTH / 2 + ((rights[0] ?? 0) / ahead) * lens.byWidth);
    const y = Math.round(HEIGHT / 2 - ((ups[0] ?? 0) / ahead) * lens.byHeight);
    if (x < 0 || x > WIDTH || y < 0 || y > HEIGHT) continue;
    brush.star(x, y, size);
  }
}

/** Fill of each path of a picture, in the order in which they are painted. */
export const FILLS: readonly { readonly fill: string; readonly opacity: number }[] = [
  ...HORIZONS.slice(0, SKY).map(({ fill }) => ({ fill, opacity: 1 })),
  ...[0.45, 0.75, 1].map((opacity) => ({ fill: '#EDE8D8', opacity })),
  ...HORIZONS.slice(SKY).map(({ fill }) => ({ fill, opacity: 1 })),
  ...SHAPES.map(({ fill, opacity = 1 }) => ({ fill, opacity })),
];

/** Paints what a camera sees. */
export function paintWith(brush: Brush, view: View): void {
  const lens = new Lens(view);
  // No part of the picture is higher than this: a band of sky that begins above it fills the picture, and hides all bands behind it.
  const top = view.tilt + lens.corner / RADIAN;
  const filling = lowest.findLastIndex((elevation, at) => at < SKY && elevation >= top);
  let path = 0;
  const next = (work: () => void): void => {
    brush.path(path);
    path += 1;
    work();
  };
  horizonLines.forEach((line, at) => {
    if (at === SKY) for (const grade of [0, 1, 2] as const) next(() => stars(grade, lens, brush));
    next(() => {
      if (at === filling) whole(brush);
      else if (at > filling) below(line, lens, brush);
    });
  });
  for (const outline of outlines) next(() => shape(outline, lens, brush));
}

/** The outline of each path as the camera sees it, in the words of SVG; empty where nothing of it is in the picture. */
export function paint(view: View): string[] {
  const paths = FILLS.map(() => '');
  let open = 0;
  paintWith(
    {
      path: (at) => (open = at),
      ring: (right, down, count) => {
        let path = '';
        for (let at = 0; at < count; at += 1) path += `${at === 0 ? 'M' : 'L'}${right[at] ?? 0} ${down[at] ?? 0}`;
        paths[open] += `${path}Z`;
      },
      star: (x, y, size) => (paths[open] += `M${x} ${y}m-${size} 0l${size} -${size}l${size} ${size}l-${size} ${size}z`),
    },
    view,
  );
  return paths;
}
