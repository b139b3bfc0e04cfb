import type { ShowDocument } from '@umbek/core/show';
import { cap, choosePanel, freshDemo, openAt, sizes, useBrowser } from './support/browser';
import { type Demo, until } from './support/demo';
import { Hand } from './support/hand';

jest.setTimeout(120_000);
useBrowser();

const showOf = async (demo: Demo): Promise<ShowDocument> =>
  (await (await fetch(`${demo.url}/api/show`)).json()) as ShowDocument;
const inStrip = async (demo: Demo, name: string) => {
  const { strips, buttons } = await showOf(demo);
  const strip = strips.findLast((candidate) => candidate.name === name);
  return buttons.filter(({ stripId }) => stripId === strip?.id).sort((a, b) => (a.order < b.order ? -1 : 1));
};
const switcher = async (demo: Demo) => (await demo.standins.switcher.report()).points;

describe.each(sizes)('count up (%s)', (size) => {
  it('fills a row on with the sources of the rig, seen before it is made, and what it makes sends', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, size, '/bench');
    await page.getByRole('button', { name: 'Edit Black' }).click();
    await page.getByRole('button', { name: 'Count up' }).click();
    // Behind Black come Spool, four lines and the layout.
    await page.getByTestId('make-count').getByText('Make 6 buttons').waitFor();
    expect(await page.getByTestId('planned-cap').count()).toBe(6);
    expect((await inStrip(demo, 'Sources')).length).toBe(6);
    await page.getByTestId('make-count').click();
    const made = await until('the row', async () => {
      const found = await inStrip(demo, 'Sources');
      return found.length === 12 ? found : undefined;
    });
    expect(made.map(({ legend }) => legend).slice(6)).toEqual([
      'Spool',
      'Line 1',
      'Line 2',
      'Line 3',
      'Line 4',
      'Layout 1',
    ]);
    await page.getByRole('navigation').getByRole('link', { name: 'Desk' }).click();
    await page.getByTestId(`cap-${made[8]?.id}`).click();
    // Line 2 is input 8 of the demo's switcher.
    await until('it is on preview', async () => (await switcher(demo)).preview === 8);
    await page.locator(`[data-testid="cap-${made[8]?.id}"][data-lamp="onPreview"]`).waitFor();
    await demo.close();
  });

  it('counts in buttons that exist, and one undo takes it back', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, size, '/bench');
    await page.getByRole('button', { name: 'Choose several' }).click();
    await page.getByRole('button', { name: 'All of Sources' }).click();
    await page.getByRole('button', { name: 'Count up' }).click();
    await page.getByText('Count in these').click();
    await page.getByRole('button', { name: 'In steps of more' }).click();
    await page.getByTestId('make-count').getByText('Change 5 buttons').waitFor();
    await page.getByTestId('make-count').click();
    const legends = async () => (await inStrip(demo, 'Sources')).map(({ legend }) => legend).join();
    await until(
      'every second source',
      async () => (await legends()) === 'Desk cam,Dome cam,Star charts,Spool,Line 2,Line 4',
    );
    await page.getByRole('button', { name: 'Undo' }).click();
    await until('as before', async () => (await legends()) === 'Desk cam,Lawn cam,Dome cam,Roof cam,Star charts,Black');
    await demo.close();
  });
});

describe.each(sizes)('a macro (%s)', (size) => {
  let demo: Demo;
  beforeAll(async () => (demo = await freshDemo()));

  it('is shared by buttons that differ in one thing: changed once, all follow', async () => {
    const page = await openAt(demo.url, size, '/bench');
    await page.getByRole('button', { name: 'Choose several' }).click();
    await page.getByRole('button', { name: 'All of Sources' }).click();
    await page.getByRole('button', { name: 'Share one macro' }).click();
    const macro = await until('the macro', async () =>
      (await showOf(demo)).macros.find(({ name }) => name === 'Sources'),
    );
    expect(macro.params).toEqual([{ key: 'source', start: 'deskCam' }]);
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'Edit Dome cam' }).first().click();
    await page.getByTestId('step-1').getByText('Run Sources with Dome cam').click();
    await page.getByText('6 buttons share this macro. Change it once, all follow.').waitFor();
    await page.getByRole('link', { name: /^Open macro/ }).click();
    await page.getByTestId('step-1').getByText('Preview the source given').waitFor();
    await page.getByTestId('add-steps').click();
    await page.getByLabel(/^Search: Add to/).fill('cut');
    await page.getByRole('button', { name: 'Cut', exact: true }).first().click();
    await page.keyboard.press('Escape');
    await until(
      'both steps',
      async () => (await showOf(demo)).macros.find(({ id }) => id === macro.id)?.steps.length === 2,
    );
    await page.getByRole('button', { name: 'Close the editor' }).click();
    await page.getByRole('navigation').getByRole('link', { name: 'Desk' }).click();
    await cap(page, 'Dome cam').first().click();
    await page.getByTestId('on-air').getByText('Dome cam').waitFor();
    await cap(page, 'Lawn cam').first().click();
    await page.getByTestId('on-air').getByText('Lawn cam').waitFor();
  });

  it('is given the device by each button that shares it', async () => {
    const page = await openAt(demo.url, size, '/bench');
    await page.getByRole('button', { name: 'Add strips' }).waitFor();
    await choosePanel(page, 'Recording');
    await page.getByRole('button', { name: 'Choose several' }).click();
    await page.getByRole('button', { name: 'All of Recorders' }).click();
    await page.getByRole('button', { name: 'Share one macro' }).click();
    const macro = await until('the macro', async () =>
      (await showOf(demo)).macros.find(({ name }) => name === 'Recorders'),
    );
    expect(macro.params).toEqual([{ key: 'recorder', start: 'recorder1' }]);
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'Edit Gate room 4' }).first().click();
    // Whoever runs it says which: another one of its kind, from a list.
    await page.getByTestId('step-1').getByText('Run Recorders with Gate room 4').click();
    await page.getByRole('button', { name: 'Recorder: Gate room 4' }).click();
    await page.getByRole('button', { name: 'Gate room 6', exact: true }).click();
    await page.getByTestId('step-1').getByText('Run Recorders with Gate room 6').waitFor();
    await page.getByRole('link', { name: /^Open macro/ }).click();
    await page
      .getByText(/on the recorder given/)
      .first()
      .waitFor();
    await page.getByRole('button', { name: 'Close the editor' }).click();
    await page.getByRole('navigation').getByRole('link', { name: 'Desk' }).click();
    await page.getByTestId('on-air').waitFor();
    await choosePanel(page, 'Recording');
    await cap(page, 'Gate room 4').first().click();
    const records = async (key: 'recorder4' | 'recorder6') => (await demo.standins[key].report()).points.recording;
    await until('the other one records', async () => (await records('recorder6')) === true);
    expect(await records('recorder4')).toBe(false);
  });

  it('has a step whose device is exchanged, and given by whatever runs it', async () => {
    const page = await openAt(demo.url, size, '/bench?list=macros');
    await page.getByRole('button', { name: 'New macro' }).click();
    await page.getByLabel(/^Search: Add to/).fill('Stop recording');
    await page.getByRole('button', { name: 'Stop recording', exact: true }).first().click();
    await page.keyboard.press('Escape');
    const step = page.getByTestId('step-1');
    await step.getByText('Stop Dome room 1').click();
    await step.getByRole('button', { name: 'Recorder: Dome room 1' }).click();
    await page.getByRole('button', { name: 'Gate room 5', exact: true }).click();
    await step.getByText('Stop Gate room 5').waitFor();
    await step.getByRole('button', { name: 'Make Recorder a parameter' }).click();
    await step.getByText('Stop the recorder given').waitFor();
    await page.getByRole('button', { name: 'Recorder, where none is given: Gate room 5' }).waitFor();
    await step.getByRole('button', { name: 'Set it here: Recorder' }).click();
    await step.getByText('Stop Gate room 5').waitFor();
    await until('it has no parameter any more', async () =>
      (await showOf(demo)).macros.some(
        ({ params, steps: [first] }) =>
          first?.kind === 'command' && first.device === 'recorder5' && params.length === 0,
      ),
    );
  });

  it('is made, named, tried and stopped in its list', async () => {
    const page = await openAt(demo.url, size, '/bench?list=macros');
    await page.getByRole('button', { name: 'New macro' }).click();
    await page.getByRole('button', { name: 'Done' }).last().click();
    await page.getByText('Settings', { exact: true }).click();
    await page.getByTestId('macro-name').fill('Quiet break');
    await page.getByTestId('macro-name').press('Enter');
    await page.getByLabel('Folder', { exact: true }).first().fill('Breaks');
    await page.getByLabel('Folder', { exact: true }).first().press('Enter');
    await page.getByText('Does', { exact: true }).click();
    for (const words of ['Put a source on preview: Star charts', 'Pause 1 s']) {
      await page.getByTestId('add-steps').click();
      await page.getByLabel(/^Search: Add to/).fill(words);
      await page.getByRole('button', { name: words, exact: true }).first().click();
      await page.keyboard.press('Escape');
    }
    await page.getByTestId('step-2').getByText('Pause 1 s').click();
    await page.getByTestId('step-2').getByRole('textbox', { name: 'Length' }).fill('30');
    await page.getByTestId('step-2').getByRole('textbox', { name: 'Length' }).press('Enter');
    await page.getByTestId('step-2').getByText('Pause 30 s').waitFor();
    await until('all of it is stored', async () => JSON.stringify((await showOf(demo)).macros).includes('"ms":30000'));
    await page.getByTestId('try-it').click();
    await until('it is on preview', async () => (await switcher(demo)).preview === 5);
    await page.getByRole('button', { name: 'Stop it' }).click();
    await until('it is stopped', async () =>
      (await demo.asRun()).some((entry) => entry.kind === 'runEnd' && entry.how === 'stopped'),
    );
    await page.getByRole('button', { name: 'Close the editor' }).click();
    await page.getByRole('heading', { name: 'Breaks' }).waitFor();
    await page.getByLabel('Search: number, name or folder').fill('quiet');
    await page.getByRole('button', { name: /^Macro \d+ Quiet break, 2 steps/ }).waitFor();
    expect(await page.getByRole('button', { name: /^Macro 1 Opening/ }).count()).toBe(0);
  });
});

describe('a show value', () => {
  it('is set once and used by a button; another page sees it, and a choice nobody has made is told', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, 'phone', '/bench?list=values');
    const hand = new Hand(page);
    await hand.button('New value');
    await hand.write(page.getByLabel('Name of the new value'), '', false);
    await page.getByLabel('Name of the new value').fill('Shot of tonight');
    await hand.tap(page.getByRole('radio', { name: 'Source' }));
    await hand.button('Make the value');
    await page.getByRole('heading', { name: 'Shot of tonight' }).waitFor();
    await until('it is stored', async () => (await showOf(demo)).values.some(({ key }) => key === 'shotOfTonight'));

    const other = await openAt(demo.url, 'wide', '/bench');
    await other.getByRole('button', { name: 'Edit Roof cam' }).first().click();
    await other.getByTestId('step-1').click();
    await other.getByRole('button', { name: 'Source from a show value' }).click();
    await other.getByText('Shot of tonight', { exact: true }).click();
    await other.getByTestId('step-1').getByText('Preview the Shot of tonight').waitFor();
    await other.getByTestId('try-it').click();
    await other.getByText('Nothing is chosen as Shot of tonight.').first().waitFor();

    await hand.button('Holds now: choose');
    await hand.tap(page.getByText('Dome cam', { exact: true }).last());
    await other.getByTestId('try-it').click();
    await until('it is on preview', async () => (await switcher(demo)).preview === 3);
    await other.goto(`${demo.url}/bench?list=values`);
    await other.getByRole('button', { name: /^Value Shot of tonight, Dome cam/ }).waitFor();
    await demo.close();
  });
});

it('a row is counted on by the keyboard alone', async () => {
  const demo = await freshDemo();
  const page = await openAt(demo.url, 'wide', '/bench');
  await page.getByRole('button', { name: 'Edit Black' }).focus();
  await page.keyboard.press('Enter');
  const reach = async (name: string): Promise<void> => {
    for (let tab = 0; tab < 80; tab += 1) {
      const here = await page.evaluate(() => {
        const { activeElement } = globalThis.document;
        return activeElement?.getAttribute('aria-label') ?? activeElement?.textContent ?? '';
      });
      if (here.trim() === name) return;
      await page.keyboard.press('Tab');
    }
    throw new Error(`${name} cannot be reached by Tab.`);
  };
  await reach('Count up');
  await page.keyboard.press('Enter');
  await page.getByTestId('make-count').waitFor();
  await reach('Make 6 buttons');
  await page.keyboard.press('Enter');
  await until('the row', async () => (await inStrip(demo, 'Sources')).length === 12);
  await demo.close();
});
