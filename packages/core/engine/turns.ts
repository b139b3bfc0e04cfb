import type { ReadKey } from '../expression/index';
import type { Button } from '../show/index';
import type { Clock } from './clock';
import { additionOf } from './heldPress';
import type { Journal } from './journal';
import type { PressInput } from './pressInput';
import type { Program } from './program';
import type { StateBoard } from './stateBoard';
import { asNext, nextSet, sentKey } from './truth';

/** First presses that are kept; their second ones come within seconds. */
const MOST_FIRST = 1000;

/** Which steps of a button a press means: those whose turn it is, or those of its second press. */
export class Turns {
  /** When a button with a second press of its own was pressed, by station and button. */
  private readonly firstPress = new Map<string, number>();

  constructor(
    private readonly deps: { readonly clock: Clock; readonly board: StateBoard; readonly journal: Journal },
  ) {}

  /** The button as this press does it. */
  meant(button: Button, input: PressInput, program: Program, read: ReadKey): Button {
    if (input.only !== undefined || input.direct || button.mode !== 'press') return button;
    const again = button.guard === 'none' ? additionOf(button, 'again') : undefined;
    if (again !== undefined) {
      const key = `${input.station}/${button.id}`;
      const now = this.deps.clock.now();
      const first = this.firstPress.get(key);
      if (first !== undefined && now - first <= again.ms) {
        this.firstPress.delete(key);
        const legend = `${button.legend} · second press`.slice(0, 120);
        return { ...button, legend, steps: again.steps, additions: [] };
      }
      if (this.firstPress.size > MOST_FIRST) this.firstPress.clear();
      this.firstPress.set(key, now);
    }
    if (button.sets.length === 0) return button;
    return asNext(button, nextSet(button, program, read));
  }

  /** Where the devices tell nothing of it, it is kept which set was sent. */
  keepSent(button: Button, done: Button, program: Program, read: ReadKey): void {
    if (!nextSet(button, program, read).asSent) return;
    const index = button.sets.findIndex(({ steps }) => steps === done.steps) + 1;
    const key = sentKey(button.id);
    this.deps.board.set(key, index);
    this.deps.journal.append({ kind: 'set', t: this.deps.clock.now(), key, value: index });
  }
}
