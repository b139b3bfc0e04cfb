import { type ChildProcess, fork } from 'node:child_process';
import { createSocket } from 'node:dgram';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { constants, setPriority, tmpdir } from 'node:os';
import { join } from 'node:path';
import { DEMO_PORTS, demoId } from '@umbek/demo';
import { switcher } from '@umbek/core/devices';
import type { Device, ShowDocument, Trigger } from '@umbek/core/show';
import { RealClock } from '@umbek/host';
import { OscStandin } from '@umbek/standins';
import { ulid } from 'ulid';
import { WebSocket } from 'ws';
import { freshDatabase } from '../e2e/support/database';
import { freePort, until } from '../e2e/support/demo';
import { showWithButtons } from './lamps';
import { startStandin } from './machines';
import { type BenchRow, quantile, row } from './result';

const BUTTONS = 1000;
const CLIENTS = 50;
const PRESSES = 1200;
const BLOCK = 100;
const SPACING_MS = 8;
const CHANNELS = 64;

const pause = (ms: number): Promise<void> => new Promise((next) => setTimeout(next, ms));

/** One way to press: the socket, and a callback that gets the time of the next first datagram. */
export interface Path {
  readonly socket: WebSocket;
  onDatagram: (() => void) | null;
  readonly samples: number[];
}

async function openSocket(url: string): Promise<WebSocket> {
  const socket = new WebSocket(url);
  await new Promise((open, failed) => socket.once('open', open).once('error', failed));
  socket.on('message', () => undefined);
  return socket;
}

/** Where a process that was started listens. */
interface Listens {
  readonly port?: number;
  readonly room?: readonly string[];
}

const child = (script: string, args: string[]): Promise<{ process: ChildProcess; message: Listens }> =>
  new Promise((ready, failed) => {
    const started = fork(join('bench', script), args, { stdio: ['ignore', 'inherit', 'inherit', 'ipc'] });
    started.once('message', (message) => ready({ process: started, message: message as Listens }));
    started.once('exit', () => failed(new Error(`${script} ended`)));
  });

/**
 * Pages stand on machines of their own; here they share two processors with the engine and with what measures it, and are served after those.
 * A machine that does not let their process wait measures them as well.
 */
export function behindTheEngine({ pid }: ChildProcess): void {
  try {
    setPriority(pid ?? 0, constants.priority.PRIORITY_BELOW_NORMAL);
  } catch {
    // As any other process then.
  }
}

async function liveClients(url: string, count: number): Promise<ChildProcess> {
  const clients = await child('liveClients.mjs', [url, String(count)]);
  behindTheEngine(clients.process);
  return clients.process;
}

/** Our engine with its switcher, 50 live clients and a socket to press at. */
export interface OurEngine extends Path {
  /** `http://127.0.0.1:port`. */
  readonly url: string;
  /** Where the room reaches it; empty: nowhere. */
  readonly room: string;
  readonly databaseUrl: string;
  /** Process of the engine's parent. */
  readonly parent: number;
  /** All of its live clients end at once and come back. */
  returnAll(): Promise<void>;
  /** Ends the engine as a crash would. */
  kill(): void;
  close(): Promise<void>;
}

/**
 * @param count live clients beside the one that presses; one at least
 * @param levels port of a mixer that tells its levels all the time; left out: none
 * @param folder for the journal and what else belongs to the show
 * @param make the show, with the ports of its devices
 * @param beside devices of its own, which whoever calls plays
 * @param open whether the room may reach it as well
 */
export async function startEngine(
  levels?: number,
  folder = mkdtempSync(join(tmpdir(), 'umbek-bench-')),
  make: (ports: Record<keyof typeof DEMO_PORTS, number>) => ShowDocument = (ports) => showWithButtons(BUTTONS, ports),
  count = CLIENTS,
  beside: readonly Device[] = [],
  open = false,
): Promise<OurEngine> {
  const clock = new RealClock();
  const deviceSocket = createSocket('udp4');
  await new Promise<void>((bound) => deviceSocket.bind(0, '127.0.0.1', bound));
  const device = new OscStandin(
    switcher,
    { frameRate: 50 },
    {
      clock,
      refusing: () => false,
      send: (bytes, to) => deviceSocket.send(bytes, Number(to.split(':')[1]), '127.0.0.1'),
    },
  );
  // Only the switcher is spoken to, and the mixer where there is one.
  const show = make({ ...DEMO_PORTS, switcher: deviceSocket.address().port });
  const devices = show.devices.flatMap((item) =>
    item.kind === 'switcher'
      ? [item]
      : item.kind === 'soundMixer' && levels !== undefined
        ? [{ ...item, port: levels, settings: { channels: CHANNELS } }]
        : [],
  );
  const seed = {
    ...show,
    devices: [...devices, ...beside],
    positions: [],
    sources: show.sources.map((source) => ({ ...source, camera: null })),
    profiles: [],
  };
  writeFileSync(join(folder, 'seed.json'), JSON.stringify(seed));
  const databaseUrl = await freshDatabase();
  const parent = await child('parent.mjs', [
    JSON.stringify({
      port: await freePort(),
      folder,
      databaseUrl,
      page: join(process.cwd(), 'apps', 'desk', 'dist'),
      migrations: join('apps', 'server', 'database', 'migrations'),
      seed: { file: join(folder, 'seed.json') },
      ...(open ? { room: { port: await freePort(), host: '127.0.0.1' } } : {}),
    }),
  ]);
  const url = `ws://127.0.0.1:${parent.message.port ?? 0}/api/live`;
  const clients = await liveClients(url, count);
  const path: OurEngine = {
    parent: parent.process.pid ?? 0,
    returnAll: () =>
      new Promise((back) => {
        clients.once('message', () => back());
        clients.send('return');
      }),
    socket: await openSocket(url),
    onDatagram: null,
    samples: [],
    databaseUrl,
    kill: () => void parent.process.send('kill'),
    url: `http://127.0.0.1:${parent.message.port ?? 0}`,
    room: parent.message.room?.[0] ?? '',
    close: async () => {
      clients.removeAllListeners('exit');
      clients.disconnect();
      path.socket.terminate();
      parent.process.removeAllListeners('exit');
      await new Promise<void>((ended) => {
        parent.process.once('exit', () => ended());
        parent.process.disconnect();
      });
      deviceSocket.close();
    },
  };
  path.socket.send(JSON.stringify({ type: 'hello', station: 'bench' }));
  deviceSocket.on('message', (bytes, from) => {
    if (bytes.subarray(0, 17).toString() === '/switcher/preview') path.onDatagram?.();
    device.receive(bytes, `127.0.0.1:${from.port}`);
  });
  await until('every device is reached', async () =>
    ((await (await fetch(`${path.url}/api/health`)).json()) as { devices: { state: string }[] }).devices.every(
      (candidate) => candidate.state === 'reached',
    ),
  );
  return path;
}

/** Presses once. @returns milliseconds to the first datagram */
export const pressOnce = (path: Path, buttonId: string): Promise<number> =>
  new Promise((done) => {
    const pressId = ulid();
    const began = performance.now();
    path.onDatagram = () => {
      path.onDatagram = null;
      done(performance.now() - began);
    };
    path.socket.send(JSON.stringify({ type: 'press', pressId, buttonId, phase: 'down', at: Date.now() }));
  });

/** Blocks take turns, and the order of the two changes: what the machine does besides falls on both alike. */
export async function inTurns(
  item: Path,
  other: Path,
  presses: number,
  buttonOf: (index: number) => string = (index) => demoId('BTN', 1000 + (index % BUTTONS)),
): Promise<void> {
  for (let index = 0; index < presses; index += 1) {
    for (const path of Math.floor(index / BLOCK) % 2 === 0 ? [item, other] : [other, item]) {
      const took = await pressOnce(path, buttonOf(index));
      if (index >= presses / 6) path.samples.push(took);
      await pause(SPACING_MS);
    }
  }
}

/** The least that a press can cost: a server that parses, sends one datagram and tells as many clients. */
export async function startBare(): Promise<Path & { close(): void }> {
  const bareSocket = createSocket('udp4');
  await new Promise<void>((bound) => bareSocket.bind(0, '127.0.0.1', bound));
  const bare = await child('bareServer.mjs', [String(bareSocket.address().port)]);
  const bareUrl = `ws://127.0.0.1:${bare.message.port ?? 0}`;
  const clients = await liveClients(bareUrl, CLIENTS);
  const path = {
    socket: await openSocket(bareUrl),
    onDatagram: null as (() => void) | null,
    samples: [] as number[],
    close: () => {
      for (const childProcess of [clients, bare.process]) {
        childProcess.removeAllListeners('exit');
        childProcess.disconnect();
      }
      path.socket.terminate();
      bareSocket.close();
    },
  };
  bareSocket.on('message', () => path.onDatagram?.());
  return path;
}

/** Press at the live socket → first datagram at the device, beside a bare server; both with 50 live clients. */
export async function benchPress(): Promise<BenchRow[]> {
  const ours = await startEngine();
  const theirs = await startBare();
  await inTurns(ours, theirs, PRESSES);
  await ours.close();
  theirs.close();
  const what = `press → first datagram, ${BUTTONS.toLocaleString('en')} buttons, ${CLIENTS} clients`;
  return [
    row(`${what} (median)`, 'ms', quantile(ours.samples, 0.5), quantile(theirs.samples, 0.5), 1.4),
    row(`${what} (p99)`, 'ms', quantile(ours.samples, 0.99), quantile(theirs.samples, 0.99), 2),
    ...(await withLevels()),
    ...(await withEvents()),
  ];
}

/** Channels whose levels one rule goes by: 25 times a second each, a thousand events. */
const HEARD = 40;

/** The same press while what one rule goes by changes a thousand times a second, beside an engine without either. */
async function withEvents(): Promise<BenchRow[]> {
  const mixer = await startStandin('soundMixer', { channels: CHANNELS, voices: 3 });
  const sum = Array.from({ length: HEARD }, (_, at) => `sound.ch${at + 1}Level`).join(' + ');
  const rule: Trigger = {
    id: demoId('TRG', 900),
    name: 'A thousand events',
    group: '',
    kind: 'when',
    on: { kind: 'changes', of: sum },
    steps: [{ id: 'a', onFail: 'stop', kind: 'set', target: 'value.meteors', to: 7 }],
    onlyIf: '',
    delayMs: 0,
    minGapMs: 0,
    again: 'startOver',
    atStart: 'armed',
    order: 'a0',
  };
  const busy = await startEngine(mixer.port, undefined, (ports) => ({
    ...showWithButtons(BUTTONS, ports),
    triggers: [rule],
  }));
  const quiet = await startEngine();
  await inTurns(busy, quiet, PRESSES / 2);
  const [view] = (await (await fetch(`${busy.url}/api/triggers`)).json()) as {
    lastFired?: string;
    lastWords: string;
  }[];
  if (view?.lastFired === undefined) throw new Error(`The rule did not fire: ${view?.lastWords ?? 'it is not there'}`);
  await busy.close();
  await quiet.close();
  mixer.process.kill('SIGTERM');
  return [
    row(
      'The same while what one rule goes by changes 1,000 times a second, beside none (median)',
      'ms',
      quantile(busy.samples, 0.5),
      quantile(quiet.samples, 0.5),
      1.25,
    ),
  ];
}

/** The same press with 64 sound levels coming in 25 times a second, beside one without. */
async function withLevels(): Promise<BenchRow[]> {
  const mixer = await startStandin('soundMixer', { channels: CHANNELS, voices: 3 });
  const [loud, quiet] = [await startEngine(mixer.port), await startEngine()];
  await inTurns(loud, quiet, PRESSES / 2);
  await loud.close();
  await quiet.close();
  mixer.process.kill('SIGTERM');
  return [
    row(
      `The same while ${CHANNELS} sound levels come in 25 times a second, beside none (median)`,
      'ms',
      quantile(loud.samples, 0.5),
      quantile(quiet.samples, 0.5),
      1.25,
    ),
  ];
}
