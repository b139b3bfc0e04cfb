import { demoId } from '@umbek/demo';
import { stripOffers, stripsMade } from '@umbek/core/programming';
import { applyEdit, type ShowDocument } from '@umbek/core/show';
import type { Locator, Page } from 'playwright-core';
import { browser, SIZES } from '../e2e/support/browser';
import { type Demo, until } from '../e2e/support/demo';
import { Hand } from '../e2e/support/hand';
import { startStandin } from './machines';
import { type BenchRow, row } from './result';

const SIDE = 150;
/** Routes whose ends stand near and far in both lists: what has to be scrolled to costs a touch more. */
const ROUTES = [
  [2, 3],
  [4, SIDE - 1],
  [SIDE - 2, 5],
  [SIDE, SIDE],
] as const;

/** A browser of its own, as on another table. */
async function stationAt(url: string, path: string): Promise<Page> {
  const context = await browser.newContext({ viewport: SIZES.wide, hasTouch: true });
  const page = await context.newPage();
  await page.goto(`${url}${path}`);
  return page;
}

/** What two stations of one room cost in touches: to share what is chosen, and to route by it. */
export async function twoStations(demo: Demo): Promise<BenchRow[]> {
  return [await sharing(demo), await routing(demo)];
}

async function sharing(demo: Demo): Promise<BenchRow> {
  const pages = [
    await stationAt(demo.url, '/rig?part=stations'),
    await stationAt(demo.url, '/rig?part=stations'),
  ] as const;
  const [left, right] = [new Hand(pages[0]), new Hand(pages[1])];
  await left.button('Act as Dome left here');
  await right.button('Act as Phone here');
  await right.button('Change Phone');
  await right.tap(pages[1].getByRole('group', { name: 'Link group' }).getByText(/^dome \(/));
  await until('they share', async () => {
    const all = (await (await fetch(`${demo.url}/api/stations`)).json()) as { name: string; linkGroup: string }[];
    return (
      new Set(all.flatMap(({ name, linkGroup }) => (/^(Dome left|Phone)$/.test(name) ? [linkGroup] : []))).size === 1
    );
  });
  for (const page of pages) await page.context().close();
  return row('Touches: two stations share what is chosen', 'touches', left.touches + right.touches, 4, 1);
}

/** What the router tells of itself. */
const points = async (demo: Demo): Promise<Readonly<Record<string, unknown>>> =>
  ((await (await fetch(`${demo.url}/api/devices/exchange/points`)).json()) as { points: Record<string, unknown> })
    .points;

/** A router of 150 by 150 whose destinations stand on one station and whose sources on another, by its ready-made strips. */
async function routing(demo: Demo): Promise<BenchRow> {
  const file = (await (await fetch(`${demo.url}/api/show/file`)).json()) as { document: ShowDocument };
  const { document } = file;
  const size = { destinations: SIDE, sources: SIDE };
  const standin = await startStandin('router', size);
  const [panel, other] = [demoId('PAN', 91), demoId('PAN', 92)];
  const bare: ShowDocument = {
    ...document,
    devices: document.devices.map((device) =>
      device.kind === 'router' ? { ...device, port: standin.port, settings: { ...device.settings, ...size } } : device,
    ),
    panels: [panel, other].map((id, at) => ({ id, name: `Router ${at + 1}`, order: `a${at}`, pages: [] })),
    strips: [],
    buttons: [],
    stations: [],
    shortcuts: [],
  };
  const offer = stripOffers(bare).filter(({ words }) => words === 'Choose a destination, then what goes there');
  let count = 0;
  const made = applyEdit(bare, { changes: stripsMade(bare, panel, offer, () => demoId('NEW', (count += 1))).changes });
  if (!made.ok) throw new Error('The strips were refused.');
  const strips = made.value.strips.map((strip) => (strip.name === 'Goes there' ? { ...strip, panelId: other } : strip));
  const { status, body } = await demo.post('/api/show', { ...file, document: { ...made.value, strips } });
  if (status !== 200) throw new Error(`The show was refused: ${JSON.stringify(body).slice(0, 300)}`);
  await until('the router is reached', async () =>
    (await demo.health()).devices.some(({ key, state }) => key === 'exchange' && state === 'reached'),
  );
  const pages = [await stationAt(demo.url, `/?panel=${panel}`), await stationAt(demo.url, `/?panel=${other}`)] as const;
  const capOf = (page: Page, strip: string, legend: string): Locator => {
    const stripId = strips.find(({ name }) => name === strip)?.id;
    const id = made.value.buttons.find((button) => button.stripId === stripId && button.legend === legend)?.id;
    return page.getByTestId(`cap-${id ?? ''}`);
  };
  let touches = 0;
  const touch = async (cap: Locator): Promise<void> => {
    await cap.waitFor();
    const box = await cap.boundingBox();
    if (box !== null && (box.y < 0 || box.y + box.height > SIZES.wide.height)) touches += 1;
    await cap.tap();
    touches += 1;
  };
  for (const [destination, source] of ROUTES) {
    // Each route begins at the top of both lists.
    for (const page of pages)
      await page.evaluate(() => window.document.querySelectorAll('*').forEach((element) => (element.scrollTop = 0)));
    await touch(capOf(pages[0], 'Destination', `Destination ${destination}`));
    await touch(capOf(pages[1], 'Goes there', `Source ${source}`));
    await until(`source ${source} at ${destination}`, async () => (await points(demo))[`out${destination}`] === source);
  }
  for (const page of pages) await page.context().close();
  standin.process.kill('SIGTERM');
  const what = `Touches: a route of a router of ${SIDE} × ${SIDE} on two stations, scrolling counted (mean of ${ROUTES.length})`;
  return row(what, 'touches', touches / ROUTES.length, 3, 1);
}
