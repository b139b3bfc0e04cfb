import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { demoId } from '@umbek/demo';
import type { LiveServerMessage } from '@umbek/protocol';
import { ulid } from 'ulid';
import { WebSocket } from 'ws';
import { SEQ_PER_EPOCH } from '../apps/server/journal/entry';
import { fileName } from '../apps/server/journal/files';
import { BIG_BUTTONS, bigShow } from './bigShow';
import { chromium } from 'playwright-core';
import { CHROMIUM, SIZES } from '../e2e/support/browser';
import { until } from '../e2e/support/demo';
import { Client } from 'pg';
import { inTurns, type OurEngine, pressOnce, startBare, startEngine } from './press';
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
  async edit(entries = ENTRIES): Promise<number> {
    const at = (this.count += 1);
    const changes = Array.from({ length: entries }, (_, index) => {
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
      body: JSON.stringify({ editId: ulid(), label: `Legends of ${entries} buttons`, by: 'bench', changes }),
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

const LARGE_EDIT = 1000;
const LARGE_EDITS = 5;
/** Half of what a person could feel, and a slice of 5 ms twice over with what else goes on. */
const MOST_WAIT_MS = 20;

/** How long a press waits behind an edit of a thousand entries: it is worked in in slices, and a press goes between them. */
async function behindLargeEdit(ours: OurEngine, engineer: Engineer): Promise<BenchRow> {
  const longest: number[] = [];
  for (let round = 0; round < LARGE_EDITS; round += 1) {
    let editing = true;
    const edited = engineer.edit(LARGE_EDIT).finally(() => (editing = false));
    let most = 0;
    for (let at = 0; editing; at += 1) most = Math.max(most, await pressOnce(ours, demoId('BTN', 1000 + at * STRIP)));
    await edited;
    longest.push(most);
    await pause(500);
  }
  return row(
    `The longest that a press waits behind an edit of ${LARGE_EDIT.toLocaleString('en')} entries (median of ${LARGE_EDITS})`,
    'ms',
    quantile(longest, 0.5),
    MOST_WAIT_MS,
    1,
  );
}

const JOURNAL_FILES = 4;
const FILE_BYTES = 16 * 1024 * 1024;
const RESTARTS = 5;
const FIRST_OPENINGS = 2;
const OPENINGS = 7;
const AFTER_OPENING_MS = 2500;
const THROTTLE = 4;

/** Eight busy hours of the as-run in a folder: four full files. @returns how many entries */
function busyHours(folder: string): number {
  let entries = 0;
  const at = new Date(Date.now() - 8 * 3_600_000).toISOString();
  for (let part = 0; part < JOURNAL_FILES; part += 1) {
    const lines: string[] = [];
    for (let bytes = 0; bytes < FILE_BYTES;) {
      const run = `e1n${entries}`;
      const button = demoId('BTN', 1000 + (entries % BIG_BUTTONS));
      const cause = { kind: 'press', id: ulid() };
      const line = JSON.stringify(
        [
          {
            kind: 'press',
            t: entries,
            pressId: cause.id,
            buttonId: button,
            phase: 'down',
            station: 'Desk 1',
            accepted: true,
            runId: run,
          },
          { kind: 'runStart', t: entries, runId: run, name: `Button ${entries}`, buttonId: button, cause },
          {
            kind: 'command',
            t: entries,
            commandId: `${run}/steps.0`,
            device: 'switcher',
            runId: run,
            command: { command: 'preview', params: { source: 'lawnCam' } },
          },
          { kind: 'outcome', t: entries, commandId: `${run}/steps.0`, device: 'switcher', runId: run, outcome: 'done' },
          { kind: 'runEnd', t: entries, runId: run, how: 'done' },
        ].map((entry) => ({ ...entry, seq: SEQ_PER_EPOCH + (entries += 1), at })),
      );
      bytes += line.length + 1;
      lines.push(line);
    }
    writeFileSync(join(folder, fileName(1, part)), `${lines.join('\n')}\n`);
  }
  return entries;
}

/** From a kill -9 of the engine to the first press that is accepted. */
async function restarts(ours: OurEngine, entries: number): Promise<BenchRow> {
  const database = new Client({ connectionString: ours.databaseUrl });
  await database.connect();
  // A show of eight hours has written them long ago.
  await until(
    'the as-run is in the database',
    async () =>
      Number(((await database.query('select count(*) from as_run')).rows[0] as { count: string }).count) >= entries,
    240_000,
  );
  await database.end();
  const took: number[] = [];
  for (let round = 0; round < RESTARTS; round += 1) {
    await pause(12_000);
    const began = performance.now();
    ours.kill();
    for (;;) {
      await pause(5);
      const answer = await fetch(`${ours.url}/api/press`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ pressId: ulid(), buttonId: demoId('BTN', 1000), phase: 'down', station: 'bench' }),
      }).catch(() => null);
      if (answer?.status === 202 && performance.now() - began > 50) break;
    }
    took.push(performance.now() - began);
  }
  return row(
    `kill -9 of the engine → the first press taken, that show, eight busy hours of as-run (slowest of ${RESTARTS})`,
    'ms',
    Math.max(...took),
    2000,
    1,
  );
}

/** From the address to caps that can be pressed, on a slow phone that has had the page before: a browser keeps what it compiled from the third time on. */
async function opening(url: string): Promise<BenchRow[]> {
  const phone = await chromium.launchPersistentContext(mkdtempSync(join(tmpdir(), 'umbek-phone-')), {
    executablePath: CHROMIUM,
    args: ['--no-sandbox', '--disable-gpu'],
    viewport: SIZES.phone,
    hasTouch: true,
  });
  const took: number[] = [];
  for (let round = 0; round < FIRST_OPENINGS + OPENINGS; round += 1) {
    const page = await phone.newPage();
    await (await phone.newCDPSession(page)).send('Emulation.setCPUThrottlingRate', { rate: THROTTLE });
    const began = performance.now();
    await page.goto(url, { waitUntil: 'commit' });
    await page.locator('[data-testid^="cap-"][data-lost="false"]').first().waitFor();
    took.push(performance.now() - began);
    await pause(AFTER_OPENING_MS);
    await page.close();
  }
  await phone.close();
  const what = `The Desk of that show opens, processor ${THROTTLE}× slower`;
  return [
    row(`${what}, for the first time`, 'ms', took[0] ?? Number.NaN, 2000, 1),
    row(`${what}, again (median of ${OPENINGS})`, 'ms', quantile(took.slice(FIRST_OPENINGS), 0.5), 2000, 1),
  ];
}

/** The show of a large house: what edits cost, and that presses do not wait for them. */
export async function benchBig(): Promise<BenchRow[]> {
  const folder = mkdtempSync(join(tmpdir(), 'umbek-bench-'));
  const entries = busyHours(folder);
  const ours = await startEngine(undefined, folder, (ports) => bigShow(ports));
  const engineer = new Engineer(ours.url);
  const rows = await edits(ours, engineer);
  rows.push(await behindLargeEdit(ours, engineer));
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
  theirs.close();
  rows.push(...(await opening(ours.url)), await restarts(ours, entries));
  await ours.close();
  return rows;
}
