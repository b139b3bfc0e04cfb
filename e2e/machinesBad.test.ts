import { createServer as createHttpServer } from 'node:http';
import { createServer, type Server } from 'node:net';
import { demoId } from '@umbek/demo';
import { ulid } from 'ulid';
import { freshDatabase } from './support/database';
import { Demo, freePort, freshFolder, until } from './support/demo';
import { handsOn } from './support/machines';

jest.setTimeout(120_000);
// These limits are real time on a machine that others share: a stall of it is not a fault of ours, three in a row are.
jest.retryTimes(2, { logErrorsBeforeRetry: true });

let demo: Demo;
beforeAll(async () => {
  demo = await Demo.start(await freshDatabase(), freshFolder());
});
afterAll(() => Demo.closeAll());

const { points, health, press, known } = handsOn(() => demo);

describe('bad days of machines behind HTTP and TCP', () => {
  it('a reply that is lost is asked for again, and the command is done once', async () => {
    await press(223);
    await demo.standins.charts.faults({ dropOut: 0.5, seed: 4 });
    const before = Number((await points('charts')).slide);
    for (let times = 0; times < 3; times += 1) await press(221);
    await demo.standins.charts.faults({});
    const effects = (await demo.standins.charts.report()).effects.filter((effect) => effect.command === 'next');
    expect(new Set(effects.map((effect) => effect.id)).size).toBe(effects.length);
    expect(Number((await points('charts')).slide) - before).toBeLessThanOrEqual(3);
    await until('it is reached again', async () => (await health('charts'))?.state === 'reached');
  });

  it.each(['lawnScreen', 'exchange'] as const)(
    '%s silent is told within 2.5 s, refused at once, and read back when it is there again',
    async (key) => {
      await demo.standins[key].faults({ silent: true });
      const began = Date.now();
      const silent = await until('health tells', async () =>
        (await health(key))?.state === 'silent' ? health(key) : undefined,
      );
      expect(Date.now() - began).toBeLessThanOrEqual(2500);
      expect(silent?.words).toMatch(/does not answer\. Last reply \d+ s ago\. Check power and port\.$/);
      const refused = await demo.post('/api/press', {
        pressId: ulid(),
        buttonId: demoId('BTN', key === 'exchange' ? 263 : 283),
        phase: 'down',
        station: 'test',
      });
      expect([refused.status, refused.body.code]).toEqual([409, 'device-silent']);
      expect(await known(key, key === 'exchange' ? 'out1' : 'brightness')).toBeUndefined();
      await demo.standins[key].faults({});
      await until('it is reached', async () => (await health(key))?.state === 'reached');
      await until(
        'it was read back',
        async () => (await known(key, key === 'exchange' ? 'out1' : 'brightness')) !== undefined,
      );
    },
  );

  it('something that speaks another protocol at the port is told as such', async () => {
    const strangers: { close(): unknown }[] = [];
    const speakHttp = await freePort();
    strangers.push(
      createHttpServer((_request, response) => response.end('<html>Hello</html>')).listen(speakHttp, '127.0.0.1'),
    );
    const speakLines = await freePort();
    const lines: Server = createServer((socket) => {
      socket.on('error', () => undefined);
      socket.on('data', () => socket.write('220 what do you want\r\n'));
    });
    strangers.push(lines.listen(speakLines, '127.0.0.1'));
    const show = (await (await fetch(`${demo.url}/api/show`)).json()) as {
      devices: { id: string; key: string; port: number }[];
    };
    const move = async (key: string, from: number, to: number): Promise<void> => {
      const id = show.devices.find((device) => device.key === key)?.id;
      const answer = await demo.post('/api/edits', {
        editId: ulid(),
        label: 'Move',
        changes: [{ entity: 'devices', id, field: 'port', from, to }],
      });
      expect(answer.status).toBe(200);
    };
    const portOf = (key: string): number => show.devices.find((device) => device.key === key)?.port ?? 0;
    await move('lawnScreen', portOf('lawnScreen'), speakHttp);
    await move('exchange', portOf('exchange'), speakLines);
    await move('uplink', portOf('uplink'), speakLines + 1);
    await until(
      'another protocol',
      async () => (await health('lawnScreen'))?.state === 'foreign' && (await health('exchange'))?.state === 'foreign',
    );
    expect((await health('lawnScreen'))?.words).toBe(
      `Lawn screen at 127.0.0.1:${speakHttp} answers, but not as HTTP with JSON. Check the port.`,
    );
    expect((await health('exchange'))?.words).toBe(
      `Exchange at 127.0.0.1:${speakLines} answers, but not as SW-P-08. Check the port.`,
    );
    await until('nobody', async () => (await health('uplink'))?.state === 'silent');
    await move('lawnScreen', speakHttp, portOf('lawnScreen'));
    await move('exchange', speakLines, portOf('exchange'));
    await move('uplink', speakLines + 1, portOf('uplink'));
    await until('all are reached', async () =>
      (await demo.health()).devices.every((device) => device.state === 'reached'),
    );
    for (const stranger of strangers) stranger.close();
  });
});
