import { demoId } from '@umbek/demo';
import { ulid } from 'ulid';
import { browser, cap, openAt, openDesk, startBrowser } from '../e2e/support/browser';
import { freshDatabase } from '../e2e/support/database';
import { Demo, freshFolder, until } from '../e2e/support/demo';

const FOLDER = 'docs/screenshots';
/** Pictures, fonts and lamps settle in this time. */
const REST_MS = 900;

/** npm run shots: the main views from the demo show, at the sizes that the README shows. */
async function main(): Promise<void> {
  const demo = await Demo.start(await freshDatabase(), freshFolder(), [], {});
  await startBrowser();
  const wide = await openDesk(demo.url, 'wide');
  const phone = await openDesk(demo.url, 'phone');
  await cap(phone, 'Meteor +1').click();
  await cap(phone, 'Count board').click();
  await cap(phone, 'Ines close').first().click();
  await phone.locator(`[data-testid="cap-${demoId('BTN', 7)}"][data-lamp="onAir"]`).waitFor();
  await cap(phone, 'Lawn cam').click();
  await cap(phone, 'Slit open').first().click();
  await phone.getByTestId('running').waitFor();
  await wide.getByTestId('running').waitFor();
  await phone.mouse.move(200, 500);
  await phone.mouse.wheel(0, -2000);
  await phone.waitForTimeout(400);
  await phone.screenshot({ path: `${FOLDER}/desk-phone.png` });
  await wide.screenshot({ path: `${FOLDER}/desk-wide.png` });
  await until('nothing runs', async () => (await demo.runs()).length === 0);
  await phone.setViewportSize({ width: 844, height: 390 });
  await phone.waitForTimeout(REST_MS);
  await phone.screenshot({ path: `${FOLDER}/desk-sideways.png` });

  const stations = await openAt(demo.url, 'wide', '/rig?part=stations');
  await stations.getByRole('button', { name: 'Let a device in' }).click();
  await stations.getByTestId('invitation').waitFor();
  await stations.waitForTimeout(REST_MS);
  await stations.screenshot({ path: `${FOLDER}/stations-wide.png` });
  await stations.close();

  const INES = demoId('BTN', 7);
  for (const size of ['phone', 'wide'] as const) {
    const bench = await openAt(demo.url, size, '/bench');
    await bench.getByTestId(`edit-${INES}`).click();
    await bench.getByText(/^about /).waitFor();
    await bench.waitForTimeout(REST_MS);
    await bench.screenshot({ path: `${FOLDER}/bench-${size}.png` });
    if (size === 'phone') {
      const counting = await openAt(demo.url, size, '/bench');
      await counting.getByRole('button', { name: 'Edit Desk cam' }).first().click();
      await counting.getByRole('button', { name: 'Count up' }).click();
      await counting.waitForTimeout(REST_MS);
      await counting.screenshot({ path: `${FOLDER}/count-up-phone.png` });
      await counting.close();
      const strips = await openAt(demo.url, size, '/bench');
      await strips.getByRole('button', { name: 'Add strips' }).click();
      await strips.getByRole('button', { name: /^Sources to preview/ }).click();
      await strips.waitForTimeout(REST_MS);
      await strips.screenshot({ path: `${FOLDER}/strips-phone.png` });
      await strips.close();
    }
    await bench.close();
    const camera = await openAt(demo.url, size, '/rig/deskCam');
    await camera.getByRole('button', { name: 'Store as new' }).waitFor();
    await camera.waitForTimeout(REST_MS);
    if (size === 'phone') await camera.screenshot({ path: `${FOLDER}/camera-${size}.png` });
    await camera.close();
    const log = await openAt(demo.url, size, '/log');
    await log
      .getByRole('button', { name: /^Pressed Slit open.*: open its run$/ })
      .first()
      .waitFor();
    if (size === 'wide')
      await log
        .getByRole('button', { name: /^Pressed Slit open.*: open its run$/ })
        .first()
        .click();
    await log.waitForTimeout(REST_MS);
    await log.screenshot({ path: `${FOLDER}/log-${size}.png` });
    await log.close();
  }
  const profile = await openAt(demo.url, 'phone', '/rig/profiles/houseLights');
  await profile.getByRole('button', { name: 'Set the level of an area' }).click();
  await profile.waitForTimeout(REST_MS);
  await profile.screenshot({ path: `${FOLDER}/profile-phone.png` });
  await profile.close();

  const sources = await openAt(demo.url, 'phone', '/rig');
  await sources.getByText('Sources', { exact: true }).click();
  await sources.getByRole('button', { name: 'Source Roof cam' }).click();
  await sources.getByRole('button', { name: 'Recall Radiant' }).click();
  await sources.getByRole('button', { name: 'Recall Radiant, here' }).scrollIntoViewIfNeeded();
  await sources.waitForTimeout(REST_MS);
  await sources.screenshot({ path: `${FOLDER}/reframe-phone.png` });
  await sources.getByRole('button', { name: 'Full view again' }).click();
  await sources.close();

  await demo.post(`/api/triggers/${demoId('TRG', 1)}/arm`, { armed: true });
  await demo.post('/api/send', {
    pressId: ulid(),
    phase: 'down',
    station: 'Desk 1',
    device: 'switcher',
    command: 'program',
    params: { source: 'roofCam' },
  });
  const triggers = await openAt(demo.url, 'phone', '/bench?list=triggers');
  await triggers.getByText('active', { exact: true }).waitFor();
  // Who talks, below.
  await demo.post(`/api/triggers/${demoId('TRG', 4)}/arm`, { armed: true });
  await triggers.mouse.move(195, 500);
  await triggers.mouse.wheel(0, 2000);
  await triggers.getByRole('meter').first().waitFor();
  await triggers.waitForTimeout(REST_MS);
  await triggers.screenshot({ path: `${FOLDER}/triggers-phone.png` });
  await triggers.close();
  for (const rule of [1, 4]) await demo.post(`/api/triggers/${demoId('TRG', rule)}/arm`, { armed: false });

  const macros = await openAt(demo.url, 'wide', '/bench?list=macros');
  await macros.getByRole('button', { name: /^Macro 2 Meteor!/ }).click();
  await macros.getByRole('radio', { name: 'Rehearsal' }).click();
  await macros.getByTestId('at-this-moment').waitFor();
  // To where the meteor is seen again.
  for (let step = 0; step < 8; step += 1) await macros.getByRole('button', { name: 'Next step' }).click();
  await macros.waitForTimeout(REST_MS);
  await macros.screenshot({ path: `${FOLDER}/macros-wide.png` });
  await macros.close();

  // Enough ways of the slow head that it is learned; off air, where moving asks nothing.
  await send(demo, 'switcher', 'program', { source: 'roofCam' });
  for (const place of [
    { pan: 60, tilt: 20, zoom: 4 },
    { pan: -40, tilt: 50, zoom: 1 },
    { pan: 90, tilt: 0, zoom: 8 },
    { pan: 9, tilt: 36, zoom: 2.4 },
    { pan: -60, tilt: 12, zoom: 5 },
    { pan: 9, tilt: 36, zoom: 2.4 },
    { pan: -60, tilt: 12, zoom: 5 },
  ]) {
    const arrivals = await measured(demo);
    await send(demo, 'domeCam', 'goTo', place);
    await until('it was measured', async () => (await measured(demo)) > arrivals, 20_000).catch(() => undefined);
  }
  const ways = await openAt(demo.url, 'wide', '/rig/domeCam');
  await ways.getByRole('img', { name: /^Times of the last/ }).scrollIntoViewIfNeeded();
  await ways.waitForTimeout(REST_MS);
  await ways.screenshot({ path: `${FOLDER}/travel-wide.png` });
  await ways.close();

  const caps = await openAt(demo.url, 'wide', '/caps');
  await caps.waitForTimeout(REST_MS);
  await caps.screenshot({ path: `${FOLDER}/caps-wide.png` });

  await demo.standins.domeCam.stop();
  const rig = await openAt(demo.url, 'phone', '/rig');
  await rig.getByText(/Dome cam at .* does not answer/).waitFor();
  await rig.waitForTimeout(REST_MS);
  await rig.screenshot({ path: `${FOLDER}/rig-phone.png` });
  await phone.setViewportSize({ width: 390, height: 844 });
  await phone.getByTestId('fault').waitFor();
  await phone.waitForTimeout(REST_MS);
  await phone.screenshot({ path: `${FOLDER}/desk-silent-phone.png` });
  await browser.close();
  await demo.close();
  process.exit(0);
}

async function send(demo: Demo, device: string, command: string, params: object): Promise<void> {
  const pressId = ulid();
  for (const phase of ['down', 'up'])
    await demo.post('/api/send', { pressId, phase, device, command, params, station: 'shots' });
}

/** How many recalls of the dome's head were measured. */
const measured = async (demo: Demo): Promise<number> =>
  ((await (await fetch(`${demo.url}/api/devices/domeCam/travel`)).json()) as { lines: unknown[] }).lines.length;

void main();
