import AxeBuilder from '@axe-core/playwright';
import { demoId } from '@umbek/demo';
import type { BrowserContext, Page } from 'playwright-core';
import { serveStandin } from '@umbek/standins';
import { ulid } from 'ulid';
import WebSocket from 'ws';
import { browser, openAt, SIZES, useBrowser } from './support/browser';
import { freshDatabase } from './support/database';
import { Demo, freshFolder, until } from './support/demo';
import { keyOf, say, withKey } from './support/room';
import { RoomProxy } from './support/roomProxy';

jest.setTimeout(120_000);
useBrowser();

const STAR_CHARTS = demoId('BTN', 5);
let demo: Demo;
const proxies: RoomProxy[] = [];
const contexts: BrowserContext[] = [];

beforeAll(async () => {
  demo = await Demo.start(await freshDatabase(), freshFolder(), [], {});
});
afterEach(async () => {
  for (const context of contexts.splice(0)) await context.close();
});
afterAll(async () => {
  for (const proxy of proxies) await proxy.close();
});

/** Another machine of the room, at an address of its own. */
async function machine(address: string): Promise<RoomProxy> {
  const proxy = await RoomProxy.open(address, demo.supervisor.room[0] ?? '');
  proxies.push(proxy);
  return proxy;
}

const effects = async (command: string): Promise<number> =>
  (await demo.standins.switcher.report()).effects.filter((effect) => effect.command === command).length;

async function phoneAt(proxy: RoomProxy, path: string): Promise<Page> {
  const context = await browser.newContext({
    viewport: SIZES.phone,
    hasTouch: true,
    ignoreHTTPSErrors: true,
  });
  contexts.push(context);
  const page = await context.newPage();
  await page.goto(`${proxy.url}${path}`);
  return page;
}

const joined = async (): Promise<{ id: string; name: string; present: number; note: string }[]> =>
  ((await (await fetch(`${demo.url}/api/joining`)).json()) as { joined: never[] }).joined;

describe('an open door without a key', () => {
  it('shows the join page and nothing else', async () => {
    const guest = await machine('127.0.0.11');
    for (const path of ['/api/health', '/api/show', '/api/openapi.json', '/api/nothing', '/api/joining', '/api/tokens'])
      expect(await say(`${guest.url}${path}`)).toMatchObject({ status: 401, body: { code: 'not-joined' } });
    for (const path of ['/api/press', '/api/edits', '/api/stop-all', '/api/invitations', '/api/show'])
      expect(await say(`${guest.url}${path}`, { method: 'POST', body: {} })).toMatchObject({ status: 401 });
    for (const path of ['/', '/bench', '/rig/deskCam'])
      expect(await say(`${guest.url}${path}`)).toMatchObject({ status: 303, headers: { location: '/join' } });
    for (const path of [
      '/fonts/plex-700-latin.woff2',
      '/index.html',
      '/metadata.json',
      '/_expo/static/js/web/entry.js',
    ])
      expect((await say(`${guest.url}${path}`)).status).toBe(401);
    const join = await say(`${guest.url}/join`);
    expect(join.status).toBe(200);
    expect(join.text).toContain('Six figures');
    expect(join.text).not.toContain('Corvane');
    const socket = new WebSocket(`${guest.url.replace('https', 'wss')}/api/live`, { rejectUnauthorized: false });
    const refused = await new Promise<string>((messages) => socket.once('error', (error) => messages(error.message)));
    expect(refused).toContain('401');
    // A token of gear is no key of a station, and a made-up key is none.
    expect((await say(`${guest.url}/api/health`, { headers: withKey('x'.repeat(43)) })).status).toBe(401);
  });

  it('gear comes in with its token for what that may run, and not for more', async () => {
    const gear = await machine('127.0.0.12');
    const { token } = (
      await demo.post('/api/tokens', { id: ulid(), name: 'Sound desk', may: [{ button: STAR_CHARTS }] })
    ).body;
    const before = await effects('preview');
    const run = await say(`${gear.url}/api/run`, {
      method: 'POST',
      body: { button: STAR_CHARTS },
      headers: withKey(String(token)),
    });
    expect(run.status).toBe(202);
    await until('the switcher was told', async () => (await effects('preview')) > before);
    expect((await say(`${gear.url}/api/health`, { headers: withKey(String(token)) })).status).toBe(401);
  });

  it('guessing figures: none is in, the guesser is locked out also with the right ones, and another machine joins meanwhile', async () => {
    const [guesser, other] = [await machine('127.0.0.13'), await machine('127.0.0.14')];
    const invitation = (await demo.post('/api/invitations', {})).body;
    const right = String(invitation.code);
    const codes: unknown[] = [];
    for (let guess = 0; guess < 40; guess += 1) {
      const code = String((Number(right) + 1 + guess) % 1_000_000).padStart(6, '0');
      codes.push((await say(`${guesser.url}/api/join`, { method: 'POST', body: { code, name: 'Guess' } })).body.code);
    }
    expect(codes.filter((code) => code === 'wrong-code').length).toBeLessThanOrEqual(6);
    expect(codes.every((code) => code === 'wrong-code' || code === 'slow-down')).toBe(true);
    expect(
      (await say(`${guesser.url}/api/join`, { method: 'POST', body: { code: right, name: 'Guess' } })).status,
    ).toBe(429);
    const asked = await say(`${other.url}/api/join`, { method: 'POST', body: { code: right, name: 'Honest' } });
    expect(asked.status).toBe(202);
    // Used once, they are good for nothing.
    const again = await say(`${other.url}/api/join`, { method: 'POST', body: { code: right, name: 'Twice' } });
    expect(again).toMatchObject({ status: 403, body: { code: 'wrong-code' } });
    await demo.post(`/api/joining/${String(asked.body.id)}`, { let: false });
    const waited = await say(`${other.url}/api/join/wait`, {
      method: 'POST',
      body: { id: asked.body.id, secret: asked.body.secret },
    });
    expect(waited.body).toEqual({ state: 'refused' });
    expect(await joined()).toEqual([]);
  });
});

describe('a phone', () => {
  it('joins in four touches by the QR code, operates, is refused what it may not, and is sent away', async () => {
    const guest = await machine('127.0.0.21');
    const desk = await openAt(demo.url, 'wide', '/');
    await desk.getByRole('button', { name: 'This station' }).click();
    await desk.getByRole('button', { name: 'Let a device in' }).click();
    const code = (await desk.getByTestId('invitation-code').getAttribute('aria-label'))?.replaceAll(' ', '') ?? '';
    expect(code).toMatch(/^\d{6}$/);
    // What the camera reads stands in the code alone; figures typed into the same page are the other way.
    const phone = await phoneAt(guest, '/');
    await phone.waitForURL('**/join');
    const { violations } = await new AxeBuilder({ page: phone }).setLegacyMode(true).analyze();
    expect(
      violations.filter(({ impact }) => impact === 'serious' || impact === 'critical').map(({ id }) => id),
    ).toEqual([]);
    await phone.getByLabel('Six figures').fill(`${code.slice(0, 3)} ${code.slice(3)}`);
    await phone.getByLabel('Name of this device').fill('Ines phone');
    await phone.getByRole('button', { name: 'Ask to join' }).tap();
    await phone.getByText(/^Waiting to be let in/).waitFor();
    await desk.getByText('“Ines phone” asks to be let in').waitFor();
    await desk.getByText('It says: Computer, Chrome. It comes from 127.0.0.21.').waitFor();
    await desk.getByLabel('Who works at it').fill('Ines Halloran');
    await desk.getByRole('button', { name: 'Let it in' }).click();
    await phone.waitForURL((url) => url.pathname === '/');
    await phone.getByText(/^(\d+) of \1 reached$/).waitFor({ timeout: 20_000 });

    const before = await effects('preview');
    await phone.getByTestId(`cap-${STAR_CHARTS}`).tap();
    await until('the switcher was told', async () => (await effects('preview')) > before);
    await until('the as-run names it', async () =>
      (await demo.asRun()).some(
        (entry) =>
          entry.kind === 'press' &&
          String(entry.station).startsWith('Ines phone#') &&
          entry.person === 'Ines Halloran' &&
          entry.buttonId === STAR_CHARTS,
      ),
    );

    // What it may not is told before it is needed, and refused.
    await phone.getByRole('link', { name: 'Rig' }).click();
    await phone.getByText('This station may look here, and not change the show.').waitFor();
    await phone.getByText('Stations', { exact: true }).click();
    await phone.getByText(/^This station may not let others in\./).waitFor();
    expect(
      await phone.evaluate(async () => (await fetch('/api/undo', { method: 'POST', body: '{"by":"Ines"}' })).status),
    ).toBe(403);
    expect(await phone.evaluate(async () => (await fetch('/api/joining')).status)).toBe(403);

    // Given more, it may at once; then nothing any more, and the page says so.
    await desk.getByRole('button', { name: 'Change Ines phone' }).click();
    await desk.getByRole('checkbox', { name: 'Operate' }).click();
    await desk.getByRole('checkbox', { name: 'Change the show' }).click();
    await desk.getByRole('button', { name: 'Save', exact: true }).click();
    await phone.getByText('This station may look here, and not change the show.').waitFor({ state: 'detached' });
    await phone.getByRole('link', { name: 'Desk' }).click();
    await phone.getByText('may look, not operate').waitFor();
    const was = await effects('preview');
    await phone.getByTestId(`cap-${STAR_CHARTS}`).tap();
    await phone.getByText('may not', { exact: true }).first().waitFor();
    await desk.getByRole('button', { name: 'Send Ines phone away' }).click();
    await desk.getByRole('button', { name: 'Send it away' }).click();
    await phone.waitForURL('**/join');
    await phone.reload();
    expect(new URL(phone.url()).pathname).toBe('/join');
    expect(await effects('preview')).toBe(was);
    expect(await joined()).toEqual([]);
    const access = (await demo.asRun()).filter(({ kind }) => kind === 'access').map(({ words }) => words);
    expect(access).toEqual(
      expect.arrayContaining([
        'Ines phone (Computer, Chrome, 127.0.0.21) was let in: may see, operate.',
        'Ines phone (Ines Halloran) may see, program now.',
        'Ines phone was sent away.',
      ]),
    );
  });

  it('that is sent away while it holds a cap lets it go, and its key opens nothing', async () => {
    const guest = await machine('127.0.0.22');
    const key = await keyOf(demo, guest, 'Camera phone', ['see', 'operate']);
    const socket = new WebSocket(`${guest.url.replace('https', 'wss')}/api/live`, {
      rejectUnauthorized: false,
      headers: withKey(key),
    });
    await new Promise((opened) => socket.once('open', opened));
    const messages: Record<string, unknown>[] = [];
    socket.on('message', (data) => messages.push(JSON.parse(String(data)) as Record<string, unknown>));
    socket.send(JSON.stringify({ type: 'hello', station: 'Somebody else', person: 'Nobody' }));
    const pressId = ulid();
    const hold = { type: 'send', pressId, device: 'deskCam', command: 'drive', params: { pan: 0.5, tilt: 0, zoom: 0 } };
    await until('it was told who it is', () =>
      Promise.resolve(messages.some(({ type, name }) => type === 'you' && name === 'Camera phone')),
    );
    socket.send(JSON.stringify({ ...hold, phase: 'down' }));
    const renew = setInterval(() => socket.send(JSON.stringify({ ...hold, phase: 'hold' })), 100);
    const moving = async (): Promise<unknown> => (await demo.standins.deskCam.report()).points.travelling;
    await until('the head moves', async () => (await moving()) === true);
    expect((await joined()).find(({ name }) => name === 'Camera phone')?.present).toBe(1);

    // A copy of its key from another address is refused while it is here, and told to those who let it in.
    const thief = await machine('127.0.0.23');
    expect(await say(`${thief.url}/api/health`, { headers: withKey(key) })).toMatchObject({
      status: 401,
      body: { code: 'elsewhere' },
    });
    expect((await joined()).find(({ name }) => name === 'Camera phone')?.note).toContain('127.0.0.23');

    const id = (await joined()).find(({ name }) => name === 'Camera phone')?.id ?? '';
    const closed = new Promise((done) => socket.once('close', done));
    await fetch(`${demo.url}/api/joined/${id}`, { method: 'DELETE' });
    await until('the head stands', async () => (await moving()) === false);
    clearInterval(renew);
    await closed;
    expect(messages.at(-1)).toMatchObject({ type: 'error', error: { code: 'not-joined' } });
    expect((await say(`${guest.url}/api/health`, { headers: withKey(key) })).status).toBe(401);
  });

  it('is still let in after the engine was killed', async () => {
    const guest = await machine('127.0.0.24');
    const key = await keyOf(demo, guest, 'Stays', ['see']);
    const pid = demo.supervisor.pid();
    process.kill(pid ?? 0, 'SIGKILL');
    await until('another engine', () => Promise.resolve(demo.supervisor.pid() !== pid));
    await until(
      'it is let in',
      async () => (await say(`${guest.url}/api/health`, { headers: withKey(key) })).status === 200,
    );
    // Only looking: nothing else.
    expect(
      await say(`${guest.url}/api/press`, {
        method: 'POST',
        headers: withKey(key),
        body: { pressId: ulid(), buttonId: STAR_CHARTS, phase: 'down', station: 'Desk' },
      }),
    ).toMatchObject({ status: 403, body: { code: 'may-not-operate' } });
  });
});

describe('what announces itself on the network', () => {
  it.each(['wide', 'phone'] as const)(
    'is offered with its kind and address, added in two touches, and gone with its goodbye (%s)',
    async (size) => {
      const name = `Stage ${size}`;
      const standin = await serveStandin({ name, kind: 'ptzHead', port: 0, controlPort: 0, announce: true });
      const page = await openAt(demo.url, size, '/rig');
      const found = page.getByTestId('found');
      await found.getByText(`PTZ head · 127.0.0.1:${standin.port}`, { exact: false }).waitFor();
      await found.getByRole('button', { name: `Add ${name}` }).click();
      await page.getByRole('button', { name: 'Add it' }).click();
      await until('it is in the show, and reached', async () =>
        (await demo.health()).devices.some((device) => device.name === name && device.state === 'reached'),
      );
      await found.waitFor({ state: 'detached' });
      const heard = async (): Promise<string[]> =>
        ((await (await fetch(`${demo.url}/api/found`)).json()) as { found: { name: string }[] }).found.map(
          (item) => item.name,
        );
      expect(await heard()).toContain(name);
      await standin.close();
      await until('its goodbye was heard', async () => !(await heard()).includes(name));
    },
  );
});
