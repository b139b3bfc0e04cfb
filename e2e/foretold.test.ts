import { compare, type ComparedLine } from '@umbek/core/rehearse';
import type { JournalEvent } from '@umbek/core/engine';
import type { ShowDocument } from '@umbek/core/show';
import { ulid } from 'ulid';
import { freshDatabase } from './support/database';
import { Demo, freshFolder, until } from './support/demo';

jest.setTimeout(600_000);

/** Devices that are asked now and then have told a change by then, milliseconds. */
const TOLD_MS = 350;

/** What differs is tried so often. */
const TIMES = 4;
const HEADS = ['deskCam', 'lawnCam', 'domeCam'];
/** So many lines of it are told. */
const MOST_TOLD = 4;

/** A page renews what is held so often; each held button is held for so long, milliseconds. */
const RENEWED_MS = 100;
const HELD_MS = 850;
/** A *while* rule is rehearsed as if its condition held for so long, milliseconds. */
const HOLDS_MS = 2000;

/** A run may differ from what was foretold by so much, milliseconds. */
const WITHIN_MS = 60;

interface Told {
  readonly sameOrder: boolean;
  readonly worstMs: number | null;
  readonly rehearsed: boolean;
  readonly lines: readonly ComparedLine[];
}

let demo: Demo;
beforeAll(async () => (demo = await Demo.start(await freshDatabase(), freshFolder())));
afterAll(() => Demo.closeAll());

const get = async <T>(path: string): Promise<T> => (await (await fetch(`${demo.url}${path}`)).json()) as T;

/** Presses it as a hand does: where a second touch is asked for, it touches again. @returns its run; null when it was refused for what it is about */
let refusal = '';
async function press(buttonId: string): Promise<string | null> {
  for (let touch = 0; touch < 2; touch += 1) {
    const body = { pressId: ulid(), buttonId, station: 'Desk 1', person: 'Ines' };
    const { status, body: answer } = await demo.post('/api/press', { ...body, phase: 'down' });
    await demo.post('/api/press', { ...body, phase: 'up' });
    if (status < 300) return (answer.runId as string | null | undefined) ?? null;
    refusal = `${String(answer.code)}: ${String(answer.message)}`;
    if (touch === 1) return null;
    await new Promise((next) => setTimeout(next, 150));
  }
  return null;
}

/** @param asks where a question stands in it: nobody is there to ask in a rehearsal, and here it is answered at once */
const over = (runId: string, asks: readonly string[] = []) =>
  until('the run is over', async () => {
    const { runs } = await get<{ runs: { runId: string; step: string }[] }>('/api/runs');
    const run = runs.find((candidate) => candidate.runId === runId);
    if (run?.step.startsWith('Ask') === true)
      for (const askId of asks)
        await demo.post(`/api/runs/${runId}/answer`, { askId, answer: 'goOn', station: 'Desk 1' });
    return run === undefined;
  });

/** Holds a cap as a finger does: its page renews the hold each 100 ms. @returns false when it was refused */
async function hold(buttonId: string, forMs: number): Promise<boolean> {
  const body = { pressId: ulid(), buttonId, station: 'Desk 1', person: 'Ines' };
  const began = Date.now();
  const { status, body: answer } = await demo.post('/api/press', { ...body, phase: 'down' });
  refusal = `${String(answer.code)}: ${String(answer.message)}`;
  for (let t = RENEWED_MS; status < 300 && t < forMs; t += RENEWED_MS) {
    await at(began + t);
    await demo.post('/api/press', { ...body, phase: 'hold' });
  }
  await at(began + forMs);
  await demo.post('/api/press', { ...body, phase: 'up' });
  return status < 300;
}

const at = (time: number): Promise<void> => new Promise((next) => setTimeout(next, Math.max(0, time - Date.now())));

/** Every run that there was since the as-run had so many lines, and is over. */
const since = async (count: number): Promise<JournalEvent[]> => {
  await until('nothing runs', async () => (await get<{ runs: unknown[] }>('/api/runs')).runs.length === 0);
  return ofRuns((await demo.asRun()).slice(count) as unknown as JournalEvent[]);
};

const ofRuns = (entries: readonly JournalEvent[]): JournalEvent[] =>
  entries.filter((entry) => 'runId' in entry && entry.runId !== undefined);

/** The trigger that began a run. */
const ranFor = (entries: readonly JournalEvent[], runId: string | undefined): string | undefined => {
  const start = entries.find((entry) => entry.kind === 'runStart' && entry.runId === runId);
  return start?.kind === 'runStart' && start.cause.kind === 'trigger' ? start.cause.id : undefined;
};

const foreseen = async (what: Record<string, unknown>): Promise<JournalEvent[]> =>
  ofRuns((await demo.post('/api/rehearse', what)).body.entries as JournalEvent[]);

/** What devices still do from the press before is over, and those that are only asked now and then have told it. */
async function quiet(): Promise<void> {
  await new Promise((next) => setTimeout(next, TOLD_MS));
  await until('nothing moves', async () => {
    const points = await Promise.all(
      ['switcher', ...HEADS].map((key) => get<{ points: Record<string, unknown> }>(`/api/devices/${key}/points`)),
    );
    return points.every((point) => point.points.mixing !== true && point.points.travelling !== true);
  });
}

/** Each head of the show moves as its stand-in does. */
async function headsAsTheyAre(): Promise<void> {
  const { devices } = await get<ShowDocument>('/api/show');
  const dome = devices.find(({ key }) => key === 'domeCam');
  const answer = await demo.post('/api/edits', {
    editId: ulid(),
    label: 'Speeds of Dome cam',
    changes: [
      {
        entity: 'devices',
        id: dome?.id,
        field: 'settings',
        from: dome?.settings,
        to: { ...dome?.settings, panSpeed: 40, tiltSpeed: 24, zoomSpeed: 4200 },
      },
    ],
  });
  expect(answer.status).toBe(200);
}

it('every button, macro and trigger of the demo does what was foretold, in its order and at its time', async () => {
  // The dome's head is slower than its sheet says: the engineer has put in what it really does.
  await headsAsTheyAre();
  const show = await get<ShowDocument>('/api/show');
  const off: string[] = [];
  let held = 0;
  /** How a run differs from what was foretold of it; null where it does not. */
  const differs = ({ sameOrder, worstMs, lines }: Omit<Told, 'rehearsed'>): string | null => {
    if (sameOrder && (worstMs ?? 0) <= WITHIN_MS) return null;
    const far = lines.filter(({ errorMs }) => errorMs === null || Math.abs(errorMs) > WITHIN_MS);
    const words = far
      .slice(0, MOST_TOLD)
      .map((line) => `${JSON.stringify(line.what)} ${line.predictedMs} ${line.realMs}`);
    return `${sameOrder ? '' : 'another order; '}${words.join(' | ')}`;
  };
  /** A machine that stands still for a moment is no fault of what was foretold: what differs each time is. */
  const heldAgainst = async (
    name: string,
    once: () => Promise<Omit<Told, 'rehearsed'> | string | null>,
  ): Promise<void> => {
    let why = '';
    for (let time = 0; time < TIMES; time += 1) {
      await quiet();
      const answer = await once();
      // What only chooses is over before anything could be foretold of it.
      if (answer === null) return;
      const other = typeof answer === 'string' ? answer : differs(answer);
      if (other === null) return void (held += 1);
      why = other;
      // What was learned from a machine that stood still would be foretold from then on.
      for (const head of HEADS) await demo.post(`/api/devices/${head}/travel/forget`, {});
    }
    off.push(`${name}: ${why}`);
  };
  const pressed = [
    ...show.buttons.flatMap(({ id, legend, mode, dial }) =>
      mode === 'press' && dial === null ? [{ id, name: legend }] : [],
    ),
    ...show.macros.map(({ id, name }) => ({ id, name })),
  ];
  for (const { id, name } of pressed)
    await heldAgainst(name, async () => {
      const runId = await press(id);
      if (runId === null) return `refused, ${refusal}`;
      const steps = show.macros.find((macro) => macro.id === id)?.steps ?? [];
      await over(
        runId,
        steps.flatMap((step, at) => (step.kind === 'ask' ? [`steps.0.macro.${at}`] : [])),
      );
      const answer = await get<Told>(`/api/runs/${runId}`);
      if (answer.rehearsed) return answer;
      return answer.lines.some(({ what }) => what.kind === 'command') ? 'not rehearsed' : null;
    });
  for (const { id, name, kind, steps } of show.triggers)
    if (kind === 'when')
      await heldAgainst(name, async () => {
        const predicted = await foreseen({ triggerId: id });
        const before = (await demo.asRun()).length;
        await demo.post(`/api/triggers/${id}/fire`, { station: 'Desk 1' });
        const start = await until('it fires', async () =>
          (await demo.asRun()).slice(before).find((candidate) => candidate.kind === 'runStart'),
        );
        const runId = String(start.runId);
        await over(
          runId,
          steps.flatMap((step, at) => (step.kind === 'ask' ? [`steps.${at}`] : [])),
        );
        const real = (await demo.asRun()).filter((candidate) => candidate.runId === runId) as unknown as JournalEvent[];
        return compare(predicted, real);
      });
  // What is held does one thing as it is pressed and another as it is let go.
  for (const { id, legend } of show.buttons.filter(({ mode }) => mode === 'hold'))
    await heldAgainst(`${legend}, held`, async () => {
      const predicted = await foreseen({ buttonId: id, holdMs: HELD_MS });
      const before = (await demo.asRun()).length;
      if (!(await hold(id, HELD_MS))) return `refused, ${refusal}`;
      return compare(predicted, await since(before));
    });
  // A rule keeps something for as long as its condition holds: here for as long as was rehearsed.
  const touched = async (legend: string): Promise<void> => {
    const id = show.buttons.find((button) => button.legend === legend)?.id ?? '';
    if ((await press(id)) === null) throw new Error(`${legend} was refused: ${refusal}`);
    await quiet();
  };
  for (const { id, name } of show.triggers.filter(({ kind }) => kind === 'while'))
    await heldAgainst(name, async () => {
      for (const legend of ['Desk cam', 'Cut', 'Roof cam']) await touched(legend);
      await demo.post(`/api/triggers/${id}/arm`, { armed: true, station: 'Desk 1' });
      await quiet();
      const predicted = await foreseen({ triggerId: id });
      const before = (await demo.asRun()).length;
      const began = Date.now();
      await touched('Cut');
      await at(began + HOLDS_MS);
      await touched('Cut');
      const real = await since(before);
      await demo.post(`/api/triggers/${id}/arm`, { armed: false, station: 'Desk 1' });
      return compare(
        predicted,
        real.filter((journalEvent) => ranFor(real, 'runId' in journalEvent ? journalEvent.runId : undefined) === id),
      );
    });
  expect(off).toEqual([]);
  // All but those that only choose.
  expect(held).toBeGreaterThanOrEqual(103);
});
