/** A digital window: what is shown of a source that no motor moves. Centre in fractions of the frame from its top left, scale from 1 (full view). */
export interface Window {
  readonly x: number;
  readonly y: number;
  readonly scale: number;
}

export const FULL_WINDOW: Window = { x: 0.5, y: 0.5, scale: 1 };
/** Closest, times. */
const MOST_SCALE = 8;
/** Widths of what is seen, a second at full deflection: the same as slow nudges of a head. */
const SPEED = 0.3;
/** By so many times a second it comes closer at full deflection. */
const ZOOM = 1.6;
/** A switcher tells places in ten-thousandths. */
const rounded = (value: number): number => Math.round(value * 1e4) / 1e4;

/**
 * A window moved for some seconds, kept inside the frame.
 * @param x right, from −1 to 1 @param y up, from −1 to 1 @param zoom closer, from −1 to 1
 */
export function windowMoved(from: Window, x: number, y: number, zoom: number, seconds: number): Window {
  const scale = Math.min(MOST_SCALE, Math.max(1, from.scale * ZOOM ** (zoom * seconds)));
  const half = 0.5 / scale;
  const inside = (value: number): number => rounded(Math.min(1 - half, Math.max(half, value)));
  return {
    x: inside(from.x + (x * SPEED * seconds) / scale),
    y: inside(from.y - (y * SPEED * seconds) / scale),
    scale: rounded(scale),
  };
}

/** A window as a switcher tells it, "x y scale"; null when it is none. */
export function windowTold(point: unknown): Window | null {
  const [x, y, scale] = typeof point === 'string' ? point.split(' ').map(Number) : [];
  return x === undefined || y === undefined || scale === undefined || !(scale >= 1) ? null : { x, y, scale };
}
