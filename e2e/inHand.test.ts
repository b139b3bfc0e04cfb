import type { ShowDocument } from '@umbek/core/show';
import { freshDemo, openAt, sizes, useBrowser } from './support/browser';
import { type Demo, until } from './support/demo';

jest.setTimeout(120_000);
useBrowser();

const showOf = async (demo: Demo): Promise<ShowDocument> =>
  (await (await fetch(`${demo.url}/api/show`)).json()) as ShowDocument;
const points = async (demo: Demo, device: 'switcher' | 'sound') => (await demo.standins[device].report()).points;

describe.each(sizes)('values in the hand (%s)', (size) => {
  it('a level is dragged from where it is, turned by keys, and taken back as one; a step button repeats while it is held', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, size, '/bench');
    await page.getByRole('button', { name: 'Add strips' }).click();
    await page.getByRole('button', { name: /^Levels of the channels, / }).click();
    await page.getByTestId('add-strips').click();
    const levels = await until('the strip', async () => {
      const { strips, buttons } = await showOf(demo);
      const strip = strips.find(({ name }) => name === 'Levels');
      const found = buttons.filter(({ stripId }) => stripId === strip?.id);
      return found.length > 0 ? found : undefined;
    });
    const first = levels.find(({ order }) => levels.every((candidate) => candidate.order >= order));
    const [step] = first?.steps ?? [];
    const channel = step?.kind === 'command' ? String(step.params.channel) : '';
    const level = async () => Number((await points(demo, 'sound'))[`ch${channel}Fader`]);
    await page.getByRole('navigation').getByRole('link', { name: 'Desk' }).click();
    const dial = page.getByTestId(`dial-${first?.id}`);
    await dial.scrollIntoViewIfNeeded();
    const before = await level();
    await until('its value is shown', async () => Number(await dial.getAttribute('aria-valuenow')) === before);
    const box = await dial.boundingBox();
    if (!box) throw new Error('No dial.');
    const y = box.y + box.height / 2;
    // Taken near its end: nothing jumps there.
    await page.mouse.move(box.x + box.width - 20, y);
    await page.mouse.down();
    await page.waitForTimeout(200);
    expect(await level()).toBe(before);
    await page.mouse.move(box.x + box.width - 20 - box.width / 4, y, { steps: 6 });
    await page.mouse.up();
    // A quarter of 72 dB lower.
    const lower = await until('lower', async () => {
      const now = await level();
      return Math.abs(now - (before - 18)) <= 1 ? now : undefined;
    });
    // Where the hand let go is where a key goes on, also while the page has not heard of it from the device yet.
    expect(Number(await dial.getAttribute('aria-valuenow'))).toBe(lower);
    await dial.press('ArrowUp');
    await until('one step up', async () => (await level()) === lower + 1);
    // By key it is another press, over after a moment's rest.
    await page.waitForTimeout(700);
    await page.getByRole('button', { name: 'Take back what the last press did' }).click();
    await page.getByRole('button', { name: 'Take it back', exact: true }).click();
    await until('as the drag left it', async () => (await level()) === lower);
    await demo.close();
  });

  it('the lever mixes by hand, and what it mixes in is on air meanwhile', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, size, '/bench');
    await page.getByRole('button', { name: 'Add strips' }).click();
    await page.getByRole('button', { name: /^Wipe, mix by hand/ }).click();
    await page.getByTestId('add-strips').click();
    const lever = await until('the lever', async () =>
      (await showOf(demo)).buttons.find(({ legend }) => legend === 'Lever'),
    );
    await page.getByRole('navigation').getByRole('link', { name: 'Desk' }).click();
    const dial = page.getByTestId(`dial-${lever.id}`);
    await dial.scrollIntoViewIfNeeded();
    await until('its value is shown', async () => (await dial.getAttribute('aria-valuenow')) === '0');
    const { program, preview } = await points(demo, 'switcher');
    const box = await dial.boundingBox();
    if (!box) throw new Error('No lever.');
    const y = box.y + box.height / 2;
    await page.mouse.move(box.x + 10, y);
    await page.mouse.down();
    await page.mouse.move(box.x + 10 + box.width / 2, y, { steps: 5 });
    await until('half way', async () => {
      const now = await points(demo, 'switcher');
      return now.mixing === true && Math.abs(Number(now.mixPosition) - 0.5) < 0.03 && now.program === program;
    });
    await page.mouse.move(box.x + 10 + box.width * 1.2, y, { steps: 5 });
    await page.mouse.up();
    await until('exchanged', async () => {
      const now = await points(demo, 'switcher');
      return now.mixing === false && now.program === preview && now.preview === program;
    });
    await demo.close();
  });

  it('is made of any step that sets a number: stepped up, it repeats while it is held and stops at its limit', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, size, '/bench');
    await page.getByRole('button', { name: 'Add a button to Boards' }).click();
    await page.getByPlaceholder('Search').fill('Brightness');
    await page.getByRole('button', { name: 'Brightness', exact: true }).first().click();
    await page.getByText('Done', { exact: true }).click();
    await page.getByText('In the hand', { exact: true }).click();
    await page.getByText('Step down', { exact: true }).click();
    const made = await until('the dial', async () =>
      (await showOf(demo)).buttons.find(({ dial }) => dial !== null && dial.by < 0),
    );
    expect(made.dial).toMatchObject({ param: 'level', by: -1, min: 0, max: 100, reads: 'lawnScreen.brightness' });
    await page.getByRole('navigation').getByRole('link', { name: 'Desk' }).click();
    const cap = page.getByTestId(`cap-${made.id}`);
    await cap.scrollIntoViewIfNeeded();
    const brightness = async () => Number((await demo.standins.lawnScreen.report()).points.brightness);
    const before = await brightness();
    const box = await cap.boundingBox();
    if (!box) throw new Error('No cap.');
    await page.mouse.move(box.x + 20, box.y + 20);
    await page.mouse.down();
    await until('some steps down', async () => (await brightness()) <= before - 4);
    await page.mouse.up();
    await page.waitForTimeout(400);
    const rest = await brightness();
    await page.waitForTimeout(400);
    expect(await brightness()).toBe(rest);
    await demo.close();
  });
});
