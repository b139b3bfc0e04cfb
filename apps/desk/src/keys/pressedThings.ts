import type { ShortcutOn } from '@umbek/core/show';

/** More presses a second than hands make: a device that babbles. What comes beyond is not pressed. */
export const MOST_A_SECOND = 30;

/** Keys, notes, pedals and stick buttons that are down, each with the press that it makes. Each is pressed once until it is let go, however often its device says so. */
export class PressedThings {
  private readonly held = new Map<string, string>();
  /** When the last presses came. */
  private times: number[] = [];

  constructor(
    /** @returns the press that it makes; null where no shortcut has it */
    private readonly press: (on: ShortcutOn) => string | null,
    private readonly release: (pressId: string) => void,
    private readonly now: () => number = () => performance.now(),
  ) {}

  isDown(name: string): boolean {
    return this.held.has(name);
  }

  /** @param name of the thing, with its device in front @returns whether it presses something */
  down(name: string, on: ShortcutOn): boolean {
    if (this.held.has(name)) return true;
    const now = this.now();
    this.times = this.times.filter((at) => at > now - 1000);
    if (this.times.length >= MOST_A_SECOND) return false;
    const pressId = this.press(on);
    if (pressId === null) return false;
    this.times.push(now);
    this.held.set(name, pressId);
    return true;
  }

  /** @returns whether it pressed something */
  up(name: string): boolean {
    const pressId = this.held.get(name);
    if (pressId === undefined) return false;
    this.held.delete(name);
    this.release(pressId);
    return true;
  }

  /** A device is gone, or all of them: what it held is let go, once. @param device how the names of its things begin */
  letGo(device: string): void {
    for (const name of [...this.held.keys()]) if (name.startsWith(device)) this.up(name);
  }
}
