import { demoId } from '@umbek/demo';
import type { ShowDocument } from '@umbek/core/show';
import type { Page } from 'playwright-core';
import { cap, choosePanel, freshDemo, goTo, openAt, openDesk, sizes, useBrowser } from './support/browser';
import { type Demo, until } from './support/demo';

jest.setTimeout(120_000);
useBrowser();

let demo: Demo;
beforeAll(async () => (demo = await freshDemo()));

const show = async (): Promise<ShowDocument> => (await (await fetch(`${demo.url}/api/show`)).json()) as ShowDocument;
const idOf = async (legend: string): Promise<string> => {
  const found = (await show()).buttons.find((button) => button.legend === legend);
  if (found === undefined) throw new Error(`There is no button ${legend}.`);
  return found.id;
};
const shortcuts = async () =>
  (await (await fetch(`${demo.url}/api/shortcuts`)).json()) as {
    id: string;
    kind: string;
    words: string;
    runs: { button?: string; macro?: string };
    clashes: string[];
  }[];
const keysTo = async (id: string): Promise<string[]> =>
  (await shortcuts()).flatMap(({ words, runs }) => (runs.button === id || runs.macro === id ? [words] : []));
let edits = 0;
const makeKey = async (code: string, runs: object, held: object = {}): Promise<void> => {
  edits += 1;
  const id = `01J0C0RVANEH1SH0RT${String(edits).padStart(8, '0')}`;
  const on = { kind: 'key', code, shift: false, ctrl: false, alt: false, meta: false, ...held };
  const { status } = await demo.post('/api/edits', {
    editId: `01J0C0RVANEH1ED1TK${String(edits).padStart(8, '0')}`,
    label: `Key ${code}`,
    by: 'Ada',
    changes: [{ entity: 'shortcuts', id, field: '*', from: null, to: { id, on, runs, order: `k${edits}` } }],
  });
  expect(status).toBe(200);
};
const previews = async (): Promise<number> =>
  (await demo.standins.switcher.report()).effects.filter(({ command }) => command === 'preview').length;
const keyNotice = (page: Page) => page.getByTestId('key-told');

describe.each(sizes)('a key (%s)', (size) => {
  const key = size === 'phone' ? 'F2' : 'F3';
  const legend = size === 'phone' ? 'Star charts' : 'Black';

  it('is learned in three touches, presses once however long it repeats, and is in the list', async () => {
    const page = await openAt(demo.url, size, '/bench');
    const id = await idOf(legend);
    // Three touches: the button, the plus, the key.
    await page.getByTestId(`edit-${id}`).click();
    await page.getByRole('button', { name: 'Add a shortcut' }).click();
    await page.getByText('Press it now', { exact: true }).waitFor();
    await page.keyboard.press(key);
    await page.getByRole('button', { name: `Remove the shortcut ${key}` }).waitFor();
    await until('it is stored', async () => (await keysTo(id)).includes(key));

    await goTo(page, demo.url);
    await cap(page, legend).first().waitFor();
    await page.waitForTimeout(300);
    const before = await previews();
    await page.keyboard.down(key);
    // The system repeats a key that stays down.
    for (let times = 0; times < 5; times += 1) await page.keyboard.down(key);
    await page.keyboard.up(key);
    await keyNotice(page).getByText(key, { exact: true }).waitFor();
    await keyNotice(page).getByText(`${legend} · done`).waitFor();
    // Where there is a keyboard the cap says which key it is.
    const hint = await cap(page, legend).first().getAttribute('aria-keyshortcuts');
    expect(hint).toBe(size === 'phone' ? null : key);
    await page.waitForTimeout(300);
    expect(await previews()).toBe(before + 1);

    await page.goto(`${demo.url}/log`);
    await page
      .getByText(new RegExp(`^Pressed ${legend} by ${key} · done in`))
      .first()
      .waitFor();
    await page.goto(`${demo.url}/bench?list=shortcuts`);
    await page.getByRole('button', { name: new RegExp(`^Shortcut ${key}, Main · Sources · ${legend}`) }).click();
    await page.getByRole('link', { name: `Main · Sources · ${legend}` }).waitFor();
  });
});

describe('a key that is held', () => {
  it('holds what it presses, and lets go with the key or with the window', async () => {
    await makeKey('KeyJ', { button: await idOf('Left') });
    const page = await openDesk(demo.url, 'wide');
    await choosePanel(page, 'Cameras');
    await cap(page, 'Lawn cam').first().click();
    await page.locator('[data-testid^="cap-"][aria-label^="Lawn cam"][data-lamp="chosen"]').waitFor();
    // It need not be in sight.
    await choosePanel(page, 'Main');
    await cap(page, 'Star charts').first().waitFor();
    const moving = async () => (await demo.standins.lawnCam.report()).points.travelling === true;
    await page.keyboard.down('j');
    await until('it moves', moving);
    await page.waitForTimeout(700);
    expect(await moving()).toBe(true);
    await page.keyboard.up('j');
    await until('it stands', async () => !(await moving()));
    await page.keyboard.down('j');
    await until('it moves again', moving);
    await page.evaluate(() => window.dispatchEvent(new Event('blur')));
    await until('it stands again', async () => !(await moving()));
    await page.keyboard.up('j');
  });
});

describe('a key presses nothing', () => {
  it('while somebody types, while a dialog is open, at the Bench, and where it is another key with Shift', async () => {
    await makeKey('KeyK', { button: await idOf('Star charts') });
    const page = await openDesk(demo.url, 'wide');
    const before = await previews();
    const quiet = async (): Promise<void> => {
      await page.waitForTimeout(250);
      expect(await previews()).toBe(before);
    };
    await page.keyboard.press('Shift+K');
    await page.keyboard.press('Control+K');
    await quiet();
    await page.getByLabel('This station').click();
    await page.getByLabel('Station', { exact: true }).fill('');
    await page.keyboard.type('kkk');
    expect(await page.getByLabel('Station', { exact: true }).inputValue()).toBe('kkk');
    await page.getByRole('button', { name: 'Save' }).focus();
    await page.keyboard.press('k');
    await quiet();
    await page.keyboard.press('Escape');
    await page.getByLabel('Station', { exact: true }).waitFor({ state: 'detached' });
    await page.getByRole('link', { name: 'Bench' }).click();
    await page.getByRole('heading', { name: 'Bench' }).waitFor();
    await page.keyboard.press('k');
    await quiet();
    await page.getByRole('link', { name: 'Desk' }).click();
    await cap(page, 'Star charts').first().waitFor();
    await page.keyboard.press('k');
    await until('now it does', async () => (await previews()) === before + 1);
  });

  it('and what it presses is refused in words; the second touch is a second press of it', async () => {
    await makeKey('Digit7', { button: await idOf('To black') });
    await makeKey('Digit8', { button: await idOf('From black') });
    const page = await openDesk(demo.url, 'wide');
    await page.keyboard.press('7');
    await keyNotice(page)
      .getByText(/Touch again/)
      .waitFor();
    expect((await demo.standins.switcher.report()).points.black).toBe(false);
    await page.waitForTimeout(200);
    await page.keyboard.press('7');
    await until('it is black', async () => (await demo.standins.switcher.report()).points.black === true);
    await page.keyboard.press('8');
    await until('it is back', async () => (await demo.standins.switcher.report()).points.black === false);
  });
});

describe('the keys of a show', () => {
  it('one that is taken is told when it is learned, and given up; one of the page or of a browser is none', async () => {
    const [first, second] = [await idOf('Desk cam'), await idOf('Dome cam')];
    await makeKey('F6', { button: first });
    const page = await openAt(demo.url, 'wide', `/bench?b=${second}`);
    await page.getByRole('button', { name: 'Add a shortcut' }).click();
    await page.getByText('Press it now', { exact: true }).waitFor();
    await page.keyboard.press('Control+KeyW');
    await page.getByText('Ctrl + W belongs to the browser. Press another.').waitFor();
    await page.keyboard.press('F6');
    await page.getByText('F6 presses Main · Sources · Desk cam now. Press another, or take this one.').waitFor();
    expect(await keysTo(first)).toEqual(['F6']);
    await page.getByRole('button', { name: 'Take F6 from it' }).click();
    await until('it has changed hands', async () => (await keysTo(second)).includes('F6'));
    expect(await keysTo(first)).toEqual([]);
    // One undo gives it back.
    await page.getByRole('button', { name: 'Undo' }).click();
    await until('it is back', async () => (await keysTo(first)).includes('F6'));
    expect(await keysTo(second)).toEqual([]);
  });

  it('two engineers who give one key away at once: the first counts, the other one says so in the list', async () => {
    const [first, second] = [demoId('BTN', 1), await idOf('Lawn cam')];
    await makeKey('F8', { button: first });
    await makeKey('F8', { button: second });
    const all = (await shortcuts()).filter(({ words }) => words === 'F8');
    expect(all.map(({ clashes }) => clashes.length)).toEqual([1, 1]);
    const page = await openAt(demo.url, 'phone', '/bench?list=shortcuts');
    await page.getByText(/^\d+ shortcuts · 1 does nothing$/).waitFor();
    await page.getByLabel('Search: key or button').fill('f8');
    await page.getByRole('button', { name: /^Shortcut F8, .* F8 presses .* already\. Choose another one\.$/ }).click();
    await page.getByRole('button', { name: 'Something else pressed' }).click();
    await page.getByText('Press it now', { exact: true }).waitFor();
    await page.keyboard.press('Alt+F9');
    await until('both work', async () => (await keysTo(second)).includes('Alt + F9'));
    // The list lies under the editor on a phone.
    await page.getByText(/^\d+ shortcuts$/).waitFor({ state: 'attached' });
    const csv = await (await fetch(`${demo.url}/api/shortcuts.csv`)).text();
    expect(csv).toMatch(/^Pressed,Runs,Station,Note\r\n/);
    expect(csv).toContain('Alt + F9,Main · Sources · Lawn cam,everywhere,\r\n');
    expect(await (await fetch(`${demo.url}/api/shortcuts.html`)).text()).toContain('<b>Alt + F9</b>');
  });

  it('runs a macro as well, and says when what it ran is gone', async () => {
    const [macro] = (await show()).macros;
    if (macro === undefined) throw new Error('The demo has no macro.');
    await makeKey('Numpad5', { macro: macro.id });
    const page = await openDesk(demo.url, 'wide');
    await page.keyboard.press('Numpad5');
    await keyNotice(page).getByText('Numpad 5', { exact: true }).waitFor();
    await until('it ran', async () => {
      const { entries } = (await (await fetch(`${demo.url}/api/log?kind=press`)).json()) as {
        entries: { buttonId?: string }[];
      };
      return entries[0]?.buttonId === macro.id;
    });
    await makeKey('F7', { button: '01J0C0RVANEH1BVTT0N0000099' });
    // The page hears of the edit in a moment.
    await until('it is told', async () => {
      await page.keyboard.press('F7');
      await page.waitForTimeout(200);
      return (await keyNotice(page).innerText()).includes('There is no button');
    });
    await page.goto(`${demo.url}/bench?list=shortcuts`);
    await page.getByRole('button', { name: /^Shortcut F7, What it ran is gone\./ }).waitFor();
  });
});
