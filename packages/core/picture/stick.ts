import type { Stick } from '../show/entities';
import { STICK } from '../show/stick';

export { STICK };

/** Where a joystick stands, each from −1 to 1: right, up and closer are positive. */
export interface Deflection {
  readonly x: number;
  readonly y: number;
  readonly zoom: number;
}

/** What a browser tells of a joystick (W3C Gamepad): axes from −1 to 1, up negative; buttons from 0 to 1. */
export interface Pad {
  readonly mapping: string;
  readonly axes: readonly number[];
  readonly buttons: readonly { readonly pressed: boolean; readonly value: number }[];
}

/** How it answers the hand: slow is the useful speed, so most of the way is slow. */
type Answer = Pick<Stick, 'deadZone' | 'curve'> & {
  /** Full speed as a share of the head's, 0 to 1. */
  readonly full: number;
};
const USUAL: Answer = { ...STICK, full: 1 };

/** Full speed by the value of the show that says so. @param value what it holds; anything but a number: all of it */
export const fullOf = (value: unknown): number => (typeof value === 'number' ? Math.min(1, Math.max(0, value)) : 1);

/** Deflection behind the dead zone, 0 at its edge and full at the end, along the curve. */
export function shaped(raw: number, { deadZone, curve, full }: Answer = USUAL): number {
  const size = Math.min(1, Math.abs(raw));
  return size <= deadZone ? 0 : Math.sign(raw) * full * ((size - deadZone) / (1 - deadZone)) ** curve;
}

/** Left and right shoulder of the standard mapping. */
const SHOULDERS = [6, 7] as const;
/** Axis that a joystick twists. */
const TWIST = 2;

/** A stick's first two axes, and twist or the shoulders for zoom. Rounded to hundredths, so that a hand that trembles sends nothing. */
export function deflectionOf(pad: Pad, answer: Answer = USUAL): Deflection {
  const hundredth = (value: number): number => Math.round(value * 100) / 100 || 0;
  const [left, right] = SHOULDERS.map((index) => pad.buttons[index]?.value ?? 0);
  const zoom = pad.mapping === 'standard' ? (right ?? 0) - (left ?? 0) : (pad.axes[TWIST] ?? 0);
  return {
    x: hundredth(shaped(pad.axes[0] ?? 0, answer)),
    y: hundredth(-shaped(pad.axes[1] ?? 0, answer)),
    zoom: hundredth(shaped(zoom, answer)),
  };
}

/** Number of the button that is held to choose a camera, counted from 0; null when none of the first `cameras` is. */
export function chosenBy(pad: Pad, cameras: number): number | null {
  const index = pad.buttons.findIndex((button, at) => at < cameras && at < SHOULDERS[0] && button.pressed);
  return index < 0 ? null : index;
}

export const rests = ({ x, y, zoom }: Deflection): boolean => x === 0 && y === 0 && zoom === 0;
