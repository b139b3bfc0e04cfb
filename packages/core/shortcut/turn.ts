/** Values that a controller, a lever or a knob turns: MIDI controllers and axes of a stick on values in the hand. */
import type { Dial } from '../show/entities';

type Scale = Pick<Dial, 'min' | 'max' | 'step'>;

/** Nothing was heard of a knob for so long, milliseconds: what it meets is asked anew. */
export const RESTED_MS = 1000;
/** A knob that stands this near to the value, as a share of its way, has picked it up: two of the 128 steps of a MIDI controller. */
const NEAR = 2 / 127;
/** A knob without ends tells how far it was turned: 1 to 63 up, 65 to 127 down (two's complement of seven bits). */
const HALF = 64;

/** A value as a dial can be turned to: within its limits, in its steps. */
export function onScale(value: number, { min, max, step }: Scale): number {
  const within = Math.min(max, Math.max(min, value));
  const stepped = min + Math.round((within - min) / step) * step;
  // Sums of tenths are no tenths: as many digits as the step has are kept.
  return Number(Math.min(max, stepped).toFixed(6));
}

/** A value as people read it: no more digits than its step has. */
export function valueText(value: number, { step, unit }: Pick<Dial, 'step' | 'unit'>): string {
  const digits = step >= 1 ? 0 : Math.min(3, Math.ceil(-Math.log10(step)));
  return `${value.toFixed(digits)}${unit === '' ? '' : ` ${unit}`}`;
}

/** What a knob does: turns the value to something, or first has to meet the value where it stands. */
export type Turned =
  { readonly to: number } | { readonly meet: number; readonly way: 'up' | 'down' } | { readonly unknown: true };

/**
 * A knob with ends stands anywhere: it turns its value only once it has met it, so that nothing jumps. Once met, it has the value until something
 * else changed it while the knob rested.
 */
export class PickUp {
  private last: number | null = null;
  private lastAt = -Infinity;
  /** What it turned the value to last; null: it has not met it. */
  private set: number | null = null;

  /**
   * @param at where the knob stands, 0 to 1
   * @param value what the device says; undefined: that is not known
   * @param now milliseconds
   */
  moved(at: number, value: number | undefined, scale: Scale, now: number): Turned {
    const before = this.last;
    const rested = now - this.lastAt >= RESTED_MS;
    this.last = at;
    this.lastAt = now;
    const place = (of: number): number => (scale.max === scale.min ? 0 : (of - scale.min) / (scale.max - scale.min));
    const near = Math.max(NEAR, place(scale.min + scale.step));
    if (rested && this.set !== null && value !== undefined && Math.abs(place(value) - place(this.set)) > near)
      this.set = null;
    if (this.set === null) {
      // What nobody knows cannot be met, and a jump in the dark is worse than a knob that does nothing.
      if (value === undefined) return { unknown: true };
      const to = place(value);
      const crossed = before !== null && (before - to) * (at - to) <= 0;
      if (!crossed && Math.abs(at - to) > near) return { meet: value, way: at < to ? 'up' : 'down' };
    }
    this.set = onScale(scale.min + at * (scale.max - scale.min), scale);
    return { to: this.set };
  }
}

/** A knob without ends turns its value on from where it stands. */
export class Endless {
  private set: number | null = null;
  private lastAt = -Infinity;

  /** @param reading what the controller said, 0 to 127: so many steps up, or down from 127 */
  moved(reading: number, value: number | undefined, scale: Scale, now: number): Turned {
    // The device's own word comes later than the hand: while it turns, it goes on from where it has turned to.
    const from = now - this.lastAt < RESTED_MS && this.set !== null ? this.set : value;
    this.lastAt = now;
    if (from === undefined) {
      this.set = null;
      return { unknown: true };
    }
    this.set = onScale(from + (reading < HALF ? reading : reading - 2 * HALF) * scale.step, scale);
    return { to: this.set };
  }
}

/** Where a lever of a stick stands, 0 to 1, of an axis from −1 to 1 whose far end is negative (W3C Gamepad). */
export const leverAt = (axis: number): number => Math.min(1, Math.max(0, (1 - axis) / 2));
