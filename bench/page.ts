import { demoId } from '@umbek/demo';
import type { Page } from 'playwright-core';
import { browser, cap, openAt, openDesk, SIZES, startBrowser } from '../e2e/support/browser';
import { freshDatabase } from '../e2e/support/database';
import { Demo, freshFolder, until } from '../e2e/support/demo';
import { askWhy, makeClips, makeFilmEnds, makeMacro, makeWhileRule, RULE_TOUCHES } from '../e2e/support/ruleTouches';
import { makeButton, MOST_TOUCHES } from '../e2e/support/touches';
import { drawnCaps } from './drawnCaps';
import { startStandin } from './machines';
import { type BenchRow, quantile, row } from './result';

const FRAME_MS = 1000 / 60;
const THROTTLE = 4;
const TOUCHES = 30;
const LARGE_PANEL = 300;
const CHANNELS = 64;
/** Buttons of a strip where the panel is built as one of that size is. */
const ROW = 12;
/** Caps whose legends tell a level, how often they have to change in all, and for how long that is looked at, seconds. */
const [LIVE_LEVELS, LIVE_A_SECOND, LIVE_S] = [24, 100, 6] as const;
const DEVICES = 200;
const SOURCES = 2000;

/** Figures of the page: what is loaded, how soon a cap answers a touch, how evenly the picture moves, how a large panel scrolls. */
export async function benchPage(): Promise<BenchRow[]> {
  const demo = await Demo.start(await freshDatabase(), freshFolder());
  await startBrowser();
  try {
    const rows = [
      row('First load of the page, scripts, fonts and icons as sent', 'kB', await firstLoad(demo.url), 550, 1),
    ];
    const bench = await openAt(demo.url, 'phone', '/bench');
    rows.push(
      row(
        'Touches for a button that recalls, waits and cuts, from an opened Bench',
        'touches',
        await makeButton(bench),
        MOST_TOUCHES,
        1,
      ),
    );
    await bench.close();
    rows.push(...(await ruleTouches(demo)));

    const page = await openDesk(demo.url, 'phone');
    await throttle(page, THROTTLE);
    rows.push(
      row(
        `Touch → cap shows it, processor ${THROTTLE}× slower (median of ${TOUCHES})`,
        'frames',
        await touchToCap(page),
        2,
        1,
      ),
    );
    rows.push(
      row(
        `A frame of the drawn picture on a travelling head, phone size, processor ${THROTTLE}× slower (mean)`,
        'ms',
        await pictureFrames(page, demo),
        1000 / 30,
        1,
      ),
    );
    await page.close();

    const file = await fileOf(demo);
    await demo.post('/api/show', largePanel(file));
    await until('reached again', async () => (await demo.health()).status === 'ok');
    const large = await openDesk(demo.url, 'phone');
    rows.push(
      row(
        `Longest frame while a panel of ${LARGE_PANEL} buttons scrolls`,
        'ms',
        await longestScrollFrame(large),
        50,
        1,
      ),
    );
    await large.close();
    const { drawn, shown } = await drawnCaps(demo);
    rows.push(row(`Caps drawn anew when one point changes, ${shown} on the panel`, 'caps', drawn, 10, 1));
    rows.push(...(await filterTimes(demo)), ...(await liveLegends(demo, file)));
    return rows;
  } finally {
    await browser.close();
    await demo.close();
  }
}

/** Everything that the page fetches until the Desk stands, as sent, in thousands of bytes; the other places come afterwards, and the show is the engine's. */
async function firstLoad(url: string): Promise<number> {
  const context = await browser.newContext({ viewport: SIZES.phone });
  const page = await context.newPage();
  const client = await context.newCDPSession(page);
  const parts = new Set<string>();
  let bytes = 0;
  await client.send('Network.enable');
  client.on('Network.responseReceived', ({ requestId, response }) => {
    if (!new URL(response.url).pathname.startsWith('/api/')) parts.add(requestId);
  });
  client.on('Network.loadingFinished', ({ requestId, encodedDataLength }) => {
    if (parts.has(requestId)) bytes += encodedDataLength;
  });
  await page.goto(url, { waitUntil: 'networkidle' });
  await page.locator('[data-testid^="cap-"]').first().waitFor();
  const sent = bytes;
  await context.close();
  return sent / 1000;
}

async function throttle(page: Page, rate: number): Promise<void> {
  const client = await page.context().newCDPSession(page);
  await client.send('Emulation.setCPUThrottlingRate', { rate });
}

/** Frames from a finger going down on a cap to the frame in which it shows that it was sent. */
async function touchToCap(page: Page): Promise<number> {
  const target = page.locator(`[data-testid="cap-${demoId('BTN', 6)}"]`);
  const box = await target.boundingBox();
  await target.evaluate((element) => {
    const taken: number[] = [];
    (window as unknown as { taken: number[] }).taken = taken;
    let down = 0;
    element.addEventListener('pointerdown', (event) => (down = event.timeStamp), { capture: true });
    new MutationObserver(() => {
      // It looks pressed from the first of the two on.
      const shows = element.hasAttribute('data-touched') || element.getAttribute('data-press') !== 'none';
      if (!shows || down === 0) return;
      const began = down;
      down = 0;
      requestAnimationFrame((now) => taken.push(now - began));
    }).observe(element, { attributes: true, attributeFilter: ['data-press', 'data-touched'] });
  });
  const client = await page.context().newCDPSession(page);
  const finger = { x: (box?.x ?? 0) + 30, y: (box?.y ?? 0) + 30 };
  for (let touch = 0; touch < TOUCHES; touch += 1) {
    // A finger, as on a phone: a mouse would have to be moved there first.
    await client.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: [finger] });
    await page.waitForTimeout(60);
    await client.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
    await page.locator(`[data-testid="cap-${demoId('BTN', 6)}"][data-press="none"]`).waitFor();
  }
  const taken = await page.evaluate(() => (window as unknown as { taken: number[] }).taken);
  if (taken.length < TOUCHES * 0.8) throw new Error(`Only ${taken.length} of ${TOUCHES} touches were seen on the cap.`);
  // The frame that begins at the callback is on the screen at its end.
  return (quantile(taken, 0.5) + FRAME_MS) / FRAME_MS;
}

/** What a person makes of rules and macros, in touches of a phone. */
async function ruleTouches(demo: Demo): Promise<BenchRow[]> {
  const touched = (what: string, touches: number, most: number): BenchRow =>
    row(`Touches: ${what}`, 'touches', touches, most, 1);
  const triggers = await openAt(demo.url, 'phone', '/bench?list=triggers');
  const close = async (): Promise<void> => {
    await triggers.getByRole('button', { name: 'Done' }).last().click();
    await triggers.getByRole('button', { name: 'Close the editor' }).click();
  };
  const rows = [touched('a while rule from a source', await makeWhileRule(triggers), RULE_TOUCHES.whileRule)];
  await close();
  rows.push(touched('“when the film ends, mix to Desk cam”', await makeFilmEnds(triggers), RULE_TOUCHES.filmEnds));
  await close();
  // Disarmed, the rule of the demo does not fire: its board stays out.
  await demo.post(`/api/triggers/${demoId('TRG', 3)}/arm`, { armed: false });
  let sent = 0;
  for (const [command, params] of [
    ['countdownIn', { seconds: 1, label: 'Peak', ms: 100 }],
    ['countdownOut', { ms: 100 }],
  ] as const) {
    await demo.post('/api/send', {
      pressId: `01J0C0RVANEH1BENCH00000${String((sent += 1)).padStart(3, '0')}`,
      phase: 'down',
      station: 'bench',
      device: 'captions',
      command,
      params,
    });
    if (sent === 1) await new Promise((next) => setTimeout(next, 1500));
  }
  rows.push(touched('why a rule did not fire', await askWhy(triggers, 'The countdown reaches zero'), RULE_TOUCHES.why));
  await triggers.close();
  const macros = await openAt(demo.url, 'phone', '/bench?list=macros');
  rows.push(touched('a macro “recall, mix on arrival, caption for 6 s”', await makeMacro(macros), RULE_TOUCHES.macro));
  await macros.getByRole('button', { name: 'Done' }).last().click();
  rows.push(touched('two clips to two layers at once', await makeClips(macros), RULE_TOUCHES.clips));
  await macros.close();
  return rows;
}

/** Mean time between two drawings of the picture while its head travels. */
async function pictureFrames(page: Page, demo: Demo): Promise<number> {
  await cap(page, 'Desk cam').first().click();
  await page.getByTestId('on-preview').getByText('Desk cam').waitFor();
  await page.evaluate(() => {
    const drawn: number[] = [];
    (window as unknown as { drawn: number[] }).drawn = drawn;
    window.document.addEventListener('drawn', () => drawn.push(performance.now()));
  });
  await demo.post('/api/press', {
    pressId: '01J0C0RVANEH1PRESS00000901',
    buttonId: demoId('BTN', 14),
    phase: 'down',
    station: 'bench',
  });
  await page.locator(`[data-testid="cap-${demoId('BTN', 14)}"][data-lamp="arrived"]`).waitFor();
  const drawn = await page.evaluate(() => (window as unknown as { drawn: number[] }).drawn);
  const [first, last] = [drawn[0], drawn.at(-1)];
  if (first === undefined || last === undefined || drawn.length < 10)
    throw new Error(`The picture was drawn only ${drawn.length} times.`);
  return (last - first) / (drawn.length - 1);
}

interface ShowFile {
  readonly document: {
    readonly devices: readonly Record<string, unknown>[];
    readonly strips: readonly Record<string, unknown>[];
    readonly buttons: readonly Record<string, unknown>[];
  };
}

const fileOf = async (demo: Demo): Promise<ShowFile> =>
  (await (await fetch(`${demo.url}/api/show/file`)).json()) as ShowFile;

/**
 * Three hundred buttons more on the first panel, in its own strips; with live legends in strips of twelve, as a panel of that size has them.
 * @param levels port of a mixer whose levels move: some of the legends tell them, and the others what stands on outputs; left out: none is live
 */
function largePanel(file: ShowFile, levels?: number): unknown {
  const [pattern] = file.document.buttons;
  const strips = new Set(file.document.buttons.map((button) => button.stripId));
  const own = file.document.strips.find(({ id }) => id === pattern?.stripId);
  const rows =
    levels === undefined
      ? []
      : Array.from({ length: LARGE_PANEL / ROW }, (_, index) => ({
          ...own,
          id: demoId('STR', 2000 + index),
          name: `Row ${index + 1}`,
          order: `b${String(index).padStart(3, '0')}V`,
        }));
  const many = Array.from({ length: LARGE_PANEL }, (_, index) => ({
    ...pattern,
    id: demoId('BTN', 2000 + index),
    stripId: rows[Math.floor(index / ROW)]?.id ?? [...strips][index % 3],
    legend: `Button ${index + 1}`,
    note:
      levels === undefined
        ? pattern?.note
        : index < LIVE_LEVELS
          ? `{{ string(sound.ch${index + 1}Level) + " dB" }}`
          : `{{ "input " + string(switcher.aux${(index % 2) + 1}) }}`,
    order: `b${String(index).padStart(4, '0')}`,
  }));
  const devices = file.document.devices.map((device) =>
    levels !== undefined && device.kind === 'soundMixer'
      ? { ...device, port: levels, settings: { channels: CHANNELS } }
      : device,
  );
  const { document } = file;
  const all = { strips: [...document.strips, ...rows], buttons: [...document.buttons, ...many] };
  return { ...file, document: { ...document, devices, ...all } };
}

/** Letters typed into a search of the Rig → the list drawn anew, with far more of everything than a show has. */
async function filterTimes(demo: Demo): Promise<BenchRow[]> {
  const file = (await (await fetch(`${demo.url}/api/show/file`)).json()) as {
    document: { devices: Record<string, unknown>[]; sources: Record<string, unknown>[] };
  };
  const { devices, sources } = file.document;
  const [device] = devices.filter((candidate) => candidate.kind === 'slides');
  const [source] = sources;
  const manyDevices = Array.from({ length: DEVICES - devices.length }, (_, index) => ({
    ...device,
    id: demoId('DV2', index + 1),
    key: `many${index}`,
    name: `Player ${index + 1}`,
    port: 30_000 + index,
    room: `Room ${index % 12}`,
    order: `c${String(index).padStart(4, '0')}V`,
  }));
  const manySources = Array.from({ length: SOURCES - sources.length }, (_, index) => ({
    ...source,
    id: demoId('SR2', index + 1),
    key: `feed${index}`,
    name: `Feed ${index + 1}`,
    camera: null,
    input: (index % 1024) + 1,
    order: `c${String(index).padStart(4, '0')}V`,
  }));
  const large = {
    ...file,
    document: { ...file.document, devices: [...devices, ...manyDevices], sources: [...sources, ...manySources] },
  };
  const taken = await demo.post('/api/show', large);
  if (taken.status !== 200) throw new Error(`The large show was refused: ${JSON.stringify(taken.body).slice(0, 300)}`);
  const page = await openAt(demo.url, 'wide', '/rig');
  const typed = async (label: string, words: readonly string[]): Promise<number> => {
    const field = page.getByLabel(label);
    await field.waitFor();
    const times: number[] = [];
    for (const word of words) {
      await field.fill('');
      await page.waitForTimeout(300);
      times.push(
        await field.evaluate(
          (element, text) =>
            new Promise<number>((done) => {
              const input = element as HTMLInputElement;
              const began = performance.now();
              // As React hears it from a keyboard.
              Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')?.set?.call(input, text);
              input.dispatchEvent(new Event('input', { bubbles: true }));
              requestAnimationFrame(() => setTimeout(() => done(performance.now() - began), 0));
            }),
          word,
        ),
      );
    }
    return quantile(times, 0.5);
  };
  const devicesTook = await typed('Search the devices', ['player', 'player 1', 'room 3', 'slides', 'player 17']);
  await page.getByText('Sources', { exact: true }).click();
  const sourcesTook = await typed('Search the sources', ['feed', 'feed 1', 'feed 19', 'input 7', 'feed 1999']);
  await page.close();
  return [
    row(`A letter typed → the Rig filtered, ${DEVICES} devices (median)`, 'ms', devicesTook, 100, 1),
    row(`The same, ${SOURCES.toLocaleString('en')} sources`, 'ms', sourcesTook, 100, 1),
  ];
}

/** On a panel of three hundred live legends: the longest frame while levels change a hundred times a second and more, and a touch meanwhile. */
async function liveLegends(demo: Demo, file: ShowFile): Promise<BenchRow[]> {
  const mixer = await startStandin('soundMixer', { channels: CHANNELS, voices: 3 });
  await demo.post('/api/show', largePanel(file, mixer.port));
  await until('reached again', async () => (await demo.health()).status === 'ok');
  const page = await openDesk(demo.url, 'phone');
  await page.getByText('Button 300', { exact: true }).waitFor({ state: 'attached' });
  await page.waitForTimeout(1500);
  await page.evaluate((most) => {
    const changes = { count: 0 };
    Object.assign(window, { changes });
    for (let at = 1; at <= most; at += 1) {
      const all = [...window.document.querySelectorAll('[data-testid^="cap-"]')];
      const cap = all.find(
        (element) => element.textContent?.startsWith(`Button ${at}`) && / dB/.test(element.textContent),
      );
      if (cap) new MutationObserver(() => (changes.count += 1)).observe(cap, { characterData: true, subtree: true });
    }
  }, LIVE_LEVELS);
  await watchFrames(page);
  await page.waitForTimeout(LIVE_S * 1000);
  const gaps = await page.evaluate(() => (window as unknown as { gaps: number[] }).gaps);
  const { count } = await page.evaluate(() => (window as unknown as { changes: { count: number } }).changes);
  if (count / LIVE_S < LIVE_A_SECOND) throw new Error(`Only ${(count / LIVE_S).toFixed(0)} legends changed a second.`);
  await throttle(page, THROTTLE);
  const touched = await touchToCap(page);
  await page.close();
  mixer.process.kill('SIGTERM');
  return [
    row(
      `Longest frame while live legends change ${Math.floor(count / LIVE_S / 10) * 10} times a second, ${LARGE_PANEL} buttons in strips of ${ROW}`,
      'ms',
      Math.max(...gaps),
      50,
      1,
    ),
    row(
      `Touch → cap shows it, on that panel, processor ${THROTTLE}× slower (median of ${TOUCHES})`,
      'frames',
      touched,
      2,
      1,
    ),
  ];
}

/** Keeps from now on how long each frame takes, in `gaps`. */
const watchFrames = (page: Page): Promise<void> =>
  page.evaluate(() => {
    const gaps: number[] = [];
    (window as unknown as { gaps: number[] }).gaps = gaps;
    let before = 0;
    const frame = (now: number): void => {
      if (before > 0) gaps.push(now - before);
      before = now;
      requestAnimationFrame(frame);
    };
    requestAnimationFrame(frame);
  });

async function longestScrollFrame(page: Page): Promise<number> {
  await page.getByText('Button 300', { exact: true }).waitFor({ state: 'attached' });
  await page.waitForTimeout(1500);
  await watchFrames(page);
  await page.mouse.move(200, 500);
  for (let turn = 0; turn < 60; turn += 1) {
    await page.mouse.wheel(0, turn < 40 ? 160 : -200);
    await page.waitForTimeout(16);
  }
  return Math.max(...(await page.evaluate(() => (window as unknown as { gaps: number[] }).gaps)));
}
