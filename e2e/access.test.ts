import AxeBuilder from '@axe-core/playwright';
import { demoId } from '@umbek/core/demo';
import type { Browser, Page } from 'playwright-core';
import { closePages, openAt, openBrowser, SIZES } from './support/browser';
import { freshDatabase } from './support/database';
import { Demo, freshFolder, until } from './support/demo';

jest.setTimeout(180_000);
afterAll(() => Demo.closeAll());

const sizes = Object.keys(SIZES) as (keyof typeof SIZES)[];
let browser: Browser;
let demo: Demo;
beforeAll(async () => {
  browser = await openBrowser();
  demo = await Demo.start(await freshDatabase(), freshFolder());
});
afterEach(() => closePages());
afterAll(() => browser.close());

/** What opens more of a view, so that it is looked at as well. */
const VIEWS: readonly { readonly name: string; readonly path: string; readonly open?: (page: Page) => Promise<void> }[] = [
  { name: 'Desk', path: '/' },
  { name: 'Bench', path: '/bench' },
  { name: 'Bench, what a button does', path: '/bench', open: (page) => page.getByTestId(`edit-${demoId('BTN', 7)}`).click().then(() => page.getByRole('button', { name: /^Step 3/ }).click()) },
  { name: 'Bench, what it says', path: '/bench', open: (page) => page.getByTestId(`edit-${demoId('BTN', 7)}`).click().then(() => page.getByText('Says', { exact: true }).click()) },
  { name: 'Bench, when it lights', path: '/bench', open: (page) => page.getByTestId(`edit-${demoId('BTN', 7)}`).click().then(() => page.getByText('Lights', { exact: true }).click()) },
  { name: 'the list of steps', path: '/bench', open: (page) => page.getByRole('button', { name: 'Add a button to Take' }).click() },
  { name: 'Rig', path: '/rig' },
  { name: 'sources', path: '/rig', open: (page) => page.getByText('Sources', { exact: true }).click().then(() => page.getByRole('button', { name: 'Source Roof cam' }).click()) },
  { name: 'show file', path: '/rig', open: (page) => page.getByText('Show', { exact: true }).click() },
  { name: 'camera', path: '/rig/deskCam' },
  { name: 'commands', path: '/rig/switcher' },
  { name: 'set-up', path: '/rig/captions', open: (page) => page.getByText('Set-up', { exact: true }).click() },
  { name: 'Log', path: '/log' },
  { name: 'every lamp', path: '/caps' },
];

describe.each(sizes)('every view (%s)', (size) => {
  it.each(VIEWS)('$name has no serious fault, and every control a name', async ({ path, open }) => {
    const page = await openAt(browser, demo.url, size, path);
    await page.waitForTimeout(500);
    await open?.(page);
    await page.waitForTimeout(500);
    const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa']).analyze();
    const serious = violations.filter((one) => one.impact === 'serious' || one.impact === 'critical');
    expect(serious.map((one) => `${one.id}: ${one.nodes.slice(0, 4).map((node) => `${node.html.slice(0, 220)} ${node.failureSummary?.slice(0, 200) ?? ''}`).join('\n')}`)).toEqual([]);
  });
});

describe('the keyboard alone', () => {
  it('presses a cap, goes to the Bench, makes a button and undoes it', async () => {
    const page = await openAt(browser, demo.url, 'wide', '/');
    const focused = () => page.evaluate(() => window.document.activeElement?.getAttribute('aria-label') ?? '');
    const tabTo = async (wanted: RegExp): Promise<void> => {
      for (let times = 0; times < 80; times += 1) {
        if (wanted.test(await focused())) return;
        await page.keyboard.press('Tab');
      }
      throw new Error(`Nothing named ${String(wanted)} was reached.`);
    };
    await page.getByText('5 of 5 reached').waitFor();
    await tabTo(/^Dome cam/);
    await page.keyboard.press('Enter');
    await page.getByTestId('on-preview').getByText('Dome cam').waitFor();
    await page.keyboard.press('Home');
    await page.evaluate(() => (window.document.activeElement as HTMLElement | null)?.blur());
    await tabTo(/^Bench$/);
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { name: 'Bench' }).waitFor();
    await tabTo(/^Add a button to Moments$/);
    await page.keyboard.press('Enter');
    await page.getByLabel(/^Search: Add to/).waitFor();
    await page.waitForTimeout(200);
    await page.keyboard.type('mix');
    await page.keyboard.press('Enter');
    await page.waitForTimeout(200);
    await page.keyboard.press('Escape');
    await page.getByLabel(/^Search: Add to/).waitFor({ state: 'detached' });
    const made = () => fetch(`${demo.url}/api/show`).then(async (response) => ((await response.json()) as { buttons: { legend: string; steps: { command?: string }[] }[] }).buttons.filter((button) => button.legend === 'New button' && button.steps[0]?.command === 'mix').length);
    await until('made', async () => (await made()) === 1);
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await until('undone', async () => (await made()) === 0);
  });
});
