import type { ShowDocument } from '@umbek/core/show';
import type { Page } from 'playwright-core';
import { ulid } from 'ulid';
import { cap, choosePanel, freshDemo, openAt, sizes, useBrowser } from './support/browser';
import { type Demo, until } from './support/demo';
import { Hand } from './support/hand';

jest.setTimeout(120_000);
useBrowser();

const showOf = async (demo: Demo): Promise<ShowDocument> =>
  (await (await fetch(`${demo.url}/api/show`)).json()) as ShowDocument;
/** The buttons of the strip of this name that was made last, as they stand. */
const stripOf = async (demo: Demo, name: string) => {
  const { strips, buttons } = await showOf(demo);
  const strip = strips.findLast((candidate) => candidate.name === name);
  return buttons.filter(({ stripId }) => stripId === strip?.id);
};
const offer = (page: Page, words: string) => page.getByRole('button', { name: new RegExp(`^${words}, \\d+ caps?$`) });

/** Adds ready-made strips to the panel that is shown. */
async function add(hand: Hand, page: Page, ...offers: string[]): Promise<void> {
  await hand.button('Add strips');
  for (const words of offers) await hand.tap(offer(page, words));
  await hand.tap(page.getByTestId('add-strips'));
}

describe('strips from the rig, on a phone', () => {
  let demo: Demo;
  let page: Page;
  let hand: Hand;
  beforeAll(async () => (demo = await freshDemo()));
  beforeEach(async () => {
    page = await openAt(demo.url, 'phone', '/bench');
    await page.getByRole('button', { name: 'Add strips' }).waitFor();
    hand = new Hand(page);
  });

  it('twelve auxiliary buttons in their sources’ colours in 4 touches, and they send', async () => {
    await add(hand, page, 'Auxiliary 1 from every source');
    expect(hand.touches).toBeLessThanOrEqual(4);
    const made = await until('the strip', async () => {
      const found = await stripOf(demo, 'Auxiliary 1');
      return found.length >= 12 ? found : undefined;
    });
    expect(new Set(made.map(({ family }) => family))).toEqual(new Set(['slate', 'plum', 'stone', 'rose', 'moss']));
    await page.goto(`${demo.url}/`);
    const charts = page.getByTestId(`cap-${made.find(({ legend }) => legend === 'Star charts')?.id}`);
    await charts.tap();
    await until('it is on the auxiliary', async () => (await demo.standins.switcher.report()).points.aux1 === 5);
    await page.locator(`[data-testid="cap-${made[4]?.id}"][data-lamp="chosen"]`).waitFor();
  });

  it('a choose-camera row with its moves in 3 touches, and a held one ends with the finger', async () => {
    await add(hand, page, 'Choose a camera, preview and move it');
    expect(hand.touches).toBeLessThanOrEqual(3);
    const [chooser, moves] = await until('both strips', async () => {
      // Of one show: the demo has strips of these names on another panel.
      const { strips, buttons } = await showOf(demo);
      const both = ['Choose', 'Move'].map((name) => strips.filter((strip) => strip.name === name));
      if (!both.every((found) => found.length === 2)) return undefined;
      return both.map((found) => buttons.filter(({ stripId }) => stripId === found.at(-1)?.id));
    });
    await page.goto(`${demo.url}/`);
    const id = (list: typeof chooser, legend: string) =>
      list?.find((candidate) => candidate.legend === legend)?.id ?? '';
    await page.getByTestId(`cap-${id(chooser, 'Lawn cam')}`).tap();
    await page.locator(`[data-testid="cap-${id(chooser, 'Lawn cam')}"][data-lamp="chosen"]`).waitFor();
    await page.getByTestId('on-preview').getByText('Lawn cam').waitFor();
    const left = page.getByTestId(`cap-${id(moves, 'Left')}`);
    await left.scrollIntoViewIfNeeded();
    const box = await left.boundingBox();
    const finger = await page.context().newCDPSession(page);
    const at = { x: (box?.x ?? 0) + 20, y: (box?.y ?? 0) + 20 };
    await finger.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: [at] });
    await until('it moves', async () => (await demo.standins.lawnCam.report()).points.travelling === true);
    await finger.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
    await until('it stands', async () => (await demo.standins.lawnCam.report()).points.travelling === false);
  });

  it('thirty recorders with start and stop for each room and for all in 4 touches', async () => {
    const show = await showOf(demo);
    const like = show.devices.find(({ kind }) => kind === 'recorder');
    const many = Array.from({ length: 24 }, (_, at) => ({
      ...like,
      id: ulid(),
      key: `deck${at}`,
      name: `Deck ${at + 1}`,
      room: ['Dome', 'Gate room', 'Lawn'][at % 3],
      port: 9000 + at,
      order: `z${String(at).padStart(2, '0')}V`,
    }));
    await demo.post('/api/edits', {
      editId: ulid(),
      label: 'Decks',
      changes: many.map((to) => ({ entity: 'devices', id: to.id, field: '*', from: null, to })),
    });
    await page.reload();
    await page.getByRole('button', { name: 'Add strips' }).waitFor();
    await add(hand, page, 'Recorders by room, with starts and stops');
    expect(hand.touches).toBeLessThanOrEqual(4);
    const rooms = new Set([...show.devices, ...many].flatMap((item) => (item.kind === 'recorder' ? [item.room] : [])));
    await until('all of them', async () => (await stripOf(demo, 'All recorders')).length === 2);
    const { buttons } = await showOf(demo);
    const starts = buttons.filter(({ legend }) => legend.startsWith('Record '));
    const stops = buttons.filter(({ legend }) => legend.startsWith('Stop ') && legend !== 'Stop all');
    expect([starts.length, stops.length]).toEqual([rooms.size + 2, rooms.size]);
    expect(buttons.filter(({ legend }) => legend.startsWith('Deck '))).toHaveLength(24);
  });

  it('is one edit: undo takes all of it back', async () => {
    const before = (await showOf(demo)).buttons.length;
    await add(hand, page, 'Keyers on and off', 'Captions out');
    await until('five more', async () => (await showOf(demo)).buttons.length === before + 5);
    await hand.button('Undo');
    await until('none of them', async () => (await showOf(demo)).buttons.length === before);
  });
});

describe.each(sizes)('strips from the rig (%s)', (size) => {
  it('a first panel for a new rig is one touch, and it can be operated', async () => {
    const demo = await freshDemo();
    const file = (await (await fetch(`${demo.url}/api/show/file`)).json()) as { document: ShowDocument };
    const bare = { ...file, document: { ...file.document, panels: [], strips: [], buttons: [], macros: [] } };
    expect((await demo.post('/api/show', bare)).status).toBe(200);
    const page = await openAt(demo.url, size, '/bench');
    await page.getByRole('button', { name: 'First panel from the rig' }).click();
    await page.getByRole('button', { name: 'Edit Star charts' }).waitFor();
    await until('it is stored', async () => (await showOf(demo)).panels.map(({ name }) => name).join() === 'Main');
    await page.getByRole('navigation').getByRole('link', { name: 'Desk' }).click();
    await cap(page, 'Dome cam').first().click();
    await page.getByTestId('on-preview').getByText('Dome cam').waitFor();
    await cap(page, 'Cut').click();
    await page.getByTestId('on-air').getByText('Dome cam').waitFor();
    await demo.close();
  });

  it('a rig that changes meanwhile: what is gone is no longer offered, and no longer chosen', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, size, '/bench');
    await page.getByRole('button', { name: 'Add strips' }).click();
    await offer(page, 'Next, back and first slide').click();
    await page.getByRole('button', { name: 'Add 1 strip' }).waitFor();
    const { devices, strips, buttons } = await showOf(demo);
    const charts = devices.find(({ kind }) => kind === 'slides');
    expect(
      (
        await demo.post('/api/edits', {
          editId: ulid(),
          label: 'Remove the slides',
          changes: [{ entity: 'devices', id: charts?.id, field: '*', from: charts, to: null }],
        })
      ).status,
    ).toBe(200);
    await page.getByRole('button', { name: 'Choose strips' }).waitFor();
    expect(await offer(page, 'Next, back and first slide').count()).toBe(0);
    const after = await showOf(demo);
    expect([after.strips.length, after.buttons.length]).toEqual([strips.length, buttons.length]);
    await demo.close();
  });
});

it('buttons of a strip share one macro when that is asked for, and press as they did', async () => {
  const demo = await freshDemo();
  const page = await openAt(demo.url, 'phone', '/bench');
  await page.getByRole('button', { name: 'Add strips' }).click();
  await page.getByRole('button', { name: /^Sources direct to program/ }).click();
  await page.getByRole('switch', { name: 'Share one macro' }).click();
  await page.getByTestId('add-strips').click();
  const made = await until('the strip and its macro', async () => {
    const show = await showOf(demo);
    const macro = show.macros.find(({ name }) => name === 'Direct to air');
    const runs = show.buttons.filter(({ steps: [step] }) => step?.kind === 'run' && step.macro === macro?.id);
    return runs.length > 3 ? runs : undefined;
  });
  const lawn = made.find(({ legend }) => legend === 'Lawn cam');
  await page.getByRole('navigation').getByRole('link', { name: 'Desk' }).click();
  await page.getByTestId(`cap-${lawn?.id ?? ''}`).click();
  await until('Lawn cam on air', async () => (await demo.standins.switcher.report()).points.program === 2);
  await page
    .getByTestId(`cap-${lawn?.id ?? ''}`)
    .and(page.locator('[data-lamp="onAir"]'))
    .waitFor();
  await demo.close();
});

it('strips are chosen and added by the keyboard alone', async () => {
  const demo = await freshDemo();
  const page = await openAt(demo.url, 'wide', '/bench');
  await page.getByRole('button', { name: 'Add strips' }).focus();
  await page.keyboard.press('Enter');
  await page.getByLabel('Search: strips').focus();
  await page.keyboard.type('keyer');
  await offer(page, 'Wipe, fade to black and back').waitFor({ state: 'detached' });
  for (let tab = 0; tab < 6; tab += 1) {
    await page.keyboard.press('Tab');
    if (await offer(page, 'Keyers on and off').evaluate((row) => row === row.ownerDocument.activeElement)) break;
  }
  await page.keyboard.press('Space');
  await page.getByRole('button', { name: 'Add 1 strip' }).waitFor();
  for (let tab = 0; tab < 6; tab += 1) {
    await page.keyboard.press('Tab');
    if (await page.getByTestId('add-strips').evaluate((row) => row.contains(row.ownerDocument.activeElement))) break;
  }
  await page.keyboard.press('Enter');
  await until('the strip', async () => (await stripOf(demo, 'Keyers')).length === 2);
  await demo.close();
});

describe.each(sizes)('many buttons at once (%s)', (size) => {
  let demo: Demo;
  beforeAll(async () => (demo = await freshDemo()));

  it('take one colour, one guard and counted legends, each as one edit that the history names', async () => {
    const page = await openAt(demo.url, size, '/bench');
    let touches = 0;
    const touch = async (what: ReturnType<Page['getByText']>): Promise<void> => {
      await what.click();
      touches += 1;
    };
    await touch(page.getByRole('button', { name: 'Choose several' }));
    await touch(page.getByRole('button', { name: 'All of Sources' }));
    await page.getByText('6 buttons chosen').waitFor();
    await touch(page.getByRole('radio', { name: 'moss' }));
    await until('all of them', async () => (await stripOf(demo, 'Sources')).every(({ family }) => family === 'moss'));
    expect(touches).toBeLessThanOrEqual(4);
    await page.getByRole('button', { name: 'Choose Black' }).click();
    await page.getByText('5 buttons chosen').waitFor();
    await page.getByRole('button', { name: 'Second touch' }).click();
    await page.getByTestId('legends').fill('Camera #');
    await page.getByTestId('legends').press('Enter');
    await until('counted', async () => {
      const made = await stripOf(demo, 'Sources');
      return made.filter(({ guard, legend }) => guard === 'secondTouch' && /^Camera [1-5]$/.test(legend)).length === 5;
    });
    const { entries } = (await (await fetch(`${demo.url}/api/edits?by=`)).json()) as { entries: { label: string }[] };
    expect(entries.map(({ label }) => label).slice(0, 3)).toEqual([
      'Legend of 5 buttons: Camera #',
      'Guard of 5 buttons: second touch',
      'Colour of 6 buttons: moss',
    ]);
  });

  it('are removed, and brought back by one undo; Escape ends the choosing', async () => {
    const page = await openAt(demo.url, size, '/bench');
    await page.getByRole('button', { name: 'Choose several' }).click();
    await page.getByRole('button', { name: 'All of Names' }).click();
    await page.getByRole('button', { name: 'Remove', exact: true }).click();
    await until('gone', async () => (await stripOf(demo, 'Names')).length === 0);
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'Choose several' }).waitFor();
    await page.getByRole('button', { name: 'Undo' }).click();
    await until('back', async () => (await stripOf(demo, 'Names')).length === 4);
  });
});

describe('copied buttons', () => {
  it('go into another panel by keys, and into another show by a text where the clipboard is closed', async () => {
    const [demo, other] = [await freshDemo(), await freshDemo()];
    const page = await openAt(demo.url, 'wide', '/bench');
    await page.context().grantPermissions(['clipboard-read', 'clipboard-write'], { origin: demo.url });
    await page.getByRole('button', { name: 'Choose several' }).click();
    await page.getByRole('button', { name: 'All of Names' }).click();
    await page.getByRole('button', { name: 'Copy', exact: true }).click();
    await page.getByText('Copied: 4 buttons.').waitFor();
    const text = await page.evaluate(() => navigator.clipboard.readText());
    await choosePanel(page, 'Cameras');
    await page.keyboard.press('Control+v');
    await until('the strip on the other panel', async () => {
      const { strips } = await showOf(demo);
      return strips.filter(({ name }) => name === 'Names').length === 2;
    });
    await page.getByText('4 buttons chosen').waitFor();

    // Paste of a strip into another show, counted from its opened Bench.
    const there = await openAt(other.url, 'phone', '/bench');
    const hand = new Hand(there);
    await hand.button('Paste');
    await there.getByTestId('paste-text').fill('nonsense');
    await there.getByRole('button', { name: 'Put them in' }).tap();
    await there.getByText('What was copied is not Umbek buttons.').waitFor();
    expect((await showOf(other)).strips.filter(({ name }) => name === 'Names')).toHaveLength(1);
    await hand.tap(there.getByTestId('paste-text'));
    await there.getByTestId('paste-text').fill(text);
    await hand.button('Put them in');
    await until('the strip in the other show', async () => {
      const { strips } = await showOf(other);
      return strips.filter(({ name }) => name === 'Names').length === 2;
    });
    expect(hand.touches + 1).toBeLessThanOrEqual(5);
    await demo.close();
    await other.close();
  });
});
