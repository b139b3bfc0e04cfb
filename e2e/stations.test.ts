import type { ShowDocument } from '@umbek/core/show';
import type { StationsReply } from '@umbek/protocol';
import type { Page } from 'playwright-core';
import { ulid } from 'ulid';
import { browser, freshDemo, openAt, SIZES, sizes, useBrowser } from './support/browser';
import { type Demo, until } from './support/demo';

jest.setTimeout(120_000);
useBrowser();

let demo: Demo;
beforeAll(async () => (demo = await freshDemo()));

const list = async (): Promise<StationsReply> =>
  (await (await fetch(`${demo.url}/api/stations`)).json()) as StationsReply;
const station = async (name: string): Promise<StationsReply[number] | undefined> =>
  (await list()).find((candidate) => candidate.name === name);
const panelId = async (name: string): Promise<string> => {
  const { panels } = (await (await fetch(`${demo.url}/api/show`)).json()) as { panels: { id: string; name: string }[] };
  return panels.find((panel) => panel.name === name)?.id ?? '';
};
const reached = (page: Page): Promise<void> => page.getByText(/^(\d+) of \1 reached$/).waitFor({ timeout: 20_000 });

/** A browser of its own that acts as a station: nothing else is remembered by it. */
async function actingAs(name: string, path = '/'): Promise<{ page: Page; close: () => Promise<void> }> {
  const context = await browser.newContext({ viewport: SIZES.wide });
  const page = await context.newPage();
  await page.goto(`${demo.url}/rig?part=stations`);
  await page.getByRole('button', { name: `Act as ${name} here` }).click();
  await page.getByText(`This page acts as ${name} now.`).waitFor();
  await page.goto(`${demo.url}${path}`);
  await reached(page);
  return { page, close: () => context.close() };
}

describe.each(sizes)('a station (%s)', (size) => {
  it('is added, opens on its panel, also after a reload, and offers its panels alone; undo takes it away', async () => {
    const page = await openAt(demo.url, size, '/rig?part=stations');
    await page.getByRole('button', { name: 'Add a station' }).click();
    await page.getByLabel('Name', { exact: true }).fill('Wall');
    await page.getByLabel('Where it stands').fill('by the door');
    await page.getByRole('button', { name: 'Opens on Recording' }).click();
    await page.getByRole('checkbox', { name: 'May show Recording' }).click();
    await page.getByRole('checkbox', { name: 'May show Routing' }).click();
    const card = page.getByTestId('station-Wall');
    await card.getByText('Wall · by the door').waitFor();
    await card
      .getByText(
        /^Nobody acts as it\. Opens on Recording\. Shows (Recording, Routing|Routing, Recording)\. Shares what is chosen with Phone, Moments pad\.$/,
      )
      .waitFor();
    await page.getByRole('button', { name: 'Act as Wall here' }).click();
    await card.getByText(/^Here, off the Desk\./).waitFor();
    for (const _round of [1, 2]) {
      await page.goto(demo.url);
      await reached(page);
      await until('it shows its panel', async () => (await station('Wall'))?.panel === (await panelId('Recording')));
      expect(await station('Wall')).toMatchObject({ present: true, linkGroup: 'main', pages: 1 });
    }
    // A panel that it may not show is not shown, whatever the address says.
    await page.goto(`${demo.url}/?panel=${await panelId('Main')}`);
    await reached(page);
    await until('it shows its panel', async () => (await station('Wall'))?.panel === (await panelId('Recording')));
    // Its first panel goes: it opens on the other one.
    await page.goto(`${demo.url}/rig?part=stations`);
    await page.getByRole('button', { name: 'Change Wall' }).click();
    await page.getByRole('checkbox', { name: 'May show Recording' }).click();
    await card.getByText(/Opens on Routing\. Shows Routing\./).waitFor();
    await page.getByRole('button', { name: 'Remove Wall' }).click();
    await page.getByRole('button', { name: 'Remove it' }).click();
    await card.waitFor({ state: 'detached' });
    await page.getByText('It acts as no station of the show.').waitFor();
    // The page shows its edit before the engine has it.
    await until('it is gone', async () => (await station('Wall')) === undefined);
  });
});

describe('stations', () => {
  it('of one link group share what is chosen, and others do not; a station that changes its group goes along', async () => {
    const cameras = `/?panel=${await panelId('Cameras')}`;
    const [left, right, phone] = [
      await actingAs('Dome left', cameras),
      await actingAs('Dome right', cameras),
      await actingAs('Phone', cameras),
    ];
    const chosenOn = (page: Page, name: string) =>
      page.getByRole('button', { name: new RegExp(`^${name}.*chosen`) }).first();
    await left.page
      .getByRole('button', { name: /^Dome cam/ })
      .first()
      .click();
    await chosenOn(left.page, 'Dome cam').waitFor();
    await chosenOn(right.page, 'Dome cam').waitFor();
    expect(await chosenOn(phone.page, 'Dome cam').count()).toBe(0);
    const desk = await openAt(demo.url, 'wide', '/rig?part=stations');
    await desk.getByRole('button', { name: 'Change Phone' }).click();
    await desk
      .getByRole('group', { name: 'Link group' })
      .getByText(/^dome \(/)
      .click();
    await chosenOn(phone.page, 'Dome cam').waitFor();
    expect(await station('Phone')).toMatchObject({ linkGroup: 'dome', present: true });
    await desk.getByRole('button', { name: 'Undo' }).click();
    await until('back', async () => (await station('Phone'))?.linkGroup === 'main');
    for (const { close } of [left, right, phone]) await close();
  });

  it('a panel that is cut loose there has a choice of its own, on the panel alone; a part of a panel is shown where the rest stands elsewhere', async () => {
    const cameras = `/?panel=${await panelId('Cameras')}`;
    const [left, right] = [await actingAs('Dome left', cameras), await actingAs('Dome right', cameras)];
    const chosenOn = (page: Page, name: string) =>
      page.getByRole('button', { name: new RegExp(`^${name}.*chosen`) }).first();
    const desk = await openAt(demo.url, 'phone', '/rig?part=stations');
    const card = desk.getByTestId('station-Dome left');
    await card.getByRole('button', { name: 'Change Dome left' }).click();
    await card.getByRole('button', { name: 'Cut a panel loose' }).click();
    await desk.getByRole('button', { name: 'Cameras', exact: true }).last().click();
    await card.getByText(/Cut loose: Cameras\./).waitFor();
    await left.page.getByText('Cameras (loose)', { exact: true }).first().waitFor();
    await left.page
      .getByRole('button', { name: /^Dome cam/ })
      .first()
      .click();
    await chosenOn(left.page, 'Dome cam').waitFor();
    await right.page
      .getByRole('button', { name: /^Lawn cam/ })
      .first()
      .click();
    await chosenOn(right.page, 'Lawn cam').waitFor();
    expect(await chosenOn(right.page, 'Dome cam').count()).toBe(0);
    expect(await chosenOn(left.page, 'Lawn cam').count()).toBe(0);
    // On another panel it is one of its group again, and back it has what was chosen there.
    await left.page.goto(`${demo.url}/?panel=${await panelId('Routing')}`);
    await reached(left.page);
    await left.page.getByText('Cameras (loose)', { exact: true }).first().click();
    await chosenOn(left.page, 'Dome cam').waitFor();
    // Whole again while it is shown: it has what its group chose.
    await card.getByRole('checkbox', { name: 'Cameras is cut loose' }).click();
    await chosenOn(left.page, 'Lawn cam').waitFor();

    const { strips } = (await (await fetch(`${demo.url}/api/show`)).json()) as ShowDocument;
    const panel = await panelId('Cameras');
    const names = strips.filter((strip) => strip.panelId === panel).map(({ name }) => name);
    await card.getByRole('button', { name: 'Part of a panel' }).click();
    await desk.getByRole('button', { name: 'Cameras', exact: true }).last().click();
    for (const name of names.slice(1))
      await card.getByRole('checkbox', { name: `Shows the strip ${name}`, exact: true }).click();
    await card.getByText(/Shows a part of Cameras\./).waitFor();
    // The last one stays: nothing at all would be no part.
    await card.getByRole('checkbox', { name: `Shows the strip ${names[0]}`, exact: true }).click();
    const caps = (page: Page) => page.locator('[data-testid^="cap-"]');
    const all = await caps(right.page).count();
    await until('it shows a part', async () => {
      const shown = await caps(left.page).count();
      return shown > 0 && shown < all;
    });
    await card.getByRole('button', { name: 'Show all of Cameras' }).click();
    await until('it shows all', async () => (await caps(left.page).count()) === all);
    for (const { close } of [left, right]) await close();
  });

  it('are sent to another panel and found by a flash, from anywhere', async () => {
    const { page, close } = await actingAs('Gate room');
    await until('it shows its panel', async () => (await station('Gate room'))?.panel === (await panelId('Recording')));
    const desk = await openAt(demo.url, 'phone', '/rig?part=stations');
    const card = desk.getByTestId('station-Gate room');
    await card.getByText(/^Here, shows Recording\./).waitFor();
    await card.getByRole('button', { name: 'Show a panel there' }).click();
    await desk.getByPlaceholder('Search').fill('Routing');
    await desk.getByRole('button', { name: 'Routing' }).last().click();
    await until('it shows another', async () => (await station('Gate room'))?.panel === (await panelId('Routing')));
    await card.getByText(/^Here, shows Routing\./).waitFor();
    await card.getByRole('button', { name: 'Which is it?' }).click();
    await page.getByTestId('flash').getByText('Gate room').waitFor();
    await page.getByTestId('flash').waitFor({ state: 'detached' });
    await close();
    await until('it is gone', async () => (await station('Gate room'))?.present === false);
    const gone = await demo.post(`/api/stations/${(await station('Gate room'))?.id ?? ''}/flash`, {});
    expect(gone).toMatchObject({ status: 404, body: { message: 'Nothing acts as this station now.' } });
  });
});

it('a station tells its battery and what its browser lacks, where the browser does', async () => {
  const context = await browser.newContext({ viewport: SIZES.phone, hasTouch: true });
  await context.addInitScript(`
    const battery = Object.assign(new EventTarget(), { level: 0.6, charging: true });
    navigator.getBattery = () => Promise.resolve(battery);
    window.unplug = () => { battery.level = 0.17; battery.charging = false; battery.dispatchEvent(new Event('chargingchange')); };
    Object.defineProperty(Navigator.prototype, 'requestMIDIAccess', { value: undefined });
    delete Navigator.prototype.requestMIDIAccess;
  `);
  const page = await context.newPage();
  await page.goto(demo.url);
  await reached(page);
  await page.getByRole('button', { name: 'This station' }).tap();
  await page.getByLabel('Station', { exact: true }).fill('Battery phone');
  await page.getByRole('button', { name: 'Save', exact: true }).tap();
  const desk = await openAt(demo.url, 'wide', '/rig?part=stations');
  const card = desk.getByTestId('page-Battery phone');
  await card.getByText(/^Battery at 60 %, charging\. It cannot .*hear MIDI\.$/).waitFor();
  await page.evaluate(() => (window as unknown as { unplug(): void }).unplug());
  await card.getByText(/^Battery at 17 %, not charging\./).waitFor();
  expect((await station('Battery phone'))?.battery).toEqual({ percent: 17, charging: false });
  await context.close();
});

it('two stations share a destination: chosen on one, it is lit on the other, which routes a source to it', async () => {
  const [left, right] = [await actingAs('Dome left'), await actingAs('Dome right')];
  const { buttons, strips } = (await (await fetch(`${demo.url}/api/show`)).json()) as ShowDocument;
  const cap = (page: Page, strip: string, legend: string) => {
    const stripId = strips.find(({ name }) => name === strip)?.id;
    const id = buttons.find((button) => button.stripId === stripId && button.legend === legend)?.id;
    return page.getByTestId(`cap-${id}`);
  };
  const out4 = async () => (await demo.standins.exchange.report()).points.out4;
  // Nothing is chosen yet: nothing is routed, and it is said why.
  await cap(right.page, 'Goes there', 'Slides').click();
  await cap(right.page, 'Goes there', 'Slides')
    .getByText(/Nothing is chosen as destination/)
    .waitFor();
  expect(await out4()).not.toBe(6);
  await cap(left.page, 'Destination', 'Gate wall').click();
  await until(
    'it is lit on the other',
    async () => (await cap(right.page, 'Destination', 'Gate wall').getAttribute('data-lamp')) === 'chosen',
  );
  await cap(right.page, 'Goes there', 'Slides').click();
  await until('it is routed', async () => (await out4()) === 6);
  await until(
    'the first station sees it',
    async () => (await cap(left.page, 'Goes there', 'Slides').getAttribute('data-lamp')) === 'chosen',
  );
  await left.close();
  await right.close();
});

it('of a show with many panels, those of a station are searched', async () => {
  const { panels } = (await (await fetch(`${demo.url}/api/show`)).json()) as ShowDocument;
  const [first] = panels;
  const more = Array.from({ length: 10 }, (_none, at) => ({
    ...first,
    id: ulid(),
    name: `More ${at}`,
    order: `z${at}`,
  }));
  const edit = async (there: boolean): Promise<void> => {
    const changes = more.map((panel) => ({
      entity: 'panels',
      id: panel.id,
      field: '*',
      from: there ? null : panel,
      to: there ? panel : null,
    }));
    expect((await demo.post('/api/edits', { editId: ulid(), label: 'Panels', by: 'test', changes })).status).toBe(200);
  };
  await edit(true);
  const page = await openAt(demo.url, 'phone', '/rig?part=stations');
  await page.getByRole('button', { name: 'Change Gate room' }).click();
  await page.getByRole('button', { name: 'A panel', exact: true }).click();
  await page.getByRole('button', { name: 'More 3', exact: true }).click();
  await page.keyboard.press('Escape');
  const card = page.getByTestId('station-Gate room');
  await card.getByText(/Opens on More 3\. Shows More 3\./).waitFor();
  await page.getByRole('checkbox', { name: 'All panels' }).click();
  await page.getByRole('button', { name: 'Another panel' }).click();
  await page.getByRole('button', { name: 'More 7', exact: true }).click();
  await card.getByText(/Opens on More 7\. Shows all panels\./).waitFor();
  await edit(false);
});

it('of two hands on one head the later one has it: it moves on, the earlier cap says who took it, and both fingers may lift', async () => {
  const { buttons, strips, panels } = (await (await fetch(`${demo.url}/api/show`)).json()) as ShowDocument;
  const left = buttons.find(({ mode, legend }) => mode === 'hold' && legend === 'Left');
  const panel = panels.find(({ id }) => id === strips.find((strip) => strip.id === left?.stripId)?.panelId);
  await demo.post('/api/steps/run', {
    name: 'Choose',
    steps: [{ id: 'c', kind: 'set', target: 'chosen.camera', to: 'deskCam' }],
    station: 'test',
  });
  const moving = async () => (await demo.standins.deskCam.report()).points.travelling === true;
  const [early, late] = [
    await openAt(demo.url, 'wide', `/?panel=${panel?.id}`),
    await openAt(demo.url, 'wide', `/?panel=${panel?.id}`),
  ];
  const on = async (page: Page): Promise<void> => {
    const cap = page.getByTestId(`cap-${left?.id}`);
    await cap.hover();
    await page.mouse.down();
  };
  await on(early);
  await until('the head moves', moving);
  await on(late);
  await early
    .getByTestId(`cap-${left?.id}`)
    .getByText(/has Desk cam now\.$/)
    .waitFor();
  await early
    .getByTestId('last-run')
    .getByText(/Left .* has Desk cam now\./)
    .waitFor();
  await late
    .getByTestId('last-run')
    .getByText(/Left You took Desk cam from /)
    .waitFor();
  await early.mouse.up();
  await early.waitForTimeout(700);
  // The earlier finger has lifted, and the later one still moves it.
  expect(await moving()).toBe(true);
  await late.mouse.up();
  await until('the head stands', async () => !(await moving()));
});
