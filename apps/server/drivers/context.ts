import type { TravelRun } from '@umbek/core/devices';
import type { Clock, DeviceNews, DevicePort } from '@umbek/core/engine';

/** How a device is to be talked about, from what was heard of it. */
export type LinkState = 'off' | 'reached' | 'silent' | 'foreign';

/** A connection that the parent opens to end a move, where datagrams do not do it. */
export type StopWay = { readonly kind: 'tcp' } | { readonly kind: 'webSocket'; readonly path: string };

/** What a driver is given: everything it touches, so that it runs on any clock and any wire. */
export interface DriverContext {
  readonly clock: Clock;
  readonly news: DeviceNews;
  /** Leaves with the parent what ends a move should this process die or hang, and after how long it ends in any case; null takes it back. */
  readonly guard: (datagrams: readonly Uint8Array[] | null, endsAfterMs?: number, over?: StopWay) => void;
  /** The show's position at a place, or an empty text. */
  readonly placeAt: (pan: number, tilt: number, zoom: number) => string;
  /** A recall that ended by the head's own word, from rest and with every reply heard. */
  readonly travelled?: (run: TravelRun) => void;
  /** Device name and address for words. */
  readonly title: string;
}

/** What a driver of datagrams or of a byte stream is given besides. */
export interface ByteContext extends DriverContext {
  /** Puts one datagram, or some bytes of the stream, on the wire. The journal is written before. */
  readonly transmit: (bytes: Uint8Array) => void;
}

/** A driver: a device port on a wire. */
export interface Driver extends DevicePort {
  /** Begins to look for the device. */
  open(): void;
  /** What ends the moves that may be under way, as it goes on the wire; none when nothing moves. */
  stops?(): readonly Uint8Array[];
  /** Lets go of timers; what is under way ends as lost. */
  close(): void;
  /** The machine said at once that nothing listens at the address. */
  unreachable(): void;
  readonly state: LinkState;
  /** Clock time of the last message that was understood; null when none was. */
  readonly lastHeard: number | null;
  readonly malformed: number;
  /** The state in words, where its protocol needs others than the usual. */
  readonly words?: string;
}

/** A driver that is handed what comes in. */
export interface ByteDriver extends Driver {
  receive(bytes: Uint8Array): void;
}
