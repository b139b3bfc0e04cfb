import { demoId } from '@umbek/demo';
import { freshDemo, openAt, openDesk, sizes, useBrowser } from './support/browser';
import { type Demo, until } from './support/demo';
import { makeButton, MOST_TOUCHES } from './support/touches';

jest.setTimeout(120_000);

useBrowser();

interface ShowButton {
  id: string;
  legend: string;
  steps: { kind: string; command?: string; until?: string }[];
  lamps: unknown[];
}
const buttons = async (demo: Demo): Promise<ShowButton[]> =>
  ((await (await fetch(`${demo.url}/api/show`)).json()) as { buttons: ShowButton[] }).buttons;
const INES = demoId('BTN', 7);
const named = async (demo: Demo, id: string): Promise<ShowButton | undefined> =>
  (await buttons(demo)).find((button) => button.id === id);

describe.each(sizes)('a control engineer at the Bench (%s)', (size) => {
  let demo: Demo;
  beforeAll(async () => (demo = await freshDemo()));

  it(`makes a button that recalls, waits and cuts in at most ${MOST_TOUCHES} touches, and presses it`, async () => {
    const page = await openAt(demo.url, size, '/bench');
    const before = new Set((await buttons(demo)).map((button) => button.id));
    const touches = await makeButton(page);
    expect(touches).toBeLessThanOrEqual(MOST_TOUCHES);
    const made = await until('it is stored', async () =>
      (await buttons(demo)).find((button) => !before.has(button.id) && button.steps.length === 3),
    );
    expect(made).toMatchObject({
      legend: 'Ines close',
      steps: [{ command: 'recall' }, { kind: 'wait', until: 'deskCam.arrived == "inesClose"' }, { command: 'cut' }],
      lamps: [{ when: 'deskCam.arrived == "inesClose"', show: 'arrived' }],
    });
    // The rehearsed times stand beside the steps: the zoom takes longest, 1.61 s.
    await page.getByText(/^about 1\.6\d s$/).waitFor();
    expect(await page.getByTestId('try-it').innerText()).toContain('ON AIR');
    await page.getByTestId('try-it').click();
    await until('the head has arrived and the switcher cut', async () =>
      (await demo.standins.switcher.report()).effects.some((effect) => effect.command === 'cut'),
    );
    expect((await demo.standins.deskCam.report()).points.arrived).toBe('#1');
  });

  it('changes a live button, the other open page follows, and undo brings it back', async () => {
    const desk = await openDesk(demo.url, size === 'phone' ? 'wide' : 'phone');
    const page = await openAt(demo.url, size, '/bench');
    await page.getByTestId(`edit-${INES}`).click();
    await page
      .getByRole('radio', { name: 'Says' })
      .or(page.getByText('Says', { exact: true }))
      .first()
      .click();
    await page.getByTestId('legend').fill('Ines tight');
    const sent = page.waitForResponse((response) => response.url().endsWith('/api/edits'));
    await page.getByTestId('legend').press('Enter');
    const answered = await sent;
    expect(answered.status()).toBe(200);
    await desk.getByTestId(`cap-${INES}`).getByText('Ines tight').waitFor();

    await page.getByText('Does', { exact: true }).click();
    await page.getByTestId('step-5').getByRole('button').first().click();
    // The other open page is at the same button: it shows the steps as they become.
    const other = await openAt(demo.url, 'wide', `/bench?b=${INES}`);
    await other.getByTestId('step-5').waitFor();
    const taken = page.waitForResponse((response) => response.url().endsWith('/api/edits'));
    await page.getByRole('button', { name: 'Remove step 5' }).click();
    await taken;
    await other.getByTestId('step-5').waitFor({ state: 'detached' });
    await until('the step is gone', async () => (await named(demo, INES))?.steps.length === 4);
    await page.getByRole('button', { name: 'Step 1: Recall Ines close on Desk cam' }).click();
    await page.getByRole('button', { name: 'Step 1 later' }).click();
    await until('moved', async () => (await named(demo, INES))?.steps[0]?.command === 'preview');
    await page.getByRole('button', { name: 'Close the editor' }).click();
    for (const label of ['Undo', 'Undo', 'Undo']) {
      const undone = page.waitForResponse((response) => response.url().endsWith('/api/undo'));
      await page.getByRole('button', { name: label, exact: true }).click();
      await undone;
    }
    expect(await named(demo, INES)).toMatchObject({
      legend: 'Ines close',
      steps: [
        { command: 'recall' },
        { command: 'preview' },
        { kind: 'wait' },
        { command: 'cut' },
        { command: 'nameIn' },
      ],
    });
    await desk.getByTestId(`cap-${INES}`).getByText('Ines close').waitFor();
  });

  it('adds, names, moves and removes strips and buttons, and chooses lamps from lists', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, size, '/bench');
    await page.getByRole('button', { name: 'Add strips' }).click();
    await page.getByRole('button', { name: 'An empty strip' }).click();
    await page.getByLabel('Name', { exact: true }).fill('Extra');
    await page.getByRole('radio', { name: 'rose' }).click();
    await until('named', async () =>
      (
        (await (await fetch(`${demo.url}/api/show`)).json()) as { strips: { name: string; family: string }[] }
      ).strips.some((strip) => strip.name === 'Extra' && strip.family === 'rose'),
    );
    await page.getByRole('button', { name: 'Close the editor' }).click();
    await page.getByRole('button', { name: 'Add a button to Extra' }).click();
    await page.getByRole('button', { name: 'Done' }).click();
    await page.getByText('Says', { exact: true }).click();
    await page.getByTestId('legend').fill('Spare');
    await page.getByTestId('legend').press('Enter');
    await page.getByText('Lights', { exact: true }).click();
    await page.getByRole('button', { name: 'Add a lamp rule' }).click();
    await page.getByLabel(/^Search: When does/).fill('roof air');
    await page.getByRole('button', { name: 'Roof cam is on air' }).click();
    const spare = await until('it has its lamp', async () =>
      (await buttons(demo)).find((button) => button.legend === 'Spare' && button.lamps.length === 1),
    );
    await page.getByText(/on air · lit now/).waitFor();
    await page.getByRole('button', { name: 'Why is it lit?' }).click();
    await page.getByTestId('why-chain').getByText('Spare is lit, because Roof cam is on air.').waitFor();
    await page.getByText('Says', { exact: true }).click();
    await page.getByRole('switch', { name: 'A second touch is needed' }).click();
    await page.getByRole('button', { name: 'Remove' }).click();
    await until('gone', async () => (await named(demo, spare.id)) === undefined);
    await demo.close();
  });
});

describe('edits in trouble', () => {
  let demo: Demo;
  beforeAll(async () => (demo = await freshDemo()));

  it('tells both values when somebody else changed the same field, and puts what is chosen', async () => {
    const page = await openAt(demo.url, 'phone', '/bench');
    await page.getByTestId(`edit-${INES}`).click();
    await page.getByText('Says', { exact: true }).click();
    // The other engineer's edit arrives while this page is still on its way with its own.
    let first = true;
    await page.route('**/api/edits', async (route) => {
      if (!first) return route.continue();
      first = false;
      await demo.post('/api/edits', {
        editId: '01J0C0RVANEH1EDT0000000777',
        label: 'Theirs',
        by: 'Bo',
        changes: [{ entity: 'buttons', id: INES, field: 'legend', from: 'Ines close', to: 'Theirs' }],
      });
      await route.continue();
    });
    await page.getByTestId('legend').fill('Mine');
    await page.getByTestId('legend').press('Enter');
    await page.getByTestId('conflict-theirs').waitFor();
    expect([
      await page.getByTestId('conflict-theirs').innerText(),
      await page.getByTestId('conflict-mine').innerText(),
    ]).toEqual(['Theirs', 'Mine']);
    await page.getByRole('button', { name: 'Put mine' }).click();
    await until('mine is there', async () => (await named(demo, INES))?.legend === 'Mine');
  });

  it('keeps an edit while the engine is away and sends it when it is back', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, 'phone', '/bench');
    await page.getByTestId(`edit-${INES}`).click();
    await page.getByText('Says', { exact: true }).click();
    await page.context().setOffline(true);
    await page.getByTestId('legend').fill('Kept');
    await page.getByTestId('legend').press('Enter');
    await page.getByText(/waits and is saved when it is back/).waitFor();
    expect((await named(demo, INES))?.legend).toBe('Ines close');
    await page.context().setOffline(false);
    await until('it was sent', async () => (await named(demo, INES))?.legend === 'Kept');
    await demo.close();
  });

  it('says beside the field what a legend of 500 characters needs, and stores none of it', async () => {
    const page = await openAt(demo.url, 'phone', '/bench');
    await page.getByTestId(`edit-${INES}`).click();
    await page.getByText('Says', { exact: true }).click();
    await page.getByTestId('legend').fill('x'.repeat(500));
    await page.getByText('At most 120 characters; this is 500.').waitFor();
    await page.getByTestId('legend').press('Enter');
    await page.getByTestId('legend').fill('🌠 שלום');
    await page.getByTestId('legend').press('Enter');
    await until('the short one is stored', async () => (await named(demo, INES))?.legend === '🌠 שלום');
  });
});
