import { execFileSync } from 'node:child_process';
import { readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import type { Health } from '@umbek/protocol';
import { demoId } from '@umbek/demo';
import { ulid } from 'ulid';
import { WebSocket } from 'ws';
import { freshDatabase } from '../e2e/support/database';
import { Demo, freshFolder, until } from '../e2e/support/demo';
import { flood, FLOOD } from './soakFlood';
import { MemoryOf } from './soakMemory';

/**
 * npm run soak -- --minutes 10: the events of an eight-hour show in ten minutes over real sockets, and what of the engine grew, each hour of
 * the show, beside what it may; then devices that go mad, while others are pressed. Ends with 1 when something did not hold.
 */
const HOURS = 8;
const at = process.argv.indexOf('--minutes');
const minutes = at < 0 ? 10 : Number(process.argv[at + 1]);
/** Events of the show; they are spread evenly over the minutes. */
const EVENTS = { press: 1600, hold: 240, stick: 240, edit: 160, page: 320, crowd: 8 };
const CROWD = 50;
const ROOM_MS = 35_000;
/** How much longer a press may take while other devices have gone mad. */
const FLOOD_RATIO = 2;

const pause = (ms: number): Promise<void> => new Promise((next) => setTimeout(next, ms));
const demo = await Demo.start(await freshDatabase(), freshFolder());
const pid = demo.supervisor.pid() ?? 0;
const failures: string[] = [];

const socket = async (group: string): Promise<WebSocket> => {
  const made = new WebSocket(`${demo.url.replace('http', 'ws')}/api/live`);
  made.on('error', (error) => failures.push(`socket: ${error.message}`));
  await new Promise((opened) => made.once('open', opened).once('error', opened));
  made.send(JSON.stringify({ type: 'hello', station: `page ${ulid()}`, linkGroup: group }));
  return made;
};
const phase = (webSocket: WebSocket, pressId: string, buttonId: string, name: 'down' | 'hold' | 'up'): void =>
  webSocket.send(JSON.stringify({ type: 'press', pressId, buttonId, phase: name }));

const desk = await socket('main');
let answers = 0;
const waiting = new Map<string, (tookMs: number) => void>();
desk.on('message', (data) => {
  const text = String(data);
  if (!text.startsWith('{"type":"answer"')) return;
  answers += 1;
  const { pressId } = JSON.parse(text) as { pressId: string };
  waiting.get(pressId)?.(performance.now());
  waiting.delete(pressId);
});
/** Milliseconds from now to the answer to a press. */
const answerTo = (pressId: string): Promise<number> => {
  const began = performance.now();
  return new Promise((answer) => waiting.set(pressId, (at) => answer(at - began)));
};
/** Buttons of the demo that send something: sources, names, replay, sound; none of them ends the show. */
const PRESSED = [1, 2, 3, 4, 10, 11, 20].map((number) => demoId('BTN', number));
/** Chooses Dome cam, and moves the chosen camera to the left while it is held. */
const [CHOOSE, HELD] = [demoId('BTN', 24), demoId('BTN', 25)];

const doing = {
  press: async (count: number) => {
    const [pressId, button] = [ulid(), PRESSED[count % PRESSED.length] ?? ''];
    phase(desk, pressId, button, 'down');
    await pause(40);
    phase(desk, pressId, button, 'up');
  },
  hold: async () => {
    const pressId = ulid();
    phase(desk, pressId, HELD, 'down');
    for (let beat = 0; beat < 8; beat += 1) {
      await pause(100);
      phase(desk, pressId, HELD, 'hold');
    }
    phase(desk, pressId, HELD, 'up');
  },
  /** A stick in a moving hand; the sound levels of the mixer come in all the time. */
  stick: async (count: number) => {
    const pressId = ulid();
    const say = (name: 'down' | 'hold' | 'up', x: number): void =>
      desk.send(
        JSON.stringify({
          type: 'send',
          pressId,
          phase: name,
          device: 'chosen.camera',
          command: 'nudge',
          params: { x, y: 0, zoom: 0 },
        }),
      );
    say('down', 0.1);
    for (let beat = 1; beat <= 8; beat += 1) {
      await pause(60);
      say('hold', Math.sin(count + beat / 3) / 2);
    }
    say('up', 0);
  },
  edit: async (count: number) => {
    const show = (await (await fetch(`${demo.url}/api/show`)).json()) as { panels: { id: string; name: string }[] };
    const panel = show.panels[1];
    if (panel === undefined) return;
    const change = { entity: 'panels', id: panel.id, field: 'name', from: panel.name, to: `Cameras ${count % 2}` };
    const answer = await demo.post('/api/edits', { editId: ulid(), label: 'Rename', changes: [change] });
    // Two of them at once may meet; one of them is told so.
    if (answer.status !== 200 && answer.status !== 409)
      failures.push(`edit: ${JSON.stringify(answer.body).slice(0, 200)}`);
  },
  page: async (count: number) => {
    await fetch(`${demo.url}/api/panels`).then((reply) => reply.text());
    const page = await socket(`group-${count % 12}`);
    await pause(3000);
    page.terminate();
  },
  crowd: async () => {
    const pages = await Promise.all(Array.from({ length: CROWD }, () => socket('main')));
    await pause(1000);
    for (const page of pages) page.terminate();
    await pause(200);
    const back = await Promise.all(Array.from({ length: CROWD }, () => socket('main')));
    await pause(2000);
    for (const page of back) page.terminate();
  },
};

interface Measured {
  readonly usedMb: number;
  readonly residentMb: number;
  readonly open: number;
  readonly groups: number;
  readonly journalMb: number;
}

const sizeOf = (folder: string): number =>
  readdirSync(folder, { withFileTypes: true }).reduce((sum, entry) => {
    const path = join(folder, entry.name);
    return sum + (entry.isDirectory() ? sizeOf(path) : statSync(path).size);
  }, 0);

const memory = await MemoryOf.process(pid);

/** When it is quiet: what is kept, what is open. */
async function measure(): Promise<Measured> {
  let open = Infinity;
  for (let look = 0; look < 20; look += 1) {
    open = Math.min(open, Number(execFileSync('sh', ['-c', `ls /proc/${pid}/fd | wc -l`], { encoding: 'utf8' })));
    await pause(500);
  }
  const { live } = (await (await fetch(`${demo.url}/api/health`)).json()) as Health;
  return { ...(await memory.kept()), open, groups: live.groups, journalMb: sizeOf(demo.folder) / 1e6 };
}

/** Plays the events of so many minutes. */
async function play(lengthMs: number, part: number): Promise<number> {
  const began = Date.now();
  const under: Promise<unknown>[] = [];
  const due = (Object.keys(EVENTS) as (keyof typeof EVENTS)[])
    .flatMap((name) => {
      const count = Math.round(EVENTS[name] * part);
      return Array.from({ length: count }, (_, index) => ({ name, index, atMs: ((index + 0.5) / count) * lengthMs }));
    })
    .sort((a, b) => a.atMs - b.atMs);
  for (const { name, index, atMs } of due) {
    await pause(Math.max(0, began + atMs - Date.now()));
    under.push(doing[name](index).catch((error: unknown) => failures.push(`${name}: ${String(error)}`)));
  }
  await Promise.all(under);
  return (
    due.filter((candidate) => candidate.name === 'press').length * 2 +
    due.filter((candidate) => candidate.name === 'hold' || candidate.name === 'stick').length * 2
  );
}

const chosen = ulid();
phase(desk, chosen, CHOOSE, 'down');
phase(desk, chosen, CHOOSE, 'up');
const lengthMs = minutes * 60_000;
// What is compiled, learned and kept once is there after the first eighth; growth is what comes on top of it.
console.log(`Playing one hour of the show to be warm, then ${HOURS} hours in ${minutes} minutes …`);
let asked = 2 + (await play(lengthMs / HOURS, 1 / HOURS));
await pause(ROOM_MS);
const before = await measure();
asked += await play(lengthMs, 1);
await pause(ROOM_MS);
const after = await measure();
await until('every press answered', () => Promise.resolve(answers >= asked), 5000).catch(() =>
  failures.push(`${asked - answers} of ${asked} phases were not answered`),
);
const answered = answers;
const floods = await flood(demo, desk, answerTo);
const { troubles } = await demo.health();
for (const trouble of troubles) failures.push(`${trouble.where}: ${trouble.words} (${trouble.count})`);
if (demo.supervisor.pid() !== pid) failures.push('the engine was started again meanwhile');

const rows = [
  ['memory in use, all else collected', 'MB', before.usedMb, after.usedMb, 2],
  ['memory as the system counts it then', 'MB', before.residentMb, after.residentMb, 2],
  ['open files and sockets', '', before.open, after.open, 0],
  ['link groups with their lamps', '', before.groups, after.groups, 0],
  ['journal', 'MB', before.journalMb, after.journalMb, 30],
] as const;
console.log('\n| what | at first | at the end | each hour of show | may | |\n|---|---|---|---|---|---|');
let held = true;
for (const [name, unit, from, to, may] of rows) {
  const each = (to - from) / HOURS;
  held &&= each <= may;
  console.log(
    `| ${name} | ${from.toFixed(1)} ${unit} | ${to.toFixed(1)} ${unit} | ${each.toFixed(2)} ${unit} | ≤ ${may} ${unit} | ${each <= may ? 'holds' : 'missed'} |`,
  );
}
for (const { what, quietMs, meanwhileMs, malformed } of floods) {
  // Most of what is babbled is no message at all: where none was seen, none came.
  if (what === 'babbling' && malformed < FLOOD / 4) failures.push(`Only ${malformed} babbled messages were seen.`);
  const holds = meanwhileMs <= quietMs * FLOOD_RATIO;
  held &&= holds;
  console.log(
    `| press → answer while ${FLOOD.toLocaleString('en')} ${what} messages came, beside none (median) | ${quietMs.toFixed(2)} ms | ${meanwhileMs.toFixed(2)} ms | ${(meanwhileMs / quietMs).toFixed(2)} × | ≤ ${FLOOD_RATIO} × | ${holds ? 'holds' : 'missed'} |`,
  );
}
console.log(
  `\n${asked} phases of presses, ${answered} answered. ${floods.map(({ what, malformed }) => `${malformed.toLocaleString('en')} ${what} messages were told apart as no words of their device`).join(', ')}.`,
);
for (const failure of failures.slice(0, 10)) console.log(failure);
memory.close();
await demo.close();
process.exit(held && failures.length === 0 ? 0 : 1);
