import type { Clock, Engine } from '@umbek/core/engine';
import type { Device } from '@umbek/core/show';
import type { Network } from '../border/network';
import type { Driver, DriverContext } from '../drivers/context';
import type { MessageLog } from '../engine/messageLog';

/** What every link is given. */
export interface LinkDependencies {
  readonly engine: Engine;
  readonly clock: Clock;
  readonly network: Network;
  readonly device: Device;
  /** Puts the journal out; called before anything is sent. */
  readonly flush: () => void;
  readonly idPrefix: string;
  readonly messages: MessageLog;
  readonly context: DriverContext;
  /** Work that came from outside: one turn of the board; what it throws fails alone and is told. Nothing once the link is closed. */
  readonly inTurn: (work: () => void) => void;
}

/** A device's driver on its real wire. */
export interface Link {
  readonly driver: Driver;
  /** The show was edited; the device itself was not. */
  followed?(): void;
  /** Ends what still moves, then lets the device go. The driver answers for nothing from here on; the wire is closed when the stops are out. */
  close(): void;
}

/** Stops are sent so often when a device is let go, against loss; the head does each number once. */
export const FAREWELL_MS = [0, 40, 120, 250] as const;

/** Sends what ends a device's moves again and again, then closes its wire. */
export function farewell(
  clock: Clock,
  stops: readonly Uint8Array[],
  send: (bytes: Uint8Array) => void,
  close: () => void,
): void {
  if (stops.length === 0) return close();
  const begin = clock.now();
  for (const at of FAREWELL_MS) {
    if (at === 0) stops.forEach(send);
    else clock.at(begin + at, () => stops.forEach(send));
  }
  clock.at(begin + Math.max(...FAREWELL_MS) + 20, close);
}
