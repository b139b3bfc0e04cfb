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
  private cancelLength: Cancel = () => undefined;

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

  /** A new move begins, and stops would end it; a length that was stated for the move before is over. */
  moveBegins(): void {
    this.cancelAgain();
    this.until = -Infinity;
    this.overtaken.clear();
    this.cancelLength();
  }

  /** @param ms stated length of the move that begins now */
  lasts(ms: number): void {
    this.cancelLength = this.clock.at(this.clock.now() + ms, () => this.say.stop());
  }

  close(): void {
    this.cancelAgain();
    this.cancelLength();
  }

  private repeat(): void {
    this.cancelAgain = this.clock.at(this.clock.now() + AGAIN_MS, () => {
      if (this.clock.now() > this.until) return this.overtaken.clear();
      this.say.again();
      this.repeat();
    });
  }
}
