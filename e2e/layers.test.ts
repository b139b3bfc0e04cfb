import { choosePanel, freshDemo, openAt, sizes, useBrowser } from './support/browser';
import type { Demo } from './support/demo';

jest.setTimeout(120_000);
useBrowser();

describe.each(sizes)('what lies over a place (%s)', (size) => {
  let demo: Demo;
  beforeAll(async () => (demo = await freshDemo()));

  it('closes at Back from the top, one after the other, and then Back leaves the place', async () => {
    const page = await openAt(demo.url, size, '/');
    await page.getByRole('navigation').getByRole('link', { name: 'Bench' }).click();
    await page.getByRole('heading', { name: 'Bench' }).waitFor();
    await page.getByRole('button', { name: 'Edit Two shot' }).click();
    await page.getByRole('heading', { name: 'Two shot' }).waitFor();
    await page.getByTestId('add-steps').click();
    await page.getByLabel(/^Search: Add to/).waitFor();
    await page.goBack();
    await page.getByLabel(/^Search: Add to/).waitFor({ state: 'detached' });
    await page.getByRole('heading', { name: 'Two shot' }).waitFor();
    if (size === 'phone') {
      // On a wide screen the editor stands beside the panel and covers nothing.
      await page.goBack();
      await page.getByRole('heading', { name: 'Two shot' }).waitFor({ state: 'detached' });
      await page.getByRole('heading', { name: 'Bench' }).waitFor();
    }
    await page.goBack();
    await page.getByTestId('devices-reached').waitFor();
    await page.close();
  });

  it('closes by hand without a step too many, and keeps the address that was given meanwhile', async () => {
    const page = await openAt(demo.url, size, '/');
    await page.getByRole('navigation').getByRole('link', { name: 'Bench' }).click();
    await page.getByRole('button', { name: 'Add strips' }).waitFor();
    await choosePanel(page, 'Cameras');
    await page.waitForURL(/[?&]p=/);
    const address = page.url();
    for (const name of ['Edit Nudge left', 'Edit Nudge right']) {
      await page
        .getByRole('button', { name })
        .or(page.getByRole('button', { name: /^Edit / }))
        .first()
        .click();
      await page.getByRole('button', { name: 'Close the editor' }).click();
      await page.waitForTimeout(200);
    }
    expect(page.url()).toBe(address);
    await page.goBack();
    await page.getByTestId('devices-reached').waitFor();
    await page.close();
  });

  it('closes at Escape from the top', async () => {
    const page = await openAt(demo.url, size, '/rig/lawnCam');
    await page.getByRole('button', { name: 'More for Big screen' }).click();
    await page.getByRole('menuitem', { name: 'Rename' }).waitFor();
    await page.keyboard.press('Escape');
    await page.getByRole('menuitem', { name: 'Rename' }).waitFor({ state: 'detached' });
    await page.getByRole('button', { name: 'More for Big screen' }).click();
    await page.getByRole('menuitem', { name: 'Rename' }).click();
    await page.getByLabel('Name of the position').waitFor();
    await page.keyboard.press('Escape');
    await page.getByLabel('Name of the position').waitFor({ state: 'detached' });
    await page.getByTestId('aim').waitFor();
    await page.close();
  });
});
