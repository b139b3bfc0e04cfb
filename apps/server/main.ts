import { setFlagsFromString } from 'node:v8';
import { serve } from './serve';

/** The engine process: settings as JSON in the first argument. It leaves with its parent the datagrams that would stop its moves. */
const running = await serve(JSON.parse(process.argv[2] ?? '{}'), (device, stops) => {
  if (process.connected) process.send?.({ type: 'guard', device, stops });
});
process.send?.({ type: 'ready', port: running.port });
// From now on code is compiled after dozens of calls in place of hundreds: V8 looks whether to compile a function each time it has run so
// many bytes of bytecode (67,584 unless told otherwise), and most buttons are pressed too seldom for that. Not before: it would double the
// time of a restart.
setFlagsFromString('--interrupt-budget=2000');

let closing = false;
const end = (): void => {
  if (closing) return;
  closing = true;
  void running.close().finally(() => process.exit(0));
};
process.on('disconnect', end);
process.on('SIGINT', end);
process.on('SIGTERM', end);
