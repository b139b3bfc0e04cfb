import { demoId } from '@umbek/demo';
import type { Page } from 'playwright-core';
import { cap, freshDemo, openDesk, sizes, useBrowser } from './support/browser';
import type { Demo } from './support/demo';

jest.setTimeout(120_000);
jest.retryTimes(2, { logErrorsBeforeRetry: true });
useBrowser();

/** Long after every press would have gone out. */
const MORE_THAN_A_PRESS_MS = 400;

const switched = async (demo: Demo): Promise<string[]> =>
  (await demo.standins.switcher.report()).effects.map(({ command }) => command);

const chain = (page: Page) => page.getByTestId('why-chain');

describe.each(sizes)('why a cap is lit, asked on the Desk (%s)', (size) => {
  it('is told by the next cap that is touched, which is not pressed; a cut waits for no question', async () => {
    const demo = await freshDemo();
    const page = await openDesk(demo.url, size);
    const touch = (name: string) =>
      size === 'phone' ? cap(page, name).first().tap() : cap(page, name).first().click();
    await page.getByTestId('on-air').getByText('Roof cam').waitFor();
    await touch('Dome cam');
    await page.getByTestId('on-preview').getByText('Dome cam').waitFor();
    const before = await switched(demo);

    await page.getByTestId('why-ask').click();
    await page.getByTestId('why-prompt').waitFor();
    await touch('Dome cam');
    await page.getByText('Why is Dome cam lit?').waitFor();
    await chain(page)
      .getByText(/ at .* pressed Dome cam\.$|^.* pressed Dome cam\.$/)
      .waitFor();
    await page.waitForTimeout(MORE_THAN_A_PRESS_MS);
    expect(await switched(demo)).toEqual(before);
    await page.getByRole('button', { name: 'Close', exact: true }).click();

    // The question was put: the next touch presses again.
    await touch('Desk cam');
    await page.getByTestId('on-preview').getByText('Desk cam').waitFor();

    // Whoever asks and then has to cut, cuts.
    await page.getByTestId('why-ask').click();
    await page.getByTestId('why-prompt').waitFor();
    await touch('Cut');
    await page.getByTestId('on-air').getByText('Desk cam').waitFor();
    // Escape takes the question back.
    await page.keyboard.press('Escape');
    await page.getByTestId('why-prompt').waitFor({ state: 'detached' });
    await demo.close();
  });
});

it('is told at once by the secondary button of a mouse and by keys, also of the take; what the triggers did is one touch away', async () => {
  const demo = await freshDemo();
  const page = await openDesk(demo.url, 'wide');
  await page.getByTestId('on-air').getByText('Roof cam').waitFor();
  const before = await switched(demo);
  const box = await cap(page, 'Cut').first().boundingBox();
  await page.mouse.click((box?.x ?? 0) + 20, (box?.y ?? 0) + 20, { button: 'right' });
  await page.getByText('Why is Cut off?').waitFor();
  await page.keyboard.press('Escape');
  await cap(page, 'Roof cam').first().focus();
  await page.keyboard.press('Shift+F10');
  await page.getByText('Why is Roof cam lit?').waitFor();
  await chain(page).getByText('Switcher said so when it was first heard.').waitFor();
  await page.keyboard.press('Escape');
  await page.getByText('Why is Roof cam lit?').waitFor({ state: 'detached' });
  // The picture on air is asked as well: by whom it was put there.
  await cap(page, 'Cut').first().click();
  await page.getByTestId('on-air').getByText('Lawn cam').waitFor();
  before.push('cut');
  await page.getByTestId('why-ask').click();
  await page.getByTestId('on-air').click();
  await page.getByText('Why is this on air?').waitFor();
  await chain(page)
    .getByText(/ pressed Cut\.$/)
    .waitFor();
  await page.keyboard.press('Escape');
  await page.getByText('Why is this on air?').waitFor({ state: 'detached' });
  // And the key that asks once it was said so.
  await page.getByTestId('why-ask').click();
  await cap(page, 'Black').first().focus();
  await page.keyboard.press('Enter');
  await page.getByText('Why is Black off?').waitFor();
  await page.waitForTimeout(MORE_THAN_A_PRESS_MS);
  expect(await switched(demo)).toEqual(before);
  await page.keyboard.press('Escape');

  // The countdown has not run: its trigger is fired by hand, and says so on the Desk.
  const trigger = demoId('TRG', 3);
  expect((await demo.post(`/api/triggers/${trigger}/fire`, { station: 'Desk 1', person: 'Ines' })).status).toBe(200);
  await page.getByTestId('rules-line').click();
  await page.getByText('Triggers: 3 of 5 armed').waitFor();
  await page.getByTestId(`did-${trigger}`).getByText('Fired by Ines at Desk 1.').waitFor();
  await demo.close();
});
