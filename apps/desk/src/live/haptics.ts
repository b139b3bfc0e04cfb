import { keptSwitch } from './kept';
import { media } from './media';

/** Whether a touch is felt: on, until somebody says otherwise. */
export const touchIsFelt = keptSwitch('umbek.touchIsFelt');

/** What the hand feels: one tick for a touch, two for one that was refused or has to come again. Milliseconds on and off. */
const PATTERNS = { touched: 12, refused: [30, 60, 30] };

/** Whether this device can be felt at all (W3C Vibration API); one that is pointed at with a mouse cannot. */
export const canBeFelt = (): boolean =>
  typeof navigator !== 'undefined' && typeof navigator.vibrate === 'function' && media('(pointer: coarse)');

/** In the dark a hand knows without looking that its touch was taken. */
export function feel(what: keyof typeof PATTERNS): void {
  if (canBeFelt() && touchIsFelt.isOn()) navigator.vibrate(PATTERNS[what]);
}
