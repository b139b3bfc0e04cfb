import type { Clock } from '@umbek/core/engine';
import type { PlainValue } from '@umbek/core/show';
import type { QueuedCommand } from './commandQueue';

/** A command that nobody answered may still be under way, and be taken, for so long after it was given up. */
const ON_ITS_WAY_MS = 1000;

/** Waits for the first question that is asked when `notBefore` is over; `from` is that question's number. */
interface Waiting {
  notBefore: number;
  from: number;
}

/**
 * What a command made unknown, until the device itself has vouched for it again: only what it said in answer to a question that was asked after
 * the command's end counts. Nothing comes back from a copy, and no order between two messages is taken for granted. A command without an answer
 * has ended only when no copy of it can be on its way any more.
 */
export class Doubts {
  /** By point, with the number of commands under way that made it unknown. */
  private readonly points = new Map<string, Waiting & { open: number }>();
  /** Commands of unknown effect: they are settled by what is read back. */
  private unsettled: (Waiting & { readonly entry: QueuedCommand })[] = [];
  private questions = 0;

  constructor(private readonly clock: Clock) {}

  /**
   * A command that makes these unknown is asked for. They are in doubt from now on, not from when it goes out: what the device says while it waits
   * for its turn is of the time before.
   * @returns the command as it is to be queued: its outcome is heard here first
   */
  asked(command: QueuedCommand, points: readonly string[]): QueuedCommand {
    this.begin(points);
    const entry: QueuedCommand = {
      ...command,
      tell: (event) => {
        if (event.type === 'outcome' && (event.outcome === 'late' || event.outcome === 'lost'))
          this.givenUp(entry, points);
        else if (event.type === 'outcome') this.over(points);
        command.tell(event);
      },
    };
    return entry;
  }

  private begin(points: readonly string[]): void {
    for (const point of points) {
      const doubt = this.points.get(point);
      if (doubt) Object.assign(doubt, { open: doubt.open + 1, from: Infinity });
      else this.points.set(point, { open: 1, notBefore: 0, from: Infinity });
    }
  }

  /** A command was answered: from here on it may be asked. */
  private over(points: readonly string[], notBefore = this.clock.now()): void {
    for (const point of points) {
      const doubt = this.points.get(point);
      if (doubt === undefined) continue;
      doubt.open = Math.max(0, doubt.open - 1);
      doubt.notBefore = Math.max(doubt.notBefore, notBefore);
      doubt.from = Infinity;
    }
  }

  /** A command was given up without an answer. */
  private givenUp(entry: QueuedCommand, points: readonly string[]): void {
    const notBefore = this.clock.now() + ON_ITS_WAY_MS;
    this.over(points, notBefore);
    this.unsettled.push({ entry, notBefore, from: Infinity });
  }

  /** A question for everything goes out. @returns its number */
  ask(): number {
    this.questions += 1;
    for (const waiting of this.ready()) if (waiting.from === Infinity) waiting.from = this.questions;
    return this.questions;
  }

  /** Whether something can be vouched for once it is asked. */
  get wantsAnswer(): boolean {
    return this.ready().length > 0;
  }

  /** Whether that question is too old for something that waits. */
  needsNewer(question: number): boolean {
    return this.ready().some(({ from }) => from > question);
  }

  holds(point: string): boolean {
    return this.points.has(point);
  }

  /** An answer to a question came. What it vouches for is no longer in doubt, and commands that it settles are told. @param read what the device told */
  answered(question: number, read: ReadonlyMap<string, PlainValue>): void {
    for (const [point, { from }] of this.points) if (from <= question) this.points.delete(point);
    const settled = this.unsettled.filter(({ from }) => from <= question);
    if (settled.length === 0) return;
    this.unsettled = this.unsettled.filter(({ from }) => from > question);
    const words = `Read back: ${[...read]
      .slice(0, 6)
      .map(([point, value]) => `${point} ${String(value)}`)
      .join(', ')}`;
    for (const { entry } of settled) entry.tell({ type: 'settled', words });
  }

  private ready(): Waiting[] {
    if (this.points.size === 0 && this.unsettled.length === 0) return [];
    const now = this.clock.now();
    return [...[...this.points.values()].filter(({ open }) => open === 0), ...this.unsettled].filter(
      ({ notBefore }) => now >= notBefore,
    );
  }
}

/** What is told of a command that nobody answered. @param alive the device was heard meanwhile */
export const unanswered = (alive: boolean) =>
  ({
    type: 'outcome',
    outcome: alive ? 'late' : 'lost',
    why: alive
      ? 'The device is alive but did not answer; its effect is unknown.'
      : 'Nothing was heard; its effect is unknown.',
  }) as const;
