import { type ChildProcess, fork } from 'node:child_process';
import { createSocket } from 'node:dgram';
import type { ServerConfig } from '../serve';

interface Stops {
  readonly host: string;
  readonly port: number;
  readonly datagrams: readonly string[];
}

type FromEngine =
  | { readonly type: 'guard'; readonly device: string; readonly stops: Stops | null }
  | { readonly type: 'ready'; readonly port: number };

export interface Supervisor {
  /** The engine process of now; another one after a restart. */
  pid(): number | undefined;
  readonly port: number;
  close(): Promise<void>;
}

/** Stops are sent so often against loss; the head does each number once. */
const STOP_TIMES_MS = [0, 40, 120, 250];
const LONGEST_RESTART_MS = 5000;
/** Keeps what was compiled: a button pressed once an hour must not be compiled anew. */
const ENGINE_FLAGS = ['--no-flush-bytecode'];
/** An engine that lived so long was well: its restart does not wait. */
const WELL_AFTER_MS = 10_000;

/** Runs the engine as a child process: when it ends, its moves are stopped first, then it is started again. */
export async function supervise(
  entry: string,
  config: ServerConfig,
  onWords: (words: string) => void = () => undefined,
): Promise<Supervisor> {
  const guards = new Map<string, Stops>();
  let child: ChildProcess | null = null;
  let closing = false;
  let port = config.port;
  /** Deaths in a row, each soon after its start. */
  let failures = 0;
  let everReady = false;

  const sendStops = (): void => {
    for (const { host, port: devicePort, datagrams } of guards.values()) {
      const socket = createSocket('udp4');
      socket.on('error', () => undefined);
      for (const at of STOP_TIMES_MS) {
        setTimeout(() => datagrams.forEach((one) => socket.send(Buffer.from(one, 'base64'), devicePort, host)), at);
      }
      setTimeout(() => socket.close(), (STOP_TIMES_MS.at(-1) ?? 0) + 50);
    }
    guards.clear();
  };

  const start = (): Promise<void> =>
    new Promise((resolve, reject) => {
      const began = Date.now();
      const engine = fork(entry, [JSON.stringify({ ...config, port })], {
        stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
        execArgv: ENGINE_FLAGS,
      });
      child = engine;
      engine.on('message', (message: FromEngine) => {
        if (message.type === 'ready') {
          port = message.port;
          everReady = true;
          resolve();
        } else if (message.stops === null) guards.delete(message.device);
        else guards.set(message.device, message.stops);
      });
      engine.once('exit', (code, signal) => {
        if (closing) return;
        sendStops();
        reject(new Error(`The engine ended before it was ready (${signal ?? code ?? 'unknown'}).`));
        // One that never came up is told to whoever starts it; one that was up is brought back.
        if (!everReady) return;
        failures = Date.now() - began > WELL_AFTER_MS ? 0 : failures + 1;
        const delay = failures <= 1 ? 0 : Math.min(LONGEST_RESTART_MS, 100 * 2 ** (failures - 2));
        onWords(`The engine ended (${signal ?? code ?? 'unknown'}); starting it again.`);
        setTimeout(() => void start().catch(() => undefined), delay);
      });
    });

  await start();
  return {
    pid: () => child?.pid,
    get port() {
      return port;
    },
    close: () =>
      new Promise((resolve) => {
        closing = true;
        if (!child || child.exitCode !== null || child.signalCode !== null) return resolve();
        const force = setTimeout(() => child?.kill('SIGKILL'), 5000);
        child.once('exit', () => {
          clearTimeout(force);
          sendStops();
          resolve();
        });
        child.kill('SIGTERM');
      }),
  };
}
