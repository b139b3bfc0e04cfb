import type { DeviceCommand } from '@umbek/core/devices';
import type { Cancel, Clock, CommandEvent } from '@umbek/core/engine';

/** A command that is not on the wire within this time is not sent at all. */
export const QUEUE_LIMIT_MS = 500;
export const RESEND_MS = 50;
/** After so long without an answer a command is late (the device is alive) or lost (it is not). */
export const ANSWER_LIMIT_MS = 1000;

export interface QueuedCommand {
  readonly id: string;
  readonly command: DeviceCommand;
  readonly lane: 'stop' | 'nudge' | 'plain';
  readonly tell: (event: CommandEvent) => void;
}

interface Waiting extends QueuedCommand {
  cancelLimit: Cancel;
}

const NOT_SENT = 'refused';

/** Commands of one device in order: stops go ahead of everything, a newer nudge replaces one not yet sent, nothing waits long. */
export class CommandQueue {
  private waiting: Waiting[] = [];

  constructor(private readonly clock: Clock) {}

  get size(): number {
    return this.waiting.length;
  }

  /** @returns what takes it back while it has not been sent */
  add(command: QueuedCommand): Cancel {
    const entry: Waiting = { ...command, cancelLimit: () => undefined };
    if (command.lane === 'nudge') this.drop((other) => other.lane === 'nudge', 'A newer nudge took its place.');
    if (command.lane === 'stop') {
      this.drop(({ lane }) => lane !== 'stop', 'A stop went ahead of it.');
      this.waiting.push(entry);
    } else this.waiting.push(entry);
    // A stop is never too old: whatever it has to end still moves.
    if (command.lane !== 'stop')
      entry.cancelLimit = this.clock.at(this.clock.now() + QUEUE_LIMIT_MS, () =>
        this.drop((other) => other === entry, `It was not sent within ${QUEUE_LIMIT_MS} ms: the device was busy.`),
      );
    return () => this.drop((other) => other === entry, 'Cancelled before it was sent.');
  }

  next(): QueuedCommand | undefined {
    const entry = this.waiting.shift();
    entry?.cancelLimit();
    return entry;
  }

  /** Ends everything that waits; nothing is kept to burst out later. */
  fail(why: string): void {
    this.drop(() => true, why);
  }

  private drop(which: (entry: Waiting) => boolean, why: string): void {
    const dropped = this.waiting.filter(which);
    this.waiting = this.waiting.filter((entry) => !dropped.includes(entry));
    for (const entry of dropped) {
      entry.cancelLimit();
      // Never from inside send: the caller has not finished with this command yet.
      this.clock.at(this.clock.now(), () => entry.tell({ type: 'outcome', outcome: NOT_SENT, why }));
    }
  }
}
