import type { ReadKey } from '../expression/index';
import type { AppError, Button } from '../show/index';
import type { Clock } from './clock';
import { airTouches, type Sure } from './onAir';
import type { PressInput } from './pressInput';
import type { Program } from './program';

/** A second touch must come within this many milliseconds of the first, and not sooner than a trembling finger. */
export const SECOND_TOUCH_MS = 3000;
const TREMBLE_MS = 120;
/** First touches that are kept; their second ones come within seconds. */
const MOST_TOUCHED = 1000;
const NOBODY_ASKED: { readonly sure: Sure } = { sure: null };

/** First touches of what is guarded, or would be seen, that wait for their second one. */
export class SecondTouches {
  /** By station and button: when, and what was told. */
  private readonly touched = new Map<string, { readonly at: number; readonly warned: ReadonlySet<string> }>();

  constructor(private readonly clock: Clock) {}

  /** @returns why this press needs a second touch, when it does and the second touch has not come; otherwise what the hand has allowed */
  ask(button: Button, input: PressInput, program: Program, read: ReadKey): AppError | { sure: Sure } {
    const mayMove = input.direct !== undefined || input.takeBack !== undefined || program.mayMove(input.buttonId);
    const touches = mayMove ? airTouches(button.steps, program, read) : [];
    if (button.guard === 'none' && touches.length === 0) return NOBODY_ASKED;
    const key = `${input.station}/${button.id}`;
    const now = this.clock.now();
    const first = this.touched.get(key);
    this.touched.delete(key);
    const since = first === undefined ? Infinity : now - first.at;
    const warned = first?.warned ?? new Set<string>();
    // A second touch allows what the first one was told, and no more.
    if (since >= TREMBLE_MS && since <= SECOND_TOUCH_MS && touches.every(({ what }) => warned.has(what)))
      return { sure: new Set(warned) };
    if (this.touched.size > MOST_TOUCHED) this.touched.clear();
    this.touched.set(key, {
      at: since < TREMBLE_MS ? now - since : now,
      warned: new Set([...(since < TREMBLE_MS ? warned : []), ...touches.map(({ what }) => what)]),
    });
    const message = touches.length === 0 ? `${button.legend} is guarded.` : touches.map(({ words }) => words).join(' ');
    return {
      code: 'second-touch',
      message,
      mend: 'Touch again within 3 s.',
      short: touches.length === 0 ? 'guarded: touch again' : 'on air: touch again',
    };
  }
}
