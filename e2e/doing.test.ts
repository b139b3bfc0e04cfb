import type { ShowDocument } from '@umbek/core/show';
import type { Page } from 'playwright-core';
import { cap, freshDemo, openAt, openDesk, sizes, useBrowser } from './support/browser';
import { type Demo, until } from './support/demo';

jest.setTimeout(120_000);
useBrowser();

const buttonOf = async (demo: Demo, legend: string) => {
  const { buttons } = (await (await fetch(`${demo.url}/api/show`)).json()) as ShowDocument;
  const button = buttons.find((candidate) => candidate.legend === legend);
  if (!button) throw new Error(`No ${legend}.`);
  return button;
};
const points = async (demo: Demo, device: 'switcher' | 'captions') => (await demo.standins[device].report()).points;
const toDesk = async (page: Page): Promise<void> =>
  page.getByRole('navigation').getByRole('link', { name: 'Desk' }).click();
const openDoes = async (page: Page, legend: string): Promise<void> => {
  await page.getByRole('button', { name: `Edit ${legend}`, exact: true }).click();
  await page.getByRole('button', { name: 'Does' }).click();
};

describe.each(sizes)('a press is taken back (%s)', (size) => {
  it('shown before it happens, and once', async () => {
    const demo = await freshDemo();
    const page = await openDesk(demo.url, size);
    const before = await points(demo, 'switcher');
    await cap(page, 'Cut').click();
    await until('the cut', async () => (await points(demo, 'switcher')).program === before.preview);
    await page.getByRole('button', { name: 'Take back what the last press did' }).click();
    await page.getByText('Take back Cut?').waitFor();
    expect((await points(demo, 'switcher')).program).toBe(before.preview);
    await page.getByText(/^Put .* on air$/).waitFor();
    await page.getByRole('button', { name: 'Take it back', exact: true }).click();
    await until('as before', async () => {
      const now = await points(demo, 'switcher');
      return now.program === before.program && now.preview === before.preview;
    });
    await page.getByText('Take back Cut?').waitFor({ state: 'detached' });
    await demo.close();
  });

  it('and what somebody changed since is left alone, and said', async () => {
    const demo = await freshDemo();
    const page = await openDesk(demo.url, size);
    await cap(page, 'Dome cam').click();
    await until('on preview', async () => (await points(demo, 'switcher')).preview === 3);
    const press = { pressId: '01J0C0RVANEH1NPRESS0000001', phase: 'down', station: 'roof' };
    const send = { ...press, device: 'switcher', command: 'preview', params: { source: 'input:6' } };
    expect((await demo.post('/api/send', send)).status).toBe(202);
    await until('somebody else', async () => (await points(demo, 'switcher')).preview === 6);
    await page.getByRole('button', { name: 'Take back what the last press did' }).click();
    await page.getByText('Preview Dome cam: it was changed since.').waitFor();
    expect(await page.getByRole('button', { name: 'Take it back', exact: true }).count()).toBe(0);
    await demo.close();
  });
});

describe.each(sizes)('what a button does (%s)', (size) => {
  let demo: Demo;
  beforeAll(async () => (demo = await freshDemo()));

  it('in turn: the other set is proposed, the cap says what is next, and follows a change made elsewhere', async () => {
    const page = await openAt(demo.url, size, '/bench');
    await openDoes(page, 'Ines Halloran');
    await page.getByText('In turn', { exact: true }).click();
    const { sets } = await until('the second set', async () => {
      const button = await buttonOf(demo, 'Ines Halloran');
      return button.sets.length === 1 ? button : undefined;
    });
    expect(sets[0]).toMatchObject({ legend: 'Ines Halloran off', steps: [{ command: 'nameOut' }] });
    await page.getByRole('button', { name: 'Step 1: Take the name caption out' }).waitFor();
    await toDesk(page);
    await cap(page, 'Ines Halloran').click();
    await until('the caption', async () => (await points(demo, 'captions')).nameUp === true);
    await cap(page, 'Ines Halloran off').click();
    await until('no caption', async () => (await points(demo, 'captions')).nameUp === false);
    // Taken in by another station: the cap says what its own next press would do.
    const press = { pressId: '01J0C0RVANEH1NPRESS0000002', phase: 'down', station: 'roof' };
    const [step] = (await buttonOf(demo, 'Ines Halloran')).steps;
    const params = step?.kind === 'command' ? step.params : {};
    await demo.post('/api/send', { ...press, device: 'captions', command: 'nameIn', params });
    await cap(page, 'Ines Halloran off').click();
    await until('no caption again', async () => (await points(demo, 'captions')).nameUp === false);
  });

  it('while held: what it began it ends, as said beforehand, and the steps can be made one’s own', async () => {
    const page = await openAt(demo.url, size, '/bench');
    await openDoes(page, 'Tomasz Reke');
    await page.getByText('While held', { exact: true }).click();
    await page.getByText('Take the name caption out', { exact: true }).waitFor();
    await until('held', async () => (await buttonOf(demo, 'Tomasz Reke')).atRelease === 'asBefore');
    await page.getByText('These steps', { exact: true }).click();
    await page.getByRole('button', { name: 'Step 1: Take the name caption out' }).waitFor();
    await page.getByText('Back as before', { exact: true }).click();
    await until('as before', async () => (await buttonOf(demo, 'Tomasz Reke')).atRelease === 'asBefore');
    await toDesk(page);
    const held = cap(page, 'Tomasz Reke');
    await held.scrollIntoViewIfNeeded();
    const box = await held.boundingBox();
    if (!box) throw new Error('No cap.');
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
    await page.mouse.down();
    await until('up while held', async () => (await points(demo, 'captions')).nameText === 'Tomasz Reke');
    await page.mouse.up();
    await until('out again', async () => (await points(demo, 'captions')).nameUp === false);
  });

  it('more: when it is held for a time, and when it is pressed again', async () => {
    const page = await openAt(demo.url, size, '/bench');
    await openDoes(page, 'Dome cam');
    for (const what of ['When it is held for a time', 'When it is pressed again soon']) {
      await page.getByRole('button', { name: /^Do more/ }).click();
      await page.getByRole('menuitem', { name: what }).click();
    }
    for (const [list, words] of [
      ['additions.held', 'Take the name caption out'],
      ['additions.again', 'Cut'],
    ] as const) {
      await page.getByTestId(`add-${list}`).click();
      await page.getByPlaceholder('Search').fill(words);
      await page.getByRole('button', { name: words, exact: true }).first().click();
      await page
        .getByRole('button', { name: /^(Done|Close)$/ })
        .first()
        .click();
    }
    await until('both', async () => {
      const { additions } = await buttonOf(demo, 'Dome cam');
      return additions.length === 2 && additions.every(({ steps }) => steps.length === 1);
    });
    await toDesk(page);
    const { program } = await points(demo, 'switcher');
    await cap(page, 'Dome cam').click();
    await until('previewed', async () => (await points(demo, 'switcher')).preview === 3);
    await cap(page, 'Dome cam').dblclick();
    await until('cut', async () => (await points(demo, 'switcher')).program === 3);
    expect(program).not.toBe(3);
  });
});
