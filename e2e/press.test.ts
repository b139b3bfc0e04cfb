import { demoId } from '@umbek/demo';
import type { LineSubject } from '@umbek/core/rehearse';
import { cap, openDesk, sizes, useBrowser } from './support/browser';
import { freshDatabase } from './support/database';
import { Demo, freshFolder, until } from './support/demo';

jest.setTimeout(60_000);
// These limits are real time on a machine that others share: a stall of it is not a fault of ours, three in a row are.
jest.retryTimes(2, { logErrorsBeforeRetry: true });
useBrowser();

/** The VISCA payload of a record, without the 8 bytes of header. */
const payload = (bytes: string): string => bytes.split(' ').slice(8).join(' ');

const RECALL_ONE = '81 01 04 3F 02 01 FF';
const COMPLETION = /^90 5[12] FF$/;
/** OSC addresses as hex text. */
const osc = (address: string): string =>
  [...Buffer.from(address)].map((byte) => byte.toString(16).toUpperCase().padStart(2, '0')).join(' ');

describe('a press of "Ines close" in the browser', () => {
  it.each(sizes)('recalls, waits for the head, cuts and captions, in this order (%s)', async (size) => {
    const demo = await Demo.start(await freshDatabase(), freshFolder());
    const page = await openDesk(demo.url, size);
    await page.getByTestId('on-air').getByText('Roof cam').waitFor();
    const ines = cap(page, 'Ines close').first();

    await ines.click();
    await page.locator('[data-testid^="cap-"][aria-label^="Ines close"][data-press="working"]').first().waitFor();
    await page.getByTestId('running').waitFor();
    // Time left as rehearsed, 1.6 s in all; what the wait would give up after is 6 s.
    await ines.getByText(/^[01]\.\d s$/).waitFor({ timeout: 1400 });
    await until('the run is over', async () => (await demo.asRun()).some((entry) => entry.kind === 'runEnd'));

    const head = await demo.standins.deskCam.records();
    const switcher = await demo.standins.switcher.records();
    const captions = await demo.standins.captions.records();
    const recalls = head.filter((record) => record.direction === 'in' && payload(record.bytes) === RECALL_ONE);
    const recallAt = recalls[0]?.at ?? 0;
    const completion = head.find(
      (record) => record.direction === 'out' && record.at > recallAt + 500 && COMPLETION.test(payload(record.bytes)),
    );
    const previews = switcher.filter(
      (record) => record.direction === 'in' && record.bytes.startsWith(osc('/switcher/preview')),
    );
    const cuts = switcher.filter(
      (record) => record.direction === 'in' && record.bytes.startsWith(osc('/switcher/cut')),
    );
    const names = captions.filter(
      (record) => record.direction === 'in' && record.bytes.startsWith(osc('/captions/nameIn')),
    );
    // A datagram that was not answered in time is sent again under its id: the device does it once.
    const once = (records: readonly { bytes: string }[]): number => new Set(records.map(({ bytes }) => bytes)).size;
    expect([once(recalls), once(previews), once(cuts), once(names)]).toEqual([1, 1, 1, 1]);
    expect(recallAt).toBeLessThan(previews[0]?.at ?? 0);
    expect(completion).toBeDefined();
    // No cut before the head's completion: from −0/0/1× to −12.45/3/4.2× the zoom takes longest, 1.6 s.
    expect(cuts[0]?.at).toBeGreaterThan(completion?.at ?? Infinity);
    expect((completion?.at ?? 0) - recallAt).toBeGreaterThan(1500);
    expect(names[0]?.at).toBeGreaterThan(cuts[0]?.at ?? Infinity);

    await page.locator('[data-testid^="cap-"][aria-label^="Desk cam"][data-lamp="onAir"]').waitFor();
    await page.locator('[data-testid^="cap-"][aria-label^="Ines close"][data-lamp="onAir"]').waitFor();
    await page.locator('[data-testid^="cap-"][aria-label^="Ines Halloran"][data-lamp="up"]').waitFor();
    expect(await page.getByTestId('caption-up').innerText()).toContain('Ines Halloran');
    expect((await demo.standins.switcher.report()).points).toMatchObject({ program: 1, preview: 4 });

    expect(await page.getByTestId('last-run').innerText()).toMatch(/^Ines close took 1\.\d\d s · /);

    const run = (await demo.asRun()).filter((entry) => entry.runId !== undefined);
    expect(
      run.filter((entry) => entry.kind === 'command').map((entry) => (entry.command as { command: string }).command),
    ).toEqual(['recall', 'preview', 'cut', 'nameIn']);
    expect(run.filter((entry) => entry.kind === 'outcome').map((entry) => entry.outcome)).toEqual([
      'done',
      'done',
      'done',
      'done',
    ]);
    expect(run.at(-1)).toMatchObject({ kind: 'runEnd', how: 'done' });
    await page.close();
  });
});

describe('the stop handle', () => {
  it('does nothing at a touch, and stops the run when it is slid to its end', async () => {
    const demo = await Demo.start(await freshDatabase(), freshFolder());
    const page = await openDesk(demo.url, 'phone');
    await cap(page, 'Ines close').first().click();
    await page.getByTestId('running').waitFor();
    const box = await page.getByTestId('stop-all').boundingBox();
    const [x, y] = [(box?.x ?? 0) + 25, (box?.y ?? 0) + 28];
    await page.mouse.click(x, y);
    expect(await demo.runs()).toHaveLength(1);
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x + 140, y, { steps: 4 });
    await page.mouse.up();
    await until('the run was stopped', async () =>
      (await demo.asRun()).some((entry) => entry.kind === 'runEnd' && entry.how === 'stopped'),
    );
    expect((await demo.asRun()).filter((entry) => entry.kind === 'stopAll')).toMatchObject([{ runs: 1 }]);
    await until('the head stands', async () => (await demo.standins.deskCam.report()).points.travelling === false);
    // Program stays as it was.
    expect((await demo.standins.switcher.report()).points).toMatchObject({ program: 4 });
  });
});

describe('rehearsal and live run', () => {
  let demo: Demo;
  // Each test anew: how far a head has to go depends on where it stands.
  beforeEach(async () => {
    demo = await Demo.start(await freshDatabase(), freshFolder());
  });
  afterEach(() => demo.close());

  const liveRun = async (buttonId: string): Promise<string> => {
    const answer = await demo.post('/api/press', { pressId: demoPressId(), buttonId, phase: 'down', station: 'test' });
    expect(answer.status).toBe(202);
    const runId = String(answer.body.runId);
    await until('the run is over', async () =>
      (await demo.asRun()).some((entry) => entry.kind === 'runEnd' && entry.runId === runId),
    );
    return runId;
  };

  it('agree in order, and in time within 60 ms, where the limits are as declared', async () => {
    await liveRun(buttonIds.inesClose);
    // Back to the roof: while Desk cam is on air its move would ask for a second touch.
    await liveRun(demoId('BTN', 20));
    // The second of two runs: the first one pays for warming up the processes.
    const runId = await liveRun(buttonIds.tomaszClose);
    const comparison = (await (await fetch(`${demo.url}/api/runs/${runId}`)).json()) as {
      sameOrder: boolean;
      worstMs: number;
    };
    expect(comparison.sameOrder).toBe(true);
    expect(comparison.worstMs).toBeLessThanOrEqual(60);
  });

  it('show the error of a head that is slower than declared', async () => {
    const runId = await liveRun(buttonIds.slitOpen);
    const comparison = (await (await fetch(`${demo.url}/api/runs/${runId}`)).json()) as {
      sameOrder: boolean;
      worstMs: number;
      lines: { what: LineSubject; errorMs: number }[];
    };
    expect(comparison.sameOrder).toBe(true);
    // Tilt over 36°: declared 60°/s and 100°/s² → 36/60 + 60/100 = 1.2 s; true 24°/s → 36/24 + 24/100 = 1.74 s.
    // Zoom to 2.4×: code 4788, declared 6500 and 16000 → 2·√(4788/16000)=1.09 s, true 4200 → 4788/4200 + 4200/16000 = 1.40 s. Tilt decides: 0.54 s.
    const arrival = comparison.lines.find(
      ({ what }) => what.kind === 'outcome' && what.device === 'domeCam' && what.outcome === 'done',
    );
    expect(arrival?.errorMs).toBeGreaterThan(500);
    expect(arrival?.errorMs).toBeLessThan(660);
  });
});

const buttonIds = { inesClose: demoId('BTN', 7), tomaszClose: demoId('BTN', 8), slitOpen: demoId('BTN', 9) };

let presses = 0;
const demoPressId = (): string => `01J0C0RVANEH1PRESS${String((presses += 1)).padStart(8, '0')}`;
