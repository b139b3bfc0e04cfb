import { cap, freshDemo, openAt, openDesk, useBrowser } from './support/browser';
import { until } from './support/demo';
import type { ShowDocument } from '@umbek/core/show';

jest.setTimeout(120_000);
useBrowser();

describe.each(['wide'] as const)('a picture on a cap (%s)', (size) => {
  it('shows the source of its button, stands on the Desk, and goes again', async () => {
    const demo = await freshDemo();
    const page = await openAt(demo.url, size, '/bench');
    const picture = () =>
      fetch(`${demo.url}/api/show`)
        .then((response) => response.json() as Promise<ShowDocument>)
        .then(({ buttons }) => buttons.find(({ legend }) => legend === 'Lawn cam')?.picture);
    await page.getByRole('button', { name: 'Edit Lawn cam', exact: true }).click();
    await page.getByRole('button', { name: 'Says' }).click();
    await page.getByRole('button', { name: 'Lawn cam', exact: true }).click();
    await until('the picture', async () => (await picture()) === 'source:lawnCam');
    const desk = await openDesk(demo.url, size);
    const drawn = cap(desk, 'Lawn cam').first().locator('canvas, svg');
    await drawn.first().waitFor();
    await cap(desk, 'Lawn cam').first().click();
    await until('it still presses', async () => (await demo.standins.switcher.report()).points.preview === 2);
    await page.getByRole('button', { name: 'None', exact: true }).click();
    await until('no picture', async () => (await picture()) === '');
    await demo.close();
  });
});

describe.each(['phone'] as const)('a source without motors as the chosen camera (%s)', (size) => {
  it('is chosen like a camera, moves while a cap is held, and comes back to its full view', async () => {
    const demo = await freshDemo();
    const points = async () => (await demo.standins.switcher.report()).points;
    const window = async () =>
      String((await points()).input4Window)
        .split(' ')
        .map(Number);
    // Off air: on air it would ask for a second touch, as a camera does.
    const off = await demo.post('/api/send', {
      pressId: '01J0C0RVANEH1W1ND000000001',
      phase: 'down',
      station: 'test',
      device: 'switcher',
      command: 'program',
      params: { source: 'lawnCam' },
    });
    expect(off.status).toBe(202);
    const bench = await openAt(demo.url, size, '/bench');
    await bench.getByRole('button', { name: 'Add a panel' }).click();
    await bench.getByRole('button', { name: 'Close the editor' }).click();
    await bench.getByRole('button', { name: 'Add strips' }).click();
    await bench.getByRole('button', { name: /^Choose a camera, and move it/ }).click();
    await bench.getByRole('button', { name: /^Views of Roof cam/ }).click();
    await bench.getByRole('button', { name: /^Add 3 strips/ }).click();
    await bench.getByRole('button', { name: 'Edit Northern sky' }).waitFor();
    await bench.close();
    const show = (await (await fetch(`${demo.url}/api/show`)).json()) as { panels: { id: string }[] };
    const desk = await openDesk(`${demo.url}/?panel=${show.panels.at(-1)?.id ?? ''}`, size);
    await cap(desk, 'Northern sky').click();
    await until('the stored view', async () => (await window())[2] === 2.2);
    const [before = 0] = await window();
    await cap(desk, 'Roof cam').click();
    await cap(desk, 'Roof cam').and(desk.locator('[data-lamp="chosen"]')).waitFor();
    await cap(desk, 'Right').hover();
    await desk.mouse.down();
    await until('it moves', async () => ((await window())[0] ?? 0) > before + 0.03);
    await desk.mouse.up();
    // At rest it stays.
    const rest = await until('at rest', async () => {
      const framed = await window();
      await new Promise((next) => setTimeout(next, 400));
      return (await window()).join(' ') === framed.join(' ') ? framed : null;
    });
    expect(rest[0]).toBeLessThan(1);
    await cap(desk, 'Middle').click();
    await until('the full view', async () => (await window()).join(' ') === '0.5 0.5 1');
    await demo.close();
  });
});
