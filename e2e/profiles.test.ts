import { createSocket, type Socket } from 'node:dgram';
import type { Server } from 'node:http';
import { type AddressInfo, createServer, type Socket as TcpSocket } from 'node:net';
import type { ShowDocument } from '@umbek/core/show';
import express from 'express';
import { fromBuffer, type OscMessageOutput, toBuffer } from 'osc-min';
import type { Page } from 'playwright-core';
import { ulid } from 'ulid';
import { freshDemo, openAt, useBrowser } from './support/browser';
import { type Demo, freePort, until } from './support/demo';

jest.setTimeout(180_000);
useBrowser();

let demo: Demo;
beforeAll(async () => {
  demo = await freshDemo();
});

/** Types into a field and gives it on. */
async function type(page: Page, label: string, text: string): Promise<void> {
  await page.getByLabel(label, { exact: true }).fill(text);
  await page.getByLabel(label, { exact: true }).press('Enter');
}

async function newProfile(page: Page, name: string, transport: string): Promise<void> {
  await part(page, 'Profiles');
  await page.getByRole('button', { name: 'New profile' }).click();
  await page.getByText('No device uses it yet.').waitFor();
  await part(page, 'Transport');
  await type(page, 'Name', name);
  await page.getByRole('heading', { name }).waitFor();
  await part(page, transport);
}

const part = async (page: Page, name: string): Promise<void> =>
  page
    .getByRole('radio', { name, exact: true })
    .or(page.getByRole('button', { name, exact: true }))
    .first()
    .click();

/** Adds a device of the last profile by the interface, and opens the profile again. */
async function follow(page: Page, profile: string, name: string, port: number): Promise<void> {
  await page.getByRole('button', { name: 'Back to the Rig' }).click();
  await part(page, 'Devices');
  await page.getByRole('button', { name: 'Add a device' }).click();
  await page.getByRole('radio', { name: 'Device by profile' }).click();
  await part(page, profile);
  await page.getByLabel('Name', { exact: true }).fill(name);
  await page.getByLabel('Name', { exact: true }).blur();
  await page.getByLabel('Port', { exact: true }).fill(String(port));
  await page.getByLabel('Port', { exact: true }).blur();
  await page.getByRole('button', { name: 'Add it' }).click();
  await page.getByLabel(new RegExp(`^${name}, reached`)).waitFor({ timeout: 15_000 });
  await part(page, 'Profiles');
  await page.getByLabel(`Profile ${profile}`, { exact: true }).click();
}

describe('a profile written from scratch in the interface', () => {
  it('drives an OSC peer made with another library, and hears it', async () => {
    const heard: { address: string; args: unknown[] }[] = [];
    const port = await freePort();
    let level = 0;
    const peer: Socket = createSocket('udp4');
    await new Promise<void>((bound) => peer.bind(port, '127.0.0.1', bound));
    peer.on('message', (bytes, from) => {
      const message = fromBuffer(bytes) as OscMessageOutput;
      if (message.address === '/fog/level') {
        heard.push({
          address: message.address,
          args: (message.args as { type: string; value: unknown }[]).map((arg) => [arg.type, arg.value]),
        });
        level = Number((message.args as { value: unknown }[])[0]?.value);
      }
      const answer = toBuffer({ address: '/fog/state', args: [{ type: 'integer', value: level }] });
      peer.send(Buffer.from(answer.buffer, answer.byteOffset, answer.byteLength), from.port, from.address);
    });
    const page = await openAt(demo.url, 'wide', '/rig');
    await newProfile(page, 'Fog', 'OSC');
    await page.getByRole('button', { name: 'Add a poll' }).click();
    await part(page, 'States');
    await type(page, 'Add a state: what it tells', 'Level');
    await page.getByRole('button', { name: 'Level', exact: true }).click();
    await type(page, 'Address it comes from', '/fog/state');
    await part(page, 'Commands');
    await type(page, 'Add a command: what it does', 'Set the fog');
    await page.getByRole('button', { name: 'Set the fog', exact: true }).click();
    await type(page, 'Add a parameter: its name', 'level');
    await part(page, 'level is a whole number');
    await type(page, 'level most', '100');
    await type(page, 'Message: address', '/fog/level');
    await page.getByRole('button', { name: 'Add an argument' }).click();
    await part(page, 'Argument 1 is whole');
    await type(page, 'Message: argument 1', '{{ param.level }}');
    await follow(page, 'Fog', 'Fog machine', port);
    await page.getByRole('button', { name: 'Set the fog', exact: true }).click();
    await type(page, 'level', '42');
    await page.getByRole('button', { name: 'Send now' }).click();
    await until('the peer heard it', async () => heard.length > 0);
    expect(heard).toEqual([{ address: '/fog/level', args: [['integer', 42]] }]);
    await part(page, 'States');
    await page.getByText('42', { exact: false }).first().waitFor();
    await part(page, 'Wire');
    await page.getByText('› /fog/level 42').waitFor();
    // By its protocol nothing confirms it: the as-run says sent, not done.
    const outcome = (await demo.asRun()).find((entry) => entry.kind === 'outcome' && entry.device === 'fogMachine');
    expect(outcome?.outcome).toBe('sent');
    peer.close();
    await until('its silence is told', async () =>
      (await demo.health()).devices.some((device) => device.key === 'fogMachine' && device.state === 'silent'),
    );
    await page.close();
  });

  it('drives an HTTP peer made with another library, and is refused in words', async () => {
    const bodies: unknown[] = [];
    const port = await freePort();
    let lamp = { on: false, level: 0 };
    const app = express().use(express.json());
    app.put('/lamps/:name', (request, response) => {
      bodies.push([request.params.name, request.body]);
      if (request.params.name !== 'left side') return void response.status(404).send('no such lamp');
      lamp = { on: true, level: Number((request.body as { level: number }).level) };
      response.json({ taken: true });
    });
    app.get('/state', (_request, response) => void response.json({ lamps: [lamp] }));
    const server: Server = await new Promise((open) => {
      const listening = app.listen(port, '127.0.0.1', () => open(listening));
    });
    const page = await openAt(demo.url, 'phone', '/rig');
    await newProfile(page, 'Lamps', 'HTTP');
    await page.getByRole('button', { name: 'Add a poll' }).click();
    await part(page, 'States');
    await type(page, 'Add a state: what it tells', 'Lamp level');
    await page.getByRole('button', { name: 'Lamp level', exact: true }).click();
    await part(page, 'Number');
    await type(page, 'JSON path', '$.lamps[0].level');
    await part(page, 'Commands');
    await type(page, 'Add a command: what it does', 'Light');
    await page.getByRole('button', { name: 'Light', exact: true }).click();
    for (const name of ['lamp', 'level']) await type(page, 'Add a parameter: its name', name);
    await part(page, 'lamp is a text');
    await part(page, 'Message PUT');
    await type(page, 'Message: path', '/lamps/{{ param.lamp }}');
    await part(page, 'Message: JSON body');
    await page.getByLabel('Message: body', { exact: true }).fill('{"level": {"cel": "param.level"}}');
    await page.getByLabel('Message: body', { exact: true }).blur();
    await follow(page, 'Lamps', 'Lamp box', port);
    await page.getByRole('button', { name: 'Light', exact: true }).click();
    await type(page, 'lamp', 'left side');
    await type(page, 'level', '7');
    await page.getByRole('button', { name: 'Send now' }).click();
    await until('the peer heard it', async () => bodies.length > 0);
    expect(bodies).toEqual([['left side', { level: 7 }]]);
    await page.getByText('done', { exact: true }).waitFor();
    await type(page, 'lamp', 'up');
    await page.getByRole('button', { name: 'Send now' }).click();
    await page.getByText('It answered 404: no such lamp').waitFor();
    await part(page, 'States');
    await page.getByText('7', { exact: false }).first().waitFor();
    server.closeAllConnections();
    await new Promise((closed) => server.close(closed));
    await page.close();
  });

  it('tells the line of a fault in its text and changes nothing', async () => {
    const page = await openAt(demo.url, 'wide', '/rig/profiles/domeSlit');
    await part(page, 'As text');
    const input = page.getByLabel('The profile as text');
    const good = await input.inputValue();
    await input.fill(good.replace('^SLIT=(\\\\d+)', '^SLIT=(('));
    await page.getByRole('button', { name: 'Check and take it' }).click();
    const line = good.split('\n').findIndex((candidate) => candidate.includes('"pattern": "^SLIT')) + 1;
    await page.getByTestId('profile-faults').getByText(`Line ${line}, points.0.from.pattern`).waitFor();
    await input.fill(good.replace('"kind": "tcp"', '"kind": "pigeon"'));
    await page.getByRole('button', { name: 'Check and take it' }).click();
    await page
      .getByTestId('profile-faults')
      .getByText(/^Line \d+, transport\.kind/)
      .waitFor();
    await input.fill(good.slice(0, -3));
    await page.getByRole('button', { name: 'Check and take it' }).click();
    await page.getByTestId('profile-faults').getByText('This is not JSON').first().waitFor();
    await input.fill(good.replace('Halt the slit', 'Stop the slit where it is'));
    await page.getByRole('button', { name: 'Check and take it' }).click();
    await part(page, 'Commands');
    await page.getByRole('button', { name: 'Stop the slit where it is' }).waitFor();
    await page.close();
  });
});

/** A camera on a mast as its maker would build it: lines of text over TCP, a motor that takes its time. */
async function mastPeer(): Promise<{ port: number; lines: string[]; close: () => void }> {
  const lines: string[] = [];
  let [memory, arrivesAt, runs] = [0, 0, false];
  const sockets = new Set<TcpSocket>();
  const server = createServer((socket) => {
    sockets.add(socket);
    socket.on('error', () => undefined);
    socket.on('data', (bytes) => {
      for (const line of bytes.toString().split('\r\n').filter(Boolean)) {
        const wanted = /^GO (\d+)$/.exec(line)?.[1];
        if (wanted !== undefined) [memory, arrivesAt, runs] = [Number(wanted), Date.now() + 700, false];
        else if (line.startsWith('RUN ')) [memory, runs] = [0, true];
        else if (line === 'HALT') runs = false;
        if (line !== 'WHERE?') lines.push(line);
        socket.write(`AT ${memory} ${runs || Date.now() < arrivesAt ? 'RUN' : 'STAND'}\r\n`);
      }
    });
  });
  await new Promise<void>((listens) => server.listen(0, '127.0.0.1', listens));
  return {
    port: (server.address() as AddressInfo).port,
    lines,
    close: () => {
      for (const socket of sockets) socket.destroy();
      server.close();
    },
  };
}

describe('a profile that works as a head, on a phone', () => {
  it('is set up, has positions and strips, is waited for, guarded on air, and stops when its cap is let go', async () => {
    const mast = await mastPeer();
    const page = await openAt(demo.url, 'phone', '/rig');
    await part(page, 'Profiles');
    await page.getByRole('button', { name: 'From a sample' }).tap();
    await page.getByRole('menuitem', { name: 'Mast cam' }).tap();
    await page.getByRole('heading', { name: 'Mast cam' }).waitFor();
    await part(page, 'Transport');
    await page.getByRole('radio', { name: 'PTZ head', checked: true }).waitFor();
    // What a head can besides is offered, and what its messages may use is said.
    await part(page, 'Commands');
    await page.getByRole('button', { name: 'Add: Go to the middle: pan 0, tilt 0' }).waitFor();
    await page.getByRole('button', { name: 'Recall a position', exact: true }).tap();
    await page.getByText(/^Its messages may use param\.position, .*param\.number/).waitFor();
    await follow(page, 'Mast cam', 'Mast', mast.port);
    await page.getByRole('button', { name: 'Back to the Rig' }).tap();
    await part(page, 'Devices');
    await page.getByRole('link', { name: /^Mast, / }).tap();
    await page.getByText('No position yet.', { exact: false }).waitFor();
    await type(page, 'Name of the new position', 'Gate');
    await page.getByRole('button', { name: 'Add it' }).tap();
    await page.getByLabel('Memory of Gate', { exact: true }).waitFor();
    await type(page, 'Memory of Gate', '7');
    await page.getByRole('button', { name: 'Recall Gate', exact: true }).tap();
    await page.getByRole('button', { name: 'Recall Gate, here' }).waitFor({ timeout: 10_000 });
    expect(mast.lines).toEqual(['GO 7']);

    const before = (await (await fetch(`${demo.url}/api/show`)).json()) as ShowDocument;
    const charts = before.sources.find(({ key }) => key === 'slides');
    const head = before.devices.find(({ name }) => name === 'Mast')?.key ?? '';
    await demo.post('/api/edits', {
      editId: ulid(),
      label: 'Its source',
      by: 'test',
      changes: [{ entity: 'sources', id: charts?.id, field: 'camera', from: null, to: head }],
    });
    await page.goto(`${demo.url}/bench`);
    await page.getByRole('button', { name: 'Add strips' }).tap();
    for (const words of ['Positions of Mast', 'Choose a camera, and move it'])
      await page.getByRole('button', { name: new RegExp(`^${words}, \\d+ caps?$`) }).tap();
    await page.getByTestId('add-strips').tap();
    const after = await until('the strips', async () => {
      const show = (await (await fetch(`${demo.url}/api/show`)).json()) as ShowDocument;
      return show.strips.length === before.strips.length + 3 ? show : undefined;
    });
    const made = after.buttons.filter(({ id }) => !before.buttons.some((button) => button.id === id));
    const idOf = (legend: string): string => made.find((candidate) => candidate.legend === legend)?.id ?? '';
    const the = (legend: string) => page.getByTestId(`cap-${idOf(legend)}`);
    await page.getByTestId('add-strips').waitFor({ state: 'detached' });
    await page.getByRole('navigation').getByRole('link', { name: 'Desk' }).tap();
    await page.locator(`[data-testid="cap-${idOf('Gate')}"][data-lamp="arrived"]`).waitFor({ timeout: 10_000 });

    // Held, it runs; let go, it halts, and stands at none of its positions.
    await the('Mast').tap();
    await page.locator(`[data-testid="cap-${idOf('Mast')}"][data-lamp="chosen"]`).waitFor();
    await the('Slow left').scrollIntoViewIfNeeded();
    const box = await the('Slow left').boundingBox();
    const finger = await page.context().newCDPSession(page);
    const at = { x: (box?.x ?? 0) + 20, y: (box?.y ?? 0) + 20 };
    await finger.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: [at] });
    await until('it runs', async () => mast.lines.some((line) => line.startsWith('RUN -0.3 0')));
    expect(mast.lines).not.toContain('HALT');
    await finger.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
    await until('it halts', async () => mast.lines.includes('HALT'));
    await page.locator(`[data-testid="cap-${idOf('Gate')}"][data-lamp="none"]`).waitFor();

    // On air the same recall asks first.
    const press = { pressId: '01K9ZZZZZZZZZZZZZZZZZZZZZD', phase: 'down', station: 'test' };
    await demo.post('/api/send', { ...press, device: 'switcher', command: 'program', params: { source: 'slides' } });
    await page.getByTestId('on-air').getByText('Star charts', { exact: true }).waitFor();
    mast.lines.length = 0;
    await the('Gate').tap();
    await page.locator(`[data-testid="cap-${idOf('Gate')}"][data-press="asking"]`).waitFor();
    expect(mast.lines).toEqual([]);
    // A bounce of the same touch is no second one.
    await page.waitForTimeout(400);
    await the('Gate').tap();
    await page.locator(`[data-testid="cap-${idOf('Gate')}"][data-lamp="arrived"]`).waitFor({ timeout: 10_000 });
    expect(mast.lines).toEqual(['GO 7']);
    await page.close();
    mast.close();
  });
});

describe('the samples', () => {
  it('are pressed, heard and rehearsed like any other device', async () => {
    const answer = await demo.post('/api/send', {
      pressId: '01K9ZZZZZZZZZZZZZZZZZZZZZA',
      phase: 'down',
      device: 'domeSlit',
      command: 'open',
      params: { percent: 50 },
      station: 'test',
    });
    expect(answer.status).toBe(202);
    await until(
      'the slit is half open',
      async () =>
        (await demo.standins.domeSlit.report()).points.opening === 50 &&
        (await known('opening')) === 50 &&
        (await known('moving')) === false,
    );
    const lights = await demo.post('/api/send', {
      pressId: '01K9ZZZZZZZZZZZZZZZZZZZZZB',
      phase: 'down',
      device: 'houseLights',
      command: 'level',
      params: { area: 2, percent: 80 },
      station: 'test',
    });
    expect(lights.status).toBe(202);
    await until('area 2 is at 0.8', async () => (await demo.standins.houseLights.report()).points.area2 === 0.8);
  });

  const known = async (point: string): Promise<unknown> =>
    ((await (await fetch(`${demo.url}/api/devices/domeSlit/points`)).json()) as { points: Record<string, unknown> })
      .points[point];

  it('tell of something else at their port', async () => {
    const port = await freePort();
    const server = express()
      .get('/', (_request, response) => void response.send('hello'))
      .listen(port, '127.0.0.1');
    const show = (await (await fetch(`${demo.url}/api/show`)).json()) as {
      devices: { id: string; key: string; port: number }[];
    };
    const slit = show.devices.find((device) => device.key === 'domeSlit');
    await demo.post('/api/edits', {
      editId: '01K9ZZZZZZZZZZZZZZZZZZZZZC',
      label: 'Port',
      by: 'test',
      changes: [{ entity: 'devices', id: slit?.id, field: 'port', from: slit?.port, to: port }],
    });
    const words = await until(
      'it is told',
      async () =>
        (await demo.health()).devices.find((device) => device.key === 'domeSlit' && device.state === 'foreign')?.words,
    );
    expect(words).toMatch(/^Dome slit at 127\.0\.0\.1:\d+ answers, but not as Dome slit\. Check the port\.$/);
    server.close();
  });
});
