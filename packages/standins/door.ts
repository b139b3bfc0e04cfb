import type { Server } from 'node:net';
import type { DeviceKind } from '@umbek/core/devices';
import type { Clock } from '@umbek/core/engine';
import type { Faults } from './faults';
import type { Sender, StandinReport } from './port';

/** What happened to a message on its way. */
export type Fate = 'passed' | 'dropped' | 'doubled';

/** What a stand-in's door to its device socket is given. */
export interface DoorHost {
  readonly kind: DeviceKind;
  readonly settings: Readonly<Record<string, unknown>>;
  readonly port: number;
  readonly clock: Clock;
  readonly faults: () => Faults;
  /** Numbers from 0 to 1 out of the seed of the faults. */
  readonly chance: () => number;
  /** Lets a message through once, twice or not at all, now or later, as the faults say, and notes it. */
  readonly pass: (direction: 'in' | 'out', peer: Sender, bytes: string, mayDouble: boolean, work: () => void) => void;
}

/** A stand-in's device on its open socket. */
export interface Door {
  readonly port: number;
  report(): StandinReport;
  /** Something that no controller asks for. @returns why it cannot be, or null */
  simulate(what: string): string | null;
  /** Says something that nobody asked for, as bad as the faults say. */
  badly?(): void;
  /** Faults were set anew. */
  faultsChanged?(): void;
  close(): void;
}

export const LOOPBACK = '127.0.0.1';

/** Opens a server of a byte stream on loopback; port 0 takes a free one. @returns the port @throws when it is taken */
export async function listenOn(server: Server, port: number): Promise<number> {
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, LOOPBACK, () => resolve());
  });
  const address = server.address();
  return typeof address === 'object' && address !== null ? address.port : port;
}
