import { createServer, type Server } from 'node:net';
import { createServer as createHttpServer } from 'node:http';
import { demoId } from '@umbek/core/demo';
import { ulid } from 'ulid';
import { freshDatabase } from './support/database';
import { Demo, freePort, freshFolder, until } from './support/demo';

jest.setTimeout(120_000);

let demo: Demo;
beforeAll(async () => {
  demo = await Demo.start(await freshDatabase(), freshFolder());
});
afterAll(() => Demo.closeAll());

type Key = keyof Demo['standins'];
const points = async (key: Key): Promise<Record<string, unknown>> => (await demo.standins[key].report()).points;
const told = async (key: Key): Promise<string[]> => (await demo.standins[key].report()).effects.map((effect) => effect.command);
const health = async (key: Key) => (await demo.health()).devices.find((device) => device.key === key);

/** Presses a button of the demo by its number and waits for the end of its run. @returns how it ended */
async function press(button: number): Promise<string> {
  const pressId = ulid();
  const answer = await demo.post('/api/press', { pressId, buttonId: demoId('BTN', button), phase: 'down', station: 'test' });
  await demo.post('/api/press', { pressId, buttonId: demoId('BTN', button), phase: 'up', station: 'test' });
  if (answer.status !== 202) return String(answer.body.message);
  const runId = String(answer.body.runId);
  const end = await until('the run is over', async () => (await demo.asRun()).find((entry) => entry.kind === 'runEnd' && entry.runId === runId));
  return end.how === 'done' ? 'done' : String(end.why);
}

/** What the engine itself knows of a point. */
async function known(device: string, point: string): Promise<unknown> {
  return ((await (await fetch(`${demo.url}/api/devices/${device}/points`)).json()) as { points: Record<string, unknown> }).points[point];
}

describe('a press through the real socket', () => {
  it('cues and plays a clip, and hears how much is left', async () => {
    expect(await press(211)).toBe('done');
    expect(await told('spool')).toEqual(['cue', 'play']);
    expect(await points('spool')).toMatchObject({ ch1Layer1Clip: 'Opening film', ch1Layer1Stage: 'playing', ch1Layer1Length: 42 });
    await until('the engine hears the clip go on', async () => Number(await known('spool', 'ch1Layer1Position')) >= 1);
    expect(await known('spool', 'ch1Layer1Left')).toBeLessThanOrEqual(41);
  });

  it('marks, cues and rolls a replay', async () => {
    await until('5 s are in the buffer', async () => Number((await points('secondLook')).buffered) >= 6, 15_000);
    expect([await press(201), await press(202), await press(203)]).toEqual(['done', 'done', 'done']);
    await until('the engine hears it roll', async () => (await known('secondLook', 'ch1Rolling')) === true);
    expect(await points('secondLook')).toMatchObject({ lastMark: 1, ch1Mark: 1, ch1Angle: 1, ch1Speed: 50 });
    expect(await press(204)).toBe('done');
    expect((await points('secondLook')).ch1Stage).toBe('empty');
  });

  it('starts six recorders at once, each under its own name, and waits until each says that it records', async () => {
    expect(await press(231)).toBe('done');
    for (const number of [1, 2, 3, 4, 5, 6] as const) {
      expect(await points(`recorder${number}`)).toMatchObject({ recording: true, file: `night-1-recorder${number}` });
      expect(await known(`recorder${number}`, 'recording')).toBe(true);
    }
    expect([await press(233), await press(232)]).toEqual(['done', 'done']);
    expect(await points('recorder3')).toMatchObject({ recording: false, files: 'night-1-recorder3\nnight-1-recorder3-2' });
  });

  it('tells a recorder that does not start, and one that stops unasked', async () => {
    await demo.standins.recorder2.simulate('failStart');
    expect(await press(242)).toMatch(/^Waited 3 s in vain: recorder2\.recording/);
    expect(await press(242)).toBe('done');
    await demo.standins.recorder2.simulate('stopItself');
    await until('the engine hears that it stopped', async () => (await known('recorder2', 'stoppedUnasked')) === true && (await known('recorder2', 'recording')) === false);
  });

  it('routes, and is refused in words where a destination is protected', async () => {
    expect(await press(264)).toBe('done');
    expect(await points('exchange')).toMatchObject({ out1: 4, out2: 2 });
    await until('the engine hears the crosspoint', async () => (await known('exchange', 'out1')) === 4);
    expect(await press(284)).toBe('done');
    expect(await press(262)).toBe('Destination 1 is protected.');
    expect((await points('exchange')).out1).toBe(4);
    expect(await press(284)).toBe('done');
    expect(await press(262)).toBe('done');
    const messages = (await (await fetch(`${demo.url}/api/devices/exchange/messages`)).json()) as { messages: { words: string }[] };
    expect(messages.messages.map((message) => message.words)).toContain('connect destination 1, source 2');
  });

  it('turns slides, the screen and the stream', async () => {
    expect([await press(221), await press(283), await press(251)]).toEqual(['done', 'done', 'done']);
    expect([(await points('charts')).slide, (await points('lawnScreen')).brightness, (await points('uplink')).streaming]).toEqual([2, 30, true]);
    await demo.standins.uplink.simulate('loseFrames');
    await until('the engine hears of lost frames', async () => (await known('uplink', 'lostFrames')) === 25);
    expect(await press(252)).toBe('done');
    expect([await press(222), await press(222)]).toEqual(['done', 'This is the first slide.']);
    const messages = (await (await fetch(`${demo.url}/api/devices/charts/messages`)).json()) as { messages: { words: string }[] };
    expect(messages.messages.some((message) => message.words.startsWith('POST /commands/next {"id":'))).toBe(true);
  });
});

describe('lines, sound and tally', () => {
  it('puts a guest on a line once there is one, and tells when the guest drops', async () => {
    expect(await press(291)).toBe('Marit Solvang is not waiting.');
    await demo.standins.lines.simulate('guestJoins');
    expect(await press(291)).toBe('done');
    await until('the engine hears the line', async () => (await known('lines', 'line1Connected')) === true);
    await demo.standins.lines.simulate('guestDrops');
    await until('the engine hears the drop', async () => (await known('lines', 'line1Dropped')) === true);
  });

  it('hears levels, mutes and fades', async () => {
    await until('somebody speaks', async () => Number(await known('sound', 'ch1Level')) > -60, 20_000);
    expect(await press(301)).toBe('done');
    await until('muted', async () => (await known('sound', 'ch1Mute')) === true && (await known('sound', 'ch1Level')) === -60);
    expect(await press(304)).toBe('done');
    await until('faded', async () => (await known('sound', 'ch2Fader')) === -60);
  });

  it('tells the displays what is on program and on preview, and a mix as both on air', async () => {
    await until('the displays are right', async () => (await points('tally')).display4 === 'Roof cam red');
    expect(await points('tally')).toMatchObject({ display1: 'Desk cam off', display2: 'Lawn cam green', display16: 'Black off' });
    await press(20);
    await until('the displays follow the cut', async () => (await points('tally')).display2 === 'Lawn cam red' && (await points('tally')).display4 === 'Roof cam green');
    expect((await health('tally'))?.words).toMatch(/^Tally at 127\.0\.0\.1:\d+ is told\. By its protocol it never answers\.$/);
  });
});

describe('bad days of machines behind HTTP and TCP', () => {
  it('a reply that is lost is asked for again, and the command is done once', async () => {
    await demo.standins.charts.faults({ dropOut: 0.5, seed: 4 });
    const before = Number((await points('charts')).slide);
    for (let times = 0; times < 3; times += 1) await press(221);
    await demo.standins.charts.faults({});
    const effects = (await demo.standins.charts.report()).effects.filter((effect) => effect.command === 'next');
    expect(new Set(effects.map((effect) => effect.id)).size).toBe(effects.length);
    expect(Number((await points('charts')).slide) - before).toBeLessThanOrEqual(3);
    await until('it is reached again', async () => (await health('charts'))?.state === 'reached');
  });

  it.each(['lawnScreen', 'exchange'] as const)('%s silent is told within 2.5 s, refused at once, and read back when it is there again', async (key) => {
    await demo.standins[key].faults({ silent: true });
    const began = Date.now();
    const silent = await until('health tells', async () => ((await health(key))?.state === 'silent' ? health(key) : undefined));
    expect(Date.now() - began).toBeLessThanOrEqual(2500);
    expect(silent?.words).toMatch(/does not answer\. Last reply \d+ s ago\. Check power and port\.$/);
    const refused = await demo.post('/api/press', { pressId: ulid(), buttonId: demoId('BTN', key === 'exchange' ? 263 : 283), phase: 'down', station: 'test' });
    expect([refused.status, refused.body.code]).toEqual([409, 'device-silent']);
    expect(await known(key, key === 'exchange' ? 'out1' : 'brightness')).toBeUndefined();
    await demo.standins[key].faults({});
    await until('it is reached', async () => (await health(key))?.state === 'reached');
    await until('it was read back', async () => (await known(key, key === 'exchange' ? 'out1' : 'brightness')) !== undefined);
  });

  it('something that speaks another protocol at the port is told as such', async () => {
    const strangers: { close(): unknown }[] = [];
    const speakHttp = await freePort();
    strangers.push(createHttpServer((_request, response) => response.end('<html>Hello</html>')).listen(speakHttp, '127.0.0.1'));
    const speakLines = await freePort();
    const lines: Server = createServer((socket) => {
      socket.on('error', () => undefined);
      socket.on('data', () => socket.write('220 what do you want\r\n'));
    });
    strangers.push(lines.listen(speakLines, '127.0.0.1'));
    const show = (await (await fetch(`${demo.url}/api/show`)).json()) as { devices: { id: string; key: string; port: number }[] };
    const move = async (key: string, from: number, to: number): Promise<void> => {
      const id = show.devices.find((device) => device.key === key)?.id;
      const answer = await demo.post('/api/edits', { editId: ulid(), label: 'Move', changes: [{ entity: 'devices', id, field: 'port', from, to }] });
      expect(answer.status).toBe(200);
    };
    const portOf = (key: string): number => show.devices.find((device) => device.key === key)?.port ?? 0;
    await move('lawnScreen', portOf('lawnScreen'), speakHttp);
    await move('exchange', portOf('exchange'), speakLines);
    await move('uplink', portOf('uplink'), speakLines + 1);
    await until('another protocol', async () => (await health('lawnScreen'))?.state === 'foreign' && (await health('exchange'))?.state === 'foreign');
    expect((await health('lawnScreen'))?.words).toBe(`Something answers for Lawn screen at 127.0.0.1:${speakHttp}, but not HTTP with JSON. Check the port.`);
    expect((await health('exchange'))?.words).toBe(`Something answers for Exchange at 127.0.0.1:${speakLines}, but not SW-P-08. Check the port.`);
    await until('nobody', async () => (await health('uplink'))?.state === 'silent');
    await move('lawnScreen', speakHttp, portOf('lawnScreen'));
    await move('exchange', speakLines, portOf('exchange'));
    await move('uplink', speakLines + 1, portOf('uplink'));
    await until('all are reached', async () => (await demo.health()).devices.every((device) => device.state === 'reached'));
    for (const stranger of strangers) stranger.close();
  });
});
