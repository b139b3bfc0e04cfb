import type { ShowDocument } from '@umbek/core/show';
import type { Page } from 'playwright-core';
import { cap, freshDemo, openAt, sizes, useBrowser } from './support/browser';
import { type Demo, until } from './support/demo';

jest.setTimeout(120_000);
useBrowser();

const showOf = async (demo: Demo): Promise<ShowDocument> =>
  (await (await fetch(`${demo.url}/api/show`)).json()) as ShowDocument;
const preview = async (demo: Demo) => (await demo.standins.switcher.report()).points.preview;
const toDesk = async (page: Page): Promise<void> =>
  page.getByRole('navigation').getByRole('link', { name: 'Desk' }).click();
const add = async (page: Page, words: string): Promise<void> => {
  await page.getByPlaceholder('Search').fill(words);
  await page.getByRole('button', { name: words, exact: true }).first().click();
  await page.getByText('Done', { exact: true }).click();
};

describe.each(sizes)('more than fits (%s)', (size) => {
  it('pages: a strip stands on one or stays on all, a button shows another page, and the address leads to it', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, size, '/bench');
    await page.getByRole('button', { name: 'Edit panel Main' }).click();
    for (const name of ['Pictures', 'Words']) {
      await page.getByRole('button', { name: 'Add a page' }).click();
      const field = page.getByRole('textbox', { name: 'Name of the page' }).last();
      await field.fill(name);
      await field.press('Enter');
      await until(`page ${name}`, async () =>
        (await showOf(demo)).panels[0]?.pages.some((candidate) => candidate.name === name),
      );
    }
    // The second page covers the sources.
    await page.getByRole('button', { name: 'Words covers Sources' }).click();
    await page.getByRole('button', { name: 'Close the editor' }).click();
    await page.getByRole('button', { name: 'Edit strip Names' }).click();
    await page.getByRole('button', { name: 'Words', exact: true }).last().click();
    await until(
      'its page',
      async () => (await showOf(demo)).strips.find(({ name }) => name === 'Names')?.page === 'page2',
    );
    await page.getByRole('button', { name: 'Close the editor' }).click();
    await page.getByRole('button', { name: 'Add a button to Moments' }).click();
    await add(page, 'Show Main, page Words');
    await until('the button', async () =>
      (await showOf(demo)).buttons.some(({ steps }) => steps.some(({ kind }) => kind === 'show')),
    );
    await page.getByRole('button', { name: 'Says' }).click();
    await page.getByTestId('legend').fill('To the words');
    await page.getByTestId('legend').press('Enter');
    await toDesk(page);
    await cap(page, 'Lawn cam').waitFor();
    expect(await cap(page, 'Ines Halloran').count()).toBe(0);
    await cap(page, 'To the words').click();
    await cap(page, 'Ines Halloran').waitFor();
    // Covered; what stays otherwise is there.
    await cap(page, 'Lawn cam').waitFor({ state: 'detached' });
    await cap(page, 'Slit open').first().waitFor();
    await page.reload();
    await cap(page, 'Ines Halloran').waitFor();
    await page.getByRole('button', { name: 'Page Pictures' }).click();
    await cap(page, 'Lawn cam').waitFor();
    await demo.close();
  });

  it('Shift: a second set of its own, held by finger or key, or for one press; a held cap stays under its finger', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, size, '/bench');
    await page.getByRole('button', { name: 'Shift', exact: true }).click();
    await page.getByRole('button', { name: 'Add a button to Sources' }).click();
    await add(page, 'Put a source on preview: Spool');
    await until('its set', async () =>
      (await showOf(demo)).buttons.some(({ legend, shift }) => legend === 'Spool' && shift),
    );
    await toDesk(page);
    await cap(page, 'Lawn cam').waitFor();
    expect(await cap(page, 'Spool').count()).toBe(0);
    // A tap: for the next press.
    await page.getByTestId('shift').click();
    await cap(page, 'Spool').click();
    const spool = (await showOf(demo)).sources.find(({ name }) => name === 'Spool')?.input;
    await until('previewed', async () => (await preview(demo)) === spool);
    await cap(page, 'Lawn cam').waitFor();
    // Held by its key: Spool stands where Desk cam stood.
    await page.keyboard.down('Shift');
    await cap(page, 'Spool').waitFor();
    const box = await cap(page, 'Spool').boundingBox();
    if (!box) throw new Error('No cap.');
    await page.mouse.move(box.x + 20, box.y + 20);
    await page.mouse.down();
    await page.keyboard.up('Shift');
    await page.waitForTimeout(300);
    expect(await cap(page, 'Spool').count()).toBe(1);
    await page.mouse.up();
    await cap(page, 'Desk cam').waitFor();
    await demo.close();
  });
});

describe.each(sizes)('a lamp (%s)', (size) => {
  it('is made from lists, in words, and shown on the panels for a moment', async () => {
    const demo = await freshDemo();
    const other = await openAt(demo.url, size, '/');
    const page = await openAt(demo.url, size, '/bench');
    await page.getByRole('button', { name: 'Edit Slit open', exact: true }).first().click();
    await page.getByRole('button', { name: 'Lights' }).click();
    await page.getByRole('button', { name: 'From any state' }).click();
    await page.getByPlaceholder('Search').fill('auxiliary output 1');
    await page.getByRole('button', { name: 'Input on auxiliary output 1', exact: true }).click();
    await page.getByRole('button', { name: /^Source: / }).click();
    await page.getByRole('button', { name: 'Dome cam', exact: true }).last().click();
    await page.getByText('Switcher: input on auxiliary output 1 is Dome cam').waitFor();
    const rule = await until('the rule', async () =>
      (await showOf(demo)).buttons
        .find(({ legend }) => legend === 'Slit open')
        ?.lamps.find(({ when }) => when.includes('aux1') && when.includes('domeCam')),
    );
    expect(rule).toEqual({ when: 'switcher.aux1 == input("domeCam")', show: 'up' });
    const id = (await showOf(demo)).buttons.find(({ legend }) => legend === 'Slit open')?.id ?? '';
    const lit = other.locator(`[data-testid="cap-${id}"][data-lamp="up"]`);
    await page.getByRole('button', { name: /on the panels for a moment$/ }).click();
    await lit.waitFor();
    await lit.waitFor({ state: 'detached' });
    await demo.close();
  });
});
