import { PLAIN_BUTTON, type ShowDocument } from '@umbek/core/show';
import { cap, freshDemo, openAt, openDesk, useBrowser } from './support/browser';
import { type Demo, until } from './support/demo';

jest.setTimeout(180_000);
useBrowser();

const showOf = async (demo: Demo): Promise<ShowDocument> =>
  (await (await fetch(`${demo.url}/api/show`)).json()) as ShowDocument;
const points = async (demo: Demo, device: 'switcher' | 'lines' | 'secondLook') =>
  (await demo.standins[device].report()).points;
const send = (demo: Demo, number: number, device: string, command: string, params: Record<string, unknown>) =>
  demo.post('/api/send', {
    pressId: `01J0C0RVANEH1KSTS00000${String(number).padStart(4, '0')}`,
    phase: 'down',
    station: 'test',
    device,
    command,
    params,
  });

describe.each(['phone'] as const)('strips that follow what devices list (%s)', (size) => {
  it('caps come and go at their places, and what is held stays until it is let go', async () => {
    const demo = await freshDemo();
    const bench = await openAt(demo.url, size, '/bench');
    await bench.getByRole('button', { name: 'Add a panel' }).click();
    await until('the panel', async () => (await showOf(demo)).panels.length === 7);
    const panel = (await showOf(demo)).panels.at(-1);
    if (!panel) throw new Error('No panel.');
    await bench.goto(`${demo.url}/bench?p=${panel.id}`);
    await bench.getByRole('button', { name: 'Add strips' }).click();
    await bench.getByRole('button', { name: /^Guests who are there/ }).click();
    await bench.getByRole('button', { name: /^Marks, as long as/ }).click();
    await bench.getByRole('button', { name: /^Macros that the switcher keeps/ }).click();
    await bench.getByRole('button', { name: /^Add 3 strips/ }).click();
    await until(
      'the strips',
      async () => (await showOf(demo)).strips.filter(({ panelId }) => panelId === panel.id).length === 3,
    );
    // One that is held: a line that is muted while a finger is on it.
    const show = await showOf(demo);
    const guests = show.strips.find(({ panelId, name }) => panelId === panel.id && name === 'Guests');
    if (!guests) throw new Error('No strip of guests.');
    const mute = (id: string, on: boolean) => ({
      id,
      onFail: 'stop',
      kind: 'command',
      device: 'lines',
      command: 'mute',
      params: { line: 2, on },
    });
    const held = {
      ...PLAIN_BUTTON,
      id: '01J0C0RVANEH1BTN0000000901',
      stripId: guests.id,
      legend: 'Hush {{ lines.line2Guest }}',
      mode: 'hold',
      there: 'lines.line2Connected',
      steps: [mute('on', true)],
      releaseSteps: [mute('off', false)],
      order: 'zz',
    };
    const edited = await demo.post('/api/edits', {
      editId: '01J0C0RVANEH1EDT0000000901',
      label: 'A button that is held',
      changes: [{ entity: 'buttons', id: held.id, field: '*', from: null, to: held }],
    });
    expect(edited.status).toBe(200);
    await bench.close();

    const desk = await openDesk(`${demo.url}/?panel=${panel.id}`, size);
    await cap(desk, 'Keyers off').waitFor();
    expect(await cap(desk, 'Marit').count()).toBe(0);
    // Guests come: each at the place of its line.
    for (let come = 0; come < 2; come += 1) await demo.standins.lines.simulate('guestJoins');
    await until('both wait', async () => String((await points(demo, 'lines')).waiting).split('\n').length === 2);
    await send(demo, 1, 'lines', 'putOnLine', { guest: 'Marit Solvang', line: 1 });
    await send(demo, 2, 'lines', 'putOnLine', { guest: 'Obi Adeyemi', line: 2 });
    await cap(desk, 'Obi Adeyemi').waitFor();
    const stood = await cap(desk, 'Obi Adeyemi').boundingBox();
    await cap(desk, 'Marit Solvang').click();
    await until('Marit on preview', async () => (await points(demo, 'switcher')).preview === 7);
    // Marit drops: Obi stays where he is.
    await demo.standins.lines.simulate('guestDrops');
    await cap(desk, 'Marit Solvang').waitFor({ state: 'detached' });
    expect(await cap(desk, 'Obi Adeyemi').boundingBox()).toEqual(stood);

    // Obi drops while a finger holds his cap: it stays under the finger, and its end goes out.
    const hush = cap(desk, 'Hush Obi Adeyemi');
    await hush.waitFor();
    await hush.hover();
    await desk.mouse.down();
    await until('muted', async () => (await points(demo, 'lines')).line2Muted === true);
    await demo.standins.lines.simulate('guestDrops');
    await cap(desk, 'Obi Adeyemi').waitFor({ state: 'detached' });
    expect(await desk.getByTestId(`cap-${held.id}`).count()).toBe(1);
    await desk.mouse.up();
    await until('open again', async () => (await points(demo, 'lines')).line2Muted === false);
    await desk.getByTestId(`place-${held.id}`).waitFor();

    // A mark is made: its cap comes, and cues it.
    await send(demo, 3, 'secondLook', 'mark', { ago: 0 });
    await cap(desk, 'Mark 1').click();
    await until('cued', async () => (await points(demo, 'secondLook')).ch1Mark === 1);
    // What the switcher keeps.
    await send(demo, 4, 'switcher', 'keyer', { keyer: 1, on: true });
    await until('on', async () => (await points(demo, 'switcher')).keyer1 === true);
    await cap(desk, 'Keyers off').click();
    await until('off', async () => (await points(demo, 'switcher')).keyer1 === false);
    await demo.close();
  });
});
