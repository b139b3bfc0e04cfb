import AxeBuilder from '@axe-core/playwright';
import type { Macro, ShowDocument, Step } from '@umbek/core/show';
import { demoId } from '@umbek/demo';
import type { Page } from 'playwright-core';
import { freshDemo, openAt, sizes, useBrowser } from './support/browser';
import { type Demo, until } from './support/demo';

jest.setTimeout(150_000);
useBrowser();

const OPENING = demoId('MAC', 1);

const showOf = async (demo: Demo): Promise<ShowDocument> =>
  (await (await fetch(`${demo.url}/api/show`)).json()) as ShowDocument;
const macroNamed = async (demo: Demo, name: string): Promise<Macro | undefined> =>
  (await showOf(demo)).macros.find((macro) => macro.name === name);
const switcher = async (demo: Demo) => (await demo.standins.switcher.report()).points;
const captions = async (demo: Demo) => (await demo.standins.captions.report()).points;
/** The steps as one text: a(b c|d) stands for a step with lists inside. */
const read = (steps: readonly Step[] = []): string =>
  steps
    .map((step) => {
      const mark = step.off === true ? '-' : '';
      if (step.kind === 'if') return `${mark}if(${read(step.steps)}|${read(step.otherwise)})`;
      return 'steps' in step ? `${mark}${step.kind}(${read(step.steps)})` : `${mark}${step.kind}`;
    })
    .join(' ');
/** The list of a macro comes to read so. */
const comesTo = (demo: Demo, name: string, tree: string) =>
  until(tree, async () => read((await macroNamed(demo, name))?.steps) === tree);

/** Adds a step from the list. @param into button that opens it; left out: that of the whole list */
async function add(page: Page, words: string, into?: string): Promise<void> {
  if (into === undefined) await page.getByTestId('add-steps').click();
  else await page.getByRole('button', { name: into, exact: true }).click();
  await page.getByLabel(/^Search: Add to/).fill(words);
  await page.getByRole('button', { name: words, exact: true }).first().click();
  await page.getByRole('button', { name: 'Done' }).last().click();
}

async function newMacro(page: Page, name: string): Promise<void> {
  await page.getByRole('button', { name: 'New macro' }).click();
  // It asks at once what it is to do.
  await page.getByRole('button', { name: 'Done' }).last().click();
  await page.getByText('Settings', { exact: true }).click();
  await page.getByTestId('macro-name').fill(name);
  await page.getByTestId('macro-name').press('Enter');
  await page.getByRole('radio', { name: 'Does' }).click();
}

async function serious(page: Page): Promise<string[]> {
  const { violations } = await new AxeBuilder({ page }).setLegacyMode(true).analyze();
  return violations
    .filter(({ impact }) => impact === 'serious' || impact === 'critical')
    .flatMap(({ id, nodes }) => nodes.map(({ html }) => `${id}: ${html.slice(0, 200)}`));
}

describe.each(sizes)('the steps of a macro (%s)', (size) => {
  it('are of every kind, made by touch, and run against the devices', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, size, '/bench?list=macros');
    await newMacro(page, 'Every kind');
    await add(page, 'Put a source on preview: Star charts');
    await add(page, 'Together: several in the same instant');
    await add(page, 'Set the count', 'Add a step inside step 2');
    await add(page, 'Bring the count board in', 'Add a step inside step 2');
    await add(page, 'If … otherwise');
    // The condition: what is on preview.
    await page.getByTestId('step-3').getByText(/^If …/).click();
    await page.getByRole('button', { name: 'Choose a condition' }).click();
    await page.getByPlaceholder('Search').last().fill('input on preview');
    await page.getByText('Input on preview', { exact: true }).last().click();
    await page
      .getByTestId('step-3')
      .getByText(/^If Switcher: input on preview is \w/)
      .waitFor();
    await add(page, 'Pause 1 s', 'Add a step inside step 3');
    await add(page, 'Note', 'Add a step otherwise step 3');
    await add(page, 'Repeat: a number of times, while something is so, or for each of a list');
    await add(page, 'Count Meteor count up', 'Add a step inside step 4');
    await add(page, 'Group: steps with a name');
    await add(page, 'Pause 25 f', 'Add a step inside step 5');
    await add(page, 'Ask the operator: continue or stop');
    await add(page, 'Wait until Captions: count board is up');
    await add(page, 'Press Desk cam');
    await add(page, 'Choose Desk cam as the camera');
    await add(page, 'Run 1 Opening');
    await add(page, 'Show panel Main');
    await add(page, 'Arm The countdown reaches zero');
    await add(page, 'Restore what was there before');
    await comesTo(
      demo,
      'Every kind',
      'command together(command command) if(pause|note) repeat(set) group(pause) ask wait press set run show trigger restore',
    );
    // A macro within it that takes seconds is switched off for this evening.
    await page.getByTestId('step-10').getByText('Run Opening').click();
    await page.getByRole('button', { name: 'Switch step 10 off' }).click();
    await comesTo(
      demo,
      'Every kind',
      'command together(command command) if(pause|note) repeat(set) group(pause) ask wait press set -run show trigger restore',
    );
    const before = (await switcher(demo)).preview;
    await page.getByTestId('try-it').click();
    if (
      await page
        .getByText('touch again')
        .isVisible()
        .catch(() => false)
    )
      await page.getByTestId('try-it').click();
    await page.getByTestId('question').getByText('Continue?').waitFor();
    expect((await captions(demo)).countUp).toBe(true);
    await page.getByTestId('question').getByRole('button', { name: 'Continue' }).click();
    await until('it is over, and all is as before', async () => {
      const { countUp } = await captions(demo);
      return countUp === false && (await switcher(demo)).preview === before;
    });
    const entries = await demo.asRun();
    const end = entries.findLast(({ kind }) => kind === 'runEnd');
    expect(end).toMatchObject({ how: 'done' });
    // Counted twice, and brought back.
    expect(
      entries.filter((entry) => entry.kind === 'set' && entry.key === 'value.meteors').map((entry) => entry.value),
    ).toEqual([1, 2, 0]);
    await demo.close();
  });

  it('are stepped through, each with a touch, and looked at in a rehearsal', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, size, `/bench?list=macros&m=${OPENING}`);
    await page.getByRole('button', { name: 'Step through' }).click();
    const bar = page.getByTestId('step-through');
    await bar.getByText(/^Next, step 1: At once/).waitFor();
    const presses = async () => (await demo.standins.switcher.report()).effects.map(({ command }) => command);
    expect(await presses()).not.toContain('preview');
    await page.getByTestId('do-next').click();
    await until('both went out', async () => (await switcher(demo)).preview === 1);
    await bar.getByText(/^Next, step 2: Wait until Desk cam has arrived at Two shot/).waitFor();
    await bar.getByText('Desk cam: position it has arrived at:').waitFor();
    for (const next of [/^Next, step 3: Pause/, /^Next, step 4: Mix/, /^Next, step 5: Caption/]) {
      await page.getByTestId('do-next').click();
      await bar.getByText(next).waitFor();
    }
    await page.getByTestId('do-next').click();
    await until('the caption', async () => (await captions(demo)).nameUp === true);
    await bar.getByRole('button', { name: 'Stop it' }).click();
    // Its stop step takes the caption out.
    await until('the stop step', async () => (await captions(demo)).nameUp === false);
    await bar.waitFor({ state: 'detached' });

    await page.getByRole('radio', { name: 'Rehearsal' }).click();
    await page
      .getByTestId('rehearsal')
      .getByText(/9 steps · 5 commands$/)
      .waitFor();
    for (const lane of [/^On air: /, /^Desk cam: Recall Two shot/, /^Captions: /, /^Waits: /])
      await page.getByRole('img', { name: lane }).waitFor();
    const moment = page.getByTestId('at-this-moment');
    await page.getByRole('button', { name: 'Next step' }).click();
    await page.getByRole('button', { name: 'Next step' }).click();
    await moment.getByText('Preview Desk cam').waitFor();
    for (let step = 3; step <= 7; step += 1) await page.getByRole('button', { name: 'Next step' }).click();
    await moment.getByText('Pause 4 s').waitFor();
    await moment.getByText('Captions: name caption is up: yes').waitFor();
    await page.getByRole('button', { name: 'From show start' }).click();
    await page
      .getByTestId('rehearsal')
      .getByText(/9 steps · 5 commands$/)
      .waitFor();
    expect(await serious(page)).toEqual([]);
    await demo.close();
  });

  it('are moved by handle and keys, put into others, copied to a button, and taken back', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, size, '/bench?list=macros');
    await newMacro(page, 'In order');
    await add(page, 'Cut');
    await add(page, 'Pause 1 s');
    await add(page, 'Group: steps with a name');
    await add(page, 'Note');
    await comesTo(demo, 'In order', 'command pause group() note');
    // By its handle: the last one before the first.
    const handle = (label: string) => page.getByRole('button', { name: `Move step ${label}`, exact: true });
    const [from, to] = [await handle('4').boundingBox(), await page.getByTestId('step-1').boundingBox()];
    if (from === null || to === null) throw new Error('Nothing is there to be dragged.');
    await page.mouse.move(from.x + from.width / 2, from.y + from.height / 2);
    await page.mouse.down();
    await page.mouse.move(from.x + 10, to.y + 40, { steps: 6 });
    await page.mouse.move(from.x + 10, to.y + 8, { steps: 4 });
    await page.mouse.up();
    await comesTo(demo, 'In order', 'note command pause group()');
    // By keys: down, up, and into the group below which it stands then.
    await handle('1').focus();
    await page.keyboard.press('ArrowDown');
    await comesTo(demo, 'In order', 'command note pause group()');
    await handle('4').focus();
    await page.keyboard.press('ArrowUp');
    await comesTo(demo, 'In order', 'command note group() pause');
    await handle('4').focus();
    await page.keyboard.press('ArrowRight');
    await comesTo(demo, 'In order', 'command note group(pause)');
    // Several put together, and switched off.
    await page.getByRole('button', { name: 'Choose several steps' }).click();
    await page.getByRole('checkbox', { name: /^Step 1:/ }).click();
    await page.getByRole('checkbox', { name: /^Step 3:/ }).click();
    await page.getByText('2 steps chosen').waitFor();
    await page.getByRole('button', { name: 'Put 2 steps into: Together' }).click();
    await comesTo(demo, 'In order', 'together(command group(pause)) note');
    await page.getByRole('button', { name: 'Choose several steps' }).click();
    await page.getByRole('checkbox', { name: /^Step 1.2:/ }).click();
    await page.getByTestId('chosen-steps').getByRole('button', { name: 'Switch off' }).click();
    await comesTo(demo, 'In order', 'together(command -group(pause)) note');
    // The whole of it to a button.
    await page.getByTestId('step-1').getByText('Together').click();
    await page.getByRole('button', { name: 'Copy step 1' }).click();
    await page.goto(`${demo.url}/bench`);
    await page.getByRole('button', { name: 'Edit Black' }).first().click();
    await page.getByRole('button', { name: 'Paste 1 step' }).click();
    const black = async () => (await showOf(demo)).buttons.find(({ legend }) => legend === 'Black');
    await until('pasted', async () => read((await black())?.steps) === 'command together(command -group(pause))');
    if (size === 'phone') await page.getByRole('button', { name: 'Close the editor' }).click();
    await page.getByRole('button', { name: 'Undo' }).first().click();
    await until('taken back', async () => read((await black())?.steps) === 'command');
    await demo.close();
  });

  it('come from what devices show now, and from touches that are recorded', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, size, '/bench?list=macros');
    await newMacro(page, 'As it was');
    await page.getByRole('button', { name: 'Steps from what devices show now' }).click();
    await page.getByRole('checkbox', { name: 'What Switcher shows' }).click();
    await page.getByRole('checkbox', { name: 'What Captions shows' }).click();
    // Of what differs the auxiliary outputs are left out.
    for (const output of [1, 2])
      await page.getByRole('checkbox', { name: `Switcher: Put Roof cam on auxiliary output ${output}` }).click();
    const program = page.getByRole('checkbox', { name: 'Switcher: Put Roof cam on air' });
    await program.waitFor();
    expect(await program.getAttribute('aria-checked')).toBe('true');
    await page.getByRole('button', { name: /^Add \d+ steps?$/ }).click();
    const made = await until('the steps', async () => {
      const steps = (await macroNamed(demo, 'As it was'))?.steps ?? [];
      return steps.length > 0 ? steps : undefined;
    });
    expect(made).toContainEqual(
      expect.objectContaining({ device: 'switcher', command: 'program', params: { source: 'roofCam' } }),
    );
    expect(made.some((step) => step.kind === 'command' && step.command === 'aux')).toBe(false);

    await page.getByRole('button', { name: 'Record touches as steps' }).click();
    await page.getByRole('button', { name: 'Record', exact: true }).last().click();
    await page.getByTestId('recording-steps').waitFor();
    if (size === 'phone') await page.getByRole('button', { name: 'Close the editor' }).click();
    await page.getByRole('navigation').getByRole('link', { name: 'Desk' }).click();
    await page
      .getByTestId('cap-' + ((await showOf(demo)).buttons.find(({ legend }) => legend === 'Dome cam')?.id ?? ''))
      .click();
    await until('it is on preview', async () => (await switcher(demo)).preview === 3);
    await page.getByRole('navigation').getByRole('link', { name: 'Bench' }).click();
    await page.getByRole('radio', { name: 'Macros' }).click();
    await page.getByRole('button', { name: /^Macro \d+ As it was/ }).click();
    await page.getByRole('button', { name: 'End and add the steps' }).click();
    const recorded = await until('the touch', async () => {
      const last = (await macroNamed(demo, 'As it was'))?.steps.at(-1);
      return last?.kind === 'press' ? last : undefined;
    });
    const { buttons } = await showOf(demo);
    expect(buttons.find(({ id }) => id === recorded.button)?.legend).toBe('Dome cam');
    await demo.close();
  });

  it('go into a file and come back from it', async () => {
    const demo = await freshDemo();
    const text = await (await fetch(`${demo.url}/api/macros/file?ids=${demoId('MAC', 2)}`)).text();
    const page = await openAt(demo.url, size, '/bench?list=macros');
    const give = async (name: string, content: string): Promise<void> => {
      const [chooser] = await Promise.all([
        page.waitForEvent('filechooser'),
        page.getByRole('button', { name: 'From a file' }).click(),
      ]);
      await chooser.setFiles({ name, mimeType: 'application/json', buffer: Buffer.from(content) });
    };
    await give('letter.json', '{"dear":"sir"}');
    await page.getByText('The file holds no Umbek macros.').first().waitFor();
    await give('Meteor.json', text);
    await page.getByText('Everything that they name is here.').waitFor();
    await page.getByRole('button', { name: 'Put in 1 macro' }).click();
    await page.getByRole('heading', { name: '6 Meteor!' }).waitFor();
    await until('it is in the show', async () => {
      const found = (await showOf(demo)).macros.filter(({ name }) => name === 'Meteor!');
      return found.length === 2 && read(found[0]?.steps) === read(found[1]?.steps);
    });
    await demo.close();
  });
});
