import { readFileSync } from 'node:fs';
import { demoId } from '@umbek/demo';
import type { Page } from 'playwright-core';
import { cap, freshDemo, openAt, openDesk, useBrowser } from './support/browser';
import { type Demo, until } from './support/demo';
import { Hand } from './support/hand';

jest.setTimeout(120_000);
useBrowser();

interface Show {
  panels: { id: string; name: string }[];
  strips: { id: string; panelId: string }[];
  buttons: { id: string; stripId: string; legend: string; lamps: unknown[]; steps: { command?: string }[] }[];
  positions: { name: string }[];
  devices: { name: string }[];
  sources: { name: string; input: number | null }[];
}

/** What somebody does who has this page on a phone for the first time, each way with the touches that it may cost, from an opened Desk. */
describe('a new user, on a phone', () => {
  let demo: Demo;
  let page: Page;
  let hand: Hand;
  const show = async (): Promise<Show> => (await (await fetch(`${demo.url}/api/show`)).json()) as Show;
  const points = async (key: keyof Demo['standins']): Promise<Record<string, unknown>> =>
    (await demo.standins[key].report()).points;

  beforeAll(async () => (demo = await freshDemo()));
  beforeEach(async () => {
    page = await openDesk(demo.url, 'phone');
    hand = new Hand(page);
  });

  it('cuts and mixes in 4 touches', async () => {
    await hand.tap(cap(page, 'Lawn cam'));
    await page.getByTestId('on-preview').getByText('Lawn cam').waitFor();
    await hand.tap(cap(page, 'Cut'));
    await page.getByTestId('on-air').getByText('Lawn cam').waitFor();
    await hand.tap(cap(page, 'Dome cam'));
    await page.getByTestId('on-preview').getByText('Dome cam').waitFor();
    await hand.tap(cap(page, 'Mix'));
    await page.getByTestId('on-air').getByText('Dome cam').waitFor();
    expect(hand.touches).toBeLessThanOrEqual(4);
  });

  it('puts a moment on air in 1 touch', async () => {
    await hand.tap(cap(page, 'Ines close').first());
    await page.getByTestId('on-air').getByText('Desk cam').waitFor({ timeout: 10_000 });
    await until('her name is up', async () => (await points('captions')).nameText === 'Ines Halloran');
    expect(hand.touches).toBeLessThanOrEqual(1);
  });

  it('makes a panel with four buttons that light in 25 touches', async () => {
    await hand.place('Bench');
    await hand.button('Add a panel');
    await hand.write(page.getByLabel('Name', { exact: true }), 'Side', false);
    await hand.button('Close the editor');
    await hand.button('Add strips');
    await hand.button('An empty strip');
    await hand.write(page.getByLabel('Name', { exact: true }), 'Looks', false);
    await hand.button('Close the editor');
    for (const name of ['Ines close', 'Tomasz close', 'Visitors', 'Big screen']) {
      await hand.button('Add a button to Looks');
      await hand.button(`Recall a position: ${name}`);
      await hand.button('Done');
      await hand.button('Close the editor');
    }
    const made = await until('four that light', async () => {
      const { panels, strips, buttons } = await show();
      const panel = panels.find((candidate) => candidate.name === 'Side');
      const strip = strips.find((candidate) => candidate.panelId === panel?.id);
      const mine = buttons.filter((button) => button.stripId === strip?.id && button.steps.length > 0);
      return mine.length === 4 ? mine : undefined;
    });
    expect(made.map(({ legend, lamps }) => [legend, lamps.length])).toEqual([
      ['Ines close', 1],
      ['Tomasz close', 1],
      ['Visitors', 1],
      ['Big screen', 1],
    ]);
    expect(hand.touches).toBeLessThanOrEqual(25);
  });

  it('makes a button that recalls, waits and cuts, presses it and reads its run in 12 touches', async () => {
    await hand.place('Bench');
    await hand.button('Add a button to Moments');
    await hand.button('Recall a position: Visitors');
    await hand.button('Wait until Lawn cam has arrived at Visitors');
    await hand.button('Cut');
    await hand.button('Done');
    await hand.button('Close the editor');
    await hand.place('Desk');
    await hand.tap(cap(page, 'Visitors').first());
    await until('it has run', async () =>
      (await demo.asRun()).some((entry) => entry.kind === 'runEnd' && 'how' in entry && entry.how === 'done'),
    );
    await hand.place('Log');
    await hand.button(/^Pressed Visitors · done in .*: open its run$/);
    await page.getByTestId('run-sheet').getByText('Switcher: cut').waitFor();
    expect(hand.touches).toBeLessThanOrEqual(12);
    // Back closes the run, and leaves the Log with the next one.
    await page.goBack();
    await page.getByTestId('run-sheet').waitFor({ state: 'detached' });
    await page.getByText('As run', { exact: true }).waitFor();
  });

  it('aims a camera, stores what it sees under a name, renames and removes it in 12 touches', async () => {
    await hand.place('Rig');
    await hand.tap(page.getByRole('link', { name: /^Lawn cam/ }));
    const before = Number((await points('lawnCam')).pan);
    await hand.drag(page.getByTestId('aim'), -80, 0);
    await until('it looks elsewhere', async () => {
      const { pan, travelling } = await points('lawnCam');
      return travelling === false && Math.abs(Number(pan) - before) > 2;
    });
    await hand.write(page.getByLabel('Name of the new position'), 'Left of them');
    await hand.button('Store as new');
    await until('stored', async () => (await show()).positions.some((position) => position.name === 'Left of them'));
    await hand.button('More for Left of them');
    await hand.tap(page.getByRole('menuitem', { name: 'Rename' }));
    await page.getByLabel('Name of the position').waitFor();
    await page.waitForTimeout(100);
    await hand.write(page.getByLabel('Name of the position'), 'Far left', false);
    await until('renamed', async () => (await show()).positions.some((position) => position.name === 'Far left'));
    await hand.button('More for Far left');
    await hand.tap(page.getByRole('menuitem', { name: 'Remove' }));
    await hand.button('Remove it');
    await until('gone', async () => !(await show()).positions.some((position) => position.name === 'Far left'));
    expect(hand.touches).toBeLessThanOrEqual(12);
  });

  it('sees which device is dead, why, and what fixes it in 1 touch', async () => {
    await demo.standins.charts.faults({ silent: true });
    await page.getByTestId('fault').getByText('Slides does not answer').waitFor();
    await hand.tap(page.getByTestId('fault'));
    await page.getByText(/^Slides does not answer at 127\.0\.0\.1:\d+, last heard/).waitFor();
    await page.getByText('Check its power, address and port. Its buttons are off until it answers.').waitFor();
    expect(hand.touches).toBeLessThanOrEqual(1);
    await page.goBack();
    await page.getByText('Check its power, address and port.').waitFor({ state: 'detached' });
    await demo.standins.charts.faults({ silent: false });
    await page.getByText(/^(\d+) of \1 reached$/).waitFor({ timeout: 15_000 });
  });

  it('adds thirty recorders in 7 touches, and undoes them with one', async () => {
    const before = (await show()).devices.length;
    await hand.place('Rig');
    await hand.button('Add many alike');
    await hand.write(page.getByLabel('{{n}}: a list (Dome, Gate) or a range (1-6, 01-30)'), '01-15');
    await hand.write(page.getByLabel('First port'), '9401');
    await hand.button('Make 30');
    await until('thirty more', async () => (await show()).devices.length === before + 30);
    expect(hand.touches).toBeLessThanOrEqual(7);
    await hand.button('Undo');
    await until('none of them', async () => (await show()).devices.length === before);
  });

  it('takes sources from a list in 5 touches', async () => {
    await hand.place('Rig');
    await hand.part('Sources');
    await hand.button('From a list');
    await hand.tap(page.getByLabel('The list as CSV'));
    await page.keyboard.insertText('name,input\nBalcony,15\nGate,14\n');
    await page.getByTestId('csv-preview').waitFor();
    await hand.button('Take 2');
    await until('both', async () => {
      const { sources } = await show();
      return sources.some((source) => source.name === 'Balcony') && sources.some((source) => source.name === 'Gate');
    });
    expect(hand.touches).toBeLessThanOrEqual(5);
  });

  it('sees the switcher fall silent and come back without a touch', async () => {
    const lit = page.locator('[data-testid^="cap-"][data-lamp="onAir"]');
    await lit.first().waitFor();
    await demo.standins.switcher.faults({ silent: true });
    await page.getByTestId('fault').getByText('Switcher does not answer').waitFor();
    await page.locator('[data-testid^="cap-"][data-lamp="onAir"]').first().waitFor({ state: 'detached' });
    await page
      .getByTestId('on-air')
      .getByText(/^last known \d+ s ago$/)
      .waitFor();
    await demo.standins.switcher.faults({ silent: false });
    await lit.first().waitFor({ timeout: 15_000 });
    expect(hand.touches).toBe(0);
  });

  it('brings a person onto a line in 4 touches', async () => {
    await demo.standins.lines.simulate('guestJoins');
    await hand.place('Rig');
    await hand.part('Sources');
    await hand.button('Role Expert');
    await hand.button('Line 3');
    await page.getByText('Marit Solvang on line 3: Line 3').waitFor();
    expect(hand.touches).toBeLessThanOrEqual(4);
  });

  it('keeps a version and goes back to it in 7 touches', async () => {
    await hand.place('Rig');
    await hand.part('Show');
    await hand.write(page.getByLabel('Name of the version'), 'Before');
    await hand.button('Keep this version');
    await page.getByRole('button', { name: 'Version Before' }).waitFor();
    const change = { entity: 'buttons', id: demoId('BTN', 7), field: 'legend', from: 'Ines close', to: 'Ines tight' };
    await demo.post('/api/edits', {
      editId: '01J0C0RVANEH1EDT0000000991',
      label: 'Rename',
      by: 'other',
      changes: [change],
    });
    await hand.button('Version Before');
    await page.getByText('Button Ines tight: legend').waitFor();
    await hand.button('Back to Before');
    await until(
      'as it was',
      async () => (await show()).buttons.find((button) => button.id === demoId('BTN', 7))?.legend === 'Ines close',
    );
    expect(hand.touches).toBeLessThanOrEqual(7);
  });

  it('exports the show and imports it in 4 touches', async () => {
    await hand.place('Rig');
    await hand.part('Show');
    const [download] = await Promise.all([page.waitForEvent('download'), hand.button('Export the show')]);
    const path = await download.path();
    expect((JSON.parse(readFileSync(path, 'utf8')) as { format: string }).format).toBe('umbek-show');
    const [chooser] = await Promise.all([page.waitForEvent('filechooser'), hand.button('Import a show')]);
    await chooser.setFiles(path);
    await page.getByText(/^\d+ devices, \d+ sources/).waitFor();
    expect(hand.touches).toBeLessThanOrEqual(4);
  });

  it('cuts with the keyboard alone in at most 40 keys', async () => {
    const wide = await openAt(demo.url, 'wide', '/');
    await wide.getByText(/^(\d+) of \1 reached$/).waitFor();
    const cuts = async (): Promise<number> =>
      (await demo.standins.switcher.report()).effects.filter((effect) => effect.command === 'cut').length;
    const before = await cuts();
    const focused = () => wide.evaluate(() => window.document.activeElement?.getAttribute('aria-label') ?? '');
    let keys = 0;
    while (!/^Cut/.test(await focused()) && keys < 60) {
      await wide.keyboard.press((await focused()).startsWith('Desk cam') ? 'End' : 'Tab');
      keys += 1;
    }
    await wide.keyboard.press('Enter');
    await until('it cut', async () => (await cuts()) === before + 1);
    expect(keys + 1).toBeLessThanOrEqual(40);
  });
});
