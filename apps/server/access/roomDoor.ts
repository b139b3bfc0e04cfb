import type { RequestListener, Server } from 'node:http';
import { createServer } from 'node:https';
import { networkInterfaces } from 'node:os';
import type { Clock } from '@umbek/core/engine';
import { z } from 'zod';
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

  async listen(): Promise<void> {
    const { server, config } = this;
    await new Promise<void>((resolve, reject) => {
      server.once('error', (error: NodeJS.ErrnoException) =>
        reject(
          error.code === 'EADDRINUSE'
            ? new Error(
                `Port ${config.port} is taken by another program. End it, or set UMBEK_ROOM_PORT to another port.`,
              )
            : error,
        ),
      );
      server.listen(config.port, config.host, () => resolve());
    });
    server.on('error', (error) => this.onTrouble(error));
    const address = server.address();
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
    return new Promise((resolve) => void this.server.close(() => resolve()));
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
