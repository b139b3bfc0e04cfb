import { type Browser, chromium, type Page } from 'playwright-core';
import { freshDatabase } from './database';
import { Demo, freshFolder, until } from './demo';

const ARGUMENTS = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];

/** Debian's Chromium without a window. */
export const CHROMIUM = '/usr/bin/chromium-headless-shell';

/** The two sizes that everything is tried at. */
export const SIZES = { phone: { width: 390, height: 844 }, wide: { width: 1280, height: 800 } } as const;

const open = new Set<Page>();

/** The two sizes, for `describe.each`. */
export const sizes = Object.keys(SIZES) as (keyof typeof SIZES)[];

/** The one browser of this process, from `startBrowser` or `useBrowser` on. */
export let browser: Browser;

export async function startBrowser(): Promise<void> {
  browser = await chromium.launch({ executablePath: CHROMIUM, args: ARGUMENTS });
}

/** One browser for a test file; after each test its pages and the demos begun in it are closed, after all of them whatever was started. */
export function useBrowser(): void {
  let before: readonly Demo[] = [];
  beforeAll(startBrowser);
  beforeEach(() => (before = Demo.running()));
  afterEach(async () => {
    await closePages();
    for (const demo of Demo.running()) if (!before.includes(demo)) await demo.close();
  });
  afterAll(async () => {
    await browser.close();
    await Demo.closeAll();
  });
}

export const freshDemo = async (): Promise<Demo> => Demo.start(await freshDatabase(), freshFolder());

/** Closes the pages that a test left open when it failed: a pointer held down on one would go on renewing its press. */
async function closePages(): Promise<void> {
  for (const page of [...open]) await page.close();
}

/** A page of a size on the Desk, with every device told as reached. */
export async function openDesk(url: string, size: keyof typeof SIZES): Promise<Page> {
  const page = await browser.newPage({ viewport: SIZES[size], hasTouch: size === 'phone' });
  open.add(page);
  page.once('close', () => open.delete(page));
  await page.goto(url);
  await page.getByText(/^(\d+) of \1 reached$/).waitFor({ timeout: 20_000 });
  return page;
}

/** A page of a size at a path of the application, once the show is there and the engine has answered. */
export async function openAt(url: string, size: keyof typeof SIZES, path: string): Promise<Page> {
  const context = await browser.newContext({ viewport: SIZES[size], hasTouch: size === 'phone' });
  const page = await context.newPage();
  open.add(page);
  page.once('close', () => open.delete(page));
  // On a slow machine the page may give its first connection up, and be answered on the next.
  let answered = false;
  page.on('websocket', (socket) => socket.once('framereceived', () => (answered = true)));
  await page.goto(`${url}${path}`);
  await page.getByRole('navigation').waitFor({ timeout: 20_000 });
  await until('the engine answers', () => Promise.resolve(answered), 20_000);
  return page;
}

/** Goes to an address from a page where a sheet was closed just now: the sheet's own step back may still be under way, and takes the first try along. */
export async function goTo(page: Page, url: string): Promise<void> {
  for (let tries = 1; ; tries += 1) {
    try {
      await page.goto(url);
      return;
    } catch (error) {
      if (tries === 3 || !String(error).includes('ERR_ABORTED')) throw error;
    }
  }
}

/** The cap of a button by what it says first. */
export const cap = (page: Page, legend: string) => page.locator(`[data-testid^="cap-"][aria-label^="${legend}"]`);

/** Shows another panel: on a phone from the list of panels, on a wide screen by a touch on its name. */
export async function choosePanel(page: Page, name: string): Promise<void> {
  const choice = page.getByTestId('panel-choice');
  if (await choice.isVisible()) {
    await choice.click();
    await page.getByRole('button', { name, exact: true }).first().click();
  } else
    await page
      .getByRole('radio', { name })
      .or(page.getByText(name, { exact: true }))
      .first()
      .click();
}
