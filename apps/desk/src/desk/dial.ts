import { onScale, valueText } from '@umbek/core/shortcut';
import type { Dial } from '@umbek/core/show';

export { onScale, valueText };

/** Where a drag has turned a value to: from where it was taken, so that nothing jumps under the finger. @param px along the track, right positive @param width of the track */
export const dragged = (start: number, px: number, width: number, dial: Pick<Dial, 'min' | 'max' | 'step'>): number =>
  onScale(start + (px / Math.max(1, width)) * (dial.max - dial.min), dial);

/** How far along its track a value stands, 0 to 1. */
export const placeOf = (value: number, { min, max }: Pick<Dial, 'min' | 'max'>): number =>
  max === min ? 0 : Math.min(1, Math.max(0, (value - min) / (max - min)));

/** What a key turns a value to; null for keys that are none of its. */
export function keyed(key: string, value: number, dial: Pick<Dial, 'min' | 'max' | 'step'>): number | null {
  switch (key) {
    case 'ArrowRight':
    case 'ArrowUp':
      return onScale(value + dial.step, dial);
    case 'ArrowLeft':
    case 'ArrowDown':
      return onScale(value - dial.step, dial);
    case 'PageUp':
      return onScale(value + 10 * dial.step, dial);
    case 'PageDown':
      return onScale(value - 10 * dial.step, dial);
    case 'Home':
      return dial.min;
    case 'End':
      return dial.max;
    default:
      return null;
  }
}
