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
  const sum = vectors.reduce<[number, number, number]>((all, one) => [all[0] + one[0], all[1] + one[1], all[2] + one[2]], [0, 0, 0]);
  const length = Math.hypot(...sum) || 1;
  const middle: [number, number, number] = [sum[0] / length, sum[1] / length, sum[2] / length];
  const nearest = Math.min(...vectors.map((one) => one[0] * middle[0] + one[1] * middle[1] + one[2] * middle[2]));
  return { points: Float64Array.from(vectors.flat()), middle, spread: Math.acos(Math.min(1, Math.max(-1, nearest))) };
}

const outlines = SHAPES.map((shape) => outlineOf(shape.points));
const starVectors = ([0, 1, 2] as const).map((grade) => Float64Array.from(STARS.filter((star) => star.grade === grade).flatMap((star) => unit(star.direction, star.elevation))));
/** Each horizon's line once around, a point for each degree from −180°. */
const horizonLines = HORIZONS.map((horizon) => Float64Array.from(Array.from({ length: 360 }, (_, at) => unit(at - 180, horizon.height(at - 180))).flat()));

/** Lowest elevation of each horizon, degrees. */
const lowest = HORIZONS.map((horizon) => Math.min(...Array.from({ length: 360 }, (_, at) => horizon.height(at - 180))));
const WHOLE = `M0 0L${WIDTH} 0L${WIDTH} ${HEIGHT}L0 ${HEIGHT}Z`;

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

/** The first so many points as a closed path, cut along the plane just before the camera; nothing when no part is in the picture. */
function closed(count: number, lens: Lens): string {
  let [left, right, top, bottom] = [Infinity, -Infinity, Infinity, -Infinity];
  let path = '';
  const add = (r: number, u: number, a: number): void => {
    const x = Math.round(WIDTH / 2 + (r / a) * lens.byWidth);
    const y = Math.round(HEIGHT / 2 - (u / a) * lens.byHeight);
    if (x < left) left = x;
    if (x > right) right = x;
    if (y < top) top = y;
    if (y > bottom) bottom = y;
    path += `${path === '' ? 'M' : 'L'}${x} ${y}`;
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
  return path === '' || right < 0 || left > WIDTH || bottom < 0 || top > HEIGHT ? '' : `${path}Z`;
}

function shapePath(outline: Outline, lens: Lens): string {
  if (!lens.sees(outline)) return '';
  const count = outline.points.length / 3;
  for (let at = 0; at < count; at += 1) turnInto(outline.points, at * 3, at, lens);
  return closed(count, lens);
}

/** Everything below a horizon, over as much of the compass as the picture can hold. */
function below(line: Float64Array, lens: Lens): string {
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
  return closed(count, lens);
}
const ground = new Float64Array(3);

const STAR_SIZE = [1.4, 2.2, 3.4] as const;

function stars(grade: 0 | 1 | 2, lens: Lens): string {
  // A longer lens shows a star a little larger, so that it does not get lost.
  const size = Math.round(STAR_SIZE[grade] * (1 + 12 / lens.view.width) * 10) / 10;
  const vectors = starVectors[grade] ?? new Float64Array(0);
  let path = '';
  for (let from = 0; from < vectors.length; from += 3) {
    turnInto(vectors, from, 0, lens);
    const ahead = aheads[0] ?? 0;
    if (ahead < NEAR) continue;
    const x = Math.round(WIDTH / 2 + ((rights[0] ?? 0) / ahead) * lens.byWidth);
    const y = Math.round(HEIGHT / 2 - ((ups[0] ?? 0) / ahead) * lens.byHeight);
    if (x < 0 || x > WIDTH || y < 0 || y > HEIGHT) continue;
    path += `M${x} ${y}m-${size} 0l${size} -${size}l${size} ${size}l-${size} ${size}z`;
  }
  return path;
}

/** Fill of each path of a picture, in the order in which they are painted. */
export const FILLS: readonly { readonly fill: string; readonly opacity: number }[] = [
  ...HORIZONS.slice(0, SKY).map(({ fill }) => ({ fill, opacity: 1 })),
  ...[0.45, 0.75, 1].map((opacity) => ({ fill: '#EDE8D8', opacity })),
  ...HORIZONS.slice(SKY).map(({ fill }) => ({ fill, opacity: 1 })),
  ...SHAPES.map(({ fill, opacity = 1 }) => ({ fill, opacity })),
];

/** The outline of each path as the camera sees it; empty where nothing of it is in the picture. */
export function paint(view: View): string[] {
  const lens = new Lens(view);
  // No part of the picture is higher than this: a band of sky that begins above it fills the picture, and hides all bands behind it.
  const top = view.tilt + lens.corner / RADIAN;
  const filling = lowest.findLastIndex((elevation, at) => at < SKY && elevation >= top);
  const horizons = horizonLines.map((line, at) => (at < filling ? '' : at === filling ? WHOLE : below(line, lens)));
  return [...horizons.slice(0, SKY), stars(0, lens), stars(1, lens), stars(2, lens), ...horizons.slice(SKY), ...outlines.map((outline) => shapePath(outline, lens))];
}
