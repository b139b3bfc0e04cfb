import type { RequestListener, Server } from 'node:http';
import { createServer } from 'node:https';
import { createServer as createDoor, type Socket } from 'node:net';
import { networkInterfaces } from 'node:os';
import type { Clock } from '@umbek/core/engine';
import { z } from 'zod';
import { InTurn } from '../border/inTurn';
import type { Certificate } from './certificate';

/** How Umbek listens in the room. */
export const RoomConfig = z.strictObject({
  port: z.number().int().min(0).max(65_535),
  /** Address to listen on: all of them unless told otherwise. */
  host: z.string().default('0.0.0.0'),
  /** A certificate of the house in place of our own: PEM files. */
  certFile: z.string().optional(),
  keyFile: z.string().optional(),
});
export type RoomConfig = z.infer<typeof RoomConfig>;

/** Whether an address came or a certificate comes to its end is looked at so often. */
const LOOK_MS = 60_000;
/** So many connections may wait for their handshake: more than ever come back together. */
const MOST_WAITING = 1000;

/** What is told of the open door. */
export interface Room {
  readonly port: number;
  /** As `https://` addresses, the likeliest first. */
  addresses(): string[];
  certificate(): Certificate;
}

/** Addresses of this machine at which others reach it. */
function addressesAt(host: string): string[] {
  if (host !== '0.0.0.0') return [host];
  return Object.values(networkInterfaces())
    .flat()
    .flatMap((item) => (item === undefined || item.internal || item.family !== 'IPv4' ? [] : [item.address]));
}

/** The server for the room: TLS on every address, with a certificate that is made anew in time. */
export class RoomDoor implements Room {
  private stopped = false;
  port = 0;
  /**
   * Takes the connections and hands them to the server one in each turn of the event loop: a handshake costs a millisecond, and fifty phones that
   * come back at once would keep a press waiting for all of theirs.
   */
  private readonly door = createDoor({ noDelay: true }, (socket) => this.came(socket));
  private readonly turns = new InTurn();
  private readonly open = new Set<Socket>();

  private constructor(
    private readonly config: RoomConfig,
    private readonly folder: string,
    private readonly clock: Clock,
    private held: Certificate,
    readonly server: Server & { setSecureContext(options: { cert: string; key: string }): void },
    private readonly onTrouble: (error: unknown) => void,
  ) {}

  /** @throws in words when the certificate that was given does not do */
  static async make(
    config: RoomConfig,
    folder: string,
    clock: Clock,
    serve: RequestListener,
    onTrouble: (error: unknown) => void,
  ): Promise<RoomDoor> {
    const held = await certificateOf(config, folder, clock.wall());
    const server = createServer({ cert: held.cert, key: held.key }, serve);
    // Whoever connects and then says nothing, or no TLS, holds nothing for long.
    server.headersTimeout = 10_000;
    server.on('tlsClientError', (_error, socket) => socket.destroy());
    server.on('clientError', (_error, socket) => socket.destroy());
    return new RoomDoor(config, folder, clock, held, server, onTrouble);
  }

  private came(socket: Socket): void {
    socket.on('error', () => socket.destroy());
    if (this.turns.length >= MOST_WAITING) return void socket.destroy();
    this.open.add(socket);
    socket.once('close', () => this.open.delete(socket));
    this.turns.take(() => {
      if (!socket.destroyed) this.server.emit('connection', socket);
    });
  }

  async listen(): Promise<void> {
    const { door, server, config } = this;
    await new Promise<void>((resolve, reject) => {
      door.once('error', (error: NodeJS.ErrnoException) =>
        reject(
          error.code === 'EADDRINUSE'
            ? new Error(
                `Port ${config.port} is taken by another program. End it, or set UMBEK_ROOM_PORT to another port.`,
              )
            : error,
        ),
      );
      door.listen(config.port, config.host, () => resolve());
    });
    door.on('error', (error) => this.onTrouble(error));
    server.on('error', (error) => this.onTrouble(error));
    // It listens to nothing itself: from this on it ends connections whose request does not come.
    server.emit('listening');
    const address = door.address();
    this.port = typeof address === 'object' && address !== null ? address.port : config.port;
    this.look();
  }

  addresses(): string[] {
    const all = addressesAt(this.config.host);
    return (all.length === 0 ? ['127.0.0.1'] : all).map((address) => `https://${address}:${this.port}`);
  }

  certificate(): Certificate {
    return this.held;
  }

  close(): Promise<void> {
    this.stopped = true;
    this.server.closeAllConnections();
    this.server.close(() => undefined);
    for (const socket of this.open) socket.destroy();
    return new Promise((resolve) => void this.door.close(() => resolve()));
  }

  /** A new address, or an end that is near: the next connections see a new certificate, and those that are open go on. */
  private look(): void {
    this.clock.at(this.clock.now() + LOOK_MS, () => {
      if (this.stopped) return;
      void this.renew()
        .catch((error: unknown) => this.onTrouble(error))
        .finally(() => this.look());
    });
  }

  private async renew(): Promise<void> {
    const held = await certificateOf(this.config, this.folder, this.clock.wall());
    if (held.cert === this.held.cert) return;
    this.held = held;
    this.server.setSecureContext({ cert: held.cert, key: held.key });
  }
}

async function certificateOf({ certFile, keyFile, host }: RoomConfig, folder: string, now: Date): Promise<Certificate> {
  // Only where it is needed: an engine on loopback alone starts without it.
  const { givenCertificate, ownCertificate } = await import('./certificate');
  if (certFile !== undefined) return givenCertificate(certFile, keyFile ?? certFile, now);
  // Where nothing is reached from outside, this machine is.
  return ownCertificate(folder, [...new Set([...addressesAt(host), '127.0.0.1', 'localhost'])], now);
}
