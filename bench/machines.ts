import { type ChildProcess, fork } from 'node:child_process';
import { join } from 'node:path';
import { corvaneHill, DEMO_PORTS } from '@umbek/demo';
import { compileProgram, Engine } from '@umbek/core/engine';
import type { Device, ShowDocument } from '@umbek/core/show';
import { RealClock } from '@umbek/host';
import { realNetwork } from '../apps/server/border/realNetwork';
import { DeviceSockets } from '../apps/server/engine/deviceSockets';
import { freePort, until } from '../e2e/support/demo';
import { type BenchRow, quantile, row } from './result';

const ROUNDS = 7;
const LISTENED_MS = 5000;
const CHANNELS = 64;
const MATRIX = 1024;

/** A stand-in in a process of its own. */
export async function startStandin(
  kind: string,
  settings: Record<string, unknown>,
): Promise<{ port: number; process: ChildProcess }> {
  const [port, controlPort] = [await freePort(), await freePort()];
  const child = fork(join('dist', 'standin.mjs'), [JSON.stringify({ name: kind, kind, port, controlPort, settings })], {
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
  });
  await new Promise<void>((ready, failed) =>
    child.once('message', () => ready()).once('exit', () => failed(new Error(`The stand-in for ${kind} ended.`))),
  );
  child.removeAllListeners('exit');
  return { port, process: child };
}

/** An engine of one device on its real socket. */
function engineFor(
  kind: string,
  port: number,
  settings: Record<string, unknown>,
): { engine: Engine; sockets: DeviceSockets } {
  const demo = corvaneHill(DEMO_PORTS);
  const device: Device = {
    id: demo.devices[0]?.id ?? '',
    key: 'it',
    name: 'It',
    kind,
    host: '127.0.0.1',
    port,
    room: '',
    settings,
    order: 'a0',
  };
  const show: ShowDocument = {
    ...demo,
    devices: [device],
    buttons: [],
    strips: [],
    panels: [],
    macros: [],
    positions: [],
    sources: [],
    roles: [],
    reframes: [],
  };
  const compiled = compileProgram(show, 1);
  const clock = new RealClock();
  let ids = 0;
  const engine = new Engine({
    clock,
    program: compiled,
    journal: { append: () => undefined },
    newId: () => `b${(ids += 1)}`,
  });
  const sockets = new DeviceSockets({
    engine,
    clock,
    flush: () => undefined,
    guard: () => undefined,
    idPrefix: 'b',
    onState: () => undefined,
    travelled: () => undefined,
    network: realNetwork,
    onTrouble: () => undefined,
  });
  return { engine, sockets };
}

/** How soon a large router is known after its connection, and what 64 sound levels 25 times a second cost the process that hears them. */
export async function benchMachines(): Promise<BenchRow[]> {
  const settings = { destinations: MATRIX, sources: MATRIX };
  const router = await startStandin('router', settings);
  const took: number[] = [];
  for (let round = 0; round < ROUNDS; round += 1) {
    const { engine, sockets } = engineFor('router', router.port, settings);
    const began = performance.now();
    sockets.follow();
    await until(
      'the router was read',
      async () => engine.board.read('it.reached') === true && engine.board.read(`it.out${MATRIX}`) === MATRIX,
    );
    took.push(performance.now() - began);
    sockets.close();
  }
  router.process.kill('SIGTERM');

  const mixer = await startStandin('soundMixer', { channels: CHANNELS, voices: 3 });
  const { engine, sockets } = engineFor('soundMixer', mixer.port, { channels: CHANNELS });
  sockets.follow();
  await until('the mixer was read', async () => engine.board.read('it.reached') === true);
  const before = engine.board.revision;
  const [cpu, began] = [process.cpuUsage(), performance.now()];
  await new Promise((next) => setTimeout(next, LISTENED_MS));
  const used = process.cpuUsage(cpu);
  const share = ((used.user + used.system) / 1000 / (performance.now() - began)) * 100;
  const changes = engine.board.revision - before;
  // Listeners do not count a level that has not changed; most of 64 · 25 a second change.
  if (changes < (CHANNELS * 25 * LISTENED_MS) / 1000 / 2)
    throw new Error(`Only ${changes} changes of level were heard.`);
  sockets.close();
  mixer.process.kill('SIGTERM');
  return [
    row(
      `A ${MATRIX} × ${MATRIX} router is connected to and read (median of ${ROUNDS})`,
      'ms',
      quantile(took, 0.5),
      500,
      1,
    ),
    row(`Share of a core that ${CHANNELS} sound levels 25 times a second cost`, '%', share, 5, 1),
  ];
}
