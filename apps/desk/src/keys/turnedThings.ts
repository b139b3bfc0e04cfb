import { Endless, leverAt, PickUp, type Turned, valueText } from '@umbek/core/shortcut';
import type { Button, Dial, Shortcut, ShortcutOn } from '@umbek/core/show';

/** A knob that was not turned for so long is let go, milliseconds. */
const REST_MS = 400;

interface Held {
  to(value: number): void;
  end(): void;
}

interface Knob {
  readonly of: PickUp | Endless;
  readonly button: string;
  held: Held | null;
  rest: ReturnType<typeof setTimeout> | undefined;
  /** What was told of it last. */
  outcome: string;
}

/** What a controller or lever turns, and what its device says of it. */
export interface TurnedBy {
  readonly shortcut: Shortcut;
  readonly button: Button & { readonly dial: Dial };
}

/** MIDI controllers and levers that turn values, each held while it is turned. */
export class TurnedThings {
  private readonly knobs = new Map<string, Knob>();

  constructor(
    private readonly deps: {
      /** Null: nothing is turned by it. */
      readonly find: (on: ShortcutOn) => TurnedBy | null;
      /** What the device says; undefined: not known. */
      readonly value: (buttonId: string) => number | undefined;
      readonly hold: (buttonId: string, shortcut: string) => Held;
      /** @param words what stands in the way; empty: it turns */
      readonly tell: (on: ShortcutOn, buttonId: string, words: string) => void;
      readonly now: () => number;
    },
  ) {}

  /**
   * @param name of the knob, with its device in front
   * @param reading where it stands: 0 to 127 of a controller, −1 to 1 of a lever
   * @returns whether it turns a value
   */
  moved(name: string, on: ShortcutOn, reading: number): boolean {
    const found = this.deps.find(on);
    if (found === null) return false;
    const { shortcut, button } = found;
    const knob = this.knob(name, shortcut.on, button.id);
    const turned = this.turn(knob, shortcut.on, reading, this.deps.value(button.id), button.dial);
    if ('to' in turned) {
      knob.held ??= this.deps.hold(button.id, shortcut.id);
      knob.held.to(turned.to);
    }
    const words =
      'to' in turned
        ? ''
        : 'meet' in turned
          ? `turn it ${turned.way}, to ${valueText(turned.meet, button.dial)}`
          : 'its value is not known yet';
    if (knob.outcome !== words) this.deps.tell(on, button.id, (knob.outcome = words));
    clearTimeout(knob.rest);
    knob.rest = setTimeout(() => this.rested(knob), REST_MS);
    return true;
  }

  /** A device is gone, or all of them: what it turned is let go. @param device how the names of its knobs begin */
  letGo(device: string): void {
    for (const [name, knob] of this.knobs)
      if (name.startsWith(device)) {
        clearTimeout(knob.rest);
        this.rested(knob);
        // Wherever it stands when it is back, it turns nothing before it has met the value again.
        this.knobs.delete(name);
      }
  }

  private rested(knob: Knob): void {
    knob.held?.end();
    knob.held = null;
    knob.outcome = 'rests';
  }

  private knob(name: string, on: ShortcutOn, button: string): Knob {
    const before = this.knobs.get(name);
    const endless = on.kind === 'midi' && on.endless === true;
    if (before !== undefined && before.button === button && before.of instanceof Endless === endless) return before;
    before?.held?.end();
    clearTimeout(before?.rest);
    const knob: Knob = {
      of: endless ? new Endless() : new PickUp(),
      button,
      held: null,
      rest: undefined,
      outcome: 'rests',
    };
    this.knobs.set(name, knob);
    return knob;
  }

  private turn({ of }: Knob, on: ShortcutOn, reading: number, value: number | undefined, dial: Dial): Turned {
    const now = this.deps.now();
    if (of instanceof Endless) return of.moved(reading, value, dial, now);
    const at = on.kind === 'axis' ? leverAt(on.reversed === true ? -reading : reading) : reading / 127;
    return of.moved(at, value, dial, now);
  }
}
