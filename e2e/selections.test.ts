import type { ShowDocument } from '@umbek/core/show';
import type { Page } from 'playwright-core';
import { freshDemo, openAt, sizes, useBrowser } from './support/browser';
import { type Demo, until } from './support/demo';
import { Hand } from './support/hand';

jest.setTimeout(120_000);
useBrowser();

let demo: Demo;
beforeEach(async () => (demo = await freshDemo()));

const showOf = async (): Promise<ShowDocument> => (await (await fetch(`${demo.url}/api/show`)).json()) as ShowDocument;
const buttonOf = async (strip: string, legend: string) => {
  const { strips, buttons } = await showOf();
  const id = strips.findLast(({ name }) => name === strip)?.id;
  return buttons.find((button) => button.stripId === id && button.legend === legend);
};

describe.each(sizes)('what is chosen first (%s)', (size) => {
  const touch = (page: Page, label: string | RegExp): Promise<void> => {
    const what = page.getByRole('button', { name: label, exact: typeof label === 'string' }).first();
    return size === 'phone' ? what.tap() : what.click();
  };

  it('goes where another cap says: strips from the rig, the choice that is missing, a step and a parameter by the lists', async () => {
    const page = await openAt(demo.url, size, '/bench');
    await touch(page, 'Add strips');
    await touch(page, /^Choose a source, then where it goes, \d+ caps$/);
    await page.getByTestId('add-strips').click();
    await until('the strips', async () => (await buttonOf('Goes to', 'Auxiliary 2')) !== undefined);

    // Operated: nothing is chosen yet, and the cap says what is missing.
    await page.goto(`${demo.url}/`);
    const capOf = async (strip: string, legend: string) =>
      page.getByTestId(`cap-${(await buttonOf(strip, legend))?.id ?? ''}`);
    const press = async (strip: string, legend: string): Promise<void> => {
      const cap = await capOf(strip, legend);
      await cap.scrollIntoViewIfNeeded();
      await (size === 'phone' ? cap.tap() : cap.click());
    };
    await press('Goes to', 'Auxiliary 2');
    await (await capOf('Goes to', 'Auxiliary 2')).getByText(/Nothing is chosen as source/).waitFor();
    await press('Source', 'Roof cam');
    await page
      .locator(`[data-testid="cap-${(await buttonOf('Source', 'Roof cam'))?.id}"][data-lamp="chosen"]`)
      .waitFor();
    await press('Goes to', 'Auxiliary 2');
    const input = (await showOf()).sources.find(({ key }) => key === 'roofCam')?.input;
    await until('it is there', async () => (await demo.standins.switcher.report()).points.aux2 === input);
    // It is lit while what it does is so, and goes out with another choice.
    const aux = `[data-testid="cap-${(await buttonOf('Goes to', 'Auxiliary 2'))?.id}"]`;
    await page.locator(`${aux}[data-lamp="chosen"]`).waitFor();
    await page.locator(aux).getByText('Roof cam').waitFor();
    await press('Source', 'Star charts');
    await page.locator(`${aux}:not([data-lamp="chosen"])`).waitFor();

    // Programmed: the parameter says what it goes by, and can be given a source of its own and the chosen one again.
    const preview = await buttonOf('Goes to', 'Preview');
    await page.goto(`${demo.url}/bench?b=${preview?.id ?? ''}`);
    await touch(page, /Step 1/);
    await page.getByText('the chosen source', { exact: true }).waitFor();
    await touch(page, 'Always the same one');
    await until('a source of its own', async () => {
      const [step] = (await buttonOf('Goes to', 'Preview'))?.steps ?? [];
      return step?.kind === 'command' && typeof step.params.source === 'string';
    });
    await touch(page, 'Source: the chosen source');
    await until('the chosen one again', async () => {
      const [step] = (await buttonOf('Goes to', 'Preview'))?.steps ?? [];
      return step?.kind === 'command' && JSON.stringify(step.params.source) === '{"cel":"chosen.source"}';
    });
    await page.close();
  });

  it('is a room of recorders: one start and one stop for whichever is chosen', async () => {
    const page = await openAt(demo.url, size, '/bench');
    const hand = new Hand(page);
    await touch(page, 'Add strips');
    await touch(page, /^Choose a room, then record or stop it, \d+ caps$/);
    await page.getByTestId('add-strips').click();
    await until('the strips', async () => (await buttonOf('Recorders of the room', 'Record')) !== undefined);
    expect(hand.touches).toBe(0);
    await page.goto(`${demo.url}/`);
    const press = async (strip: string, legend: string): Promise<void> => {
      const cap = page.getByTestId(`cap-${(await buttonOf(strip, legend))?.id ?? ''}`);
      await cap.scrollIntoViewIfNeeded();
      await (size === 'phone' ? cap.tap() : cap.click());
    };
    await press('Room', 'Gate room');
    await press('Recorders of the room', 'Record');
    const recording = async () =>
      await Promise.all(
        ([1, 2, 3, 4, 5, 6] as const).map(
          async (at) => (await demo.standins[`recorder${at}`].report()).points.recording === true,
        ),
      );
    await until(
      'those of the gate room',
      async () => (await recording()).join() === 'false,false,false,true,true,true',
    );
    await page.close();
  });
});
