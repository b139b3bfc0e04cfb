import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { demoId } from '@umbek/demo';
import { PLAIN_BUTTON, type ShowDocument } from '@umbek/core/show';
import type { PadTelling } from '@umbek/protocol';
import { ulid } from 'ulid';
import { WebSocket } from 'ws';
import { FarStations } from './farStations';
import { showWithButtons } from './lamps';
import { inTurns, type OurEngine, pressOnce, startEngine } from './press';
import { type BenchRow, quantile, row } from './result';

const BUTTONS = 1000;
const STATIONS = 200;
const PRESSES = 600;
const BACK = 50;
const STALL_MS = 3000;
const TIMES = 8;
const SPACING_MS = 8;
const [CAPS, PICTURE] = [32, 96];
const ROUNDS = 150;
/** Changed caps a second, and for how long they are counted. */
const [A_SECOND, SECONDS] = [25, 8];

const pause = (ms: number): Promise<void> => new Promise((next) => setTimeout(next, ms));

/** What many stations cost a press, and what a pad with pictures costs the machine. */
export async function benchStations(): Promise<BenchRow[]> {
  return [await manyStations(), ...(await allComeBack()), ...(await allComeBackFar()), ...(await padWithPictures())];
}

/** With two hundred stations that show everything, beside one. */
async function manyStations(): Promise<BenchRow> {
  const many = await startEngine(undefined, undefined, undefined, STATIONS);
  const item = await startEngine(undefined, undefined, undefined, 1);
  await inTurns(many, item, PRESSES);
  await many.close();
  await item.close();
  return row(
    `press → first datagram with ${STATIONS} stations, beside one (p99)`,
    'ms',
    quantile(many.samples, 0.99),
    quantile(item.samples, 0.99),
    3,
  );
}

/** Presses while fifty stations come back at once, beside presses before that. */
async function allComeBack(): Promise<BenchRow[]> {
  const ours = await startEngine(undefined, undefined, undefined, BACK);
  const rows = await busyBesideQuiet(ours, `${BACK} stations come back`, () => ours.returnAll());
  await ours.close();
  return rows;
}

/** The same in the room: TLS, a key each, three tenths of a second there and back, five of a hundred pieces lost; and after a network that stood still. */
async function allComeBackFar(): Promise<BenchRow[]> {
  const ours = await startEngine(undefined, undefined, undefined, 1, [], true);
  const far = await FarStations.start(ours.url, ours.room, BACK);
  const rows = [
    ...(await busyBesideQuiet(ours, `${BACK} stations come back through a bad network with TLS`, () =>
      far.order('return'),
    )),
    ...(await busyBesideQuiet(
      ours,
      `${BACK} stations hear again after a network that stood still for ${STALL_MS / 1000} s`,
      () => far.order({ stallMs: STALL_MS }),
      STALL_MS - 100,
    )),
  ];
  far.close();
  await ours.close();
  return rows;
}

/**
 * Presses in the second that follows something, and until it is over, beside a second before it.
 * @param comeBack what happens; done when all have come back
 * @param afterMs the second begins so long after it
 */
async function busyBesideQuiet(
  ours: OurEngine,
  what: string,
  comeBack: () => Promise<void>,
  afterMs = 0,
): Promise<BenchRow[]> {
  const quiet: number[] = [];
  const busy: number[] = [];
  await pressUntil(ours, [], after(1000));
  for (let time = 0; time < TIMES; time += 1) {
    await pressUntil(ours, quiet, after(1000));
    let back = false;
    void comeBack().then(() => (back = true));
    await pressUntil(ours, [], after(afterMs));
    const over = after(1000);
    await pressUntil(ours, busy, () => back && over());
  }
  return (
    [
      [0.5, 'median'],
      [0.99, 'p99'],
    ] as const
  ).map(([share, named]) =>
    row(
      `press → first datagram in the second in which ${what}, beside before (${named})`,
      'ms',
      quantile(busy, share),
      quantile(quiet, share),
      2,
    ),
  );
}

/** Presses at an even pace until it is over. */
async function pressUntil(ours: OurEngine, samples: number[], over: () => boolean): Promise<void> {
  for (let at = 0; !over(); at += 1) {
    samples.push(await pressOnce(ours, demoId('BTN', 1000 + (at % BUTTONS))));
    await pause(SPACING_MS);
  }
}

function after(ms: number): () => boolean {
  const end = performance.now() + ms;
  return () => performance.now() > end;
}

const PAD = 'bench-pad';
const STATION = demoId('STA', 90);
const COUNTS = { all: demoId('BTN', 95), few: demoId('BTN', 96) };

/** A panel of as many caps as the pad has keys, each of which shows a value that counts. */
function showOfPad(ports: Parameters<typeof showWithButtons>[1]): ShowDocument {
  const show = showWithButtons(0, ports);
  const [panel] = show.panels;
  const [strip] = show.strips;
  const [value] = show.values;
  if (panel === undefined || strip === undefined || value === undefined) throw new Error('The demo is empty.');
  return {
    ...show,
    values: ['all', 'few'].map((key, at) => ({ ...value, id: demoId('VAR', 90 + at), key, start: 0, order: `a${at}` })),
    panels: [
      { ...panel, pages: [] },
      { ...panel, id: demoId('PAN', 95), name: 'Counts', pages: [], order: 'z' },
    ],
    strips: [
      { ...strip, panelId: panel.id, page: '' },
      { ...strip, id: demoId('STR', 95), panelId: demoId('PAN', 95), page: '' },
    ],
    buttons: [
      ...Array.from({ length: CAPS }, (_none, at) => ({
        ...PLAIN_BUTTON,
        id: demoId('BTN', 1000 + at),
        stripId: strip.id,
        legend: `Cap ${at + 1} {{ string(value.all)${at < A_SECOND ? ' + "." + string(value.few)' : ''} }}`,
        steps: [],
        order: `b${String(at).padStart(3, '0')}`,
      })),
      // On no panel that the pad shows.
      ...(['all', 'few'] as const).map((key) => ({
        ...PLAIN_BUTTON,
        id: COUNTS[key],
        stripId: demoId('STR', 95),
        legend: key,
        steps: [
          {
            id: 'count',
            onFail: 'stop' as const,
            kind: 'set' as const,
            target: `value.${key}`,
            to: { cel: `value.${key} + 1` },
          },
        ],
        order: key,
      })),
    ],
    stations: [
      {
        id: STATION,
        name: 'Pad',
        place: '',
        panels: [],
        opensOn: panel.id,
        linkGroup: 'main',
        loose: [],
        parts: [],
        placed: [],
        order: 'a',
      },
    ],
  };
}

/** Milliseconds of processor that a process has used. Linux counts them in hundredths of a second. */
const cpuMs = (pid: number): number => {
  const fields = readFileSync(`/proc/${pid}/stat`, 'utf8')
    .replace(/^.*\) /, '')
    .split(' ');
  return (Number(fields[11]) + Number(fields[12])) * 10;
};
const childrenOf = (pid: number): number[] => {
  try {
    return execFileSync('pgrep', ['-P', String(pid)], { encoding: 'utf8' })
      .trim()
      .split('\n')
      .map(Number);
  } catch {
    return [];
  }
};
/** Engine and painter, with all that they start. */
const below = (pid: number): number[] => childrenOf(pid).flatMap((child) => [child, ...below(child)]);

async function padWithPictures(): Promise<BenchRow[]> {
  const folder = mkdtempSync(join(tmpdir(), 'umbek-bench-'));
  writeFileSync(join(folder, 'pads.json'), JSON.stringify([[PAD, STATION]]));
  const ours = await startEngine(undefined, folder, showOfPad, 1);
  const pad = new WebSocket(`${ours.url.replace('http', 'ws')}/api/pad`);
  /** Called with the keys whose pictures came. */
  let onPictures: (keys: readonly number[]) => void = () => undefined;
  pad.on('message', (data: Buffer) => {
    const message = JSON.parse(String(data)) as PadTelling;
    if (message.type === 'caps')
      onPictures(message.caps.flatMap(({ key, picture }) => (picture === undefined ? [] : [key])));
  });
  await new Promise((open) => pad.once('open', open));
  const hello = { type: 'hello', protocol: 1, name: 'Pad', serial: PAD, columns: 8, rows: 4 };
  const drawn = (count: number): Promise<void> =>
    new Promise((done) => {
      const arrived = new Set<number>();
      onPictures = (keys) => {
        for (const key of keys) arrived.add(key);
        if (arrived.size >= count) done();
      };
    });
  const first = drawn(CAPS);
  pad.send(JSON.stringify({ ...hello, picture: { width: PICTURE, height: PICTURE } }));
  await first;
  const took: number[] = [];
  for (let time = 0; time < ROUNDS; time += 1) {
    const all = drawn(CAPS);
    const began = performance.now();
    count(ours, 'all');
    await all;
    took.push(performance.now() - began);
    await pause(50);
  }
  const spent = async (key: keyof typeof COUNTS | null): Promise<number> => {
    const before = below(ours.parent).map(cpuMs);
    for (let second = 0; second < SECONDS; second += 1) {
      if (key !== null) count(ours, key);
      await pause(1000);
    }
    return below(ours.parent)
      .map(cpuMs)
      .reduce((sum, ms, at) => sum + ms - (before[at] ?? 0), 0);
  };
  const idle = await spent(null);
  const busy = await spent('few');
  pad.terminate();
  await ours.close();
  return [
    row(
      `press that sets a value → ${CAPS} pictures of ${PICTURE} × ${PICTURE} at a pad (p99)`,
      'ms',
      quantile(took, 0.99),
      100,
      1,
    ),
    row(
      `a pad with pictures of which ${A_SECOND} a second change, of one core`,
      '%',
      ((busy - idle) / (SECONDS * 1000)) * 100,
      10,
      1,
    ),
  ];
}

/** Presses what lets a value count on. */
function count({ socket }: OurEngine, key: keyof typeof COUNTS): void {
  socket.send(JSON.stringify({ type: 'press', pressId: ulid(), buttonId: COUNTS[key], phase: 'down', at: Date.now() }));
}
