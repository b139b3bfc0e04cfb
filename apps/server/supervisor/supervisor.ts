import { type ChildProcess, fork } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { RealClock } from '@umbek/host';
import { openLog, putLogAside } from '../border/log';
import { RealDisk } from '../journal/files';
import { JournalWriter } from '../journal/journalWriter';
import type { ServerConfig } from '../serve';
import { BeatWatch } from './beatWatch';
import { Guards } from './guards';
import { JournalPipe } from './journalPipe';
import type { FromEngine, FromParent } from './messages';
import { stopSender } from './stopSender';

export interface Supervisor {
  /** The engine process of now; another one after a restart. */
  pid(): number | undefined;
  readonly port: number;
  /** Addresses at which the room reaches it; none: it listens on loopback alone. */
  readonly room: readonly string[];
  close(): Promise<void>;
}

const LONGEST_RESTART_MS = 5000;
/** Keeps what was compiled: a button pressed once an hour must not be compiled anew. */
const ENGINE_FLAGS = ['--no-flush-bytecode'];
/** An engine that lived so long was well: its restart does not wait. */
const WELL_AFTER_MS = 10_000;
/** The pipe of the as-run is looked into so often. */
const PIPE_LOOK_MS = 10;
/** An engine that was told to end and does not is ended. */
const END_LIMIT_MS = 5000;
/** What waits for the disk when all is ended is waited for so long. */
const FLUSH_LIMIT_MS = 3000;

/**
 * Runs the engine as a child process and outlives it: writes its as-run to the disk, keeps what ends its moves, listens to its beat. When it
 * ends or hangs, its moves are stopped first, what it left open is closed, then it is started again.
 */
export async function supervise(
  entry: string,
  config: ServerConfig,
  onWords: (words: string) => void = () => undefined,
): Promise<Supervisor> {
  const clock = new RealClock((error) => onWords(`The parent failed: ${String(error)}`));
  mkdirSync(config.folder, { recursive: true });
  let child: ChildProcess | null = null;
  let closing = false;
  let port = config.port;
  let room: readonly string[] = [];
  /** Deaths in a row, each soon after its start. */
  let failures = 0;
  let everReady = false;
  const tell = (message: FromParent): void => {
    if (child?.connected === true) child.send(message, () => undefined);
  };
  const writer = new JournalWriter(new RealDisk(config.folder), clock, {
    onState: (state) => tell({ type: 'disk', state }),
  });
  putLogAside(config.folder);
  const log = openLog(config.folder, 'parent');
  await writer.begin();
  const say = (words: string): void => {
    log.warn(words);
    writer.append([{ kind: 'engine', t: 0, words }]);
  };
  const guards = new Guards(clock, stopSender, (device, why) => say(`The parent stopped ${device}: ${why}.`));

  const start = (): Promise<void> =>
    new Promise((resolve, reject) => {
      const began = Date.now();
      const epoch = writer.beginEpoch(`Epoch ${writer.nextEpoch} begins.`);
      const pipe = new JournalPipe();
      const engine = fork(entry, [], {
        stdio: ['ignore', 'inherit', 'inherit', 'ipc', pipe.fd],
        execArgv: ENGINE_FLAGS,
      });
      child = engine;
      log.info({ epoch, engine: engine.pid }, 'engine begins');
      let why = '';
      const look = setInterval(() => writer.accept(pipe.read()), PIPE_LOOK_MS);
      const watch = new BeatWatch(clock, {
        moving: () => guards.moving.length > 0,
        stopMoves: (silent) => guards.stopAll(`the engine had not beaten for ${Math.round(silent)} ms`, true),
        hung: (silent) => {
          why = `it hung for ${Math.round(silent / 100) / 10} s`;
          engine.kill('SIGKILL');
        },
      });
      engine.on('message', (message: FromEngine) => {
        switch (message.type) {
          case 'hello':
            return tell({ type: 'begin', config: { ...config, port }, epoch, left: writer.leftBehind() });
          case 'beat':
            return watch.beat();
          case 'guard':
            return guards.set(message.device, message.move);
          case 'failed':
            why = message.words;
            return undefined;
          case 'ready':
            port = message.port;
            room = message.room;
            everReady = true;
            tell({ type: 'disk', state: writer.state });
            return resolve();
        }
      });
      engine.on('error', () => undefined);
      engine.once('exit', (code, signal) => {
        watch.close();
        const ended = `The engine ended (${why === '' ? (signal ?? code ?? 'unknown') : why}).`;
        guards.stopAll(closing ? 'the engine was ended' : 'the engine had ended');
        log[closing ? 'info' : 'error']({ epoch, code, signal }, ended);
        clearInterval(look);
        writer.accept(pipe.read());
        pipe.close();
        writer.engineEnded(ended);
        reject(new Error(why === '' ? `${ended.slice(0, -1)} before it was ready.` : why));
        // One that never came up is told to whoever starts it; one that was up is brought back.
        if (closing || !everReady) return;
        failures = Date.now() - began > WELL_AFTER_MS ? 0 : failures + 1;
        const delay = failures <= 1 ? 0 : Math.min(LONGEST_RESTART_MS, 100 * 2 ** (failures - 2));
        onWords(`${ended} It is started again.`);
        setTimeout(() => {
          if (!closing) void start().catch(() => undefined);
        }, delay);
      });
    });

  await start().catch(async (error: unknown) => {
    await writer.flushed(FLUSH_LIMIT_MS);
    throw error;
  });
  return {
    pid: () => child?.pid,
    get port() {
      return port;
    },
    get room() {
      return room;
    },
    close: async () => {
      closing = true;
      await new Promise<void>((resolve) => {
        if (!child || child.exitCode !== null || child.signalCode !== null) return resolve();
        const force = setTimeout(() => child?.kill('SIGKILL'), END_LIMIT_MS);
        child.once('exit', () => {
          clearTimeout(force);
          // The stops that the parent repeats, and the last of the pipe.
          setTimeout(resolve, 350);
        });
        child.kill('SIGTERM');
      });
      await writer.flushed(FLUSH_LIMIT_MS);
      writer.close();
    },
  };
}
