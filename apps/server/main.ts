import { setFlagsFromString } from 'node:v8';
import { PipeSink } from './journal/pipeSink';
import { type RunningServer, serve } from './serve';
import { BEAT_MS } from './supervisor/beatWatch';
import { type FromEngine, type FromParent, JOURNAL_FD } from './supervisor/messages';

/** The engine process. Its parent says what to begin with, takes its as-run, its beat, and what would stop its moves. */
const tell = (message: FromEngine): void => {
  if (process.connected) process.send?.(message, undefined, undefined, () => undefined);
};
let running: RunningServer | null = null;
let closing = false;

const end = (): void => {
  if (closing) return;
  closing = true;
  const last = setTimeout(() => process.exit(0), 4000);
  last.unref();
  void (running?.close() ?? Promise.resolve()).finally(() => process.exit(0));
};

// Whatever slips through every border must not end a running show; it is told and counted.
process.on('uncaughtException', (error) => {
  if (running === null) {
    tell({ type: 'failed', words: error.message });
    return process.exit(1);
  }
  running.host.trouble('somewhere', error);
});
process.on('unhandledRejection', (error) => running?.host.trouble('a promise', error));

process.on('message', (message: FromParent) => {
  if (message.type === 'disk') return running?.host.diskState(message.state);
  const { config, epoch, left } = message;
  serve(config, {
    epoch,
    left,
    sink: new PipeSink(JOURNAL_FD),
    guard: (device, move) => tell({ type: 'guard', device, move }),
  }).then(
    (server) => {
      running = server;
      if (closing) return void server.close().finally(() => process.exit(0));
      setInterval(() => tell({ type: 'beat' }), BEAT_MS);
      tell({ type: 'beat' });
      tell({ type: 'ready', port: server.port, room: server.room });
      // From now on code is compiled after dozens of calls in place of hundreds: V8 looks whether to compile a function each time it has run
      // so many bytes of bytecode (67,584 unless told otherwise), and most buttons are pressed too seldom for that. Not before: it would
      // double the time of a restart.
      if (config.compileSoon !== false) setFlagsFromString('--interrupt-budget=2000');
    },
    (error: unknown) => {
      tell({ type: 'failed', words: error instanceof Error ? error.message : String(error) });
      setTimeout(() => process.exit(1), 50);
    },
  );
});
process.on('disconnect', end);
process.on('SIGINT', end);
process.on('SIGTERM', end);
tell({ type: 'hello' });
