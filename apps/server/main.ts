import { serve } from './serve';

/** The engine process: settings as JSON in the first argument. It leaves with its parent the datagrams that would stop its moves. */
const running = await serve(JSON.parse(process.argv[2] ?? '{}'), (device, stops) => {
  if (process.connected) process.send?.({ type: 'guard', device, stops });
});
process.send?.({ type: 'ready', port: running.port });

let closing = false;
const end = (): void => {
  if (closing) return;
  closing = true;
  void running.close().finally(() => process.exit(0));
};
process.on('disconnect', end);
process.on('SIGINT', end);
process.on('SIGTERM', end);
