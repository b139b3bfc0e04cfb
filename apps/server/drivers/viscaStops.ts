import type { Cancel, Clock } from '@umbek/core/engine';
import { encodeCommand, encodePacket } from '@umbek/wire/visca';
import { STOP_SCRIPT } from './viscaScripts';

/** A drive that a stop overtook may be under way for so long and land behind it. */
const UNDER_WAY_MS = 1200;
const AGAIN_MS = 100;

/** What ends any move of a head, for a sender that has spoken to it never before. */
export function stopDatagrams(from = 0): readonly Uint8Array[] {
  return STOP_SCRIPT.map((message, index) =>
    encodePacket({ type: 'command', sequence: from + index + 1, payload: encodeCommand(message) }),
  );
}

/**
 * Sees to it that a drive ends: when a stop overtook it on the wire, the stop is said again until the drive cannot be under way any more; when
 * it has a stated length, a stop is due at its end.
 */
export class StopKeeper {
  private readonly overtaken = new Set<number>();
  private until = -Infinity;
  private cancelAgain: Cancel = () => undefined;
  /** Ends of moves that stated a length, by the command that began them. */
  private readonly lengths = new Map<object, Cancel>();
  private held = false;

  constructor(
    private readonly clock: Clock,
    private readonly say: {
      /** Puts the stop on the wire under new numbers, waiting for nothing. */
      again(): void;
      /** A stop that is seen through to its acknowledgement. */
      stop(): void;
    },
  ) {}

  /** A stop goes out before this message was acknowledged. */
  overtook(sequence: number): void {
    this.overtaken.add(sequence);
    this.until = this.clock.now() + UNDER_WAY_MS;
    this.cancelAgain();
    this.repeat();
  }

  /** The head tells that it has taken a message. @returns true when that one should have been behind its stop: it is stopped again at once */
  taken(sequence: number): boolean {
    if (!this.overtaken.delete(sequence)) return false;
    this.say.again();
    return true;
  }

  /** A new move is on its way: stops that are said again would end it. Whether the head takes it is not known yet. */
  hold(): void {
    this.held = true;
  }

  /** The head has taken a move: what was owed for those before it is over. @param besides it leaves axes as they were, which go on to the end of their length */
  moveBegan(entry: object, besides = false): void {
    this.held = false;
    this.cancelAgain();
    this.until = -Infinity;
    this.overtaken.clear();
    if (besides) return;
    for (const [other, cancel] of this.lengths) {
      if (other === entry) continue;
      cancel();
      this.lengths.delete(other);
    }
  }

  /** It did not take it: what was owed is owed still. */
  moveFailed(entry: object): void {
    this.held = false;
    this.lengths.get(entry)?.();
    this.lengths.delete(entry);
  }

  /** @param entry the command that begins the move @param ms its stated length */
  lasts(entry: object, ms: number): void {
    const end = (): void => {
      // A newer move is just on its way: the head takes it within a moment, or does not.
      if (this.held) return void this.lengths.set(entry, this.clock.at(this.clock.now() + AGAIN_MS, end));
      this.lengths.delete(entry);
      this.say.stop();
    };
    this.lengths.set(entry, this.clock.at(this.clock.now() + ms, end));
  }

  close(): void {
    this.held = false;
    this.cancelAgain();
    for (const cancel of this.lengths.values()) cancel();
    this.lengths.clear();
  }

  private repeat(): void {
    this.cancelAgain = this.clock.at(this.clock.now() + AGAIN_MS, () => {
      if (this.clock.now() > this.until) return this.overtaken.clear();
      if (!this.held) this.say.again();
      this.repeat();
    });
  }
}
