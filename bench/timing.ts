import { createSocket, type Socket } from 'node:dgram';
import { demoId } from '@umbek/demo';
import { switcher } from '@umbek/core/devices';
import type { Button, Device, Macro, Step } from '@umbek/core/show';
import { RealClock } from '@umbek/host';
import { OscStandin } from '@umbek/standins';
import { decodeOsc } from '@umbek/wire/osc';
import { ulid } from 'ulid';
import { showWithButtons } from './lamps';
import { startEngine } from './press';
import { type BenchRow, quantile, row } from './result';

const DEVICES = 10;
const ROUNDS = 60;
/** The first rounds compile what the others run. */
const WARM = 10;
/** Of each bundle so many commands. */
const COMMANDS = 4;
const BUNDLE_LIMIT_MS = 2;
/** What came is read so long after it was timed, milliseconds. */
const READ_AFTER_MS = 5;
const FRAME_RATE = 50;
/** Two ticks are a second apart; what comes sooner is one of them sent again, milliseconds. */
const APART_MS = 500;
const PAUSE_FRAMES = 50;
/** An hour's pauses. */
const PAUSES = 3600;
/** So much of the hour is played. */
const PLAYED_MINUTES = Number(process.env.BENCH_MINUTES ?? 10);

interface Heard {
  /** Milliseconds, with fractions. */
  readonly at: number;
  readonly verbs: readonly string[];
}

/** A switcher on a socket of its own that writes down when which commands came. */
async function listener(index: number): Promise<{ device: Device; heard: Heard[]; socket: Socket }> {
  const socket = createSocket('udp4');
  await new Promise<void>((bound) => socket.bind(0, '127.0.0.1', bound));
  const standin = new OscStandin(
    switcher,
    { frameRate: FRAME_RATE },
    {
      clock: new RealClock(),
      refusing: () => false,
      send: (bytes, to) => socket.send(bytes, Number(to.split(':')[1]), '127.0.0.1'),
    },
  );
  const heard: Heard[] = [];
  // Times are taken first and messages read afterwards: what one of the ten costs here is not the next one's matter.
  socket.on('message', (bytes, from) => {
    const at = performance.now();
    setTimeout(() => {
      const found = decodeOsc(bytes);
      const verbs = found.ok ? found.value.map(({ address }) => address.split('/').at(-1) ?? '') : [];
      if (verbs.some((verb) => verb !== 'ping' && verb !== 'read')) heard.push({ at, verbs });
      standin.receive(bytes, `127.0.0.1:${from.port}`);
    }, READ_AFTER_MS);
  });
  const key = `osc${index}`;
  const { port } = socket.address();
  const device: Device = {
    id: demoId('DEV', 800 + index),
    key,
    name: `OSC ${index}`,
    kind: 'switcher',
    host: '127.0.0.1',
    port,
    room: '',
    settings: { frameRate: FRAME_RATE },
    order: `z${index}`,
  };
  return { device, heard, socket };
}

const preview = (id: string, device: string, source: string): Step => ({
  id,
  onFail: 'stop',
  kind: 'command',
  device,
  command: 'preview',
  params: { source },
});

const macro = (number: number, name: string, steps: Step[]): Macro => ({
  id: demoId('MAC', 800 + number),
  number,
  name,
  folder: '',
  params: [],
  steps,
  stopSteps: [],
  atStop: 'steps',
  again: 'startOver',
  owns: [],
});

const pause = (ms: number): Promise<void> => new Promise((next) => setTimeout(next, ms));

/** What leaves together, and how far an hour of pauses drifts: real engine, real sockets. */
export async function benchTiming(): Promise<BenchRow[]> {
  const listeners = await Promise.all(Array.from({ length: DEVICES }, (_, at) => listener(at)));
  const [first] = listeners;
  if (first === undefined) return [];
  const sources = ['deskCam', 'lawnCam', 'domeCam', 'roofCam'];
  const together = macro(801, 'Together', [
    {
      id: 'all',
      onFail: 'stop',
      kind: 'together',
      steps: Array.from({ length: COMMANDS }, (_, at) =>
        listeners.map(({ device: { key } }) => preview(`${key}${at}`, key, sources[at] ?? 'black')),
      ).flat(),
    },
  ]);
  const long = macro(802, 'An hour of pauses', [
    {
      id: 'hour',
      onFail: 'stop',
      kind: 'repeat',
      over: { times: PAUSES },
      steps: [
        preview('tick', first.device.key, 'deskCam'),
        { id: 'second', onFail: 'stop', kind: 'pause', length: { frames: PAUSE_FRAMES } },
      ],
    },
  ]);
  const engine = await startEngine(
    undefined,
    undefined,
    (ports) => {
      const show = showWithButtons(10, ports);
      const buttons = show.buttons.map((button, at): Button => {
        const runs = [together, long][at];
        return runs === undefined
          ? button
          : { ...button, steps: [{ id: 'run', onFail: 'stop', kind: 'run', macro: runs.id, params: {} }] };
      });
      return {
        ...show,
        show: { ...show.show, frameRate: FRAME_RATE },
        buttons,
        macros: [together, long],
        triggers: [],
      };
    },
    1,
    listeners.map(({ device }) => device),
  );
  const run = async (at: number): Promise<void> => {
    const reply = await fetch(`${engine.url}/api/press`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ pressId: ulid(), buttonId: demoId('BTN', 1000 + at), phase: 'down', station: 'bench' }),
    });
    const answer = (await reply.json()) as { accepted?: boolean };
    if (answer.accepted !== true) throw new Error(`It did not run: ${JSON.stringify(answer)}`);
  };
  const apart: number[] = [];
  for (let round = 0; round < ROUNDS; round += 1) {
    for (const item of listeners) item.heard.length = 0;
    await run(0);
    await pause(120);
    // A machine that stood still makes the engine send once more: the first of each counts.
    const bundles = listeners.flatMap(({ heard }) => heard.slice(0, 1));
    if (bundles.length !== DEVICES || bundles.some(({ verbs }) => verbs.length !== COMMANDS))
      throw new Error(`Not one bundle of ${COMMANDS} commands to each: ${JSON.stringify(bundles)}`);
    const times = bundles.map(({ at }) => at);
    if (round >= WARM) apart.push(Math.max(...times) - Math.min(...times));
  }
  first.heard.length = 0;
  await run(1);
  await pause(PLAYED_MINUTES * 60_000 + 500);
  // What the engine sent once more, because the machine stood still, is the same tick: the first of each counts.
  const heard = first.heard.map(({ at }) => at);
  const ticks = heard.filter((at, index) => index === 0 || at - (heard[index - 1] ?? 0) > APART_MS);
  const begun = ticks[0] ?? Number.NaN;
  // Each tick is due so many seconds after the first; the last hundred tell how far that has gone.
  const off = ticks.map((at, index) => Math.abs(at - begun - (index * PAUSE_FRAMES * 1000) / FRAME_RATE)).slice(-100);
  if (ticks.length < PLAYED_MINUTES * 60) throw new Error(`Only ${ticks.length} ticks came.`);
  await engine.close();
  for (const { socket } of listeners) socket.close();
  return [
    row(
      `One bundle of ${COMMANDS} commands to each of ${DEVICES} OSC devices, first to last (median of ${ROUNDS - WARM})`,
      'ms',
      quantile(apart, 0.5),
      BUNDLE_LIMIT_MS,
      1,
    ),
    row(
      `Drift of an hour's pauses after ${PLAYED_MINUTES} minutes, against one frame of ${FRAME_RATE} (median of the last 100)`,
      'ms',
      quantile(off, 0.5),
      1000 / FRAME_RATE,
      1,
    ),
  ];
}
