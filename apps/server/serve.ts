import { createServer, type IncomingMessage } from 'node:http';
import { mkdirSync, readFileSync } from 'node:fs';
import { ShowDocument } from '@umbek/core/show';
import { corvaneHill } from '@umbek/core/demo';
import { ulid } from 'ulid';
import { z } from 'zod';
import { makeApp } from './api/routes';
import { migrateDatabase, openDatabase } from './database/database';
import { VersionStore } from './database/versionStore';
import type { TellGuard } from './engine/deviceSockets';
import { EngineHost } from './engine/engineHost';
import { ShowKeeper } from './engine/showKeeper';
import { nextEpoch } from './journal/localJournal';
import { TravelKeeper } from './learning/travelKeeper';
import { Projection } from './journal/projection';

/** What the server is started with; the supervisor hands it on as JSON. */
export const ServerConfig = z.strictObject({
  port: z.number().int().min(0).max(65_535),
  /** Address to listen on; loopback unless told otherwise. */
  host: z.string().default('127.0.0.1'),
  /** Journal, epoch and the local copy of the show. */
  folder: z.string(),
  databaseUrl: z.string(),
  migrations: z.string(),
  page: z.string().nullable().default(null),
  version: z.string().default('0.1.0'),
  /** What an empty database begins with: the demo show, a show file, or nothing. */
  seed: z.union([z.literal('demo'), z.literal('empty'), z.strictObject({ file: z.string() })]).default('demo'),
  demoPorts: z.record(z.string(), z.number()).optional(),
  controlPorts: z.record(z.string(), z.number()).default({}),
});
export type ServerConfig = z.input<typeof ServerConfig>;

export interface RunningServer {
  readonly port: number;
  readonly host: EngineHost;
  close(): Promise<void>;
}

/** A page of another origin must not press buttons: Host must be ours, and Origin, where a browser sends one, the same. */
export function sameOrigin(request: IncomingMessage, listensOn: string): boolean {
  const { host = '', origin } = request.headers;
  const name = host.replace(/:\d+$/, '');
  const loopback = ['127.0.0.1', 'localhost', '[::1]'].includes(name);
  if (listensOn === '127.0.0.1' && !loopback) return false;
  if (origin === undefined) return true;
  try {
    return new URL(origin).host === host;
  } catch {
    return false;
  }
}

/** Starts engine, API and live socket in this process. A database that is away does not keep the engine from running. */
export async function serve(input: ServerConfig, guard: TellGuard = () => undefined): Promise<RunningServer> {
  const config = ServerConfig.parse(input);
  mkdirSync(config.folder, { recursive: true });
  const epoch = nextEpoch(config.folder);
  const database = openDatabase(config.databaseUrl);
  await migrateDatabase(database.db, config.migrations).catch(() => undefined);
  const demo = (): ShowDocument => corvaneHill(config.demoPorts as Parameters<typeof corvaneHill>[0]);
  const seed =
    config.seed === 'demo'
      ? demo()
      : config.seed === 'empty'
        ? null
        : ShowDocument.parse(JSON.parse(readFileSync(config.seed.file, 'utf8')));
  const keeper = await ShowKeeper.open(database.db, config.folder, seed, ulid);
  const projection = new Projection(database.db, config.folder, config.folder);

  const hostAllowed = (request: IncomingMessage): boolean => sameOrigin(request, config.host);
  let host: EngineHost | null = null;
  const app = makeApp({
    host: () => {
      if (host === null) throw new Error('The engine has not begun.');
      return host;
    },
    keeper,
    projection,
    versions: new VersionStore(database.db),
    version: config.version,
    controlPorts: config.controlPorts,
    demo,
    page: config.page,
    hostAllowed,
  });
  const server = createServer(app);
  const running = new EngineHost({
    server,
    keeper,
    folder: config.folder,
    epoch,
    guard,
    hostAllowed,
    travels: new TravelKeeper(database.db),
  });
  host = running;
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(config.port, config.host, () => resolve());
  });
  running.open();
  projection.start();
  const address = server.address();
  return {
    port: typeof address === 'object' && address !== null ? address.port : config.port,
    host: running,
    close: async () => {
      running.close();
      await projection.close();
      server.closeAllConnections();
      await new Promise<void>((resolve) => server.close(() => resolve()));
      await database.close();
    },
  };
}
