import { freshDatabase } from './support/database';
import { Demo, freshFolder, until } from './support/demo';
import { handsOn } from './support/machines';

jest.setTimeout(120_000);

let demo: Demo;
beforeAll(async () => {
  demo = await Demo.start(await freshDatabase(), freshFolder());
});
afterAll(() => Demo.closeAll());

const { points, commandsOf, health, press, known } = handsOn(() => demo);

describe('a press through the real socket', () => {
  it('cues and plays a clip, and hears how much is left', async () => {
    expect(await press(211)).toBe('done');
    expect(await commandsOf('spool')).toEqual(['cue', 'play']);
    expect(await points('spool')).toMatchObject({
      ch1Layer1Clip: 'Opening film',
      ch1Layer1Stage: 'playing',
      ch1Layer1Length: 42,
    });
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
    expect(await points('recorder3')).toMatchObject({
      recording: false,
      files: 'night-1-recorder3\nnight-1-recorder3-2',
    });
  });

  it('tells a recorder that does not start, and one that stops unasked', async () => {
    await demo.standins.recorder2.simulate('failStart');
    expect(await press(242)).toMatch(/^Timed out after 3 s: Dome room 2: records/);
    expect(await press(242)).toBe('done');
    await demo.standins.recorder2.simulate('stopItself');
    await until(
      'the engine hears that it stopped',
      async () =>
        (await known('recorder2', 'stoppedUnasked')) === true && (await known('recorder2', 'recording')) === false,
    );
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
    const messages = (await (await fetch(`${demo.url}/api/devices/exchange/messages`)).json()) as {
      messages: { words: string }[];
    };
    expect(messages.messages.map((message) => message.words)).toContain('connect destination 1, source 2');
  });

  it('turns slides, the screen and the stream', async () => {
    expect([await press(221), await press(283), await press(251)]).toEqual(['done', 'done', 'done']);
    expect([
      (await points('charts')).slide,
      (await points('lawnScreen')).brightness,
      (await points('uplink')).streaming,
    ]).toEqual([2, 30, true]);
    await demo.standins.uplink.simulate('loseFrames');
    await until('the engine hears of lost frames', async () => (await known('uplink', 'lostFrames')) === 25);
    expect(await press(252)).toBe('done');
    expect([await press(222), await press(222)]).toEqual(['done', 'This is the first slide.']);
    const messages = (await (await fetch(`${demo.url}/api/devices/charts/messages`)).json()) as {
      messages: { words: string }[];
    };
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
    await until(
      'muted',
      async () => (await known('sound', 'ch1Mute')) === true && (await known('sound', 'ch1Level')) === -60,
    );
    expect(await press(304)).toBe('done');
    await until('faded', async () => (await known('sound', 'ch2Fader')) === -60);
  });

  it('tells the displays what is on program and on preview, and a mix as both on air', async () => {
    await until('the displays are right', async () => (await points('tally')).display4 === 'Roof cam red');
    expect(await points('tally')).toMatchObject({
      display1: 'Desk cam off',
      display2: 'Lawn cam green',
      display16: 'Black off',
    });
    await press(20);
    await until(
      'the displays follow the cut',
      async () =>
        (await points('tally')).display2 === 'Lawn cam red' && (await points('tally')).display4 === 'Roof cam green',
    );
    expect((await health('tally'))?.words).toMatch(
      /^Tally at 127\.0\.0\.1:\d+ only receives: its protocol has no answers\.$/,
    );
  });
});
