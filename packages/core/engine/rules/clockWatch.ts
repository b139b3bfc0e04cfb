import type { Trigger } from '../../show/index';
import type { Cancel, Clock } from '../clock';
import { isTimeZone, nextInstant } from './timeOfDay';

/** The time of day is asked for so often, milliseconds: clocks of machines are set. */
const LOOK_AT_CLOCK_MS = 60_000;

export interface ClockWatchDependencies {
  readonly clock: Clock;
  /** The show's time zone, by its name in the IANA time zone database. */
  readonly zone: () => string;
  /** A rule is due next at this time, milliseconds since 1970. */
  readonly due: (trigger: string, at: number) => void;
  /** The time of a rule has come. @param late milliseconds */
  readonly struck: (trigger: Trigger, late: number) => void;
  /** Why nothing can be waited for, in words. */
  readonly cannot: (trigger: string, words: string) => void;
}

/** Waits for the times of day that rules go by: each once, also in the hour that comes twice, and when the machine's clock is set meanwhile. */
export class ClockWatch {
  private readonly timers = new Map<string, Cancel>();

  constructor(private readonly deps: ClockWatchDependencies) {}

  /** @param from milliseconds since 1970: the first time behind it is waited for */
  watch(trigger: Trigger, from: number): void {
    const { clock } = this.deps;
    const { id, on } = trigger;
    if (on.kind !== 'time') return;
    const zone = this.deps.zone();
    if (!isTimeZone(zone)) return this.deps.cannot(id, `There is no time zone ${zone}. Rig, Show sets it.`);
    const due = nextInstant(from, on.at, on.date, zone);
    if (due === null) return;
    this.deps.due(id, due);
    const wait = due - clock.wall().getTime();
    const look = (): void => {
      const wall = clock.wall().getTime();
      if (wall < due) return this.watch(trigger, Math.max(from, Math.min(wall, due - 1)));
      // A clock that is set back does not bring the same time once more.
      this.watch(trigger, due);
      this.deps.struck(trigger, wall - due);
    };
    this.timers.set(id, clock.at(clock.now() + Math.min(Math.max(0, wait), LOOK_AT_CLOCK_MS), look));
  }

  end(trigger: string): void {
    this.timers.get(trigger)?.();
    this.timers.delete(trigger);
  }
}
