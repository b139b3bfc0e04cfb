import { type Cancel, type Clock, DueQueue } from '../engine/index';

/** Time that goes only when it is told to: the same show gives the same timeline every time. */
export class VirtualClock implements Clock {
  private readonly queue = new DueQueue();

  constructor(
    private time = 0,
    private readonly wallStart = new Date(0),
  ) {}

  now(): number {
    return this.time;
  }

  wall(): Date {
    return new Date(this.wallStart.getTime() + this.time);
  }

  at(dueMs: number, run: () => void): Cancel {
    const due = this.queue.add(Math.max(dueMs, this.time), run);
    return () => {
      due.run = null;
    };
  }

  /** When the next call is due; null when nothing is scheduled. */
  dueAt(): number | null {
    return this.queue.first()?.at ?? null;
  }

  /** Runs everything due up to and including a time, then stands there. @returns how many calls ran */
  runTo(end: number): number {
    let ran = 0;
    for (let first = this.queue.first(); first !== undefined && first.at <= end; first = this.queue.first()) {
      this.runNext();
      ran += 1;
    }
    this.time = Math.max(this.time, end);
    return ran;
  }

  /** Runs the next call, whenever it is due. @returns false when nothing is scheduled */
  runNext(): boolean {
    const due = this.queue.next();
    if (due === undefined) return false;
    this.time = due.at;
    due.run?.();
    return true;
  }
}
