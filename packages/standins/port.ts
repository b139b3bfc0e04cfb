/** Somebody who speaks to a stand-in, by address. */
export type Sender = string;

/** A stand-in's device side, free of sockets: bytes in, bytes out, on whatever clock it was given. */
export interface StandinDevice {
  receive(bytes: Uint8Array, from: Sender): void;
  /** What it counts itself: effects, malformed datagrams. */
  report(): StandinReport;
  /** Something that no controller asks for. @returns why it cannot be, or null */
  simulate(what: string): string | null;
}

/** One command that had its effect on the device. */
export interface Effect {
  /** Wall time in milliseconds since 1970, with fractions. */
  readonly at: number;
  readonly from: Sender;
  /** The controller's own id of the command: sequence number or request id. */
  readonly id: string;
  readonly command: string;
  readonly params: Readonly<Record<string, unknown>>;
}

export interface StandinReport {
  readonly points: Readonly<Record<string, unknown>>;
  readonly effects: readonly Effect[];
  readonly malformed: number;
}

export interface StandinOptions {
  readonly clock: import('@umbek/core/engine').Clock;
  readonly send: (bytes: Uint8Array, to: Sender) => void;
  readonly refusing: () => boolean;
}

/** How many effects a stand-in remembers. */
export const EFFECTS_KEPT = 20_000;
