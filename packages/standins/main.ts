import { type RunningStandin, serveStandin, type StandinConfig } from './serve';

/** One stand-in, or several, as a process of their own; their settings come as JSON in the first argument. Ends when its parent is gone. */
const asked = JSON.parse(process.argv[2] ?? '{}') as StandinConfig | StandinConfig[];
const standins: RunningStandin[] = [];
for (const config of Array.isArray(asked) ? asked : [asked]) standins.push(await serveStandin(config));
process.send?.({ ready: true });
process.on('disconnect', () => process.exit(0));
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, () => void Promise.all(standins.map((standin) => standin.close())).then(() => process.exit(0)));
