import { demoId } from '@umbek/core/demo';
import { browser, cap, openAt, openDesk, startBrowser } from '../e2e/support/browser';
import { freshDatabase } from '../e2e/support/database';
import { Demo, freshFolder, until } from '../e2e/support/demo';

const FOLDER = 'docs/screenshots';
/** Pictures, fonts and lamps settle in this time. */
const REST_MS = 900;

/** npm run shots: the main views from the demo show, at the sizes that the README shows. */
async function main(): Promise<void> {
  const demo = await Demo.start(await freshDatabase(), freshFolder());
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

  const INES = demoId('BTN', 7);
  for (const size of ['phone', 'wide'] as const) {
    const bench = await openAt(demo.url, size, '/bench');
    await bench.getByTestId(`edit-${INES}`).click();
    await bench.getByText(/^≈ /).waitFor();
    await bench.waitForTimeout(REST_MS);
    await bench.screenshot({ path: `${FOLDER}/bench-${size}.png` });
    if (size === 'phone') {
      await bench.getByTestId('add-steps').click();
      await bench.waitForTimeout(REST_MS);
      await bench.screenshot({ path: `${FOLDER}/steps-phone.png` });
    }
    await bench.close();
    const camera = await openAt(demo.url, size, '/rig/deskCam');
    await camera.getByRole('button', { name: 'Store as new' }).waitFor();
    await camera.waitForTimeout(REST_MS);
    await camera.screenshot({ path: `${FOLDER}/camera-${size}.png` });
    await camera.close();
    const log = await openAt(demo.url, size, '/log');
    await log.getByRole('button', { name: 'Slit open begins: open its run' }).first().waitFor();
    if (size === 'wide') await log.getByRole('button', { name: 'Slit open begins: open its run' }).first().click();
    await log.waitForTimeout(REST_MS);
    await log.screenshot({ path: `${FOLDER}/log-${size}.png` });
    await log.close();
  }
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

void main();
