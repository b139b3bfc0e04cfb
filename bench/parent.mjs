import { join } from 'node:path';
import { pathToFileURL } from 'node:url';

/** The parent of an engine in a process of its own, as `npm start` has it: what it writes is not the measuring process's work. */
const { supervise } = await import(pathToFileURL(join(process.cwd(), 'dist', 'supervisor.mjs')).href);
const supervisor = await supervise(join('dist', 'engine.mjs'), JSON.parse(process.argv[2]));
process.send({ port: supervisor.port, room: supervisor.room });
process.on('message', (message) => message === 'kill' && process.kill(supervisor.pid(), 'SIGKILL'));
process.on('disconnect', () => void supervisor.close().then(() => process.exit(0)));
