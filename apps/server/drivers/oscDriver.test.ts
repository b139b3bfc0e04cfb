import { switcher } from '@umbek/core/devices';
import type { CommandEvent } from '@umbek/core/engine';
import { VirtualClock } from '@umbek/core/rehearse';
import type { PlainValue } from '@umbek/core/show';
import { OscStandin, seeded } from '@umbek/standins';
import { decodeOsc, encodeDeviceMessage, encodeOsc, encodeRequest } from '@umbek/wire/osc';
import { OscDriver } from './oscDriver';

/** Driver and switcher on one virtual clock, with a wire between them that can lose, double and fall dead. */
function setUp(options: { drop?: number; double?: number; seed?: number } = {}) {
  const clock = new VirtualClock();
  const chance = seeded(options.seed ?? 1);
  const sent: string[] = [];
  /** Verbs of each datagram. */
  const datagrams: string[][] = [];
  const points: Record<string, PlainValue> = {};
  const reached: boolean[] = [];
  const wire = { dead: false, deaf: false };
  const pass = (work: () => void): void => {
    if (wire.dead || chance() < (options.drop ?? 0)) return;
    for (let copy = 0; copy < (chance() < (options.double ?? 0) ? 2 : 1); copy += 1) clock.at(clock.now() + 1, work);
  };
  const device = new OscStandin(
    switcher,
    { startProgram: 4, startPreview: 2 },
    { clock, refusing: () => false, send: (bytes) => pass(() => wire.deaf || driver.receive(bytes)) },
  );
  const driver = new OscDriver(
    switcher,
    {
      clock,
      title: 'Switcher',
      transmit: (bytes) => {
        const packet = decodeOsc(bytes);
        if (packet.ok) datagrams.push(packet.value.map((message) => message.address.split('/').at(-1) ?? ''));
        if (packet.ok) sent.push(...packet.value.map((message) => `${message.address} ${message.values.join(' ')}`));
        pass(() => device.receive(bytes, 'driver'));
      },
      guard: () => undefined,
      placeAt: () => '',
      news: { points: (changes) => void Object.assign(points, changes), reached: (yes) => reached.push(yes) },
    },
    'e1',
  );
  driver.open();
  const send = (
    id: string,
    command: string,
    params: Record<string, PlainValue> = {},
    more?: 'stays' | 'leaves',
  ): CommandEvent[] => {
    const events: CommandEvent[] = [];
    driver.send(id, { command, params }, (event) => events.push(event), more !== undefined);
    if (more === 'leaves') driver.leave();
    return events;
  };
  /** Datagrams that carried commands: what asks and keeps the link alive is left out. */
  const commands = (): string[][] => datagrams.filter(([verb]) => verb !== 'ping' && verb !== 'read');
  const effects = (name: string) => device.report().effects.filter((effect) => effect.command === name).length;
  return { clock, driver, device, sent, points, reached, wire, send, effects, commands };
}

describe('the OSC driver', () => {
  it('reads a device whole before it calls it reached', () => {
    const { clock, driver, points, reached, sent } = setUp();
    clock.runTo(20);
    expect(sent.slice(0, 2)).toEqual(['/switcher/ping beat', '/switcher/read read-e1-1']);
    expect([driver.state, reached]).toEqual(['reached', [true]]);
    expect(points).toMatchObject({ program: 4, preview: 2, keyer1: true, input1Picture: 'good' });
  });

  it('sends a command under an id that no other start of the engine uses, and tells the points that it changed before its answer', () => {
    const { clock, send, sent, points } = setUp();
    clock.runTo(100);
    const events = send('7', 'preview', { source: 5 });
    clock.runTo(150);
    expect(sent).toContain('/switcher/preview e1.7 5');
    expect([events, points.preview]).toEqual([[{ type: 'outcome', outcome: 'done' }], 5]);
  });

  it('tells nothing of a point that a command which waits for its turn has made unknown', () => {
    const { clock, send, points } = setUp();
    clock.runTo(100);
    send('1', 'mix', { frames: 25 });
    clock.runTo(200);
    // The cut ends the mix; the second mix waits for the cut's answer, and what is told meanwhile is of the first.
    send('2', 'cut');
    const events = send('3', 'mix', { frames: 25 });
    delete points.mixing;
    const reports: unknown[] = [];
    for (let now = 200; now < 320; now += 1) {
      clock.runTo(now);
      reports.push(points.mixing);
    }
    expect(events).toEqual([{ type: 'outcome', outcome: 'done' }]);
    expect(new Set(reports)).toEqual(new Set([undefined, true]));
    clock.runTo(1000);
    expect(points.mixing).toBe(false);
  });

  it('sends what leaves together as one bundle, and tells of each by itself', () => {
    const { clock, send, points, commands } = setUp();
    clock.runTo(100);
    const all = [
      send('1', 'preview', { source: 5 }, 'stays'),
      send('2', 'aux', { output: 1, source: 40 }, 'stays'),
      send('3', 'aux', { output: 2, source: 3 }, 'leaves'),
    ];
    expect(commands()).toEqual([['preview', 'aux', 'aux']]);
    clock.runTo(150);
    expect(all.map((events) => events.map((event) => (event.type === 'outcome' ? event.outcome : event.type)))).toEqual(
      [['done'], ['refused'], ['done']],
    );
    expect([points.preview, points.aux2]).toEqual([5, 3]);
    expect(commands()).toHaveLength(1);
  });

  it('does not wait beyond the instant for what was to follow', () => {
    const { clock, driver, send, commands } = setUp();
    clock.runTo(100);
    const events = send('1', 'preview', { source: 5 }, 'stays');
    const gone: CommandEvent[] = [];
    driver.send('2', { command: 'cut', params: {} }, (event) => gone.push(event), true)();
    expect(commands()).toEqual([]);
    clock.runTo(100.01);
    expect(commands()).toEqual([['preview']]);
    clock.runTo(150);
    expect(events).toEqual([{ type: 'outcome', outcome: 'done' }]);
    expect(gone).toEqual([{ type: 'outcome', outcome: 'refused', why: 'Cancelled before it was sent.' }]);
  });

  it('does not make a bundle larger than a datagram goes through', () => {
    const { clock, send, commands } = setUp();
    clock.runTo(100);
    const many = Array.from({ length: 60 }, (_, at) =>
      send(`${at}`, 'preview', { source: 1 + (at % 4) }, at < 59 ? 'stays' : 'leaves'),
    );
    clock.runTo(400);
    expect(commands().length).toBeGreaterThan(1);
    expect(commands().length).toBeLessThan(6);
    expect(commands().flat()).toHaveLength(60);
    expect(many.every(([event]) => event?.type === 'outcome' && event.outcome === 'done')).toBe(true);
  });

  it('does each of a bundle exactly once over a wire that loses 20 % and doubles 10 %, and repeats only what is not answered', () => {
    for (let seed = 1; seed <= 20; seed += 1) {
      const { clock, send, effects } = setUp({ drop: 0.2, double: 0.1, seed });
      clock.runTo(4000);
      const all = Array.from({ length: 5 }, (_, index) => send(`c${index}`, 'cut', {}, index < 4 ? 'stays' : 'leaves'));
      clock.runTo(clock.now() + 1200);
      expect([seed, effects('cut'), all.map(([event]) => event?.type === 'outcome' && event.outcome)]).toEqual([
        seed,
        5,
        ['done', 'done', 'done', 'done', 'done'],
      ]);
    }
  });

  it('tells each of a bundle as lost when the device falls silent, and as refused when it is closed before it left', () => {
    const { clock, driver, send, wire } = setUp();
    clock.runTo(100);
    wire.dead = true;
    const lost = [send('1', 'cut', {}, 'stays'), send('2', 'preview', { source: 5 }, 'leaves')];
    clock.runTo(5000);
    expect(lost.map(([event]) => event?.type === 'outcome' && event.outcome)).toEqual(['lost', 'lost']);
    wire.dead = false;
    clock.runTo(8000);
    const held = send('3', 'cut', {}, 'stays');
    driver.close();
    clock.runTo(8001);
    expect(held.map((event) => event.type === 'outcome' && event.outcome)).toEqual(['refused']);
  });

  it('hands a refusal on in the words of the device', () => {
    const { clock, send } = setUp();
    clock.runTo(100);
    const events = send('1', 'preview', { source: 40 });
    clock.runTo(150);
    expect(events).toEqual([{ type: 'outcome', outcome: 'refused', why: 'There is no input 40.' }]);
  });

  it('does each command exactly once over a wire that loses 20 % and doubles 10 %', () => {
    for (let seed = 1; seed <= 20; seed += 1) {
      const { clock, driver, send, effects } = setUp({ drop: 0.2, double: 0.1, seed });
      clock.runTo(4000);
      expect(driver.state).toBe('reached');
      const all = Array.from({ length: 10 }, (_, index) => {
        const events = send(`c${index}`, 'cut');
        clock.runTo(clock.now() + 1200);
        return events;
      });
      expect(
        all.map((events) => events.filter((event) => event.type === 'outcome' && event.outcome === 'done').length),
      ).toEqual(Array.from({ length: 10 }, () => 1));
      expect(effects('cut')).toBe(10);
    }
  });

  it('takes one command at a time, in their order', () => {
    const { clock, send, sent } = setUp();
    clock.runTo(100);
    sent.length = 0;
    const first = send('1', 'preview', { source: 1 });
    const second = send('2', 'cut');
    expect(sent).toEqual(['/switcher/preview e1.1 1']);
    clock.runTo(140);
    expect(sent.filter((line) => !/ping|read/.test(line))).toEqual(['/switcher/preview e1.1 1', '/switcher/cut e1.2']);
    expect([first.length, second.length]).toEqual([1, 1]);
  });

  it('calls a command late when the device lives and does not answer it, and settles it by reading back', () => {
    const { clock, send, wire, driver } = setUp();
    clock.runTo(100);
    wire.deaf = true;
    const events = send('1', 'cut');
    clock.runTo(500);
    wire.deaf = false;
    // A pong is let through, so it is heard; its answers are held back no longer, but the resends of the same id are answered.
    clock.runTo(1500);
    expect(driver.state).toBe('reached');
    expect(events).toEqual([{ type: 'outcome', outcome: 'done' }]);
    wire.dead = true;
    const lost = send('2', 'cut');
    clock.runTo(2600);
    expect(lost.at(-1)).toMatchObject({ type: 'outcome', outcome: 'lost' });
    wire.dead = false;
    clock.runTo(4000);
    expect(lost.at(-1)).toMatchObject({ type: 'settled', words: expect.stringContaining('program') });
  });

  it('is silent 1.8 s after the last datagram, fails what waits, and forgets what it knew', () => {
    const { clock, driver, send, wire, reached } = setUp();
    clock.runTo(100);
    wire.dead = true;
    clock.runTo(1700);
    const events = send('1', 'cut');
    const waiting = send('2', 'cut');
    clock.runTo(2000);
    expect([driver.state, reached.at(-1)]).toEqual(['silent', false]);
    expect(events).toMatchObject([{ type: 'outcome', outcome: 'lost' }]);
    expect(waiting).toMatchObject([
      { type: 'outcome', outcome: 'refused', why: expect.stringMatching(/^Not sent: Switcher does not answer\./) },
    ]);
  });

  it('reads again when a state was missed, and takes a device that counts from the beginning as switched on anew', () => {
    const { clock, driver, sent, points } = setUp();
    clock.runTo(100);
    const state = (number: number, value: number) =>
      encodeOsc([encodeDeviceMessage('switcher', { kind: 'state', point: 'preview', number, value })]);
    sent.length = 0;
    driver.receive(state(1, 9));
    expect([points.preview, sent]).toEqual([9, []]);
    driver.receive(state(5, 3));
    expect(sent).toEqual(['/switcher/read read-e1-2']);
    // An old number is a straggler.
    driver.receive(state(2, 8));
    expect(points.preview).toBe(3);
    clock.runTo(600);
    // The device itself counts 0: it cannot be the one that had told number 5.
    expect(points.preview).toBe(2);
  });

  it('asks again for a read that got lost: what was missed does not stay missed', () => {
    const { clock, driver, device, wire, points } = setUp();
    clock.runTo(100);
    wire.deaf = true;
    device.receive(encodeOsc([encodeRequest('switcher', 'preview', 'other.1', [{ value: 7, whole: true }])]), 'other');
    device.receive(
      encodeOsc([
        encodeRequest('switcher', 'aux', 'other.2', [
          { value: 1, whole: true },
          { value: 3, whole: true },
        ]),
      ]),
      'other',
    );
    clock.runTo(130);
    wire.deaf = false;
    wire.dead = true;
    // The second state is heard, the first was missed; the read that this begins is lost on the dead wire.
    driver.receive(encodeOsc([encodeDeviceMessage('switcher', { kind: 'state', point: 'aux1', number: 2, value: 3 })]));
    expect(points).toMatchObject({ aux1: 3, preview: 2 });
    clock.runTo(190);
    wire.dead = false;
    clock.runTo(700);
    expect(points).toMatchObject({ aux1: 3, preview: 7 });
  });

  it('tells a stranger at the port', () => {
    const { clock, driver, wire } = setUp();
    wire.dead = true;
    for (let t = 100; t <= 2000; t += 100) {
      clock.runTo(t);
      driver.receive(Buffer.from('nothing of ours'));
    }
    expect([driver.state, driver.malformed]).toEqual(['foreign', 20]);
  });
});
