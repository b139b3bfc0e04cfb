import type { Cancel, Clock } from '@umbek/core/engine';
import { encodeCommand, encodePacket, type HeadCommand } from '@umbek/wire/visca';
import { ANSWER_LIMIT_MS, type QueuedCommand, RESEND_MS } from './commandQueue';
import type { Landing } from './viscaGlide';

/** A command on its way: the message of its script that waits for an acknowledgement, and what it still waits for. */
export interface Flight {
  readonly entry: QueuedCommand;
  readonly script: readonly HeadCommand[];
  index: number;
  sequence: number;
  since: number;
  cancelResend: Cancel;
  /** Since when the head says that it has no room for it. */
  fullSince: number | null;
  /** A slow zoom that this script begins. */
  readonly landing: Landing | null;
}

/** No message of ours has this number. */
const NO_SEQUENCE = 0;

/**
 * The messages of one command after the other, each under a number of its own and sent again under it until the head has taken it. One command
 * at a time is on its way.
 */
export class ViscaFlights {
  private flight: Flight | null = null;
  private sequence = 0;

  constructor(
    private readonly wire: { readonly clock: Clock; transmit(packet: Uint8Array): void },
    private readonly listener: {
      /** A message goes out for the first time. */
      launched(flight: Flight): void;
      /** A message had to be sent again. */
      resent(): void;
      /** Nobody acknowledged it within `ANSWER_LIMIT_MS`. */
      gaveUp(flight: Flight): void;
    },
  ) {}

  get current(): Flight | null {
    return this.flight;
  }

  /** Number of the latest message. */
  get latest(): number {
    return this.sequence;
  }

  /** Numbers for messages that stand alone. @returns the first of them */
  nextSequence(count = 1): number {
    const first = this.sequence + 1;
    this.sequence += count;
    return first;
  }

  /** The head counts from the beginning again. */
  restart(): void {
    this.sequence = 0;
  }

  begin(entry: QueuedCommand, script: readonly HeadCommand[], landing: Landing | null): void {
    this.flight = {
      entry,
      script,
      index: 0,
      sequence: NO_SEQUENCE,
      since: 0,
      cancelResend: () => undefined,
      landing,
      fullSince: null,
    };
    this.launch(this.flight);
  }

  /** The present message is with the head. @returns whether that was the last one of its command */
  acknowledged(): boolean {
    const { flight } = this;
    if (flight === null) return true;
    flight.cancelResend();
    flight.index += 1;
    if (flight.index < flight.script.length) {
      this.launch(flight);
      return false;
    }
    this.flight = null;
    return true;
  }

  /** Nothing is sent again of what is on its way. @returns what that was */
  drop(): Flight | null {
    const { flight } = this;
    flight?.cancelResend();
    this.flight = null;
    return flight;
  }

  /**
   * The head has room for nothing more, and nothing was done: both its sockets are freed, then the message goes out under a new number. Until then
   * it has none: the same answer twice must not say it twice, each of which would be answered twice again.
   * @returns false when that has gone on for too long
   */
  makeRoom(): boolean {
    const { flight } = this;
    const now = this.wire.clock.now();
    if (flight === null || now - (flight.fullSince ??= now) >= ANSWER_LIMIT_MS) return false;
    flight.cancelResend();
    flight.sequence = NO_SEQUENCE;
    for (const socket of [1, 2]) this.once({ kind: 'cancel', socket });
    this.wire.clock.at(now + RESEND_MS / 2, () => {
      if (this.flight === flight) this.launch(flight);
    });
    return true;
  }

  /** Says something once, under a number of its own, and waits for nothing. */
  once(message: HeadCommand): void {
    this.wire.transmit(
      encodePacket({ type: 'command', sequence: this.nextSequence(), payload: encodeCommand(message) }),
    );
  }

  /** Puts the present message of the script on the wire under a new number. */
  private launch(flight: Flight): void {
    flight.sequence = this.nextSequence();
    flight.since = this.wire.clock.now();
    if (flight.index === 0) this.listener.launched(flight);
    this.transmit(flight);
  }

  private transmit(flight: Flight): void {
    const message = flight.script[flight.index];
    if (!message) return;
    const { clock } = this.wire;
    this.wire.transmit(encodePacket({ type: 'command', sequence: flight.sequence, payload: encodeCommand(message) }));
    flight.cancelResend = clock.at(clock.now() + RESEND_MS, () => {
      if (this.flight !== flight) return;
      this.listener.resent();
      if (clock.now() - flight.since < ANSWER_LIMIT_MS) return this.transmit(flight);
      this.listener.gaveUp(flight);
    });
  }
}
