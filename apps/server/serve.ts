import { createServer, type IncomingMessage } from 'node:http';
import { mkdirSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import type { ShowDocument } from '@umbek/core/show';
import { corvaneHill } from '@umbek/demo';
import { RealClock } from '@umbek/host';
import { ulid } from 'ulid';
import { z } from 'zod';
import { Doors } from './access/doors';
import { Invitations } from './access/invitations';
import { OscIn, OscMessages } from './access/oscIn';
import { RoomConfig, RoomDoor } from './access/roomDoor';
import { Crew } from './access/crew';
import { PgCrewStore } from './access/crewStore';
import { StationKeys } from './access/stationKeys';
import { PgStationStore } from './access/stationStore';
import { may } from './access/who';
import { PgTokenStore } from './access/tokenStore';
import { Tokens } from './access/tokens';
import { makeApp } from './api/app';
import { openLog } from './border/log';
import { realNetwork } from './border/realNetwork';
import { migratedOnce, openDatabase } from './database/database';
import { PgShowStore } from './database/showStore';
import { ShowShelf } from './database/showShelf';
import { VersionStore } from './database/versionStore';
import type { TellGuard } from './engine/deviceSockets';
import { Discovery } from './discovery/discovery';
import { processListen } from './discovery/finder';
import { EngineHost } from './engine/engineHost';
import { FileCopy, showIn } from './engine/showCopy';
import { ShowKeeper } from './engine/showKeeper';
import { ThreadHelper } from './helper/threadHelper';
import type { LineSink } from './journal/engineJournal';
import type { LeftBehind } from './journal/fold';
import { Projection } from './journal/projection';
import { PgTravelStore } from './learning/travelStore';
import { LiveSocket } from './live/liveSocket';
import { PadDesk } from './pads/padDesk';
import { PadPlaces } from './pads/padPlaces';
import { ProcessPainter } from './pads/painter';

/** What the server is started with; the parent hands it on as JSON. */
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
  /** What the control ports of the stand-ins want to hear; they answer nobody else. */
  controlToken: z.string().default(''),
  /** How it listens in the room, over TLS; null: on loopback alone. */
  room: RoomConfig.nullable().default(null),
  /** Addresses of the interfaces on which devices are heard that announce themselves; none: nobody is listened to. */
  discover: z.array(z.string()).max(8).default([]),
  /** UDP port on which other gear speaks OSC, opened with the first token for it, on the same addresses as the room's port; 0: any that is free. */
  oscPort: z.number().int().min(0).max(65_535).default(0),
  /** Whether functions are compiled after dozens of calls: a press costs a tenth less, and an engine's first half minute two seconds of a processor more. */
  compileSoon: z.boolean().default(true),
  /** The helper's bundle; left out: beside that of the engine. */
  helper: z.string().optional(),
});
export type ServerConfig = z.input<typeof ServerConfig>;

/** What the parent of the engine gives besides. */
export interface FromParentSide {
  readonly epoch: number;
  readonly left: LeftBehind;
  readonly sink: LineSink;
  readonly guard: TellGuard;
}

export interface RunningServer {
  /** Addresses at which the room reaches it. */
  readonly room: readonly string[];
  readonly port: number;
  readonly host: EngineHost;
  close(): Promise<void>;
}

/**
 * A page of another origin must not cause any work: Host must be ours, Origin, where a browser sends one, the same, and where the browser says
 * from where the request was made, it must be this site or the person themselves.
 */
export function sameOrigin(request: Pick<IncomingMessage, 'headers'>, listensOn: string): boolean {
  const { host = '', origin } = request.headers;
  const site = request.headers['sec-fetch-site'];
  const name = host.replace(/:\d+$/, '');
  const loopback = ['127.0.0.1', 'localhost', '[::1]'].includes(name);
  if (listensOn === '127.0.0.1' ? !loopback : host === '') return false;
  if (site !== undefined && site !== 'same-origin' && site !== 'none') return false;
  if (origin === undefined) return true;
  try {
    return new URL(origin).host === host;
  } catch {
    return false;
  }
}

/** Beyond loopback a host is any that the request names; its origin has to be the same. */
const ANY_HOST = '0.0.0.0';

function seedOf(seed: z.infer<typeof ServerConfig>['seed'], demo: () => ShowDocument): ShowDocument | null {
  if (seed === 'demo') return demo();
  if (seed === 'empty') return null;
  const document = showIn(readFileSync(seed.file, 'utf8'));
  if (document === null) throw new Error(`${seed.file} holds no show.`);
  return document;
}

/** Starts engine, API and live socket in this process. A database that is away does not keep the engine from running. */
export async function serve(input: ServerConfig, parent: FromParentSide): Promise<RunningServer> {
  const config = ServerConfig.parse(input);
  mkdirSync(config.folder, { recursive: true });
  const database = openDatabase(config.databaseUrl);
  const ready = migratedOnce(database.db, config.migrations);
  const demo = (): ShowDocument => corvaneHill(config.demoPorts as Parameters<typeof corvaneHill>[0]);
  const log = openLog(config.folder, 'engine');
  let host: EngineHost | null = null;
  const keeper = await ShowKeeper.open(
    new PgShowStore(database.db, ready),
    new FileCopy(config.folder),
    () => seedOf(config.seed, demo),
    ulid,
    (program, words) => host?.otherShow(program, words),
    () => new Promise((next) => setImmediate(next)),
    (ms) => new Promise((next) => setTimeout(next, ms)),
  );
  const helperFile = config.helper ?? join(dirname(process.argv[1] ?? ''), 'helper.mjs');
  const helper = new ThreadHelper(
    helperFile,
    config.folder,
    () => host?.everything() ?? [],
    (error) => host?.trouble('the helper', error),
  );
  const projection = new Projection(
    database.db,
    config.folder,
    config.folder,
    () => helper,
    ready,
    (away) => {
      host?.keeps({ database: !away });
      if (!away) keeper.reconcile().catch((error: unknown) => host?.trouble('the show in the database', error));
    },
  );
  const clock = new RealClock((error) => host?.trouble('a timer', error));
  const running = new EngineHost({
    clock,
    network: realNetwork,
    helper,
    travels: new PgTravelStore(database.db),
    program: keeper.current(),
    epoch: parent.epoch,
    left: parent.left,
    sink: parent.sink,
    guard: parent.guard,
    later: (work) => void setImmediate(work),
    log,
  });
  host = running;
  keeper.onCopy = (copy) => running.keeps({ copy });
  running.keeps({ copy: keeper.copyTrouble, database: !projection.away });
  const crew = new Crew(new PgCrewStore(database.db, ready), clock);
  const stations = new StationKeys(
    new PgStationStore(database.db, ready),
    clock,
    {
      dismissed: (id) => running.live.dismiss(id),
      changed: (id) => running.live.rightsChanged(id),
      journal: (_station, words) => running.access('Umbek', words),
    },
    (id) => crew.find(id),
  );
  crew.onChanged = (id, signedOut) => stations.crewChanged(id, signedOut);
  void stations.start().then(() => crew.start());
  const doors = new Doors(stations);
  let room: RoomDoor | null = null;
  const hostAllowed = (request: IncomingMessage): boolean =>
    sameOrigin(request, doors.fromRoom(request) ? ANY_HOST : config.host);
  const tokens = new Tokens(new PgTokenStore(database.db, ready), clock);
  const oscIn = new OscIn(
    { port: config.oscPort, host: config.room?.host ?? config.host },
    new OscMessages({
      tokens,
      clock,
      program: () => running.engine.program,
      press: (input) => running.press(input),
    }),
    {
      tokens,
      clock,
      addresses: () => room?.addresses().map((address) => new URL(address).hostname) ?? [config.host],
      onTrouble: (error) => running.trouble('the OSC port', error),
    },
  );
  tokens.onKnown = () => void oscIn.follow();
  const painter = new ProcessPainter(
    join(dirname(helperFile), 'painter.mjs'),
    config.page === null ? '' : join(config.page, 'fonts'),
    (error) => running.trouble('the painter of pads', error),
  );
  const pads = new PadDesk({
    desk: running.live,
    program: () => running.engine.program,
    clock,
    places: new PadPlaces(join(config.folder, 'pads.json')),
    painter,
  });
  const discovery = new Discovery(
    config.discover.length === 0
      ? null
      : processListen(join(dirname(helperFile), 'finder.mjs'), config.discover, (error) =>
          running.trouble('listening for devices', error),
        ),
  );
  const app = makeApp({
    host: () => running,
    helper,
    keeper,
    projection,
    versions: new VersionStore(database.db),
    shelf: new ShowShelf(database.db),
    tokens,
    oscIn,
    pads,
    discovery,
    doors,
    stations,
    crew,
    invitations: new Invitations(clock),
    room: () => room,
    version: config.version,
    controlPorts: config.controlPorts,
    controlToken: config.controlToken,
    demo,
    page: config.page,
    hostAllowed,
    log,
  });
  const server = createServer(app);
  server.on('clientError', (_error, socket) => socket.destroy());
  const ways = {
    '/api/live': running.live.connect.bind(running.live),
    '/api/pad': pads.connect.bind(pads),
  };
  const sockets = new LiveSocket(ways, hostAllowed, (request) => {
    const found = doors.who(request);
    if (found.kind !== 'station' || !may(found.who, 'see')) return null;
    const { key } = found.who;
    const gone = key === null ? () => undefined : stations.connected(key, request.socket.remoteAddress ?? '');
    return { who: found.who, gone };
  });
  sockets.listenTo(server);
  if (config.room !== null) {
    const door = await RoomDoor.make(
      config.room,
      join(config.folder, 'certificates'),
      clock,
      (request, response) => {
        doors.cameFromRoom(request);
        app(request, response);
      },
      (error) => running.trouble('the door to the room', error),
    );
    door.server.prependListener('upgrade', (request) => doors.cameFromRoom(request));
    sockets.listenTo(door.server);
    await door.listen();
    room = door;
  }
  await new Promise<void>((resolve, reject) => {
    server.once('error', (error: NodeJS.ErrnoException) =>
      reject(
        error.code === 'EADDRINUSE'
          ? new Error(`Port ${config.port} is taken by another program. End it, or set UMBEK_PORT to another port.`)
          : error,
      ),
    );
    server.listen(config.port, config.host, () => resolve());
  });
  server.on('error', (error) => running.trouble('the server', error));
  running.open();
  // Only now: a press that came before would find an engine that is not open.
  void tokens.start();
  log.info({ epoch: parent.epoch, version: config.version }, 'engine ready');
  projection.start();
  const address = server.address();
  return {
    room: room?.addresses() ?? [],
    port: typeof address === 'object' && address !== null ? address.port : config.port,
    host: running,
    close: async () => {
      log.info('engine ends');
      await running.close();
      sockets.close();
      await room?.close();
      server.closeAllConnections();
      await new Promise<void>((resolve) => server.close(() => resolve()));
      painter.close();
      discovery.close();
      oscIn.close();
      tokens.close();
      stations.close();
      crew.close();
      await projection.close();
      helper.close();
      await database.close();
    },
  };
}
