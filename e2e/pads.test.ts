import { writeFileSync } from 'node:fs';
import AxeBuilder from '@axe-core/playwright';
import { createCanvas, loadImage } from '@napi-rs/canvas';
import type { ShowDocument } from '@umbek/core/show';
import { PadTelling, type StationsReply } from '@umbek/protocol';
import { ulid } from 'ulid';
import WebSocket from 'ws';
import { openAt, sizes, useBrowser } from './support/browser';
import { freshDatabase } from './support/database';
import { Demo, freshFolder, until } from './support/demo';
import { ExamplePad } from './support/examplePad';
import { say } from './support/room';

jest.setTimeout(120_000);
useBrowser();

let demo: Demo;
beforeAll(async () => (demo = await Demo.start(await freshDatabase(), freshFolder(), [], {})));
const pads: ExamplePad[] = [];
const start = (...args: string[]): ExamplePad => {
  const pad = ExamplePad.start('--url', `${demo.url.replace('http', 'ws')}/api/pad`, ...args);
  pads.push(pad);
  return pad;
};
afterEach(async () => {
  for (const pad of pads.splice(0)) await pad.kill();
});

const show = async (): Promise<ShowDocument> => (await (await fetch(`${demo.url}/api/show`)).json()) as ShowDocument;
const stations = async (): Promise<StationsReply> =>
  (await (await fetch(`${demo.url}/api/stations`)).json()) as StationsReply;
const effects = async (command: string): Promise<number> =>
  (await demo.standins.switcher.report()).effects.filter((effect) => effect.command === command).length;
const moving = async (): Promise<boolean> => (await demo.standins.deskCam.report()).points.travelling === true;
const place = async (serial: string, name: string | null): Promise<void> => {
  const station =
    name === null ? null : ((await show()).stations.find((candidate) => candidate.name === name)?.id ?? '');
  expect((await demo.post('/api/pads/place', { serial, station })).status).toBe(200);
};
const opens = async (name: string, panel: string): Promise<void> => {
  const { stations: all, panels } = await show();
  const station = all.find((candidate) => candidate.name === name);
  const to = panels.find((candidate) => candidate.name === panel)?.id;
  const changes = [{ entity: 'stations', id: station?.id, field: 'opensOn', from: station?.opensOn, to }];
  const edit = { editId: ulid(), label: 'First panel', by: 'test', changes };
  expect((await demo.post('/api/edits', edit)).status).toBe(200);
};

describe.each(sizes)('a pad with keys (%s)', (size) => {
  it('is found by its name on the keys, given a place, and presses, holds and lets go what its panel shows', async () => {
    const serial = `${size}-1`;
    const pad = start('--serial', serial, '--name', 'Left pad', '--grid', '8x4');
    await pad.shows(`${serial} has no place yet`);
    const page = await openAt(demo.url, size, '/rig?part=stations');
    const card = page.getByTestId(/^page-Left pad/);
    await card
      .getByText(`A pad of 8 × 4 keys, serial number ${serial}. It has no place yet`, { exact: false })
      .waitFor();
    await card.getByRole('button', { name: 'Which is it?' }).click();
    await pad.shows('>>> Left pad <<<');
    const { violations } = await new AxeBuilder({ page }).setLegacyMode(true).withTags(['wcag2a', 'wcag2aa']).analyze();
    expect(violations.map(({ id, nodes }) => `${id}: ${nodes[0]?.html}`)).toEqual([]);
    await card.getByRole('button', { name: 'Give it a place' }).click();
    await page.getByRole('button', { name: 'Phone', exact: true }).click();
    await page.getByText('The pad acts as Phone now, also when it is plugged in again.').waitFor();
    await page
      .getByTestId('station-Phone')
      .getByText('A pad of 8 × 4 keys is here, shows Main.', { exact: false })
      .waitFor();
    await pad.shows('acts as Phone');

    const charts = await pad.key('Star charts', 8, 4);
    const before = await effects('preview');
    pad.do(`press ${charts}`);
    await until('it is on preview', async () => (await effects('preview')) === before + 1);
    // Its lamp says so: a circle is next.
    await pad.shows(/○ Star charts/);

    // The same keys on the screen, at the same places, and they work.
    await page.getByRole('button', { name: 'Show the keys of Phone on this screen' }).click();
    const grid = page.getByTestId('key-grid');
    await grid.getByText('As a pad of 8 × 4 keys shows it, page 1 of 2').waitFor();
    const legends = await grid.locator('[data-testid^="cap-"]').evaluateAll((caps) => caps.map((cap) => cap.ariaLabel));
    const places = pad
      .screen(4)
      .slice(1, -1)
      .flatMap((line) => line.split('│').map((cell) => cell.slice(2).trim()));
    const named = places.filter((legend) => legend !== '' && legend !== 'More');
    expect(legends.map((label, at) => label?.startsWith(named[at] ?? '?'))).toEqual(named.map(() => true));
    await grid.getByRole('button', { name: /^Lawn cam,/ }).click();
    await pad.shows(/○ Lawn cam/);
    await grid.getByRole('button', { name: 'More' }).click();
    await grid.getByText('As a pad of 8 × 4 keys shows it, page 2 of 2').waitFor();
    await page.goto(`${demo.url}/rig?part=stations`);
    await page.getByRole('button', { name: 'Take the pad from here' }).click();
    await page.getByText('The pad does not act as Phone any more.').waitFor();
    await pad.shows('Give it a pl');
    pad.from();
    pad.do(`press ${charts}`);
    await pad.shows('Nothing stands on this key.');
    expect(await effects('preview')).toBe(before + 2);
  });
});

describe.each(sizes)('the keys of a pad (%s)', (size) => {
  it('are placed by hand: what changes places there, on the pad and in its likeness, with pages; and are laid out by strips again', async () => {
    const serial = `hand-${size}`;
    await place(serial, 'Gate room');
    await opens('Gate room', 'Main');
    const pad = start('--serial', serial, '--name', 'Hand pad', '--grid', '8x4');
    await pad.shows('acts as Gate room');
    const charts = await pad.key('Star charts', 8, 4);
    const page = await openAt(demo.url, size, '/rig?part=stations');
    await page.getByRole('button', { name: 'Place the keys of Gate room' }).click();
    const key = (row: number, column: number) =>
      page.getByRole('button', { name: `Key ${column} of row ${row}:`, exact: false });
    const at = (number: number) => key(Math.floor(number / 8) + 1, (number % 8) + 1);
    // As they are laid out by strips.
    expect(await at(charts).getAttribute('aria-label')).toMatch(/: Star charts$/);
    const { violations } = await new AxeBuilder({ page }).setLegacyMode(true).withTags(['wcag2a', 'wcag2aa']).analyze();
    expect(violations.map(({ id, nodes }) => `${id}: ${nodes[0]?.html}`)).toEqual([]);
    // Star charts and the last key of the first row change places.
    const before = await at(7).getAttribute('aria-label');
    await at(charts).click();
    await page.waitForTimeout(150);
    await at(7).click();
    await until('it is the last key of its row', async () => (await pad.key('Star charts', 8, 4)) === 7);
    expect((await at(charts).getAttribute('aria-label'))?.split(':')[1]).toBe(before?.split(':')[1]);
    const previews = await effects('preview');
    pad.do('press 7');
    await until('it is on preview', async () => (await effects('preview')) === previews + 1);
    // Another button on it, then nothing.
    await at(7).click();
    await page.getByRole('button', { name: 'Put a button on it' }).click();
    await page.getByRole('button', { name: 'Lawn cam', exact: true }).first().click();
    await until(
      'the pad shows it',
      async () => (await pad.key('Lawn cam', 8, 4)) === 7 || pad.screen(4)[1]?.includes('Lawn cam') === true,
    );
    await page.waitForTimeout(150);
    await at(7).click();
    await page.getByRole('button', { name: 'Leave it empty' }).click();
    await until('it is empty', async () => /: empty$/.test((await at(7).getAttribute('aria-label')) ?? ''));
    await page.getByRole('button', { name: 'Add a page' }).click();
    await page.getByRole('button', { name: 'Page 2 of the keys' }).waitFor();
    await page.getByRole('button', { name: 'Lay them out by strips' }).click();
    await until('as before', async () => (await pad.key('Star charts', 8, 4)) === charts);
    await page.getByRole('button', { name: 'Close', exact: true }).click();
    await place(serial, null);
    await opens('Gate room', 'Recording');
  });
});

it('a held key moves a head until it is lifted, and no longer than its pad is there', async () => {
  await demo.post('/api/steps/run', {
    name: 'Choose',
    steps: [{ id: 'c', kind: 'set', target: 'chosen.camera', to: 'deskCam' }],
    station: 'test',
  });
  const { buttons, strips, panels } = await show();
  const left = buttons.find(({ mode, legend }) => mode === 'hold' && legend === 'Left');
  const panel = panels.find(({ id }) => id === strips.find((strip) => strip.id === left?.stripId)?.panelId);
  await opens('Phone', panel?.name ?? '');
  await place('hold-1', 'Phone');
  const args = ['--serial', 'hold-1', '--grid', '16x8'];
  const pad = start(...args);
  const key = await pad.key('Left', 16, 8);
  pad.do(`down ${key}`);
  await until('the head moves', moving);
  await new Promise((next) => setTimeout(next, 800));
  expect(await moving()).toBe(true);
  pad.do(`up ${key}`);
  await until('the head stands', async () => !(await moving()));
  pad.do(`down ${key}`);
  await until('the head moves', moving);
  await pad.kill();
  await until('the head stands', async () => !(await moving()));
  // Plugged in again it has its place.
  const again = start(...args);
  await again.shows('acts as Phone');
  expect(await again.key('Left', 16, 8)).toBe(key);
});

it('two alike pads keep their places, also after the engine died', async () => {
  await opens('Phone', 'Main');
  await place('twin-a', 'Phone');
  await place('twin-b', 'Gate room');
  const [a, b] = [start('--serial', 'twin-a'), start('--serial', 'twin-b')];
  await a.shows('acts as Phone');
  await b.shows('acts as Gate room');
  const named = async (): Promise<unknown[]> =>
    (await stations()).flatMap(({ name, pad }) => (pad === undefined ? [] : [[name, pad.serial]]));
  expect(await named()).toEqual([
    ['Phone', 'twin-a'],
    ['Gate room', 'twin-b'],
  ]);
  a.from();
  process.kill(demo.supervisor.pid() ?? 0, 'SIGKILL');
  await a.shows('no contact');
  await a.shows('acts as Phone');
  await until('both are there', async () => (await named()).length === 2);
  expect(await named()).toEqual([
    ['Phone', 'twin-a'],
    ['Gate room', 'twin-b'],
  ]);
});

/** A pad written from docs/pad-protocol.md alone. */
async function ownPad(
  hello: object,
): Promise<{ tellings: PadTelling[]; say: (message: object) => void; socket: WebSocket }> {
  const socket = new WebSocket(`${demo.url.replace('http', 'ws')}/api/pad`);
  const tellings: PadTelling[] = [];
  socket.on('message', (data: Buffer) => void tellings.push(PadTelling.parse(JSON.parse(String(data)))));
  await new Promise<void>((open, failed) => socket.once('open', open).once('error', failed));
  const send = (message: object): void => socket.send(JSON.stringify(message));
  send({ type: 'hello', name: 'Own', serial: 'own-1', columns: 8, rows: 4, ...hello });
  return { tellings, say: send, socket };
}

it('a pad with displays is sent a picture of each cap, and a new one when its lamp changes', async () => {
  await opens('Phone', 'Main');
  await place('own-1', 'Phone');
  const press = async (legend: string): Promise<void> => {
    const buttonId = (await show()).buttons.find((button) => button.legend === legend)?.id ?? '';
    await demo.post('/api/press', { pressId: ulid(), buttonId, phase: 'down', station: 'hand' });
  };
  const charts = await effects('preview');
  await press('Star charts');
  await until('it is on preview', async () => (await effects('preview')) > charts);
  const { tellings, socket } = await ownPad({ protocol: 1, picture: { width: 120, height: 96 } });
  const caps = () => tellings.flatMap((message) => (message.type === 'caps' ? message.caps : []));
  // While the painter starts, a busy machine sends words first.
  const drawn = (): number => new Set(caps().flatMap(({ key, picture }) => (picture === undefined ? [] : [key]))).size;
  await until('all keys are drawn', () => Promise.resolve(drawn() === 32));
  const pictureOf = async (legend: string): Promise<{ size: number[]; head: string }> => {
    const cap = caps().findLast((candidate) => candidate.legend === legend && candidate.picture !== undefined);
    const image = await loadImage(Buffer.from(cap?.picture ?? '', 'base64'));
    const context = createCanvas(image.width, image.height).getContext('2d');
    context.drawImage(image, 0, 0);
    const [red, green, blue] = context.getImageData(image.width / 2, 3, 1, 1).data;
    return { size: [image.width, image.height], head: [red, green, blue].join(' ') };
  };
  const quiet = await pictureOf('Lawn cam');
  expect(quiet).toEqual({ size: [120, 96], head: '213 204 185' });
  tellings.length = 0;
  await press('Lawn cam');
  await until('it is next', () =>
    Promise.resolve(
      caps().some(
        ({ legend, lamp, picture }) => legend === 'Lawn cam' && lamp === 'onPreview' && picture !== undefined,
      ),
    ),
  );
  expect((await pictureOf('Lawn cam')).head).toBe('70 181 106');
  // Only what changed is sent.
  expect(new Set(caps().map(({ key }) => key)).size).toBeLessThan(10);
  socket.close();
});

it('a pad of an older protocol, of another site, or without a key in the room is told or refused', async () => {
  const { tellings, socket } = await ownPad({ protocol: 0 });
  await until('it is let go', () => Promise.resolve(socket.readyState === WebSocket.CLOSED));
  expect(tellings).toEqual([
    {
      type: 'error',
      code: 'pad-too-old',
      words: 'This pad speaks protocol 0, and Umbek speaks 1.',
      mend: 'Update the program of the pad.',
    },
  ]);
  const refused = (url: string, headers: Record<string, string> = {}): Promise<number> =>
    new Promise((answered) => {
      const asked = new WebSocket(url, { headers, rejectUnauthorized: false });
      asked.on('unexpected-response', (_request, response) => answered(response.statusCode ?? 0));
      asked.on('open', () => answered(101));
      asked.on('error', () => undefined);
    });
  const here = `${demo.url.replace('http', 'ws')}/api/pad`;
  expect(await refused(here, { origin: 'http://elsewhere.example' })).toBe(403);
  const room = `${(demo.supervisor.room[0] ?? '').replace('https', 'wss')}/api/pad`;
  expect(await refused(room)).toBe(401);
});

it('a pad of the room joins with six figures, and does what it was given', async () => {
  const room = demo.supervisor.room[0] ?? '';
  const folder = freshFolder();
  writeFileSync(`${folder}/umbek.crt`, (await say(`${room}/join/umbek.crt`)).text);
  const { code } = (await demo.post('/api/invitations', {})).body;
  await place('room-1', 'Phone');
  const args = [
    '--url',
    `${room.replace('https', 'wss')}/api/pad`,
    '--ca',
    `${folder}/umbek.crt`,
    '--serial',
    'room-1',
  ];
  const pad = start(...args, '--name', 'Wall pad', '--join', String(code), '--grid', '8x4');
  await pad.shows('Asked to be let in');
  const asking = async (): Promise<{ id: string; name: string }[]> =>
    ((await (await fetch(`${demo.url}/api/joining`)).json()) as { asking: { id: string; name: string }[] }).asking;
  const waiting = await until('it asks', async () => (await asking()).find(({ name }) => name === 'Wall pad'));
  const answered = await demo.post(`/api/joining/${waiting.id}`, {
    let: true,
    name: 'Wall pad',
    person: '',
    rights: ['see'],
  });
  expect(answered.status).toBe(200);
  await pad.shows('acts as Phone');
  const charts = await pad.key('Star charts', 8, 4);
  const before = await effects('preview');
  pad.do(`press ${charts}`);
  await pad.shows('This station may not operate.');
  const { joined } = (await (await fetch(`${demo.url}/api/joining`)).json()) as {
    joined: { id: string; name: string }[];
  };
  const id = joined.find(({ name }) => name === 'Wall pad')?.id ?? '';
  await demo.post(`/api/joined/${id}`, { name: 'Wall pad', person: 'Ada', rights: ['see', 'operate'] });
  pad.do(`press ${charts}`);
  await until('it is on preview', async () => (await effects('preview')) === before + 1);
  pad.from();
  await fetch(`${demo.url}/api/joined/${id}`, { method: 'DELETE' });
  await pad.shows('no contact');
});
