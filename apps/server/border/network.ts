import type { Cancel } from '@umbek/core/engine';

/** Where a device is. */
export interface Address {
  readonly host: string;
  readonly port: number;
}

/** Why something could not be had: a closed port, something else that speaks there, or silence. */
export type Failure = 'refused' | 'foreign' | 'lost';

export interface DatagramSide {
  send(bytes: Uint8Array): void;
  close(): void;
}

export interface StreamSide {
  write(bytes: Uint8Array): void;
  destroy(): void;
}

/** What a link is told of its connection. Never from inside the call that opened it. */
export interface StreamEvents {
  connected(): void;
  data(bytes: Uint8Array): void;
  /** Nothing listens there. */
  refused(): void;
  /** Comes once, however it ended, also when it never stood. */
  closed(): void;
}

export interface HttpQuestion {
  readonly method: string;
  readonly path: string;
  readonly headers?: Readonly<Record<string, string>>;
  readonly body?: string;
  /** After so long it counts as lost, milliseconds. */
  readonly limitMs: number;
}
export type HttpReply = { readonly status: number; readonly text: string } | { readonly failed: Failure };

/** One HTTP server as a link uses it. */
export interface HttpSide {
  ask(question: HttpQuestion, then: (reply: HttpReply) => void): void;
  /** A stream of server-sent events; `ended` comes once. */
  listen(path: string, events: { opened(): void; event(data: string): void; ended(why: Failure): void }): Cancel;
  close(): void;
}

/** The border to the devices: real sockets, or a simulated net on a virtual clock. Nothing in drivers and links knows which. */
export interface Network {
  datagrams(to: Address, events: { open(): void; message(bytes: Uint8Array): void; refused(): void }): DatagramSide;
  /** @param limitMs after so long without a connection it is given up */
  stream(to: Address, limitMs: number, events: StreamEvents): StreamSide;
  webSocket(
    to: Address,
    path: string,
    limitMs: number,
    events: StreamEvents,
  ): StreamSide & { text(text: string): void };
  http(to: Address): HttpSide;
}

/** An answer, a line or a message longer than this is none of ours. */
export const LONGEST_ANSWER = 1_000_000;
