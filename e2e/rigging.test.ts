import type { Page } from 'playwright-core';
import { ulid } from 'ulid';
import { browser, freshDemo, openAt, SIZES, useBrowser } from './support/browser';
import { type Demo, until } from './support/demo';
import { handsOn } from './support/machines';

jest.setTimeout(180_000);
useBrowser();

let demo: Demo;
beforeAll(async () => {
  demo = await freshDemo();
});

const { points, commandsOf, health, known } = handsOn(() => demo);

/** Opens a part of a place, however it is offered. */
const part = async (page: Page, name: string): Promise<void> =>
  page
    .getByRole('radio', { name, exact: true })
    .or(page.getByRole('button', { name, exact: true }))
    .first()
    .click();

/** A command without a button, and the end of its run. */
async function send(device: string, command: string, params: Record<string, unknown> = {}): Promise<string> {
  const pressId = ulid();
  const answer = await demo.post('/api/send', { pressId, phase: 'down', device, command, params, station: 'test' });
  await demo.post('/api/send', { pressId, phase: 'up', device, command, params, station: 'test' });
  if (answer.status !== 202) return String(answer.body.message);
  const runId = String(answer.body.runId);
  const end = await until('the run is over', async () =>
    (await demo.asRun()).find((entry) => entry.kind === 'runEnd' && entry.runId === runId),
  );
  return end.how === 'done' ? 'done' : String(end.why);
}

describe('what the switcher and the caption engine have besides', () => {
  it('is told over the real socket, and comes back as points', async () => {
    expect(await send('switcher', 'boxOccupant', { source: 'line2', layout: 1, box: 3 })).toBe('done');
    expect(
      await send('switcher', 'boxPlace', { layout: 1, box: 3, x: 0.1, y: 0.2, width: 0.3, height: 0.4, frames: 10 }),
    ).toBe('done');
    await until(
      'the box is there',
      async () =>
        (await known('switcher', 'layout1Box3Place')) === '0.1 0.2 0.3 0.4' &&
        (await known('switcher', 'layout1Moving')) === false,
    );
    expect(await points('switcher')).toMatchObject({ layout1Box3Occupant: 8, layout1Box3Place: '0.1 0.2 0.3 0.4' });
    expect([await send('switcher', 'bank2Preview', { source: 'layout1' }), await send('switcher', 'bank2Cut')]).toEqual(
      ['done', 'done'],
    );
    await until('bank 2 shows layout 1', async () => (await known('switcher', 'bank2Program')) === 17);
    expect(await send('switcher', 'keyColour', { keyer: 2, colour: 'leaf' })).toBe('A colour is written #RRGGBB.');
    await demo.standins.switcher.simulate('input4Frozen');
    await until('the frozen picture is told', async () => (await known('switcher', 'input4Picture')) === 'frozen');
    expect(
      await send('captions', 'layerIn', {
        layer: 3,
        template: 'Ticker',
        field1: 'Clear until three',
        ms: 100,
        seconds: 2,
      }),
    ).toBe('done');
    expect(await points('captions')).toMatchObject({ layer3Template: 'Ticker', layer3Field1: 'Clear until three' });
    await until('the layer went by itself', async () => (await known('captions', 'layer3Stage')) === 'out');
    expect(await known('captions', 'templates')).toMatch(/^Lower third: Name, Title, Place\nLogo\n/);
  });
});

describe('lists', () => {
  it('make devices after they were seen, tell the line of each fault, and are undone in one go', async () => {
    const page = await openAt(demo.url, 'phone', '/rig');
    await page.getByRole('button', { name: 'From a list' }).click();
    const list = page.getByLabel('The list as CSV');
    await list.fill(
      'name,kind,address,port\nWall left,Venue screen,127.0.0.1,9301\nDesk cam,recorder,127.0.0.1,9302\n',
    );
    await page.getByTestId('csv-faults').getByText('Line 3: Desk cam is there already').waitFor();
    expect(await page.getByRole('button', { name: 'Take 0' }).isDisabled()).toBe(true);
    await list.fill(
      'name,kind,address,port\nWall left,Venue screen,127.0.0.1,9301\nWall right,Venue screen,127.0.0.1,9302\n',
    );
    await page.getByTestId('csv-preview').getByText('Wall right · venueScreen · 127.0.0.1:9302').waitFor();
    await page.getByRole('button', { name: 'Take 2' }).click();
    await until(
      'both are silent devices of the show',
      async () =>
        (await demo.health()).devices.filter((device) => device.name.startsWith('Wall') && device.state === 'silent')
          .length === 2,
    );
    await page.getByRole('button', { name: 'Undo' }).click();
    await until('both are gone', async () =>
      (await demo.health()).devices.every((device) => !device.name.startsWith('Wall')),
    );
    await page.close();
  });
});

describe('a role', () => {
  it('finds its person on whichever line they sit', async () => {
    const page = await openAt(demo.url, 'phone', '/rig');
    await part(page, 'Sources');
    await page.getByRole('button', { name: 'Role Expert' }).click();
    expect(await send('switcher', 'preview', { source: 'expert' })).toBe('done');
    expect((await points('switcher')).preview).toBe(4);
    await demo.standins.lines.simulate('guestJoins');
    await page.getByRole('button', { name: 'Line 3', exact: true }).click();
    await page.getByText('Marit Solvang on line 3: Line 3').waitFor();
    expect(await send('switcher', 'preview', { source: 'expert' })).toBe('done');
    expect((await points('switcher')).preview).toBe(9);
    // Another guest sits on line 3: bringing Marit back there says first who is displaced.
    expect(await send('lines', 'takeOff', { line: 3 })).toBe('done');
    await demo.standins.lines.simulate('guestJoins');
    expect(await send('lines', 'putOnLine', { guest: 'Obi Adeyemi', line: 3 })).toBe('done');
    await page.getByRole('button', { name: 'Line 3: Obi Adeyemi' }).click();
    await page.getByText('Obi Adeyemi is on line 3. Replace Obi Adeyemi with Marit Solvang?').waitFor();
    await page.getByRole('button', { name: 'Replace' }).click();
    await until('Marit is on line 3', async () => (await points('lines')).line3Guest === 'Marit Solvang');
    await page.close();
  });
});

describe('set-ups saved with the show', () => {
  it('tell what a device shows otherwise now, and put it back', async () => {
    const page = await openAt(demo.url, 'wide', '/rig');
    await part(page, 'Saved set-ups');
    await page.getByRole('button', { name: 'Save the set-up of Switcher as it is now' }).click();
    await page
      .getByTestId('saved-switcher')
      .getByText(/^Same as saved/)
      .waitFor();
    await send('switcher', 'keyKind', { keyer: 1, kind: 'chroma' });
    await send('switcher', 'name', { input: 3, name: 'Somewhere' });
    await send('switcher', 'boxOccupant', { source: 'roofCam', layout: 1, box: 3 });
    await page.getByText('3 things are not as saved', { exact: false }).waitFor();
    await page.getByText('now Roof cam · saved Line 2').waitFor();
    await page.getByRole('button', { name: 'Put back: Name of input 3' }).click();
    await page.getByText('2 things are not as saved', { exact: false }).waitFor();
    await page.getByRole('button', { name: 'Put all 2 back' }).click();
    await page
      .getByTestId('saved-switcher')
      .getByText(/^Same as saved/)
      .waitFor();
    expect(await points('switcher')).toMatchObject({
      keyer1Kind: 'linear',
      input3Name: 'Dome cam',
      layout1Box3Occupant: 8,
    });
    await page.close();
  });

  it('take names over between show and switcher', async () => {
    const page = await openAt(demo.url, 'phone', '/rig');
    await part(page, 'Sources');
    await page.getByText('the switcher calls it Input 16').waitFor();
    await page.getByRole('button', { name: 'Send 1 name to the switcher' }).click();
    await until('the switcher holds it', async () => (await points('switcher')).input16Name === 'Black');
    await page.getByRole('button', { name: 'Send 1 name to the switcher' }).waitFor({ state: 'detached' });
    await page.close();
  });
});

describe('a source without motors', () => {
  it('is reframed while a key is held, stored, recalled, and shown in full again', async () => {
    const page = await openAt(demo.url, 'phone', '/rig');
    await part(page, 'Sources');
    await page.getByRole('button', { name: 'Source Star charts' }).click();
    await page.getByTestId('window').getByText('full view').waitFor();
    const closer = page.getByRole('button', { name: 'Window closer' });
    await closer.scrollIntoViewIfNeeded();
    await closer.hover();
    await page.mouse.down();
    await until(
      'it has come closer',
      async () => Number(String((await points('switcher')).input5Window).split(' ')[2]) > 1.3,
    );
    await page.mouse.up();
    // What was sent last may still be on its way; then it stands.
    await page.waitForTimeout(500);
    const stands = (await points('switcher')).input5Window;
    await page.waitForTimeout(500);
    expect((await points('switcher')).input5Window).toBe(stands);
    await page.getByRole('button', { name: 'Store as new' }).click();
    await page.getByRole('button', { name: 'Recall Charts 1, here' }).waitFor();
    await page.getByRole('button', { name: 'Full view again' }).click();
    await until('all of it is shown', async () => (await points('switcher')).input5Window === '0.5 0.5 1');
    await page.getByRole('button', { name: 'Recall Charts 1' }).click();
    await until('the stored view is back', async () => (await points('switcher')).input5Window === stands);
    await page.close();
  });
});

describe('the positions of a camera', () => {
  it('are gone through at an interval, and written into the head', async () => {
    const page = await openAt(demo.url, 'phone', '/rig/lawnCam');
    await page.getByLabel('Each for (s)', { exact: true }).fill('0.2');
    await page.getByLabel('Each for (s)', { exact: true }).blur();
    await page.getByRole('button', { name: 'Run through 2' }).click();
    await page.getByText('Lawn cam ran through 2 positions.').waitFor({ timeout: 40_000 });
    expect((await commandsOf('lawnCam')).filter((command) => command === 'recall')).toHaveLength(2);
    await page.getByTestId('head-copies').getByText('Every position is in the head as in the show.').waitFor();
    await page.getByRole('button', { name: 'Store as new' }).click();
    await page.getByTestId('head-copies').getByText('Missing or different in the head: Position 3.').waitFor();
    await page.getByRole('button', { name: 'Write 1 into the head' }).click();
    await page.getByText('The head holds these positions now.').waitFor({ timeout: 40_000 });
    const stored = (await demo.standins.lawnCam.report()).effects.filter((effect) => effect.command === 'store');
    expect(stored.map((effect) => effect.params.number)).toEqual([3]);
    await page.getByTestId('head-copies').getByText('Every position is in the head as in the show.').waitFor();
    await page.close();
  });
});

describe('a joystick', () => {
  it('chooses a camera by a held button, moves it by its deflection, and lets it stand when it rests', async () => {
    const context = await browser.newContext({ viewport: SIZES.wide });
    const page = await context.newPage();
    await page.addInitScript(() => {
      const pad = {
        mapping: '',
        axes: [0, 0, 0],
        buttons: Array.from({ length: 8 }, () => ({ pressed: false, value: 0 })),
      };
      Object.assign(window, { pad });
      Object.defineProperty(navigator, 'getGamepads', { value: () => [pad] });
    });
    await page.goto(demo.url);
    // Without contact a stick does nothing.
    await page
      .getByTestId('devices-reached')
      .getByText(/reached/)
      .waitFor();
    await page.evaluate(() => window.dispatchEvent(new Event('gamepadconnected')));
    const set = (axes: number[], button: number | null): Promise<void> =>
      page.evaluate(
        ([to, pressed]) => {
          const { pad } = window as unknown as { pad: { axes: number[]; buttons: { pressed: boolean }[] } };
          pad.axes = to as number[];
          pad.buttons.forEach((item, index) => (item.pressed = index === pressed));
        },
        [axes, button] as const,
      );
    await set([0, 0, 0], 0);
    await page.getByTestId('joystick').getByText('Joystick moves Desk cam').waitFor();
    await set([0, 0, 0], null);
    const before = Number((await points('deskCam')).pan);
    await set([0.7, 0, 0], null);
    await until('it turns right', async () => Number((await points('deskCam')).pan) > before + 0.5);
    await set([1, 0, 0], null);
    await until(
      'it goes on, faster',
      async () => (await commandsOf('deskCam')).filter((command) => command === 'drive').length >= 2,
    );
    await set([0.02, -0.03, 0], null);
    await until('it stands', async () => (await points('deskCam')).travelling === false);
    // The last of the braking is told with the next reading.
    await page.waitForTimeout(600);
    const stands = Number((await points('deskCam')).pan);
    await page.waitForTimeout(400);
    expect(Number((await points('deskCam')).pan)).toBe(stands);

    // A value of the show is its full speed: made at the Bench, set by whatever sets values.
    const bench = await openAt(demo.url, 'phone', '/bench?list=shortcuts');
    await bench.getByRole('button', { name: 'Joystick', exact: true }).click();
    await bench.getByText('Even', { exact: true }).click();
    await bench.getByRole('button', { name: 'Make a value for it' }).click();
    await bench.getByText(/^All the way is as much of the head’s speed as Joystick speed says/).waitFor();
    const speedIs = (to: number) =>
      demo.post('/api/steps/run', {
        name: 'Speed',
        steps: [{ id: 's', kind: 'set', target: 'value.joystickSpeed', to }],
        station: 'test',
      });
    await speedIs(0);
    const drives = async (): Promise<number> =>
      (await commandsOf('deskCam')).filter((command) => command === 'drive').length;
    const standsStill = () => until('it stands', async () => (await points('deskCam')).travelling === false);
    // As soon as the page knows, all the way is nothing.
    await until('it does not move', async () => {
      const before = await drives();
      await set([1, 0, 0], null);
      await page.waitForTimeout(400);
      const after = await drives();
      await set([0, 0, 0], null);
      await standsStill();
      return after === before;
    });
    const until0 = await drives();
    await set([1, 0, 0], null);
    await speedIs(0.5);
    await until('it moves again', async () => (await drives()) > until0);
    await set([0, 0, 0], null);
    await until('it stands', async () => (await points('deskCam')).travelling === false);
    await bench.close();
    await context.close();
  });
});

describe('bad days and files', () => {
  it('are set from the page, and undone there', async () => {
    const page = await openAt(demo.url, 'phone', '/rig');
    await part(page, 'Fault simulation');
    await page.getByRole('button', { name: 'Stand-in Slides' }).click();
    await page.getByLabel('Slides silent').click();
    await until('it is silent', async () => (await health('charts'))?.state === 'silent');
    await page.getByRole('button', { name: 'Clear the faults of 1 stand-in' }).click();
    await until('it answers', async () => (await health('charts'))?.state === 'reached');
    await page.getByRole('button', { name: 'Stand-in Lines' }).click();
    const before = String((await points('lines')).waiting)
      .split('\n')
      .filter(Boolean).length;
    await page.getByRole('button', { name: 'The next guest joins' }).click();
    await until(
      'a guest waits',
      async () =>
        String((await points('lines')).waiting)
          .split('\n')
          .filter(Boolean).length ===
        before + 1,
    );
    expect((await demo.post('/api/standins/nobody/simulate', { what: 'x' })).status).toBe(404);
    expect((await demo.post('/api/standins/lines/simulate', { what: 'explode' })).status).toBe(400);
    await page.close();
  });

  it('lists what a recorder has, downloads it and deletes it after a second touch', async () => {
    expect(await send('recorder4', 'start', { file: 'night one' })).toBe('done');
    await until('it records', async () => (await known('recorder4', 'recording')) === true);
    expect(await send('recorder4', 'stop')).toBe('done');
    const file = await fetch(`${demo.url}/api/devices/recorder4/files/${encodeURIComponent('night one')}`);
    expect([file.status, (await file.text()).startsWith('umbek stand-in recording night one\n')]).toEqual([200, true]);
    expect((await fetch(`${demo.url}/api/devices/recorder4/files/other`)).status).toBe(404);
    const page = await openAt(demo.url, 'phone', '/rig/recorder4');
    await part(page, 'Files');
    await page.getByRole('button', { name: 'Delete night one', exact: true }).click();
    await page.getByRole('button', { name: 'Delete night one for good' }).click();
    await page.getByText('It has recorded nothing yet.').waitFor();
    await page.close();
  });
});
