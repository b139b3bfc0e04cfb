import { demoId } from '@umbek/demo';
import { copiedText } from '@umbek/core/programming';
import type { ShowDocument } from '@umbek/core/show';
import type { Page } from 'playwright-core';
import { browser, openAt, startBrowser } from '../e2e/support/browser';
import { freshDatabase } from '../e2e/support/database';
import { Demo, freshFolder, until } from '../e2e/support/demo';
import { Hand } from '../e2e/support/hand';
import { type BenchRow, quantile, row } from './result';
import { twoStations } from './twoStations';

/** Buttons that one edit changes, and how often that is measured. */
const CHOSEN = 100;
const TIMES = 9;

/** Figures of programming panels: touches from the opened place of an existing rig, and how soon an edit of many buttons is on another page. */
export async function benchPanels(): Promise<BenchRow[]> {
  const demo = await Demo.start(await freshDatabase(), freshFolder(), [], {});
  await startBrowser();
  try {
    const rows: BenchRow[] = [];
    for (const [name, most, work] of WAYS) {
      const page = await openAt(demo.url, 'phone', name === INPUT ? '/rig?part=sources' : '/bench');
      const hand = new Hand(page);
      await work(hand, page, demo);
      rows.push(row(`Touches: ${name}`, 'touches', hand.touches, most, 1));
      await page.close();
    }
    rows.push(
      row(
        `An edit of ${CHOSEN} chosen buttons → another page shows it (median of ${TIMES})`,
        'ms',
        await editOfMany(demo),
        200,
        1,
      ),
    );
    rows.push(
      row(
        'Touches: thirty recorders with start and stop for each room and for all',
        'touches',
        await recorders(demo),
        4,
        1,
      ),
      ...(await twoStations(demo)),
    );
    rows.push(row('Touches: a first panel for a new rig', 'touches', await firstPanel(demo), 1, 1));
    return rows;
  } finally {
    await browser.close();
    await demo.close();
  }
}

const JOIN = 'a phone joins, the certificate trusted before';
const INPUT = 'input of a source changed, every button and lamp following';

const showOf = async (demo: Demo): Promise<ShowDocument> =>
  (await (await fetch(`${demo.url}/api/show`)).json()) as ShowDocument;
/** The strip of this name that was made last has so many buttons. */
const made = (demo: Demo, name: string, most: number): Promise<unknown> =>
  until(name, async () => {
    const { strips, buttons } = await showOf(demo);
    const strip = strips.findLast((candidate) => candidate.name === name);
    return buttons.filter(({ stripId }) => stripId === strip?.id).length >= most;
  });

async function add(hand: Hand, page: Page, words: string): Promise<void> {
  await hand.button('Add strips');
  await hand.tap(page.getByRole('button', { name: new RegExp(`^${words}, \\d+ caps?$`) }));
  await hand.tap(page.getByTestId('add-strips'));
}

const WAYS: readonly (readonly [
  name: string,
  most: number,
  work: (hand: Hand, page: Page, demo: Demo) => Promise<unknown>,
])[] = [
  [
    'twelve auxiliary buttons in their sources’ colours',
    4,
    async (hand, page, demo) => {
      await add(hand, page, 'Auxiliary 1 from every source');
      return made(demo, 'Auxiliary 1', 12);
    },
  ],
  [
    'the same by counting up from one button that is there',
    4,
    async (hand, page, demo) => {
      const before = (await showOf(demo)).buttons.length;
      await hand.tap(page.getByRole('button', { name: 'Edit Desk cam' }).first());
      await hand.button('Count up');
      await hand.tap(page.getByTestId('make-count'));
      return until('eleven more', async () => (await showOf(demo)).buttons.length === before + 11);
    },
  ],
  [
    'choose-camera row with nudges for every camera',
    3,
    async (hand, page, demo) => {
      await add(hand, page, 'Choose a camera, preview and move it');
      return made(demo, 'Move', 10);
    },
  ],
  [
    'lit buttons of lines 1 to 4 and the others',
    6,
    async (hand, page, demo) => {
      await add(hand, page, 'Mutes of the lines');
      return made(demo, 'Lines', 4);
    },
  ],
  [
    'colour of twelve buttons',
    4,
    async (hand, page, demo) => {
      await hand.button('Choose several');
      await hand.button('All of Auxiliary 1');
      await hand.tap(page.getByRole('radio', { name: 'moss' }));
      return until('moss', async () => {
        const { strips, buttons } = await showOf(demo);
        const strip = strips.findLast((candidate) => candidate.name === 'Auxiliary 1');
        return buttons.every(({ stripId, family }) => stripId !== strip?.id || family === 'moss');
      });
    },
  ],
  [
    'a strip pasted into another show',
    5,
    async (hand, page, demo) => {
      const { strips, buttons } = await showOf(demo);
      const strip = strips.find(({ name }) => name === 'Names');
      // As of a show whose captions have another key: it is asked where they belong.
      const theirs = JSON.parse(
        JSON.stringify(await showOf(demo))
          .replaceAll('"captions"', '"graphics"')
          .replaceAll('captions.', 'graphics.'),
      ) as ShowDocument;
      const text = copiedText(
        theirs,
        new Set(buttons.filter(({ stripId }) => stripId === strip?.id).map(({ id }) => id)),
      );
      await hand.button('Paste');
      await hand.tap(page.getByTestId('paste-text'));
      await page.getByTestId('paste-text').fill(text);
      // What is put in from the clipboard counts as one.
      hand.touches += 1;
      await hand.button('Put them in');
      await hand.tap(page.getByTestId('put-in'));
      return until(
        'it is there',
        async () => (await showOf(demo)).strips.filter(({ name }) => name === 'Names').length === 2,
      );
    },
  ],
  [
    'a key learned for a button',
    3,
    async (hand, page, demo) => {
      await hand.tap(page.getByRole('button', { name: 'Edit Star charts' }).first());
      await hand.button('Add a shortcut');
      await page.getByText('Press it now', { exact: true }).waitFor();
      await hand.key('F2');
      return until('the key', async () =>
        (await showOf(demo)).shortcuts.some(({ on }) => on.kind === 'key' && on.code === 'F2'),
      );
    },
  ],
  [
    'a macro by its own number, dialled',
    3,
    async (hand, page, demo) => {
      await page.goto(demo.url);
      await hand.button('Dial a number');
      await hand.button('Dial 1');
      await page.getByText('Macro 1 · Opening').waitFor();
      await hand.button('Enter');
      await until('it runs', async () => (await demo.runs()).length > 0);
      return demo.post('/api/stop-all', { station: 'bench' });
    },
  ],
  [
    'another code for a button',
    5,
    async (hand, page, demo) => {
      await hand.tap(page.getByRole('button', { name: 'Edit Star charts' }).first());
      await hand.button('Add a shortcut');
      await hand.button('A code for the dial pad instead');
      await page.keyboard.type('42');
      await hand.button('Take the code');
      return until('the code', async () => (await showOf(demo)).shortcuts.some(({ on }) => on.kind === 'code'));
    },
  ],
  [
    JOIN,
    4,
    async (hand, page, demo) => {
      await hand.button('This station');
      await hand.button('Let a device in');
      // What the phone's camera reads; its own touch is "Ask to join".
      const code = (await page.getByTestId('invitation-code').getAttribute('aria-label'))?.replaceAll(' ', '') ?? '';
      const context = await browser.newContext({ ignoreHTTPSErrors: true, hasTouch: true });
      const phone = await context.newPage();
      await phone.goto(demo.supervisor.room[0] ?? '');
      await phone.getByLabel('Six figures').fill(code);
      await hand.tap(phone.getByRole('button', { name: 'Ask to join' }));
      await hand.button('Let it in');
      await phone.waitForURL((url) => url.pathname === '/');
      return context.close();
    },
  ],
  [
    INPUT,
    3,
    async (hand, page, demo) => {
      await hand.button('Source Spool');
      // A field that is tapped and typed into; what is typed, and the Enter that ends it, count as one.
      await hand.write(page.getByRole('textbox', { name: /input/i }).first(), '11');
      await until('the input', async () =>
        (await showOf(demo)).sources.some(({ key, input }) => key === 'spool' && input === 11),
      );
    },
  ],
];

/** Two dozen recorders more, in three rooms. */
async function manyRecorders(demo: Demo): Promise<void> {
  const like = (await showOf(demo)).devices.find(({ kind }) => kind === 'recorder');
  const changes = Array.from({ length: 24 }, (_, at) => {
    const id = demoId('DV3', at + 1);
    const room = ['Dome', 'Gate room', 'Lawn'][at % 3];
    const order = `z${String(at).padStart(2, '0')}V`;
    const to = { ...like, id, key: `deck${at}`, name: `Deck ${at + 1}`, room, port: 9000 + at, order };
    return { entity: 'devices', id, field: '*', from: null, to };
  });
  const { status } = await demo.post('/api/edits', { editId: demoId('ED3', 1), label: 'Decks', changes });
  if (status !== 200) throw new Error('The recorders were refused.');
}

/** Strips of thirty recorders, in touches from the opened Bench. */
async function recorders(demo: Demo): Promise<number> {
  await manyRecorders(demo);
  const page = await openAt(demo.url, 'phone', '/bench');
  const hand = new Hand(page);
  await page.getByRole('button', { name: 'Add strips' }).waitFor();
  await add(hand, page, 'Recorders by room, with starts and stops');
  await made(demo, 'All recorders', 2);
  await page.close();
  return hand.touches;
}

/** A first panel of a rig that has none, in touches from the opened Bench. */
async function firstPanel(demo: Demo): Promise<number> {
  const file = (await (await fetch(`${demo.url}/api/show/file`)).json()) as { document: ShowDocument };
  const bare = {
    ...file.document,
    panels: [],
    strips: [],
    buttons: [],
    macros: [],
    shortcuts: [],
    stations: [],
    triggers: [],
  };
  const { status } = await demo.post('/api/show', { ...file, document: bare });
  if (status !== 200) throw new Error('The bare show was refused.');
  const page = await openAt(demo.url, 'phone', '/bench');
  const hand = new Hand(page);
  await hand.button('First panel from the rig');
  await page.getByRole('button', { name: 'Edit Star charts' }).waitFor();
  await page.close();
  return hand.touches;
}

/** Milliseconds from the touch that changes many chosen buttons to the frame in which the last of them has changed on another page. */
async function editOfMany(demo: Demo): Promise<number> {
  const { document, ...file } = (await (await fetch(`${demo.url}/api/show/file`)).json()) as { document: ShowDocument };
  const [pattern] = document.buttons;
  const strip = document.strips.find(({ name }) => name === 'Names');
  if (!pattern || !strip) throw new Error('The demo has no strip of names.');
  const many = Array.from({ length: CHOSEN }, (_, index) => ({
    ...pattern,
    id: demoId('BTN', 3000 + index),
    stripId: strip.id,
    legend: `Button ${index + 1}`,
    order: `b${String(index).padStart(4, '0')}`,
  }));
  // One strip of that name: the one that was pasted goes.
  const strips = document.strips.filter(({ id, name }) => name !== strip.name || id === strip.id);
  const kept = new Set(strips.flatMap(({ id }) => (id === strip.id ? [] : [id])));
  const buttons = [...document.buttons.filter(({ stripId }) => kept.has(stripId)), ...many];
  await demo.post('/api/show', { ...file, document: { ...document, strips, buttons } });
  await until('reached again', async () => (await demo.health()).status === 'ok');
  const [here, there] = [await openAt(demo.url, 'wide', '/bench'), await openAt(demo.url, 'wide', '/bench')];
  await here.getByRole('button', { name: 'Choose several' }).click();
  await here.getByRole('button', { name: 'All of Names' }).click();
  await here.getByText(`${CHOSEN} buttons chosen`).waitFor();
  const taken: number[] = [];
  for (let time = 0; time < TIMES; time += 1) {
    const last = there.getByTestId(`edit-${demoId('BTN', 3000 + CHOSEN - 1)}`);
    const before = await last.evaluate((cap) => cap.outerHTML);
    const shown = last.evaluate(
      (cap, was) =>
        new Promise<number>((done) => {
          const look = (): void => {
            if (cap.outerHTML === was) requestAnimationFrame(look);
            else done(Date.now());
          };
          look();
        }),
      before,
    );
    const radio = here.getByRole('radio', { name: time % 2 === 0 ? 'moss' : 'plum' });
    const touched = await radio.evaluate((item) => {
      const at = Date.now();
      (item as HTMLElement).click();
      return at;
    });
    taken.push((await shown) - touched);
    await here.waitForTimeout(400);
  }
  return quantile(taken, 0.5);
}
