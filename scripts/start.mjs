import { fork, spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdirSync, readFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import {
  buildPage,
  buildProcesses,
  DIST,
  lockFolder,
  needModules,
  needPort,
  PAGE,
  ROOT,
  say,
  startPostgres,
  step,
} from './lib.mjs';

/**
 * npm start: everything from an empty machine to a running demo show. `npm start -- --empty` begins without the demo, `npm start -- --room` lets
 * phones and other machines join. UMBEK_PORT, UMBEK_ROOM_PORT, UMBEK_OSC_PORT, UMBEK_DATA and UMBEK_PG_PORT set ports and data folder.
 */
const began = Date.now();
const empty = process.argv.includes('--empty');
const room = process.argv.includes('--room');
const port = Number(process.env.UMBEK_PORT ?? 4400);
const data = resolve(process.env.UMBEK_DATA ?? join(ROOT, '.umbek'));
const roomPort = Number(process.env.UMBEK_ROOM_PORT ?? port + 43);
const pgPort = Number(process.env.UMBEK_PG_PORT ?? port + 32);

const closers = [];
let closing = null;
const close = (code) => {
  closing ??= (async () => {
    say('\nEnding …');
    for (const closer of closers.reverse()) await closer();
    say('Ended; nothing is left running.');
    process.exit(code);
  })();
  return closing;
};
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void close(0));
// npm, or the shell that it started us in, may be ended alone: then nobody is left to say so.
const parentOf = (pid) => {
  try {
    return Number(
      readFileSync(`/proc/${pid}/stat`, 'utf8')
        .replace(/^.*\) /s, '')
        .split(' ')[1],
    );
  } catch {
    return 0;
  }
};
const startedBy = () => `${process.ppid} ${parentOf(process.ppid)}`;
if (process.env.npm_lifecycle_event !== undefined) {
  const atFirst = startedBy();
  setInterval(() => startedBy() !== atFirst && void close(0), 500).unref();
}
/** PostgreSQL dying alone is started again after so long at the most. */
const DATABASE_LOOK_MS = 2000;

/** A process of its own that ends the database when this one is gone without a word. */
function watchOver(stopCommand) {
  const script = `const [pid, command, ...args] = process.argv.slice(1);
    const look = () => { try { process.kill(Number(pid), 0); setTimeout(look, 500); } catch { require('node:child_process').spawnSync(command, args, { cwd: '/' }); } };
    look();`;
  const [command, args] = stopCommand;
  const watcher = spawn(process.execPath, ['-e', script, String(process.pid), command, ...args], {
    detached: true,
    stdio: 'ignore',
  });
  watcher.unref();
  return () => watcher.kill('SIGTERM');
}

try {
  mkdirSync(data, { recursive: true });
  // Before anything is touched: a second start must not disturb the running show.
  closers.push(lockFolder(data, `http://127.0.0.1:${port}`));
  await needPort(port, 'UMBEK_PORT');
  if (room) await needPort(roomPort, 'UMBEK_ROOM_PORT', process.env.UMBEK_ROOM_HOST ?? '0.0.0.0');
  await needModules();
  await buildProcesses();
  await buildPage();
  const database = await step('Starting PostgreSQL', () => startPostgres(data, pgPort));
  const unwatch = watchOver(database.stopCommand);
  const look = setInterval(() => {
    if (closing !== null || database.isUp()) return;
    say('PostgreSQL has ended; it is started again. The show goes on.');
    database.start();
  }, DATABASE_LOOK_MS);
  closers.push(() => {
    clearInterval(look);
    unwatch();
    database.stop();
  });
  const controlToken = randomUUID();

  if (!empty) {
    const { demoStandins } = await import(join(DIST, 'supervisor.mjs'));
    await step('Starting the stand-ins', () =>
      Promise.all(
        // Those of the rack share a process.
        [
          ...demoStandins()
            .filter(({ rack }) => !rack)
            .map((standin) => [standin]),
          demoStandins().filter(({ rack }) => rack),
        ].map(
          (standins) =>
            new Promise((ready, failed) => {
              const configs = standins.map(({ key: _key, rack: _rack, ...standin }) => ({
                ...standin,
                controlPort: standin.port + 1000,
                token: controlToken,
                announce: room,
              }));
              const child = fork(join(DIST, 'standin.mjs'), [JSON.stringify(configs)], {
                stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
              });
              child.once('message', ready);
              child.once('exit', (code) =>
                failed(
                  new Error(
                    `The stand-in for ${standins[0].name} did not start (${code}); is one of the ports ${standins.map((standin) => standin.port).join(', ')} taken?`,
                  ),
                ),
              );
              closers.push(
                () =>
                  new Promise((done) =>
                    child.exitCode === null && child.signalCode === null
                      ? (child.once('exit', done), child.kill('SIGTERM'))
                      : done(),
                  ),
              );
            }),
        ),
      ),
    );
  }
  const { supervise } = await import(join(DIST, 'supervisor.mjs'));
  const supervisor = await step('Starting the engine', () =>
    supervise(
      join(DIST, 'engine.mjs'),
      {
        port,
        folder: join(data, 'engine'),
        databaseUrl: database.url,
        migrations: join(ROOT, 'apps/server/database/migrations'),
        page: PAGE,
        seed: empty ? 'empty' : 'demo',
        controlToken,
        // Every network of this machine, and loopback, where the stand-ins are.
        discover: room ? ['0.0.0.0', '127.0.0.1'] : [],
        // Opened with the first token for it.
        oscPort: Number(process.env.UMBEK_OSC_PORT ?? port + 44),
        room: room
          ? {
              port: roomPort,
              ...(process.env.UMBEK_ROOM_HOST ? { host: process.env.UMBEK_ROOM_HOST } : {}),
              ...(process.env.UMBEK_CERT ? { certFile: process.env.UMBEK_CERT } : {}),
              ...(process.env.UMBEK_CERT_KEY ? { keyFile: process.env.UMBEK_CERT_KEY } : {}),
            }
          : null,
      },
      say,
    ),
  );
  closers.push(() => supervisor.close());
  say(
    `\nUmbek is ready after ${((Date.now() - began) / 1000).toFixed(1)} s:  http://127.0.0.1:${supervisor.port}${supervisor.room.length === 0 ? '' : `\nPhones and other machines join at ${supervisor.room.join(' or ')}: let them in under Rig, Stations.`}\nCtrl-C ends all of it.`,
  );
} catch (error) {
  process.stderr.write(`\n${error instanceof Error ? error.message : String(error)}\n`);
  await close(1);
}
