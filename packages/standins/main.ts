import { serveStandin } from './serve';

/** One stand-in as a process of its own; its settings come as JSON in the first argument. Ends when its parent is gone. */
const standin = await serveStandin(JSON.parse(process.argv[2] ?? '{}'));
process.send?.({ ready: true, port: standin.port, controlPort: standin.controlPort });
process.on('disconnect', () => process.exit(0));
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => void standin.close().then(() => process.exit(0)));
