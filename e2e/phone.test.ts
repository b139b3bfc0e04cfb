import { demoId } from '@umbek/demo';
import type { BrowserContext, Page } from 'playwright-core';
import { ulid } from 'ulid';
import { browser, freshDemo, SIZES, useBrowser } from './support/browser';
import { type Demo, until } from './support/demo';

jest.setTimeout(120_000);
useBrowser();

let demo: Demo;
let context: BrowserContext;
beforeAll(async () => (demo = await freshDemo()));
afterEach(() => context.close());

/** A phone whose motor is written down. */
async function phone(): Promise<{ page: Page; felt: () => Promise<unknown[]> }> {
  context = await browser.newContext({ viewport: SIZES.phone, hasTouch: true, isMobile: true });
  await context.addInitScript(`
    window.felt = [];
    Object.defineProperty(navigator, 'vibrate', { value: (pattern) => window.felt.push(pattern) });
  `);
  const page = await context.newPage();
  await page.goto(demo.url);
  await page.getByText(/^(\d+) of \1 reached$/).waitFor({ timeout: 20_000 });
  return { page, felt: () => page.evaluate(() => (window as unknown as { felt: unknown[] }).felt) };
}

const BLACK = demoId('BTN', 6);
const guard = async (from: string, to: string): Promise<void> => {
  const changes = [{ entity: 'buttons', id: BLACK, field: 'guard', from, to }];
  const edit = { editId: ulid(), label: 'Guard', by: 'test', changes };
  expect((await demo.post('/api/edits', edit)).status).toBe(200);
};

it('feels one tick for a touch, two more where it has to come again, and none where that is switched off', async () => {
  await guard('none', 'secondTouch');
  const { page, felt } = await phone();
  await page.getByTestId(`cap-${demoId('BTN', 5)}`).tap();
  expect(await felt()).toEqual([12]);
  await page.getByTestId(`cap-${BLACK}`).tap();
  await until('it asks for a second touch', async () => (await felt()).length === 3);
  expect(await felt()).toEqual([12, 12, [30, 60, 30]]);
  await page.getByRole('button', { name: 'This station', exact: true }).click();
  await page.getByRole('switch', { name: 'Feel each touch' }).click();
  await page.getByRole('button', { name: 'Close', exact: true }).click();
  await page.getByTestId(`cap-${demoId('BTN', 5)}`).tap();
  await page.waitForTimeout(200);
  expect(await felt()).toHaveLength(3);
  await guard('secondTouch', 'none');
});

it('fills the screen, and can be put on the home screen', async () => {
  const { page } = await phone();
  await page.getByRole('button', { name: 'This station', exact: true }).click();
  const fill = page.getByRole('switch', { name: 'Fill the screen' });
  await fill.click();
  await until('it fills the screen', () => page.evaluate(() => document.fullscreenElement !== null));
  await fill.click();
  await until('it does not', () => page.evaluate(() => document.fullscreenElement === null));
  const manifest = await fetch(`${demo.url}/umbek.webmanifest`);
  expect(manifest.headers.get('content-type')).toMatch(/^application\/manifest\+json/);
  const { icons, start_url: start } = (await manifest.json()) as {
    icons: { src: string; sizes: string }[];
    start_url: string;
  };
  expect(start).toBe('/');
  for (const { src, sizes } of icons) {
    const image = Buffer.from(await (await fetch(`${demo.url}${src}`)).arrayBuffer());
    // Width and height in the head of a PNG.
    expect([src, `${image.readUInt32BE(16)}x${image.readUInt32BE(20)}`]).toEqual([src, sizes]);
  }
  // What the browser itself says of it: nothing stands in the way of installing it.
  const session = await context.newCDPSession(page);
  const { installabilityErrors } = await session.send('Page.getInstallabilityErrors');
  expect(installabilityErrors.map(({ errorId }) => errorId)).toEqual([]);
});
