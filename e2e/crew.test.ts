import AxeBuilder from '@axe-core/playwright';
import { demoId } from '@umbek/demo';
import type { Page } from 'playwright-core';
import { ulid } from 'ulid';
import { openAt, useBrowser } from './support/browser';
import { freshDatabase } from './support/database';
import { Demo, freshFolder, until } from './support/demo';
import { joinedPhone, keyOf, say, withKey } from './support/room';
import { RoomProxy } from './support/roomProxy';

jest.setTimeout(120_000);
useBrowser();

const STAR_CHARTS = demoId('BTN', 5);
const PHRASE = 'four quiet wooden boats';
let demo: Demo;
const ends: (() => Promise<unknown>)[] = [];

beforeAll(async () => {
  demo = await Demo.start(await freshDatabase(), freshFolder(), [], {});
});
afterEach(async () => {
  for (const end of ends.splice(0).reverse()) await end();
});

/** A phone at an address of its own that was let in with these rights. */
async function phone(address: string, name: string, rights: readonly string[]) {
  const proxy = await RoomProxy.open(address, demo.supervisor.room[0] ?? '');
  ends.push(() => proxy.close());
  const key = await keyOf(demo, proxy, name, rights);
  const { context, page } = await joinedPhone(proxy, key);
  ends.push(() => context.close());
  return { proxy, key, page };
}

async function serious(page: Page): Promise<string[]> {
  const { violations } = await new AxeBuilder({ page }).setLegacyMode(true).analyze();
  return violations
    .filter(({ impact }) => impact === 'serious' || impact === 'critical')
    .flatMap(({ id, nodes }) => nodes.map(({ html }) => `${id}: ${html.slice(0, 200)}`));
}

const noteNow = async (): Promise<string> =>
  ((await (await fetch(`${demo.url}/api/show`)).json()) as { buttons: { id: string; note: string }[] }).buttons.find(
    ({ id }) => id === STAR_CHARTS,
  )?.note ?? '';

const access = async (): Promise<unknown[]> =>
  (await demo.asRun()).filter(({ kind }) => kind === 'access').map(({ words }) => words);

let edits = 0;
/** Changes the note of a button as whoever works at a station. */
async function note(proxy: RoomProxy, key: string, from: string, to: string): Promise<number> {
  edits += 1;
  return (
    await say(`${proxy.url}/api/edits`, {
      method: 'POST',
      headers: withKey(key),
      body: {
        editId: `01JCREW0000000000000000${String(edits).padStart(3, '0')}`,
        label: 'Note',
        by: 'Anybody',
        changes: [{ entity: 'buttons', id: STAR_CHARTS, field: 'note', from, to }],
      },
    })
  ).status;
}

describe('somebody of the crew', () => {
  it('is taken on, signs in at a tablet, changes the show there, hands over, and brings nothing along once signed out', async () => {
    const desk = await openAt(demo.url, 'phone', '/rig?part=stations');
    for (const [name, phrase] of [
      ['Ines Halloran', PHRASE],
      ['Tomasz Reke', 'a lamp over the north door'],
    ] as const) {
      await desk.getByRole('button', { name: 'Add a person' }).tap();
      await desk.getByLabel('Name', { exact: true }).fill(name);
      await desk.getByLabel('Pass phrase').fill('short');
      await desk.getByText('8 letters or more. Four words are good.').waitFor();
      await desk.getByLabel('Pass phrase').fill(phrase);
      await desk.getByRole('button', { name: 'Add', exact: true }).tap();
      await desk.getByTestId(`crew-${name}`).waitFor();
    }
    expect(await serious(desk)).toEqual([]);

    const { page, proxy, key } = await phone('127.0.0.31', 'Tablet', ['see', 'operate']);
    expect(await note(proxy, key, '', 'No')).toBe(403);
    await page.getByRole('button', { name: 'This station' }).tap();
    await page.getByText('Tablet may look and operate.').waitFor();
    await page.getByRole('button', { name: 'Sign in' }).tap();
    await page.getByRole('button', { name: 'Ines Halloran', exact: true }).tap();
    await page.getByText('Ines Halloran may look, operate and change the show.').waitFor();
    await page.getByLabel('Pass phrase').fill('four quiet wooden boat');
    await page.getByRole('button', { name: 'Sign in', exact: true }).tap();
    await page
      .getByText(/^That is not the pass phrase\./)
      .first()
      .waitFor();
    await page.getByLabel('Pass phrase').fill(PHRASE);
    await page.getByLabel('Pass phrase').press('Enter');
    await page.getByText('Tablet · Ines Halloran may look, operate and change the show.').waitFor();

    const was = await noteNow();
    expect(await note(proxy, key, was, 'Slowly')).toBe(200);
    expect(await note(proxy, key, 'Slowly', 'Very slowly')).toBe(200);
    await desk.getByText(/Ines Halloran is signed in at it\./).waitFor();

    // The next shift: the edits go along, and whose they were stays in the history.
    await page.getByRole('button', { name: 'Sign somebody else in' }).tap();
    await page.getByRole('button', { name: 'Tomasz Reke', exact: true }).tap();
    await page.getByLabel('Pass phrase').fill('a lamp over the north door');
    await page.getByText('The edits of Ines Halloran go along, to be undone by Tomasz Reke').waitFor();
    await page.getByLabel('Edits go along').tap();
    await page.getByRole('button', { name: 'Sign in', exact: true }).tap();
    await page.getByText(/^Tablet · Tomasz Reke may/).waitFor();
    const undo = (): ReturnType<typeof say> =>
      say(`${proxy.url}/api/undo`, { method: 'POST', headers: withKey(key), body: { by: 'Ines Halloran' } });
    expect((await undo()).status).toBe(200);
    expect(await noteNow()).toBe('Slowly');
    const entries = (
      (await (await fetch(`${demo.url}/api/edits`)).json()) as { entries: { by: string; handedTo?: string }[] }
    ).entries;
    expect(entries.find(({ handedTo }) => handedTo === 'Tomasz Reke')?.by).toBe('Ines Halloran');

    // After the engine was killed, whoever is signed in still is.
    const pid = demo.supervisor.pid();
    process.kill(pid ?? 0, 'SIGKILL');
    await until('another engine', () => Promise.resolve(demo.supervisor.pid() !== pid));
    await until('it may still', async () => (await note(proxy, key, 'Slowly', 'Slowly')) === 200);

    await page.getByText(/^(\d+) of \1 reached$/).waitFor();
    await page.getByRole('button', { name: 'Sign out' }).tap();
    await page.getByText('Tablet may look and operate.').waitFor();
    expect(await note(proxy, key, 'Slowly', 'No')).toBe(403);
    expect(await access()).toEqual(
      expect.arrayContaining([
        'Ines Halloran is in the crew now, and may see, operate, program.',
        'A pass phrase for Ines Halloran was not right.',
        'Ines Halloran signed in.',
        'Tomasz Reke signed in after Ines Halloran. 2 edits are theirs to undo now.',
        'Tomasz Reke signed out.',
      ]),
    );
    // Last: while it looks, the page is too busy to hear the engine.
    await page.getByRole('button', { name: 'Sign in' }).tap();
    await page.getByRole('button', { name: 'Ines Halloran', exact: true }).tap();
    await page.getByLabel('Pass phrase').waitFor();
    expect(await serious(page)).toEqual([]);
  });

  it('is signed out at once when deleted; a station cannot guess, hand over what is not its own, or take itself on', async () => {
    const { proxy, key } = await phone('127.0.0.32', 'Second', ['see', 'operate']);
    const post = (path: string, body: object) =>
      say(`${proxy.url}${path}`, { method: 'POST', headers: withKey(key), body });
    const della = '01JCREWDEHHA00000000000001';
    await demo.post('/api/crew', { id: della, name: 'Della Quist', rights: ['see', 'program'], phrase: PHRASE });
    expect(
      await demo.post('/api/crew', { id: della.replace(/1$/, '2'), name: 'Della Quist', rights: [] }),
    ).toMatchObject({
      status: 409,
      body: { code: 'name-taken' },
    });
    expect((await post('/api/crew', { id: della, name: 'Me', rights: ['admit'] })).status).toBe(403);
    expect((await post('/api/hand-over', { from: 'Della Quist', to: 'Second' })).status).toBe(403);
    const signed = await post('/api/me/sign-in', { crew: della, phrase: PHRASE });
    expect(signed.body).toMatchObject({ person: 'Della Quist', signedIn: true, rights: ['see', 'operate', 'program'] });
    expect(await post('/api/hand-over', { from: 'Ines Halloran', to: 'Second' })).toMatchObject({
      status: 403,
      body: { code: 'not-yours' },
    });
    expect((await fetch(`${demo.url}/api/crew/${della}`, { method: 'DELETE' })).status).toBe(200);
    expect((await say(`${proxy.url}/api/me`, { headers: withKey(key) })).body).toMatchObject({
      person: '',
      signedIn: false,
      rights: ['see', 'operate'],
    });
    // Nobody's phrase is found by trying; the engine's own machine has none to ask for.
    const tomasz = '01JCREWDEHHA00000000000003';
    await demo.post('/api/crew', { id: tomasz, name: 'Tomasz', rights: ['see', 'admit'], phrase: PHRASE });
    const codes: unknown[] = [];
    for (let guess = 0; guess < 40; guess += 1)
      codes.push((await post('/api/me/sign-in', { crew: tomasz, phrase: `a guess ${guess}` })).body.code);
    expect(codes.filter((code) => code === 'wrong-phrase').length).toBeLessThanOrEqual(6);
    expect(new Set(codes)).toEqual(new Set(['wrong-phrase', 'slow-down']));
    expect((await post('/api/me/sign-in', { crew: tomasz, phrase: PHRASE })).status).toBe(429);
    expect(await demo.post('/api/me/sign-in', { crew: tomasz, phrase: PHRASE })).toMatchObject({
      body: { code: 'at-the-engine' },
    });
  });
});

describe('a station', () => {
  it('is handed to another person from the list: the one that joined, and a page at the engine’s own machine', async () => {
    const { page, proxy, key } = await phone('127.0.0.33', 'Gallery tablet', ['see', 'operate', 'program']);
    await demo.post('/api/crew', { id: '01JCREWDEHHA00000000000004', name: 'Marit', rights: ['see', 'operate'] });
    const was = await noteNow();
    expect(await note(proxy, key, was, 'Before the break')).toBe(200);
    const other = await openAt(demo.url, 'wide', '/');
    await other.getByRole('button', { name: 'This station' }).click();
    await other.getByLabel('Station', { exact: true }).fill('Second desk');
    await other.getByLabel('Person').fill('Obi');
    await other.getByRole('button', { name: 'Save', exact: true }).click();
    const desk = await openAt(demo.url, 'wide', '/rig?part=stations');

    await desk.getByRole('button', { name: 'Hand Gallery tablet over' }).click();
    await desk.getByRole('button', { name: 'Marit', exact: true }).click();
    await desk.getByRole('button', { name: 'Hand over', exact: true }).click();
    await desk.getByTestId('page-Gallery tablet').getByText('Gallery tablet · Marit').waitFor();
    await page.getByRole('button', { name: 'This station' }).tap();
    await page.getByText(/^Gallery tablet · Marit may/).waitFor();
    expect(
      (await say(`${proxy.url}/api/undo`, { method: 'POST', headers: withKey(key), body: { by: '' } })).status,
    ).toBe(200);
    expect(await noteNow()).toBe(was);

    await desk.getByRole('button', { name: 'Hand Second desk over' }).click();
    await desk.getByLabel('Who works there').fill('Wen');
    await desk.getByRole('button', { name: 'Hand over', exact: true }).click();
    await other.getByText('Wen works here now.').first().waitFor();
    await desk.getByTestId('page-Second desk').getByText('Second desk · Wen').waitFor();
    // Last: while it looks, the page is too busy to hear the engine.
    await desk.getByRole('button', { name: 'Hand Second desk over' }).click();
    await desk.getByLabel('Who works there').waitFor();
    expect(await serious(desk)).toEqual([]);
  });
});

describe('a camera', () => {
  it('that an engineer reserves is moved by no operator, who is told by whom, until it is free again', async () => {
    const { page, proxy, key } = await phone('127.0.0.34', 'Operator', ['see', 'operate']);
    const desk = await openAt(demo.url, 'phone', '/rig/lawnCam');
    const drive = () =>
      say(`${proxy.url}/api/send`, {
        method: 'POST',
        headers: withKey(key),
        body: {
          pressId: ulid(),
          phase: 'down',
          station: 'Operator',
          device: 'lawnCam',
          command: 'home',
          params: {},
        },
      });
    await desk.getByRole('button', { name: 'Reserve this camera' }).tap();
    await desk.getByText('Reserved by Desk. Stations with fewer rights cannot move it.').waitFor();
    expect(await serious(desk)).toEqual([]);
    expect((await drive()).body).toMatchObject({ code: 'reserved', message: 'Lawn cam is reserved by Desk.' });
    await page.goto(`${proxy.url}/rig/lawnCam`);
    await page.getByText('Reserved by Desk. Stations with fewer rights cannot move it.').waitFor();
    expect(await page.getByRole('button', { name: 'Free this camera' }).count()).toBe(0);
    const before = (await demo.standins.lawnCam.report()).effects.length;
    await page.getByRole('button', { name: 'Nudge left' }).tap();
    await page.getByText('Lawn cam is reserved by Desk.').first().waitFor();
    expect((await demo.standins.lawnCam.report()).effects).toHaveLength(before);
    // The next engine frees nobody's camera behind their back.
    const pid = demo.supervisor.pid();
    process.kill(pid ?? 0, 'SIGKILL');
    await until('another engine', () => Promise.resolve(demo.supervisor.pid() !== pid));
    await until('it is refused again', async () => (await drive()).body.code === 'reserved');
    await page.getByText('Reserved by Desk. Stations with fewer rights cannot move it.').waitFor();
    // A touch before its page has heard the next engine is refused, and done once more.
    await until('it is free', async () => {
      if (await desk.getByRole('button', { name: 'Free this camera' }).isVisible())
        await desk.getByRole('button', { name: 'Free this camera' }).tap();
      await page.getByText(/^Reserved by Desk/).waitFor({ state: 'detached', timeout: 1000 });
      return true;
    });
    await until('it is moved again', async () => (await drive()).status === 202);
    expect(await access()).toEqual(
      expect.arrayContaining(['Lawn cam is reserved by Desk.', 'Lawn cam is free again.']),
    );
  });
});
