import { readFileSync } from 'node:fs';
import { demoId } from '@umbek/demo';
import { ulid } from 'ulid';
import { cap, freshDemo, openAt, sizes, useBrowser } from './support/browser';
import { type Demo, freePort, until } from './support/demo';

/** Who made the last edit: a page without a person has a name of its own. */
const lastEditor = async (demo: Demo): Promise<string> =>
  ((await (await fetch(`${demo.url}/api/edits`)).json()) as { entries: { by: string }[] }).entries[0]?.by ?? '';

jest.setTimeout(120_000);
useBrowser();

interface Show {
  devices: { key: string; port: number; settings: Record<string, unknown> }[];
  positions: { key: string; name: string; pan: number; tilt: number; zoom: number; headNumber: number | null }[];
  buttons: unknown[];
}
const show = async (demo: Demo): Promise<Show> => (await (await fetch(`${demo.url}/api/show`)).json()) as Show;

describe.each(sizes)('a camera in the Rig (%s)', (size) => {
  it('is aimed by dragging, nudged, stored as a new position with its picture, recalled, and stored again with undo', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, size, '/rig/lawnCam');
    // There is nothing to grab before the head has told where it looks.
    await page.getByTestId('aim').getByText(/^pan /).waitFor();
    const box = await page.getByTestId('aim').boundingBox();
    const [x, y] = [(box?.x ?? 0) + (box?.width ?? 0) / 2, (box?.y ?? 0) + (box?.height ?? 0) / 2];
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x - (box?.width ?? 0) / 4, y, { steps: 5 });
    await page.mouse.up();
    // What was in the middle comes to the left quarter: at 63° wide the quarter is atan(tan 31.5° / 2) = 17.04° away, so the head turns right by that.
    const turned = await until('the head has turned', async () => {
      const { pan, travelling } = (await demo.standins.lawnCam.report()).points;
      return travelling === false && Number(pan) > 1 ? Number(pan) : undefined;
    });
    expect(turned).toBeCloseTo(17.04, 0);

    await page.getByText(/^pan 1[67]\.\d°/).waitFor();
    await page.getByRole('button', { name: 'Store as new' }).click();
    await page.getByRole('button', { name: /^Recall Position 3/ }).waitFor();
    const stored = await until('stored', async () =>
      (await show(demo)).positions.find((position) => position.name === 'Position 3'),
    );
    expect(stored.pan).toBeCloseTo(turned, 0);
    expect(await page.getByTestId(`position-${stored.key}`).locator('svg path').count()).toBeGreaterThan(10);

    await page.getByRole('button', { name: /^Recall Big screen/ }).click();
    await page.getByRole('button', { name: 'Recall Big screen, here' }).waitFor({ timeout: 10_000 });
    await page.getByRole('button', { name: /^Recall Position 3/ }).click();
    await page.getByRole('button', { name: 'Recall Position 3, here' }).waitFor({ timeout: 10_000 });

    await page.getByRole('button', { name: 'More for Big screen' }).click();
    await page.getByRole('menuitem', { name: 'Store again' }).click();
    await until(
      'stored again',
      async () =>
        Math.abs(
          ((await show(demo)).positions.find((position) => position.key === 'bigScreen')?.pan ?? 0) - stored.pan,
        ) < 0.2,
    );
    await demo.post('/api/undo', { by: await lastEditor(demo) });
    expect((await show(demo)).positions.find((position) => position.key === 'bigScreen')).toMatchObject({
      pan: -30,
      tilt: 4.5,
      zoom: 3,
      headNumber: 1,
    });

    await page.getByRole('button', { name: 'Nudge right' }).hover();
    await page.mouse.down();
    await until('it moves', async () => (await demo.standins.lawnCam.report()).points.travelling === true);
    await page.mouse.up();
    await until('it stands', async () => (await demo.standins.lawnCam.report()).points.travelling === false);
    await page
      .getByRole('button', { name: 'Outdoor' })
      .or(page.getByRole('radio', { name: 'Outdoor' }))
      .or(page.getByText('Outdoor', { exact: true }))
      .first()
      .click();
    await until('white balance', async () => (await demo.standins.lawnCam.report()).points.whiteBalance === 'outdoor');
    await demo.close();
  });

  it('asks before it moves on air, and moves at the second touch', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, size, '/rig/lawnCam');
    await demo.post('/api/press', {
      pressId: '01J0C0RVANEH1PRESS00000701',
      buttonId: demoId('BTN', 20),
      phase: 'down',
      station: 'test',
    });
    await page.getByText('ON AIR', { exact: true }).waitFor();
    await page.getByRole('button', { name: /^Recall Visitors/ }).click();
    await page.getByText(/Lawn cam is on air: the move would be seen\. Touch again/).waitFor();
    expect((await demo.standins.lawnCam.report()).effects.filter((effect) => effect.command === 'recall')).toEqual([]);
    await page.waitForTimeout(200);
    await page.getByRole('button', { name: /^Recall Visitors/ }).click();
    await page.getByRole('button', { name: 'Recall Visitors, here' }).waitFor({ timeout: 10_000 });
    await demo.close();
  });
});

describe('a camera whose moves on air are slow', () => {
  it('is recalled without a question, with the slowest speed steps that fit, and arrives', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, 'phone', '/rig/lawnCam');
    await page.getByText('Slowly', { exact: true }).click();
    await page.getByLabel('A slow move takes about (s)').fill('3');
    await page.getByLabel('A slow move takes about (s)').press('Enter');
    await until('it is stored', async () =>
      (await show(demo)).devices.some(
        ({ key, settings }) => key === 'lawnCam' && settings.onAirMoves === 'slow' && settings.onAirSeconds === 3,
      ),
    );
    await until('it is reached again with its new setting', async () =>
      (await demo.health()).devices.every(({ state }) => state === 'reached'),
    );
    await demo.post('/api/press', {
      pressId: '01J0C0RVANEH1PRESS00000702',
      buttonId: demoId('BTN', 20),
      phase: 'down',
      station: 'test',
    });
    await page.getByText('ON AIR', { exact: true }).waitFor();
    await demo.standins.lawnCam.clear();
    await page.getByRole('button', { name: /^Recall Visitors/ }).click();
    await page.getByRole('button', { name: 'Recall Visitors, here' }).waitFor({ timeout: 15_000 });
    const datagrams = (await demo.standins.lawnCam.records())
      .filter(({ direction, bytes }) => direction === 'in' && bytes.startsWith('01 00'))
      .map(({ bytes }) => bytes);
    // On a busy machine one is sent again, under its own number.
    const sent = [...new Set(datagrams)].map((bytes) => bytes.slice(24));
    // 22.5° at 3.33°/s a step take 3.40 s with step 2; 3° down at 3°/s a step take 1.03 s with step 1. 22.5° are 300 counts, 012C.
    expect(sent).toContain('81 01 06 02 02 01 00 01 02 0C 0F 0F 0D 08 FF');
    // The zoom is driven, and then sent to its code.
    expect(
      sent.map((bytes) => bytes.slice(0, 11)).filter((start) => start === '81 01 04 07' || start === '81 01 04 47'),
    ).toEqual(['81 01 04 07', '81 01 04 47']);
    expect(await demo.standins.lawnCam.report()).toMatchObject({ points: { pan: 22.5, tilt: -3, travelling: false } });
    await demo.close();
  });
});

describe.each(sizes)('a device in the Rig (%s)', (size) => {
  // One demo for all of them: each leaves the devices as it found them.
  let demo: Demo;
  beforeAll(async () => (demo = await freshDemo()));

  it('is told in words when its port is wrong, and is reached again when it is right', async () => {
    const right = (await show(demo)).devices.find((device) => device.key === 'domeCam')?.port ?? 0;
    const taken = (await show(demo)).devices.find((device) => device.key === 'switcher')?.port ?? 0;
    const page = await openAt(demo.url, size, '/rig/domeCam');
    await page.getByText('Set-up', { exact: true }).click();
    const port = page.getByTestId('port');
    const set = async (text: string): Promise<void> => {
      await port.fill(text);
      await port.press('Enter');
    };
    await set('70000');
    await page.getByText('A port is a whole number from 1 to 65535.').waitFor();
    await set(String(taken));
    await page.getByText(/Switcher is at 127\.0\.0\.1:\d+ already\. Give this one another port\./).waitFor();
    expect((await show(demo)).devices.find((device) => device.key === 'domeCam')?.port).toBe(right);
    const wrong = await freePort();
    await set(String(wrong));
    await page
      .getByText(new RegExp(`Dome cam at 127\\.0\\.0\\.1:${wrong} does not answer\\.`))
      .waitFor({ timeout: 10_000 });
    await set(String(right));
    await page.getByText(/• reached/).waitFor({ timeout: 10_000 });
    await page.getByText('States', { exact: true }).click();
    await page.getByText('domeCam.whiteBalance').waitFor();
    await page.getByText('Wire', { exact: true }).click();
    await page
      .getByText(/sequence number set back/)
      .first()
      .waitFor();
  });

  it('is not removed while it is used: where is told first', async () => {
    const page = await openAt(demo.url, size, '/rig/captions');
    await page.getByText('Set-up', { exact: true }).click();
    await page.getByRole('button', { name: 'Remove Captions' }).click();
    await page.getByText(/Captions is used in \d+ places:/).waitFor();
    await page.getByText('Main · Names · Ines Halloran').waitFor();
    expect(await page.getByRole('button', { name: 'Remove it' }).isDisabled()).toBe(true);
    // Each place leads to where it is programmed, and Back leads here again.
    await page.getByRole('link', { name: 'Main · Names · Ines Halloran' }).click();
    await page.getByRole('heading', { name: 'Ines Halloran' }).waitFor();
    expect(new URL(page.url()).pathname).toBe('/bench');
    // On a phone the editor lies over the Bench, and goes first.
    if (size === 'phone') {
      await page.goBack();
      await page.getByRole('heading', { name: 'Ines Halloran' }).waitFor({ state: 'detached' });
    }
    await page.goBack();
    await page.getByRole('button', { name: 'Remove Captions' }).waitFor();
  });

  it('the same from a dialog, whose own step back does not stand in the way', async () => {
    const page = await openAt(demo.url, size, '/rig/deskCam');
    await page.getByLabel('More for Two shot').click();
    await page.getByRole('menuitem', { name: 'Remove' }).click();
    await page.getByRole('link', { name: 'Main · Positions · Two shot' }).click();
    await page.getByRole('heading', { name: 'Two shot' }).waitFor();
    if (size === 'phone') {
      await page.goBack();
      await page.getByRole('heading', { name: 'Two shot' }).waitFor({ state: 'detached' });
    }
    await page.goBack();
    await page.getByLabel('More for Two shot').waitFor();
    expect(new URL(page.url()).pathname).toBe('/rig/deskCam');
  });

  it('is made many times from a pattern, seen before it is made, and undone in one go', async () => {
    const page = await openAt(demo.url, size, '/rig');
    const before = (await show(demo)).devices.length;
    await page.getByRole('button', { name: 'Add many alike' }).click();
    await page.getByText('Recorder Dome room-1 · 127.0.0.1:9001 · Dome room').waitFor();
    await page.getByLabel('{{n}}: a list (Dome, Gate) or a range (1-6, 01-30)').fill('01-15');
    await page.getByText('and 22 more').waitFor();
    await page.getByLabel('First port').fill('9001');
    await page.getByRole('button', { name: 'Make 30' }).click();
    await until('thirty more', async () => (await show(demo)).devices.length === before + 30);
    expect((await show(demo)).devices.slice(-1)[0]).toMatchObject({ key: 'recorderGateRoom15', port: 9030 });
    await page.getByRole('button', { name: 'Undo' }).click();
    await until('none of them', async () => (await show(demo)).devices.length === before);
  });

  it('is told a command from its catalogue', async () => {
    const page = await openAt(demo.url, size, '/rig/switcher');
    await page.getByLabel('Search the commands').fill('keyer');
    await page.getByRole('button', { name: 'Keyer on or off' }).click();
    await page.getByRole('button', { name: 'Keyer more' }).click();
    await page.getByRole('button', { name: 'Send now' }).click();
    await until('keyer 2 is on', async () => (await demo.standins.switcher.report()).points.keyer2 === true);
  });
});

describe.each(sizes)('the show as a file (%s)', (size) => {
  it('is kept as a version, compared with what it has become, gone back to, and that is undone', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, size, '/rig');
    await page.getByText('Show', { exact: true }).click();
    await page.getByText('No version yet.').waitFor();
    await page.getByLabel('Name of the version').fill('Before the show');
    await page.getByLabel('Name of the version').press('Enter');
    await page.getByRole('button', { name: 'Keep this version' }).click();
    await page.getByRole('button', { name: 'Version Before the show' }).click();
    await page.getByText('The show is as it was then.').waitFor();
    const legend = async (): Promise<string | undefined> =>
      (
        (await (await fetch(`${demo.url}/api/show`)).json()) as { buttons: { id: string; legend: string }[] }
      ).buttons.find((button) => button.id === demoId('BTN', 7))?.legend;
    const rename = (from: string, to: string) =>
      demo.post('/api/edits', {
        editId: ulid(),
        label: 'Rename',
        by: 'other',
        changes: [{ entity: 'buttons', id: demoId('BTN', 7), field: 'legend', from, to }],
      });
    expect((await rename('Ines close', 'Ines tight')).status).toBe(200);
    await page.getByText('Button Ines tight: legend').waitFor();
    await page.getByRole('button', { name: 'Back to Before the show' }).click();
    await until('it is as it was', async () => (await legend()) === 'Ines close');
    await page.getByText('The show is as it was then.').waitFor();
    await demo.post('/api/undo', { by: await lastEditor(demo) });
    await until('going back is undone', async () => (await legend()) === 'Ines tight');
    const file = (await (
      await fetch(
        `${demo.url}/api/versions/${((await (await fetch(`${demo.url}/api/versions`)).json()) as { versions: { id: string }[] }).versions[0]?.id ?? ''}/file`,
      )
    ).json()) as { format: string; document: { buttons: { id: string; legend: string }[] } };
    expect([file.format, file.document.buttons.find((button) => button.id === demoId('BTN', 7))?.legend]).toEqual([
      'umbek-show',
      'Ines close',
    ]);
    await page.getByRole('button', { name: 'Delete' }).click();
    await page.getByRole('button', { name: 'Delete Before the show for good' }).click();
    await page.getByText('No version yet.').waitFor();
    await demo.close();
  });

  it('is exported, wiped, imported and pressed', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, size, '/rig');
    await page.getByText('Show', { exact: true }).click();
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: 'Export the show' }).click(),
    ]);
    const file = await download.path();
    const exported = JSON.parse(readFileSync(file, 'utf8')) as {
      format: string;
      document: { devices: unknown[]; sources: unknown[] };
    };
    expect(exported.format).toBe('umbek-show');
    await page.getByRole('button', { name: 'Empty show' }).click();
    await page.getByRole('button', { name: 'Replace the show' }).click();
    await page.getByText('0 devices, 0 sources', { exact: false }).waitFor();
    const importing = async (path: string): Promise<void> => {
      const [chooser] = await Promise.all([
        page.waitForEvent('filechooser'),
        page.getByRole('button', { name: 'Import a show' }).click(),
      ]);
      await chooser.setFiles(path);
    };
    await importing('package.json');
    await page.getByText('This is not a show file of Umbek.', { exact: false }).waitFor();
    await importing(file);
    await page
      .getByText(`${exported.document.devices.length} devices, ${exported.document.sources.length} sources`, {
        exact: false,
      })
      .waitFor();
    await page.getByRole('link', { name: 'Desk' }).click();
    await page.getByText(/^(\d+) of \1 reached$/).waitFor();
    await cap(page, 'Cut').click();
    await until('the switcher cut', async () =>
      (await demo.standins.switcher.report()).effects.some((effect) => effect.command === 'cut'),
    );
    await demo.close();
  });
});

describe.each(sizes)('the log (%s)', (size) => {
  it('is live, is filtered, and opens a run with its foreseen and real times', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, size, '/log');
    await demo.post('/api/press', {
      pressId: '01J0C0RVANEH1PRESS00000801',
      buttonId: demoId('BTN', 20),
      phase: 'down',
      station: 'test',
      person: 'Ada',
    });
    await page.getByText('Pressed Cut').waitFor();
    await page.getByLabel('Device: All devices').click();
    await page.getByRole('menuitem', { name: 'Switcher' }).click();
    await page.getByText('Pressed Cut').waitFor({ state: 'detached' });
    await page.getByText('Switcher: done').waitFor();
    await page.getByLabel('Device: Switcher').click();
    await page.getByRole('menuitem', { name: 'All devices' }).click();
    await page.getByLabel('Person: Everybody').click();
    await page.getByRole('menuitem', { name: 'Ada' }).click();
    await page.getByText('The engine began', { exact: false }).waitFor({ state: 'detached' });
    await page.getByText('Pressed Cut').waitFor();
    await page.getByLabel('Person: Ada').click();
    await page.getByRole('menuitem', { name: 'Everybody' }).click();
    await page.getByRole('button', { name: /^Pressed Cut · done in .*: open its run$/ }).click();
    await page.getByTestId('run-sheet').getByText('In the predicted order.', { exact: false }).waitFor();
    await page.getByTestId('run-sheet').getByText('Switcher: cut').waitFor();
    await demo.close();
  });
});
