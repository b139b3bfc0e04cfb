import type { Cancel, Clock } from '@umbek/core/engine';
import { VirtualClock } from '@umbek/core/rehearse';

/** Lets everything run that promises have to do at this moment. */
export const drained = (): Promise<void> => new Promise((done) => void setImmediate(done));

/** Virtual time for a whole system: between two instants every promise that can go on has gone on. */
export class SimClock extends VirtualClock {
  /** Runs everything due up to a time. @param after called after every instant */
  async goTo(end: number, after: () => void): Promise<void> {
    for (let due = this.dueAt(); due !== null && due <= end; due = this.dueAt()) {
      this.runTo(due);
      await drained();
      after();
    }
    this.runTo(end);
  }

  /** Resolves after so many virtual milliseconds, and never otherwise. */
  pause(ms: number): Promise<void> {
    return new Promise((done) => void this.at(this.now() + ms, done));
  }
}

/**
 * One process of the simulated machine. Killed, nothing of it ever happens again; hung, everything waits until it comes back to itself.
 * Whatever reaches it from outside comes through `reach`.
 */
export class SimProcess {
  alive = true;
  private hung = false;
  private waiting: (() => void)[] = [];
  readonly clock: Clock;

  constructor(
    private readonly sim: SimClock,
    private readonly onError: (error: unknown) => void,
  ) {
    this.clock = {
      now: () => sim.now(),
      wall: () => sim.wall(),
      at: (due, run) => {
        let cancelled = false;
        const cancel = sim.at(due, () => this.reach(() => !cancelled && run()));
        return (): void => {
          cancelled = true;
          cancel();
        };
      },
    };
  }

  /** Something that happens to this process. */
  reach(work: () => void): void {
    if (!this.alive) return;
    if (this.hung) return void this.waiting.push(work);
    try {
      work();
    } catch (error) {
      this.onError(error);
    }
  }

  readonly later = (work: () => void): void => void this.clock.at(this.sim.now(), work);

  /** A promise that a dead process never sees settled. */
  async own<T>(promise: Promise<T>): Promise<T> {
    const settle = await promise.then(
      (value) => () => value,
      (error: unknown) => () => {
        throw error;
      },
    );
    if (!this.alive) return new Promise<T>(() => undefined);
    return settle();
  }

  kill(): void {
    this.alive = false;
    this.waiting = [];
  }

  hang(): void {
    this.hung = true;
  }

  comeBack(): void {
    this.hung = false;
    for (const work of this.waiting.splice(0)) this.reach(work);
  }
}

export type { Cancel };
