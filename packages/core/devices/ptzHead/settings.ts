import { z } from 'zod';
import { viewAngleOf } from '../../picture/index';
import { USUAL } from '../drawn';
import type { AxisLimits } from './motion';

/** Longest zoom motor code of VISCA heads (tele end). */
export const ZOOM_CODE_MAX = 0x4000;

const Speed = z.number().positive().max(1000);
const MemoryPlace = z.strictObject({
  pan: z.number(),
  tilt: z.number(),
  zoom: z.number().min(1),
  focus: z.number().min(0).max(100).optional(),
  iris: z.number().int().min(0).max(20).optional(),
});

/** What is declared of a head: limits of each axis, its delays and the memories it is known to hold. */
export const PtzSettings = z.strictObject({
  /** Degrees a second at the fastest speed step. */
  panSpeed: Speed.default(80),
  tiltSpeed: Speed.default(60),
  /** Degrees a second squared. */
  panAcceleration: Speed.default(120),
  tiltAcceleration: Speed.default(100),
  /** Motor codes a second, and a second squared. */
  zoomSpeed: z.number().positive().max(100_000).default(6500),
  zoomAcceleration: z.number().positive().max(100_000).default(16_000),
  /** Longest zoom ratio of the lens. */
  zoomRatio: z.number().min(1).max(60).default(20),
  /** Horizontal angle of view at the wide end, degrees. */
  wideAngle: z.number().min(10).max(120).default(USUAL.ptzHead.wideAngle),
  /** From the datagram to the acknowledgement, milliseconds. */
  replyDelayMs: z.number().min(0).max(1000).default(8),
  /** Counts of the position inquiry for one degree (0.075° a count). */
  countsPerDegree: z
    .number()
    .positive()
    .default(1 / 0.075),
  /** Speed of a nudge at full deflection, widths of the picture a second: slow stays slow when zoomed in. */
  nudgeSpeed: z.number().min(0.01).max(2).default(0.15),
  /** A move while this camera is on air: goes at once, asks for a second touch, or is made slowly. */
  onAirMoves: z.enum(['allow', 'secondTouch', 'slow']).default('secondTouch'),
  /** About how long a slow move on air takes, seconds. */
  onAirSeconds: z.number().min(0.5).max(60).default(4),
  /** Its own tally lamp follows what is on air, or is switched by hand and by macros alone. */
  tallyLamp: z.enum(['byHand', 'onAir']).default('byHand'),
  /** Compass direction of pan 0, degrees, in the drawn picture of the place. */
  heading: z.number().min(-180).max(180).default(USUAL.ptzHead.heading),
  /** Memories of the head: number → place. */
  memories: z.record(z.string().regex(/^\d{1,3}$/), MemoryPlace).default({}),
});
export type PtzSettings = z.infer<typeof PtzSettings>;

export type AxisName = 'pan' | 'tilt' | 'zoom';

/** Limits of the three axes; zoom counts motor codes. */
export function limitsOf(settings: PtzSettings): Record<AxisName, AxisLimits> {
  return {
    pan: { min: -170, max: 170, speed: settings.panSpeed, acceleration: settings.panAcceleration },
    tilt: { min: -30, max: 90, speed: settings.tiltSpeed, acceleration: settings.tiltAcceleration },
    zoom: { min: 0, max: ZOOM_CODE_MAX, speed: settings.zoomSpeed, acceleration: settings.zoomAcceleration },
  };
}

/** Zoom motor code p to ratio: z = Z^(p/0x4000), Z the lens's longest ratio. */
export const zoomRatioOf = (code: number, settings: PtzSettings): number =>
  settings.zoomRatio ** (code / ZOOM_CODE_MAX);

/** Ratio to motor code, the inverse of {@link zoomRatioOf}, rounded to a whole code. */
export const zoomCodeOf = (ratio: number, settings: PtzSettings): number =>
  settings.zoomRatio === 1 ? 0 : Math.round((Math.log(ratio) / Math.log(settings.zoomRatio)) * ZOOM_CODE_MAX);

/** Steps of a head's speed table: pan 1–24, tilt 1–20 (VISCA drive bytes 01–18 and 01–14 hex), zoom 0–7. */
export const SPEED_STEPS = { pan: 24, tilt: 20, zoom: 8 } as const;

/**
 * The nearest step for a wanted speed, never zero: slow stays slow instead of standing still.
 * @param speed units a second, without sign
 */
export function speedStepOf(axis: AxisName, speed: number, settings: PtzSettings): number {
  const top = limitsOf(settings)[axis].speed;
  return Math.min(SPEED_STEPS[axis], Math.max(1, Math.round((speed / top) * SPEED_STEPS[axis])));
}

/** The speed of a step, units a second. */
export const stepSpeedOf = (axis: AxisName, step: number, settings: PtzSettings): number =>
  (limitsOf(settings)[axis].speed * step) / SPEED_STEPS[axis];

/** VISCA focus codes: 0x1000 at the far end, 0xF000 at the near end. Ours counts 0 (far) to 100 (near). */
export const focusCodeOf = (focus: number): number => Math.round(0x1000 + (focus / 100) * 0xe000);
export const focusOfCode = (code: number): number =>
  Math.min(100, Math.max(0, Math.round(((code - 0x1000) / 0xe000) * 1000) / 10));

/**
 * What a nudge comes to: picture-relative pan and tilt in degrees a second (deflection × widths a second × angle of view), and zoom in
 * motor codes a second, so that a full deflection doubles or halves the picture in about 1/(4·speed) seconds.
 */
export function nudgeDrive(
  x: number,
  y: number,
  zoomIn: number,
  zoom: number,
  settings: PtzSettings,
): { pan: number; tilt: number; zoom: number } {
  const widths = settings.nudgeSpeed * viewAngleOf(zoom, settings);
  const codesADoubling = (Math.LN2 / Math.log(Math.max(1.001, settings.zoomRatio))) * ZOOM_CODE_MAX;
  return { pan: x * widths, tilt: y * widths, zoom: zoomIn * 4 * settings.nudgeSpeed * codesADoubling };
}
