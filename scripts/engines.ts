import { mkdirSync, writeFileSync } from 'node:fs';
import { freshDatabase } from '../e2e/support/database';
import { Demo, freshFolder } from '../e2e/support/demo';
import { Chromium } from '../engines/chromium';
import { NAMES_IN_SIGHT, notDrawn, type SeenText, TEXTS_IN_SIGHT } from '../engines/drawn';
import { type BrowserEngine, pause, type Size, type Spot } from '../engines/engine';
import { Gecko } from '../engines/gecko';
import { WebKit } from '../engines/webkit';

const SIZES: Readonly<Record<string, Size>> = {
  phone: { width: 390, height: 844 },
  wide: { width: 1280, height: 800 },
};
const PLACES = {
  desk: '/',
  bench: '/bench',
  devices: '/rig',
  sources: '/rig?part=sources',
  files: '/rig?part=show',
  camera: '/rig/deskCam',
  profile: '/rig/profiles/houseLights',
  log: '/log',
  caps: '/caps',
};
const PHONE_ONLY: ReadonlySet<string> = new Set(['sources', 'files', 'profile', 'caps']);
const ENGINES = { Chromium: () => Chromium.start(), Gecko: () => Gecko.start(), WebKit: () => WebKit.start() };
const FOLDER = 'dist/engines';
/** A page must be there within this time; and then it must stand still for a moment. */
const THERE_MS = 20_000;
const REST_MS = 700;
/** What stands in the same place after so long stands still, milliseconds. */
const STANDS_MS = 150;
/** So often a place is looked at before what is missing there counts as missing. */
const LOOKS = 3;

const faults: string[] = [];

/** The middle of the first element that a selector finds; null when there is none. */
const middleOf = (engine: BrowserEngine, selector: string): Promise<Spot | null> =>
  engine.read(`() => {
    const element = document.querySelector(${JSON.stringify(selector)});
    if (!element) return null;
    element.scrollIntoView({ block: 'nearest' });
    const { x, y, width, height } = element.getBoundingClientRect();
    return { x: x + width / 2, y: y + height / 2 };
  }`);

/** Waits until something of the page holds. @throws in words when it does not in time */
async function until(engine: BrowserEngine, what: string, source: string): Promise<void> {
  const end = Date.now() + THERE_MS;
  while (Date.now() < end) {
    if (await engine.read<boolean>(source).catch(() => false)) return;
    await pause(100);
  }
  throw new Error(`${what}: not within ${THERE_MS / 1000} s`);
}

const holds = (selector: string): string => `() => document.querySelector(${JSON.stringify(selector)}) !== null`;

async function press(engine: BrowserEngine, selector: string, holdMs = 60): Promise<void> {
  await until(engine, selector, holds(selector));
  // A page that still comes moves what is to be pressed: a finger waits until it stands.
  let spot = await middleOf(engine, selector);
  for (let time = 0; time < LOOKS; time += 1) {
    await pause(STANDS_MS);
    const next = await middleOf(engine, selector);
    if (JSON.stringify(next) === JSON.stringify(spot)) break;
    spot = next;
  }
  if (spot === null) throw new Error(`${selector} is not there`);
  await engine.press(spot, holdMs);
}

/** A place is there when nothing loads any more, its fonts have come, and the Desk has heard the engine. */
const there = (name: string): string =>
  [
    `document.querySelector('[role=navigation]') !== null`,
    `document.querySelectorAll('[role=progressbar]').length === 0`,
    `document.fonts.status === 'loaded'`,
    ...(name === 'desk'
      ? [`/reached/.test(document.querySelector('[data-testid=devices-reached]')?.textContent ?? '')`]
      : []),
  ].join(' && ');

/** Everything in sight of one place is drawn, and nothing failed. */
async function look(engine: BrowserEngine, name: string): Promise<void> {
  let [texts, names, missing, unseen]: [SeenText[], string[], string[], string[]] = [[], [], [], []];
  for (let time = 0; time < LOOKS; time += 1) {
    await pause(REST_MS);
    texts = await engine.read<SeenText[]>(TEXTS_IN_SIGHT);
    names = await engine.read<string[]>(NAMES_IN_SIGHT);
    const picture = await engine.picture();
    writeFileSync(`${FOLDER}/${engine.name.toLowerCase()}-${name}.png`, picture);
    missing = notDrawn(texts, picture);
    unseen = names.filter((candidate) => !texts.some(({ text }) => text === candidate));
    // A line of the log may come between what is read and the picture: what is never drawn is missing in the next one too.
    if (missing.length === 0 && unseen.length === 0) break;
  }
  if (unseen.length > 0) faults.push(`${engine.name}, ${name}: no text for ${unseen.join(' · ')}`);
  if (name.endsWith('desk') && names.length < 8)
    faults.push(`${engine.name}, ${name}: only ${names.length} names are in sight`);
  if (texts.length < 5) faults.push(`${engine.name}, ${name}: only ${texts.length} texts are in sight`);
  if (missing.length > 0) faults.push(`${engine.name}, ${name}: not drawn: ${missing.join(' · ')}`);
  for (const error of await engine.errors()) faults.push(`${engine.name}, ${name}: error: ${error.slice(0, 300)}`);
}

/** Presses, holds, types, opens a picker and a sheet: what hands do. */
async function operate(engine: BrowserEngine, url: string, demo: Demo): Promise<void> {
  const cap = '[data-testid^="cap-"][aria-label^="Star charts"]';
  await engine.open(url, SIZES.phone ?? { width: 390, height: 844 });
  // A cap that is pressed before the page has heard the engine refuses.
  await until(engine, 'the Desk hears the engine', `() => ${there('desk')}`);
  await press(engine, cap);
  await until(
    engine,
    'a pressed source comes to preview',
    `() => document.querySelector('${cap}')?.dataset.lamp === 'onPreview'`,
  );
  await press(engine, '[data-testid="panel-choice"]');
  await until(
    engine,
    'the list of panels opens',
    `() => [...document.querySelectorAll('[role=heading]')].some((one) => one.textContent === 'Panels')`,
  );
  await pause(REST_MS);
  await look(engine, 'phone-picker');
  await engine.type('Cam');
  await until(
    engine,
    'the search finds one panel',
    `() => document.querySelectorAll('[aria-label="Replay"]').length === 0`,
  );
  await press(engine, '[role=button][aria-label="Cameras"]');
  const nudge = '[data-testid^="cap-"][aria-label^="Left"]';
  await until(engine, 'the chosen panel is shown', holds(nudge));
  await until(
    engine,
    'the list of panels closes',
    `() => [...document.querySelectorAll('[role=heading]')].every((one) => one.textContent !== 'Panels')`,
  );
  await press(engine, '[data-testid^="cap-"][aria-label^="Desk cam"]');
  await pause(500);
  const before = (await demo.standins.deskCam.report()).points.pan;
  await press(engine, nudge, 700);
  await pause(700);
  const after = (await demo.standins.deskCam.report()).points.pan;
  await pause(500);
  const later = (await demo.standins.deskCam.report()).points.pan;
  if (before === after) faults.push(`${engine.name}: a held cap did not move the camera`);
  if (after !== later) faults.push(`${engine.name}: a released cap did not stop the camera`);
  await engine.open(`${url}/bench`, SIZES.phone ?? { width: 390, height: 844 });
  await press(engine, '[data-testid^="edit-"]');
  await until(engine, 'the editor of a button opens', holds('[data-testid="add-steps"]'));
  await look(engine, 'phone-sheet');
}

async function main(): Promise<void> {
  const began = Date.now();
  mkdirSync(FOLDER, { recursive: true });
  const only = process.argv.slice(2);
  const demo = await Demo.start(await freshDatabase(), freshFolder());
  try {
    const tried = Object.entries(ENGINES).filter(([name]) => only.length === 0 || only.includes(name));
    // Beside each other: most of the time a browser waits for itself. Hands come one after the other, there is one rig.
    let hands = Promise.resolve();
    const all = tried.map(async ([, start]) => {
      const engine = await start();
      const from = Date.now();
      try {
        for (const [size, box] of Object.entries(SIZES))
          for (const [name, path] of Object.entries(PLACES)) {
            if (size === 'wide' && PHONE_ONLY.has(name)) continue;
            await engine.open(`${demo.url}${path}`, box);
            await until(engine, `${name} opens`, `() => ${there(name)}`);
            await look(engine, `${size}-${name}`);
          }
        // What fails in one engine is that one's alone.
        const own = hands.then(() => operate(engine, demo.url, demo));
        hands = own.catch(() => undefined);
        await own;
      } catch (error) {
        faults.push(`${engine.name}: ${error instanceof Error ? error.message : String(error)}`);
      } finally {
        await engine.close();
      }
      process.stdout.write(`${engine.name}: ${((Date.now() - from) / 1000).toFixed(1)} s\n`);
    });
    await Promise.all(all);
  } finally {
    await Demo.closeAll();
  }
  for (const fault of faults) process.stdout.write(`  ✗ ${fault}\n`);
  process.stdout.write(
    `${faults.length === 0 ? 'All three engines hold.' : `${faults.length} faults.`} ${((Date.now() - began) / 1000).toFixed(0)} s; pictures in ${FOLDER}.\n`,
  );
  process.exit(faults.length === 0 ? 0 : 1);
}

void main();
