import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import AxeBuilder from '@axe-core/playwright';
import { demoId } from '@umbek/demo';
import type { Page } from 'playwright-core';
import { openAt, sizes, useBrowser } from './support/browser';
import { freshDatabase } from './support/database';
import { Demo, freshFolder, until } from './support/demo';

jest.setTimeout(180_000);
useBrowser();

let demo: Demo;
beforeAll(async () => {
  demo = await Demo.start(await freshDatabase(), freshFolder(), [], {});
});

/** What opens more of a view, so that it is looked at as well. */
const VIEWS: readonly {
  readonly name: string;
  readonly path: string;
  readonly open?: (page: Page) => Promise<void>;
}[] = [
  { name: 'Desk', path: '/' },
  { name: 'Bench', path: '/bench' },
  {
    name: 'Bench, what a button does',
    path: '/bench',
    open: (page) =>
      page
        .getByTestId(`edit-${demoId('BTN', 7)}`)
        .click()
        .then(() => page.getByRole('button', { name: /^Step 3/ }).click()),
  },
  {
    name: 'Bench, what it says',
    path: '/bench',
    open: (page) =>
      page
        .getByTestId(`edit-${demoId('BTN', 7)}`)
        .click()
        .then(() => page.getByText('Says', { exact: true }).click()),
  },
  {
    name: 'Bench, when it lights',
    path: '/bench',
    open: (page) =>
      page
        .getByTestId(`edit-${demoId('BTN', 7)}`)
        .click()
        .then(() => page.getByText('Lights', { exact: true }).click()),
  },
  {
    name: 'the list of steps',
    path: '/bench',
    open: (page) => page.getByRole('button', { name: 'Add a button to Take' }).click(),
  },
  { name: 'Rig', path: '/rig' },
  {
    name: 'sources',
    path: '/rig',
    open: (page) =>
      page
        .getByText('Sources', { exact: true })
        .click()
        .then(() => page.getByRole('button', { name: 'Source Roof cam' }).click()),
  },
  { name: 'saved set-ups', path: '/rig', open: (page) => page.getByText('Saved set-ups', { exact: true }).click() },
  { name: 'profiles', path: '/rig', open: (page) => page.getByText('Profiles', { exact: true }).click() },
  {
    name: 'profile',
    path: '/rig/profiles/houseLights',
    open: (page) => page.getByRole('button', { name: 'Set the level of an area' }).click(),
  },
  {
    name: 'bad days',
    path: '/rig',
    open: (page) =>
      page
        .getByText('Fault simulation', { exact: true })
        .click()
        .then(() => page.getByRole('button', { name: 'Stand-in Lines' }).click()),
  },
  { name: 'a list', path: '/rig', open: (page) => page.getByRole('button', { name: 'From a list' }).click() },
  { name: 'show file', path: '/rig', open: (page) => page.getByText('Show', { exact: true }).click() },
  { name: 'camera', path: '/rig/deskCam' },
  { name: 'commands', path: '/rig/switcher' },
  { name: 'set-up', path: '/rig/captions', open: (page) => page.getByText('Set-up', { exact: true }).click() },
  { name: 'Log', path: '/log' },
  { name: 'every lamp', path: '/caps' },
  { name: 'macros', path: '/bench?list=macros' },
  { name: 'values', path: '/bench?list=values' },
  {
    name: 'a panel and its pages',
    path: '/bench',
    open: async (page) => {
      await page.getByRole('button', { name: 'Edit panel Main' }).click();
      await page.getByRole('button', { name: 'Add a page' }).click();
      await page
        .getByRole('button', { name: /^Page \d covers Boards$/ })
        .last()
        .click();
    },
  },
  {
    name: 'a button in turn',
    path: '/bench',
    open: async (page) => {
      await page.getByRole('button', { name: 'Edit Ines Halloran', exact: true }).first().click();
      await page.getByRole('button', { name: 'Does' }).click();
      await page.getByText('In turn', { exact: true }).click();
    },
  },
  {
    name: 'a lamp from the lists',
    path: '/bench',
    open: async (page) => {
      await page.getByRole('button', { name: 'Edit Name out', exact: true }).first().click();
      await page.getByRole('button', { name: 'Lights' }).click();
      await page.getByRole('button', { name: 'From any state' }).click();
      await page.getByRole('button', { name: 'Input on preview', exact: true }).first().click();
    },
  },
  {
    name: 'levels, on a page',
    path: '/bench',
    open: async (page) => {
      await page.getByRole('button', { name: 'Add strips' }).click();
      await page.getByRole('button', { name: /^Levels of the channels, / }).click();
      await page.getByTestId('add-strips').click();
      await page.getByRole('navigation').getByRole('link', { name: 'Desk' }).click();
      await page.getByRole('slider').first().waitFor();
    },
  },
  {
    name: 'strips to add',
    path: '/bench',
    open: async (page) => {
      await page.getByRole('button', { name: 'Add strips' }).click();
      await page.getByRole('button', { name: /^Sources to preview/ }).click();
      await page.getByRole('switch', { name: 'Share one macro' }).waitFor();
    },
  },
  {
    name: 'shortcuts, a key to learn',
    path: '/bench?list=shortcuts',
    open: async (page) => {
      await page.getByRole('button', { name: 'Add a shortcut' }).click();
      await page.getByRole('button', { name: 'Take · Cut', exact: true }).first().click();
      await page.getByText('Press it now', { exact: true }).waitFor();
      await page.keyboard.press('Control+w');
    },
  },
  {
    name: 'stations',
    path: '/rig?part=stations',
    open: async (page) => {
      await page.getByRole('button', { name: 'Let a device in' }).click();
      await page.getByTestId('invitation').waitFor();
      await page.getByRole('button', { name: 'Change Dome left' }).click();
    },
  },
  {
    name: 'a dial pad',
    path: '/',
    open: async (page) => {
      await page.getByRole('button', { name: 'Dial a number' }).click();
      await page.getByRole('button', { name: 'Dial 1', exact: true }).click();
      await page.getByText('Macro 1 · Opening').waitFor();
    },
  },
  {
    name: 'other gear',
    path: '/bench?list=shortcuts&v=gear',
    open: async (page) => {
      await page.getByRole('button', { name: 'New token' }).click();
      await page.getByLabel('Name of the gear, such as Sound desk').fill('Sound desk');
      await page.getByText('Runs everything', { exact: true }).click();
      await page.getByRole('button', { name: 'Make the token' }).click();
      await page.getByTestId('token').waitFor();
      await page.getByRole('button', { name: 'Revoke the token of Sound desk' }).click();
    },
  },
  {
    name: 'people',
    path: '/bench?list=people',
    open: (page) => page.getByRole('button', { name: /^Person Wen Zhao/ }).click(),
  },
  {
    name: 'somebody is found',
    path: '/bench',
    open: async (page) => {
      await page.getByRole('button', { name: 'Add strips' }).click();
      await page.getByRole('button', { name: /^Names: next, previous, find/ }).click();
      await page.getByTestId('add-strips').click();
      await page.getByRole('navigation').getByRole('link', { name: 'Desk' }).click();
      await page.locator('[data-testid^="cap-"][aria-label^="Find"]').first().click();
      await page.getByRole('button', { name: /^Choose Obi Adeyemi/ }).waitFor();
    },
  },
  {
    name: 'buttons from elsewhere',
    path: '/bench',
    open: async (page) => {
      const file = await (await fetch(`${demo.url}/api/panels/${demoId('PAN', 2)}/file`)).text();
      await page.getByRole('button', { name: 'Add strips' }).click();
      const [chooser] = await Promise.all([
        page.waitForEvent('filechooser'),
        page.getByRole('button', { name: 'From a file' }).click(),
      ]);
      const text = file.replaceAll('"Desk cam"', '"Nave cam"');
      await chooser.setFiles({ name: 'panel.json', mimeType: 'application/json', buffer: Buffer.from(text) });
      await page
        .getByRole('button', { name: /^Nave cam: / })
        .first()
        .waitFor();
    },
  },
  {
    name: 'what would be taken back',
    path: '/',
    open: async (page) => {
      await page.locator('[data-testid^="cap-"][aria-label^="Cut"]').click();
      await page.getByRole('button', { name: 'Take back what the last press did' }).click();
      await page.getByText('Take back Cut?').waitFor();
    },
  },
];

/** Views that are drawn otherwise where there is room; the rest are the same parts in another place. */
const WIDE_TOO: ReadonlySet<string> = new Set([
  'Desk',
  'Bench, what a button does',
  'sources',
  'profile',
  'camera',
  'Log',
  'macros',
  'people',
  'stations',
  'a panel and its pages',
  // Also takes back the other one's cut: the tests below find on air what was on air.
  'what would be taken back',
]);

describe.each(sizes)('every view (%s)', (size) => {
  it.each(size === 'phone' ? VIEWS : VIEWS.filter(({ name }) => WIDE_TOO.has(name)))(
    '$name has no serious fault, and every control a name',
    async ({ path, open }) => {
      const page = await openAt(demo.url, size, path);
      await page.waitForTimeout(300);
      await open?.(page);
      await page.waitForTimeout(400);
      // Without what frames need, of which there are none, and without lists of what is right: a third of the time.
      const { violations } = await new AxeBuilder({ page })
        .setLegacyMode(true)
        .options({ resultTypes: ['violations'] })
        .withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'])
        .analyze();
      const serious = violations.filter(
        (violation) => violation.impact === 'serious' || violation.impact === 'critical',
      );
      expect(
        serious.map(
          (item) =>
            `${item.id}: ${item.nodes
              .slice(0, 4)
              .map((node) => `${node.html.slice(0, 220)} ${node.failureSummary?.slice(0, 200) ?? ''}`)
              .join('\n')}`,
        ),
      ).toEqual([]);
    },
  );
});

describe('the keyboard alone', () => {
  /** Goes on with Tab until what has the focus is called so; the focus begins at the top of the page. */
  const hands = (page: Page) => {
    const focused = () =>
      page.evaluate(
        () =>
          window.document.activeElement?.getAttribute('aria-label') ?? window.document.activeElement?.textContent ?? '',
      );
    const to = async (wanted: RegExp): Promise<void> => {
      for (let times = 0; times < 150; times += 1) {
        if (wanted.test(await focused())) return;
        await page.keyboard.press('Tab');
      }
      throw new Error(`Nothing named ${String(wanted)} was reached.`);
    };
    return {
      to,
      press: (wanted: RegExp) => to(wanted).then(() => page.keyboard.press('Enter')),
      fromTheTop: () => page.evaluate(() => (window.document.activeElement as HTMLElement | null)?.blur()),
    };
  };
  interface Show {
    positions: { name: string }[];
    devices: { key: string; port: number }[];
    buttons: { id: string; legend: string; steps: { command?: string }[]; lamps: { when: string; show: string }[] }[];
  }
  const show = async (): Promise<Show> => (await (await fetch(`${demo.url}/api/show`)).json()) as Show;

  it('presses a cap, goes to the Bench, makes a button and undoes it', async () => {
    const page = await openAt(demo.url, 'wide', '/');
    const { press, fromTheTop } = hands(page);
    await page.getByText(/^(\d+) of \1 reached$/).waitFor();
    await press(/^Dome cam/);
    await page.getByTestId('on-preview').getByText('Dome cam').waitFor();
    await page.keyboard.press('Home');
    await fromTheTop();
    await press(/^Bench$/);
    await page.getByRole('heading', { name: 'Bench' }).waitFor();
    await press(/^Add a button to Moments$/);
    await page.getByLabel(/^Search: Add to/).waitFor();
    await page.waitForTimeout(200);
    await page.keyboard.type('mix');
    await page.keyboard.press('Enter');
    await page.waitForTimeout(200);
    await page.keyboard.press('Escape');
    await page.getByLabel(/^Search: Add to/).waitFor({ state: 'detached' });
    const made = async () =>
      (await show()).buttons.filter((button) => button.legend === 'New button' && button.steps[0]?.command === 'mix')
        .length;
    await until('made', async () => (await made()) === 1);
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await until('undone', async () => (await made()) === 0);
  });

  it('nudges a camera, stores what it sees, recalls a position and names one anew', async () => {
    const page = await openAt(demo.url, 'wide', '/rig/lawnCam');
    const { to, press } = hands(page);
    await page.getByText(/^pan /).first().waitFor();
    await to(/^Nudge right$/);
    await page.keyboard.down('Enter');
    await until('it moves', async () => (await demo.standins.lawnCam.report()).points.travelling === true);
    await page.keyboard.up('Enter');
    await until('it stands', async () => (await demo.standins.lawnCam.report()).points.travelling === false);
    await press(/Store as new/);
    await until('stored', async () => (await show()).positions.some((position) => position.name === 'Position 3'));
    await press(/^Recall Big screen/);
    await page.getByRole('button', { name: 'Recall Big screen, here' }).waitFor({ timeout: 10_000 });
    await press(/^More for Big screen/);
    await page.getByRole('menuitem', { name: 'Rename' }).waitFor();
    await press(/^\W*Rename$/);
    await page.getByLabel('Name of the position').waitFor();
    await to(/^Name of the position$/);
    await page.keyboard.press('Control+a');
    await page.keyboard.type('Screen');
    await page.keyboard.press('Enter');
    await until('named', async () => (await show()).positions.some((position) => position.name === 'Screen'));
    await page.keyboard.press('Escape');
    await page.getByLabel('Name of the position').waitFor({ state: 'detached' });
  });

  it('gives a button a lamp rule, chooses its sign and takes it away', async () => {
    const page = await openAt(demo.url, 'wide', '/bench');
    const { press } = hands(page);
    const lamps = async () => (await show()).buttons.find((button) => button.id === demoId('BTN', 7))?.lamps ?? [];
    const before = (await lamps()).length;
    await page.getByTestId(`edit-${demoId('BTN', 7)}`).waitFor();
    await press(/^Edit Ines close/);
    await press(/^Lights$/);
    await press(/Add a lamp rule/);
    await page.getByLabel(/^Search: When does/).waitFor();
    await page.waitForTimeout(200);
    await page.keyboard.type('keyer 2');
    await page.keyboard.press('Enter');
    const added = await until('a rule more', async () =>
      (await lamps()).length === before + 1 ? (await lamps())[before] : undefined,
    );
    expect(added.when).toContain('keyer2');
    await press(new RegExp(`^Edit rule ${before + 1}$`));
    await press(/^Shows: /);
    await page.getByRole('menuitem', { name: 'chosen' }).waitFor();
    await press(/^chosen$/);
    await until('its sign', async () => (await lamps())[before]?.show === 'chosen');
    await press(new RegExp(`^Remove rule ${before + 1}$`));
    await until('a rule less', async () => (await lamps()).length === before);
  });

  it('makes a panel and a strip, and puts steps in, in another order, double and away', async () => {
    const page = await openAt(demo.url, 'wide', '/bench');
    const { to, press, fromTheTop } = hands(page);
    const all = async () =>
      (await (await fetch(`${demo.url}/api/show`)).json()) as {
        panels: { name: string }[];
        strips: { name: string }[];
      } & Show;
    await page.getByTestId(`edit-${demoId('BTN', 7)}`).waitFor();
    await press(/^Add a panel$/);
    await until('a panel more', async () => (await all()).panels.length === 7);
    // Its name has the focus, and a field keeps Ctrl+Z for its own text.
    await fromTheTop();
    await page.keyboard.press('Control+z');
    await until('a panel less', async () => (await all()).panels.length === 6);
    await fromTheTop();
    await press(/^Edit strip Take$/);
    await to(/^Name$/);
    await page.keyboard.press('Control+a');
    await page.keyboard.type('Takes');
    await page.keyboard.press('Enter');
    await until('named', async () => (await all()).strips.some((strip) => strip.name === 'Takes'));
    await fromTheTop();
    await press(/^Edit Ines close/);
    const steps = async () =>
      ((await show()).buttons.find((button) => button.id === demoId('BTN', 7))?.steps ?? []) as {
        kind?: string;
        command?: string;
      }[];
    const before = await steps();
    await press(/^Duplicate step 2$|^Step 2: /);
    await press(/^Duplicate step 2$/);
    await until('one step more', async () => (await steps()).length === before.length + 1);
    await press(/^Step 2 later$/);
    await until('in another order', async () => (await steps())[1]?.kind === before[1]?.kind);
    await press(/^Remove step [23]$/);
    await until('as many as before', async () => (await steps()).length === before.length);
  });

  it('adds a source, names it and takes it away', async () => {
    const page = await openAt(demo.url, 'wide', '/rig');
    const { to, press } = hands(page);
    const names = async () =>
      ((await (await fetch(`${demo.url}/api/show`)).json()) as { sources: { name: string }[] }).sources.map(
        (source) => source.name,
      );
    const before = (await names()).length;
    await page.getByText('Sources', { exact: true }).waitFor();
    await press(/^Sources$/);
    await press(/^\W*Add a source$/);
    await until('made', async () => (await names()).length === before + 1);
    await to(/^Name$/);
    await page.keyboard.press('Control+a');
    await page.keyboard.type('Balcony');
    await page.keyboard.press('Enter');
    await until('named', async () => (await names()).includes('Balcony'));
    await press(/^\W*Remove Balcony$/);
    await press(/^Remove it$/);
    await until('gone', async () => !(await names()).includes('Balcony'));
  });

  it('sets a port wrong and right, and imports a show from a file', async () => {
    const page = await openAt(demo.url, 'wide', '/rig/captions');
    const { to, press, fromTheTop } = hands(page);
    const port = async () => (await show()).devices.find((device) => device.key === 'captions')?.port ?? 0;
    const right = await port();
    await page.getByText('Set-up', { exact: true }).waitFor();
    await press(/^Set-up$/);
    for (const [text, words] of [
      ['99999', /A port is a whole number from 1 to 65535/],
      [String(right), null],
    ] as const) {
      await to(/^Port$/);
      await page.keyboard.press('Control+a');
      await page.keyboard.type(text);
      await page.keyboard.press('Enter');
      if (words) await page.getByText(words).waitFor();
    }
    expect(await port()).toBe(right);
    const file = join(freshFolder(), 'show.json');
    // Asked for early: the browser takes a moment to hand its file choosers over.
    const chooser = page.waitForEvent('filechooser');
    writeFileSync(file, await (await fetch(`${demo.url}/api/show/file`)).text());
    await fromTheTop();
    await press(/^Rig$/);
    await press(/^Show$/);
    await to(/^Import a show$/);
    await page.keyboard.press('Enter');
    await (await chooser).setFiles(file);
    await page.getByText(/ is open\.$/).waitFor();
  });
});
