/** Pictures a second that are told as 23.98, 29.97, 47.95, 59.94 and 119.88 are so many times 1000/1001 (SMPTE ST 170 and what followed it). */
const WHOLE = [24, 30, 48, 60, 120];
/** A rate told with two decimals is within this of the one that is meant. */
const TOLD = 0.006;

/**
 * How long one frame is, milliseconds: of 29.97 exactly 1001/30, so that an hour counted in frames is an hour.
 * @param rate frames a second, 1..120
 */
export function frameMs(rate: number): number {
  const whole = WHOLE.find((candidate) => Math.abs(rate - (candidate * 1000) / 1001) < TOLD);
  return whole === undefined ? 1000 / rate : 1001 / whole;
}

/** Frame rates that a show can be counted in, as they are told. */
export const FRAME_RATES: readonly number[] = [23.98, 24, 25, 29.97, 30, 50, 59.94, 60];
