import { inParts, stripOffers, stripsMade } from '@umbek/core/programming';
import { type Change, PLAIN_BUTTON, type ShowDocument } from '@umbek/core/show';
import type { Page } from 'playwright-core';
import { ulid } from 'ulid';
import { browser, cap, freshDemo, useBrowser } from './support/browser';
import { type Demo, until } from './support/demo';

jest.setTimeout(240_000);
useBrowser();

const SIZES = {
  phone: { width: 390, height: 844 },
  'a phone sideways': { width: 844, height: 390 },
  tablet: { width: 820, height: 1180 },
  wide: { width: 1280, height: 800 },
} as const;
const PANEL = '01J0C0RVANEH1PAN0000000077';

let demo: Demo;
const showOf = async (): Promise<ShowDocument> => (await (await fetch(`${demo.url}/api/show`)).json()) as ShowDocument;
const points = async (device: 'switcher' | 'deskCam') => (await demo.standins[device].report()).points;

async function edit(label: string, changes: readonly Change[]): Promise<void> {
  for (const { label: part, part: some } of inParts(label, changes)) {
    const { status, body } = await demo.post('/api/edits', { editId: ulid(), label: part, changes: some });
    if (status !== 200) throw new Error(JSON.stringify(body));
  }
}

/** One panel with two pages, a second set, a lever, moves that are held and caps that come and go. */
beforeAll(async () => {
  demo = await freshDemo();
  const pages = [
    { id: 'page1', name: 'Pictures', covers: [] },
    { id: 'page2', name: 'Moves', covers: [] },
  ];
  await edit('Panel', [
    { entity: 'panels', id: PANEL, field: '*', from: null, to: { id: PANEL, name: 'All sizes', pages, order: 'zz' } },
  ]);
  const makePage = async (page: string, keys: readonly string[]): Promise<void> => {
    const show = await showOf();
    const offers = stripOffers(show).filter(({ key }) => keys.includes(key));
    expect(offers).toHaveLength(keys.length);
    await edit(`Strips of ${page}`, stripsMade(show, PANEL, offers, ulid, page).changes);
  };
  await makePage('page1', ['switcher/Sources', 'switcher/Transitions', 'switcher/macros']);
  await makePage('page2', ['cameras/choose', 'cameras/positions/deskCam']);
  const sources = (await showOf()).strips.find(({ panelId, name }) => panelId === PANEL && name === 'Sources');
  const id = ulid();
  const step = {
    id: 'p',
    onFail: 'stop',
    kind: 'command',
    device: 'switcher',
    command: 'preview',
    params: { source: 'black' },
  };
  const to = {
    ...PLAIN_BUTTON,
    id,
    stripId: sources?.id ?? '',
    legend: 'Second black',
    shift: true,
    steps: [step],
    order: 'z',
  };
  await edit('Second set', [{ entity: 'buttons', id, field: '*', from: null, to }]);
});
afterAll(() => demo.close());

/** What must be in sight at every size, and nothing that has to be scrolled for sideways. */
async function holds(page: Page): Promise<void> {
  const { width, height } = page.viewportSize() ?? { width: 0, height: 0 };
  expect(await page.evaluate(() => window.document.documentElement.scrollWidth)).toBeLessThanOrEqual(width);
  for (const what of [cap(page, 'Cut').first(), page.getByText('STOP').first()]) {
    const box = await what.boundingBox();
    if (box === null) throw new Error('It is not there.');
    expect(box.x).toBeGreaterThanOrEqual(0);
    expect(box.x + box.width).toBeLessThanOrEqual(width + 1);
    expect(box.y + box.height).toBeLessThanOrEqual(height + 1);
  }
}

describe.each(Object.entries(SIZES))('one panel at every size: %s', (name, viewport) => {
  it('presses, holds, turns, shows pages and Shift, and is programmed', async () => {
    const touch = name !== 'wide';
    const page = await browser.newPage({ viewport, hasTouch: touch });
    const press = async (legend: string): Promise<void> => {
      const control = cap(page, legend).last();
      await control.scrollIntoViewIfNeeded();
      await (touch ? control.tap() : control.click());
    };
    await page.goto(`${demo.url}/?panel=${PANEL}`);
    await cap(page, 'Dome cam').waitFor();
    await holds(page);
    await press('Dome cam');
    await until('Dome cam on preview', async () => (await points('switcher')).preview === 3);
    // What the switcher keeps is there; its empty places are no caps.
    await cap(page, 'Roof on both aux').waitFor();
    // Shift for one press.
    await page.getByRole('button', { name: /^Shift/ }).click();
    await press('Second black');
    await until('black on preview', async () => (await points('switcher')).preview === 16);
    // The lever is dragged to its other end and back.
    const lever = page.getByRole('slider', { name: /Lever/ });
    await lever.scrollIntoViewIfNeeded();
    const box = await lever.boundingBox();
    if (box === null) throw new Error('No lever.');
    const before = (await points('switcher')).program;
    const y = box.y + box.height / 2;
    await page.mouse.move(box.x + 6, y);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width / 2, y, { steps: 5 });
    await until('half way', async () => Number((await points('switcher')).lever) > 0.2);
    await page.mouse.move(box.x + 1, y, { steps: 5 });
    await page.mouse.up();
    await until('back', async () => (await points('switcher')).lever === 0);
    expect((await points('switcher')).program).toBe(before);
    // The other page, a camera that is chosen, and a move that ends with the finger.
    await page.getByRole('button', { name: 'Page Moves' }).click();
    await press('Desk cam');
    await cap(page, 'Desk cam').and(page.locator('[data-lamp="chosen"]')).first().waitFor();
    const right = cap(page, 'Right').first();
    await right.scrollIntoViewIfNeeded();
    const from = Number((await points('deskCam')).pan);
    await right.hover();
    await page.mouse.down();
    await until('it moves', async () => Number((await points('deskCam')).pan) > from + 0.5);
    await page.mouse.up();
    await until('it stands', async () => {
      const pan = (await points('deskCam')).pan;
      await new Promise((next) => setTimeout(next, 250));
      return (await points('deskCam')).pan === pan;
    });
    await holds(page);
    // The Bench opens the same panel; a cap of it, and what could be added.
    await page.goto(`${demo.url}/bench?p=${PANEL}&page=page1`);
    await page.getByRole('button', { name: 'Edit Dome cam', exact: true }).click();
    await page.getByRole('button', { name: 'Does' }).waitFor();
    await page.getByRole('button', { name: 'Close the editor' }).click();
    await page.getByRole('button', { name: 'Add strips' }).click();
    await page.getByTestId('add-strips').waitFor();
    expect(await page.evaluate(() => window.document.documentElement.scrollWidth)).toBeLessThanOrEqual(viewport.width);
    await page.close();
  });
});
