import { type ChildProcess, fork } from 'node:child_process';
import { createSocket } from 'node:dgram';
import { mkdtempSync } from 'node:fs';
import { createServer } from 'node:net';
import { constants, setPriority, tmpdir } from 'node:os';
import { join } from 'node:path';
import { DEMO_PORTS, type DemoStandin, demoStandins } from '@umbek/demo';
import type { Health } from '@umbek/protocol';
import { supervise, type Supervisor } from '../../apps/server/supervisor/supervisor';

/** Tests and bench are run from the root of the repository. */
const ROOT = process.cwd();
type DeviceKey = keyof typeof DEMO_PORTS;
const KEYS = Object.keys(DEMO_PORTS) as DeviceKey[];

export interface StandinEffect {
  readonly at: number;
  readonly from: string;
  readonly id: string;
  readonly command: string;
  readonly params: Record<string, unknown>;
}

export interface StandinRecord {
  readonly at: number;
  readonly direction: 'in' | 'out';
  readonly peer: string;
  readonly bytes: string;
  readonly fate: 'passed' | 'dropped' | 'doubled';
}

/** A stand-in process with its control port. */
export class StandinProcess {
  private child: ChildProcess | null = null;

  constructor(
    private readonly config: DemoStandin,
    readonly controlPort: number,
  ) {}

  start(): Promise<void> {
    return StandinProcess.startTogether([this]);
  }

  /** Several in one process; it ends with any of them. */
  static startTogether(standins: readonly StandinProcess[]): Promise<void> {
    return new Promise((ready, failed) => {
      const configs = standins.map(({ config: { key: _key, rack: _rack, ...config }, controlPort }) => ({
        ...config,
        controlPort,
      }));
      const child = fork(join(ROOT, 'dist/standin.mjs'), [JSON.stringify(configs)], {
        stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
      });
      for (const standin of standins) standin.child = child;
      try {
        // Real devices do not slow down with a busy machine. Where that may not be asked for, they do.
        setPriority(child.pid ?? 0, constants.priority.PRIORITY_ABOVE_NORMAL);
      } catch {
        // As before.
      }
      // Each of them waits for its end.
      child.setMaxListeners(standins.length + 10);
      child.once('message', () => ready());
      child.once('exit', (code) => failed(new Error(`stand-in ended: ${code}`)));
    });
  }

  stop(): Promise<void> {
    return new Promise((done) => {
      const child = this.child;
      if (!child || child.exitCode !== null || child.signalCode !== null) return done();
      child.once('exit', () => done());
      child.kill('SIGKILL');
    });
  }

  async records(): Promise<StandinRecord[]> {
    return ((await this.get('/records')) as { records: StandinRecord[] }).records;
  }

  report(): Promise<{ points: Record<string, unknown>; effects: StandinEffect[]; malformed: number }> {
    return this.get('/report') as Promise<{
      points: Record<string, unknown>;
      effects: StandinEffect[];
      malformed: number;
    }>;
  }

  async faults(faults: Record<string, unknown>): Promise<void> {
    await fetch(`http://127.0.0.1:${this.controlPort}/faults`, { method: 'POST', body: JSON.stringify(faults) });
  }

  async simulate(what: string): Promise<void> {
    await fetch(`http://127.0.0.1:${this.controlPort}/simulate`, { method: 'POST', body: JSON.stringify({ what }) });
  }

  async clear(): Promise<void> {
    await fetch(`http://127.0.0.1:${this.controlPort}/clear`, { method: 'POST' });
  }

  private async get(path: string): Promise<unknown> {
    return (await fetch(`http://127.0.0.1:${this.controlPort}${path}`)).json();
  }
}

/** Below the range from which the system gives out ports for outgoing sockets, so that none of those takes one meanwhile. */
const FIRST_PORT = 20_000;
const PORTS = 12_000;
/** Test files that run beside each other take ports of their own: each worker every fourth. */
const LANES = 4;
let nextPort = ((process.pid * 97) % (PORTS / LANES)) * LANES + (Number(process.env.JEST_WORKER_ID ?? 0) % LANES);

const binds = (open: (failed: () => void, bound: () => void) => { close: () => unknown }): Promise<boolean> =>
  new Promise((found) => {
    const socket = open(
      () => found(false),
      () => {
        socket.close();
        found(true);
      },
    );
  });

/** A port of this machine that is free for TCP and UDP alike, and was given to nobody else by this process. */
export async function freePort(): Promise<number> {
  for (;;) {
    nextPort = (nextPort + LANES) % PORTS;
    const port = FIRST_PORT + nextPort;
    const tcp = await binds((failed, bound) => createServer().once('error', failed).listen(port, '127.0.0.1', bound));
    const udp = await binds((failed, bound) => {
      const socket = createSocket('udp4').once('error', failed);
      socket.bind(port, '127.0.0.1', bound);
      return socket;
    });
    if (tcp && udp) return port;
  }
}

/** Asked again after so long at first, and after so long at the most, milliseconds. */
const ASK_AGAIN_MS = 10;
const ASK_AGAIN_AT_MOST_MS = 40;

/**
 * Waits until something holds, asking again after some milliseconds: more and more of them, since asking costs the engine what it is waited for.
 * The limit is for what never comes; what must come soon is measured.
 */
export async function until<T>(
  what: string,
  ask: () => Promise<T | undefined | null | false>,
  limitMs = 30_000,
): Promise<T> {
  const end = Date.now() + limitMs;
  for (let pause = ASK_AGAIN_MS; ; pause = Math.min(pause * 1.5, ASK_AGAIN_AT_MOST_MS)) {
    const found = await ask().catch(() => undefined);
    if (found !== undefined && found !== null && found !== false) return found;
    if (Date.now() > end) throw new Error(`Waited ${limitMs} ms in vain: ${what}`);
    await new Promise((next) => setTimeout(next, pause));
  }
}

/** The demo show on ports of its own: stand-ins, supervisor, engine; as `npm start` runs it. */
export class Demo {
  private static readonly open = new Set<Demo>();
  readonly standins = {} as Record<DeviceKey, StandinProcess>;
  supervisor: Supervisor = { pid: () => undefined, port: 0, room: [], close: () => Promise.resolve() };

  private constructor(
    readonly database: string,
    readonly folder: string,
  ) {}

  /** @param apart those that a test stops: each is a process of its own; all others share two, which costs the machine a sixth less @param room listens in the room as well, with these settings besides */
  static async start(
    database: string,
    folder: string,
    apart: readonly DeviceKey[] = [],
    room: Readonly<Record<string, string>> | null = null,
  ): Promise<Demo> {
    const demo = new Demo(database, folder);
    Demo.open.add(demo);
    const ports = {} as Record<DeviceKey, number>;
    for (const key of KEYS) ports[key] = await freePort();
    const plans = demoStandins(ports);
    for (const plan of plans) demo.standins[plan.key] = new StandinProcess(plan, await freePort());
    // All at once: the engine looks for its devices until they are there.
    const standins = Promise.all([
      ...apart.map((key) => demo.standins[key].start()),
      ...[false, true].map((rack) =>
        StandinProcess.startTogether(
          plans.flatMap((plan) => (plan.rack !== rack || apart.includes(plan.key) ? [] : [demo.standins[plan.key]])),
        ),
      ),
    ]);
    const engine = supervise(join(ROOT, 'dist/engine.mjs'), {
      port: await freePort(),
      folder,
      databaseUrl: database,
      migrations: join(ROOT, 'apps/server/database/migrations'),
      page: join(ROOT, 'apps/desk/dist'),
      seed: 'demo',
      // Engines of tests live for seconds: what they would compile is a sixth of all the work of the browser tests. Figures are those of the product.
      compileSoon: process.env.JEST_WORKER_ID === undefined,
      demoPorts: ports,
      discover: room === null ? [] : ['127.0.0.1'],
      room: room === null ? null : { port: await freePort(), host: '127.0.0.1', ...room },
      controlPorts: Object.fromEntries(KEYS.map((key) => [key, demo.standins[key].controlPort])),
    });
    [demo.supervisor] = await Promise.all([engine, standins]);
    await until('all devices reached', async () =>
      (await demo.health()).devices.every((device) => device.state === 'reached'),
    );
    return demo;
  }

  get url(): string {
    return `http://127.0.0.1:${this.supervisor.port}`;
  }

  async health(): Promise<Health> {
    return (await fetch(`${this.url}/api/health`)).json() as Promise<Health>;
  }

  async post(path: string, body: unknown): Promise<{ status: number; body: Record<string, unknown> }> {
    const response = await fetch(`${this.url}${path}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    });
    return { status: response.status, body: (await response.json()) as Record<string, unknown> };
  }

  async asRun(after = 0): Promise<Record<string, unknown>[]> {
    const all: Record<string, unknown>[] = [];
    for (let next = after; ;) {
      const page = (await (await fetch(`${this.url}/api/as-run?after=${next}&limit=5000`)).json()) as {
        entries: Record<string, unknown>[];
        next: number;
      };
      all.push(...page.entries);
      if (page.entries.length < 5000) return all;
      next = page.next;
    }
  }

  /** Ids of the runs under way. */
  async runs(): Promise<string[]> {
    const reply = (await (await fetch(`${this.url}/api/runs`)).json()) as { runs: { runId: string }[] };
    return reply.runs.map((run) => run.runId);
  }

  static running(): Demo[] {
    return [...Demo.open];
  }

  /** Ends every demo of this file, whatever became of its test. */
  static async closeAll(): Promise<void> {
    for (const demo of Demo.running()) await demo.close();
  }

  async close(): Promise<void> {
    Demo.open.delete(this);
    await this.supervisor.close();
    await Promise.all(Object.values(this.standins).map((standin) => standin.stop()));
  }
}

/** A folder for one engine's journal, under the system's temporary folder. */
export const freshFolder = (): string => mkdtempSync(join(tmpdir(), 'umbek-'));
