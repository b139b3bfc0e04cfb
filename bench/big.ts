import { demoId } from '@umbek/core/demo';
import type { LiveServerMessage } from '@umbek/core/api';
import { ulid } from 'ulid';
import { WebSocket } from 'ws';
import { BIG_BUTTONS, bigShow } from './bigShow';
import { inTurns, type OurEngine, startBare, startEngine } from './press';
import { type BenchRow, quantile, row } from './result';

const EDITS = 40;
const ENTRIES = 10;
const EDIT_EVERY_MS = 100;
const PRESSES = 900;
const STRIP = 20;

const pause = (ms: number): Promise<void> => new Promise((next) => setTimeout(next, ms));

/** An engineer who renames ten buttons at a time. */
class Engineer {
  private count = 0;
  private readonly legends = new Map<string, string>();

  constructor(private readonly url: string) {}

  /** @returns the revision of the show after it */
  async edit(): Promise<number> {
    const at = (this.count += 1);
    const changes = Array.from({ length: ENTRIES }, (_, index) => {
      const number = (at * 97 + index * 31) % BIG_BUTTONS;
      const id = demoId('BTN', 1000 + number);
      const from = this.legends.get(id) ?? `Button ${number + 1}`;
      const to = `Button ${number + 1}, ${at}`;
      this.legends.set(id, to);
      return { entity: 'buttons', id, field: 'legend', from, to };
    });
    const response = await fetch(`${this.url}/api/edits`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ editId: ulid(), label: `Legends of ${ENTRIES} buttons`, by: 'bench', changes }),
    });
    const reply = (await response.json()) as { revision?: number; message?: string };
    if (reply.revision === undefined) throw new Error(`The edit was refused: ${reply.message ?? ''}`);
    return reply.revision;
  }
}

const busy = async (url: string): Promise<number> =>
  ((await (await fetch(`${url}/api/health`)).json()) as { busyMs: number }).busyMs;

/** What an edit takes of the engine's thread, beyond what the same time takes without edits, and how soon another page has it. */
async function edits(ours: OurEngine, engineer: Engineer): Promise<BenchRow[]> {
  const page = new WebSocket(ours.url.replace('http', 'ws') + '/api/live');
  const heard = new Map<number, number>();
  page.on('message', (data) => {
    const message = JSON.parse(String(data)) as LiveServerMessage;
    if (message.type === 'changes' && message.edits)
      for (const { revision } of message.edits) heard.set(revision, performance.now());
  });
  await new Promise((open) => page.once('open', open));
  page.send(JSON.stringify({ type: 'hello', station: 'other page' }));
  for (let index = 0; index < 5; index += 1) await engineer.edit();
  await pause(1000);
  const quiet = await busy(ours.url);
  await pause(EDITS * EDIT_EVERY_MS);
  const before = await busy(ours.url);
  const toOther: number[] = [];
  for (let index = 0; index < EDITS; index += 1) {
    const began = performance.now();
    const revision = await engineer.edit();
    while (!heard.has(revision)) await pause(1);
    toOther.push((heard.get(revision) ?? 0) - began);
    await pause(Math.max(0, EDIT_EVERY_MS - (performance.now() - began)));
  }
  const used = (await busy(ours.url)) - before - (before - quiet);
  page.terminate();
  const what = `An edit of ${ENTRIES} entries, 5,000 buttons and 1,000 macros`;
  return [
    row(`${what}: the engine's thread (mean of ${EDITS})`, 'ms', used / EDITS, 20, 1),
    row(`${what}: to another page (90 of 100 sooner)`, 'ms', quantile(toOther, 0.9), 150, 1),
  ];
}

/** The show of a large house: what edits cost, and that presses do not wait for them. */
export async function benchBig(): Promise<BenchRow[]> {
  const ours = await startEngine(undefined, (ports) => bigShow(ports));
  const engineer = new Engineer(ours.url);
  const rows = await edits(ours, engineer);
  const theirs = await startBare();
  let editing = true;
  const edited = (async () => {
    while (editing) {
      const began = performance.now();
      await engineer.edit();
      await pause(Math.max(0, EDIT_EVERY_MS - (performance.now() - began)));
    }
  })();
  await inTurns(ours, theirs, PRESSES, (index) => demoId('BTN', 1000 + ((index * STRIP) % BIG_BUTTONS)));
  editing = false;
  await edited;
  const what = 'press → first datagram in that show while it is edited ten times a second';
  rows.push(
    row(`${what} (median)`, 'ms', quantile(ours.samples, 0.5), quantile(theirs.samples, 0.5), 1.4),
    row(`${what} (p99)`, 'ms', quantile(ours.samples, 0.99), quantile(theirs.samples, 0.99), 2),
  );
  await ours.close();
  theirs.close();
  return rows;
}
