import { corvaneHill, memoriesOf } from '@umbek/demo';
import type { TravelRun } from '@umbek/core/devices';
import type { CommandEvent } from '@umbek/core/engine';
import { VirtualClock } from '@umbek/core/rehearse';
import type { PlainValue } from '@umbek/core/show';
import { PtzHeadStandin, seeded } from '@umbek/standins';
import { hex } from '@umbek/wire/visca';
import { ViscaDriver } from './viscaDriver';

const HEAD = { ...corvaneHill().devices[0]?.settings, memories: memoriesOf('deskCam') };

/** Driver and head on one virtual clock, with a wire between them that can lose, double and delay. */
function setUp(
  options: {
    repeats?: boolean;
    drop?: number;
    double?: number;
    seed?: number;
    /** Replies of the head that get lost. */
    lose?: (payload: string) => boolean;
  } = {},
) {
  const clock = new VirtualClock();
  const chance = seeded(options.seed ?? 1);
  const sent: string[] = [];
  const sequences: number[] = [];
  const points: Record<string, PlainValue> = {};
  const reached: boolean[] = [];
  const guards: (number | null)[] = [];
  const travelled: TravelRun[] = [];
  const wire = { dead: false };
  const pass = (work: () => void): void => {
    if (wire.dead || chance() < (options.drop ?? 0)) return;
    for (let copy = 0; copy < (chance() < (options.double ?? 0) ? 2 : 1); copy += 1) clock.at(clock.now() + 1, work);
  };
  const head = new PtzHeadStandin(HEAD, options.repeats ?? false, {
    clock,
    refusing: () => false,
    send: (bytes) => {
      if (options.lose?.(hex(bytes.slice(8))) !== true) pass(() => driver.receive(bytes));
    },
  });
  const driver = new ViscaDriver(HEAD, {
    clock,
    title: 'Desk cam',
    transmit: (bytes) => {
      sent.push(hex(bytes.slice(8)));
      sequences.push(new DataView(bytes.buffer, bytes.byteOffset).getUint32(4));
      pass(() => head.receive(bytes, 'driver'));
    },
    guard: (datagrams) => guards.push(datagrams?.length ?? null),
    placeAt: () => '',
    travelled: (run) => travelled.push(run),
    news: { points: (changes) => void Object.assign(points, changes), reached: (yes) => reached.push(yes) },
  });
  driver.open();
  const send = (id: string, command: string, params: Record<string, PlainValue> = {}): CommandEvent[] => {
    const events: CommandEvent[] = [];
    driver.send(id, { command, params }, (event) => events.push(event));
    return events;
  };
  const effects = (name: string) => head.report().effects.filter((effect) => effect.command === name).length;
  return { clock, driver, head, sent, sequences, points, reached, guards, wire, send, effects, travelled };
}

const toInes = { position: 'inesClose', number: 1, pan: -12.45, tilt: 3, zoom: 4.2 };

describe('the VISCA driver', () => {
  it('finds a head: numbers back, stop, read everything, and only then is it reached', () => {
    const { clock, driver, sent, reached, points } = setUp();
    clock.runTo(100);
    expect(sent.slice(0, 4)).toEqual(['01', '81 01 06 01 01 01 03 03 FF', '81 01 04 07 00 FF', '81 09 06 12 FF']);
    expect([driver.state, reached]).toEqual(['reached', [true]]);
    expect(points).toMatchObject({ pan: 0, tilt: 0, zoom: 1, travelling: false });
  });

  it('tells a recall as accepted at its acknowledgement and as done at its completion', () => {
    const { clock, send, points } = setUp();
    clock.runTo(200);
    const events = send('r', 'recall', toInes);
    clock.runTo(230);
    expect(events).toEqual([{ type: 'accepted' }]);
    expect(points).toMatchObject({ travelling: true, arrived: '' });
    clock.runTo(2200);
    expect(events).toEqual([{ type: 'accepted' }, { type: 'outcome', outcome: 'done' }]);
    expect(points).toMatchObject({ travelling: false, arrived: 'inesClose' });
  });

  it('does not call a recall done that a nudge took over, whatever the head says of it', () => {
    // "Cancelled" gets lost; later the head says that the recall is complete.
    const { clock, driver, send, sent, sequences, points } = setUp({ lose: (payload) => /^90 6. 04/.test(payload) });
    clock.runTo(200);
    const events = send('r', 'recall', toInes);
    const at = sent.findLastIndex((bytes) => bytes.startsWith('81 01 04 3F'));
    clock.runTo(700);
    send('n', 'nudge', { x: 1, y: 0, zoom: 0 });
    clock.runTo(900);
    send('s', 'stop');
    clock.runTo(1000);
    const done = new Uint8Array([0x01, 0x11, 0, 3, 0, 0, 0, 0, 0x90, 0x51, 0xff]);
    new DataView(done.buffer).setUint32(4, sequences[at] ?? 0);
    driver.receive(done);
    clock.runTo(2500);
    expect(points.arrived).not.toBe('inesClose');
    expect(events.at(-1)).toEqual({
      type: 'outcome',
      outcome: 'refused',
      why: 'A newer move or a stop ended it.',
    });
  });

  it('takes a clean travel down for learning: from, to, delays and the way', () => {
    const { clock, send, travelled } = setUp();
    clock.runTo(200);
    send('r', 'recall', toInes);
    clock.runTo(2200);
    expect(travelled).toMatchObject([{ from: { pan: 0, tilt: 0, zoom: 1 }, to: { pan: -12.45, tilt: 3, zoom: 4.2 } }]);
    const [run] = travelled;
    // There and back takes 2 ms on this wire, and the head answers after its 8 ms.
    expect(run?.ackMs).toBe(10);
    // The zoom is slowest: 7848 codes at 6500 a second with 16,000 a second squared, 1.207 s + 0.406 s, and the delays.
    expect(Math.round((run?.doneMs ?? 0) / 10)).toBe(Math.round((1207.4 + 406.3 + 10) / 10));
    expect(run?.path.length).toBeGreaterThan(10);
  });

  it('learns nothing from a travel on which something had to be sent again', () => {
    const { clock, send, travelled, wire } = setUp();
    clock.runTo(200);
    wire.dead = true;
    send('r', 'recall', toInes);
    clock.runTo(240);
    wire.dead = false;
    clock.runTo(3000);
    expect(travelled).toEqual([]);
  });

  it('makes room once in a head that says twice that it has none, and gives up after a second', () => {
    const { clock, driver, send, sent, sequences, wire } = setUp();
    clock.runTo(200);
    wire.dead = true;
    const events = send('r', 'recall', toInes);
    const timesSent = (command: string): number => sent.filter((bytes) => bytes.startsWith(command)).length;
    const full = (): void => {
      const at = sent.findLastIndex((bytes) => bytes.startsWith('81 01 04 3F'));
      const packet = new Uint8Array([0x01, 0x11, 0, 4, 0, 0, 0, 0, 0x90, 0x60, 0x03, 0xff]);
      new DataView(packet.buffer).setUint32(4, sequences[at] ?? 0);
      driver.receive(packet);
    };
    const [recalls, cancels] = [timesSent('81 01 04 3F'), timesSent('81 2')];
    expect([recalls, cancels]).toEqual([1, 0]);
    full();
    full();
    full();
    expect(timesSent('81 2')).toBe(2);
    clock.runTo(clock.now() + 30);
    expect(timesSent('81 01 04 3F')).toBe(2);
    // The head stays full: each round is one more, never two, and after a second it is told.
    for (let round = 0; round < 60 && events.length === 0; round += 1) {
      full();
      full();
      clock.runTo(clock.now() + 30);
    }
    expect(events).toEqual([
      { type: 'outcome', outcome: 'refused', why: 'The head refused it: it is busy with other commands.' },
    ]);
    expect(timesSent('81 01 04 3F')).toBeLessThanOrEqual(42);
  });

  it('tells a head that stands elsewhere, and that it stands', () => {
    const { clock, send, points, wire } = setUp();
    clock.runTo(200);
    // The head's memory 1 is not what the show thinks, and its "done" gets lost.
    const events = send('r', 'recall', { ...toInes, pan: 100 });
    clock.runTo(1000);
    wire.dead = true;
    clock.runTo(2300);
    wire.dead = false;
    clock.runTo(6000);
    expect(events.map((event) => (event.type === 'outcome' ? event.outcome : event.type))).toEqual([
      'accepted',
      'late',
      'settled',
    ]);
    expect(points).toMatchObject({ travelling: false, arrived: '' });
  });

  it('makes a slow move with the nearest speed steps, drives the zoom and lands it at its code', () => {
    const { clock, send, sent, points, guards, head } = setUp();
    clock.runTo(200);
    guards.length = 0;
    const events = send('g', 'recall', { ...toInes, seconds: 4 });
    clock.runTo(300);
    // −12.45° in 4 s at 3.33°/s a step: step 1 takes 3.76 s, step 2 1.92 s. 3° at 3°/s a step: step 1 takes 1.03 s. Zoom: 7849 codes (1EA9) at 812.5 a step: 3 takes 3.37 s, 2 takes 4.93 s.
    expect(sent).toEqual(expect.arrayContaining(['81 01 06 02 01 01 0F 0F 05 0A 00 00 02 08 FF', '81 01 04 07 22 FF']));
    expect([events, guards]).toEqual([[{ type: 'accepted' }], [2]]);
    clock.runTo(3000);
    expect(points).toMatchObject({ travelling: true, arrived: '' });
    clock.runTo(4600);
    expect(sent).toContain('81 01 04 47 01 0E 0A 09 FF');
    expect(events).toEqual([{ type: 'accepted' }, { type: 'outcome', outcome: 'done' }]);
    expect(points).toMatchObject({ travelling: false, arrived: 'inesClose' });
    expect(Number(points.zoom)).toBeCloseTo(4.2, 1);
    expect(guards).toEqual([2, null]);
    expect(head.report().points).toMatchObject({ travelling: false });
  });

  it.each([
    ['a stop', 'stop', {}],
    ['a newer move', 'goTo', { pan: 5, tilt: 0 }],
  ])('ends a slow move at %s, its driven zoom with it', (_what, command, params) => {
    const { clock, send, head, points } = setUp();
    clock.runTo(200);
    const slow = send('g', 'goTo', { pan: 1, tilt: 0, zoom: 15, seconds: 20 });
    clock.runTo(2500);
    send('n', command, params);
    expect(slow.at(-1)).toMatchObject({ type: 'outcome', outcome: 'refused' });
    clock.runTo(6000);
    expect(head.report().points).toMatchObject({ travelling: false });
    expect(points).toMatchObject({ travelling: false });
    const zoom = Number(head.report().points.zoom);
    expect(zoom).toBeGreaterThan(1);
    expect(zoom).toBeLessThan(4);
  });

  it('lets a stop overtake a move, wherever that has got to', () => {
    const { clock, send, head, points } = setUp();
    clock.runTo(200);
    const recall = send('r', 'recall', toInes);
    clock.runTo(700);
    const stop = send('s', 'stop');
    clock.runTo(760);
    expect(stop).toEqual([{ type: 'outcome', outcome: 'done' }]);
    expect(recall.at(-1)).toMatchObject({ type: 'outcome', outcome: 'refused' });
    clock.runTo(2500);
    expect(head.report().points).toMatchObject({ travelling: false });
    expect(points).toMatchObject({ travelling: false, arrived: '' });
  });

  it('frees both sockets for a stop that finds none', () => {
    const { clock, send, head, sent } = setUp();
    clock.runTo(200);
    // Pan-tilt and zoom each hold a socket.
    send('g', 'goTo', { pan: 90, tilt: 0, zoom: 10 });
    clock.runTo(400);
    const stop = send('s', 'stop');
    clock.runTo(600);
    expect(sent).toEqual(expect.arrayContaining(['81 21 FF', '81 22 FF']));
    expect(stop).toMatchObject([{ type: 'outcome', outcome: 'done' }]);
    clock.runTo(2000);
    expect(head.report().points).toMatchObject({ travelling: false });
  });

  it.each([
    ['a lamp on the head', 'tally', { on: true }],
    ['a recall', 'recall', toInes],
  ])('sees a stopped drive stand although %s follows the stop at once', (_what, command, params) => {
    const { clock, send, head, points } = setUp();
    clock.runTo(200);
    send('d', 'drive', { pan: 10, tilt: 0, zoom: 0 });
    clock.runTo(500);
    send('s', 'stop');
    clock.runTo(525);
    send('n', command, params);
    clock.runTo(4000);
    expect(head.report().points).toMatchObject({ travelling: false });
    expect(points).toMatchObject({ travelling: false });
  });

  it('leaves with the supervisor what ends a drive, and takes it back when it has ended', () => {
    const { clock, send, guards } = setUp();
    clock.runTo(200);
    guards.length = 0;
    send('d', 'drive', { pan: 10, tilt: 0, zoom: 0 });
    expect(guards).toEqual([2]);
    clock.runTo(300);
    send('s', 'stop');
    clock.runTo(400);
    expect(guards).toEqual([2, null]);
  });

  it('a recall within the length of a drive arrives: neither the driver nor its parent ends it at that length', () => {
    const { clock, send, guards, points } = setUp();
    clock.runTo(200);
    guards.length = 0;
    send('d', 'drive', { pan: 10, tilt: 0, zoom: 0, forSeconds: 1 });
    clock.runTo(600);
    const events = send('r', 'recall', toInes);
    clock.runTo(700);
    expect(guards).toEqual([2, null]);
    clock.runTo(9000);
    expect(events.at(-1)).toEqual({ type: 'outcome', outcome: 'done' });
    expect(points).toMatchObject({ arrived: 'inesClose', travelling: false });
  });

  it('a move of the zoom alone leaves the length of a drive to pan as it is', () => {
    const { clock, send, head } = setUp();
    clock.runTo(200);
    send('d', 'drive', { pan: 10, tilt: 0, zoom: 0, forSeconds: 1 });
    clock.runTo(600);
    send('g', 'goTo', { zoom: 2 });
    clock.runTo(1400);
    const { pan } = head.report().points;
    clock.runTo(4000);
    // Ten degrees a second for one second, and not for four.
    expect(Number(pan)).toBeLessThan(12);
    expect(head.report().points).toMatchObject({ pan, travelling: false });
  });

  it('is silent 1.8 s after the last datagram: what was under way is lost, nothing waits to burst out', () => {
    const { clock, driver, send, wire, head, reached, effects } = setUp();
    clock.runTo(200);
    const recall = send('r', 'recall', toInes);
    clock.runTo(230);
    wire.dead = true;
    clock.runTo(3000);
    expect([driver.state, reached.at(-1)]).toEqual(['silent', false]);
    expect(recall.at(-1)).toMatchObject({ type: 'outcome', outcome: 'lost' });
    const late = send('l', 'recall', toInes);
    clock.runTo(4000);
    expect(late).toMatchObject([{ type: 'outcome', outcome: 'refused' }]);
    wire.dead = false;
    clock.runTo(7000);
    expect(driver.state).toBe('reached');
    expect(recall.at(-1)).toMatchObject({ type: 'settled', words: expect.stringContaining('pan -12.') });
    expect(effects('recall')).toBe(1);
    expect(head.report().malformed).toBe(0);
  });

  it.each([false, true])('does each command exactly once over a bad wire (head repeats its answers: %s)', (repeats) => {
    for (let seed = 1; seed <= 20; seed += 1) {
      const { clock, driver, send, effects } = setUp({ repeats, drop: 0.2, double: 0.1, seed });
      clock.runTo(3000);
      expect(driver.state).toBe('reached');
      const stores: CommandEvent[][] = [];
      for (let number = 51; number <= 60; number += 1) {
        stores.push(send(`s${number}`, 'store', { number }));
        clock.runTo(clock.now() + 1500);
      }
      expect(stores.map((events) => events.at(-1))).toEqual(
        Array.from({ length: 10 }, () => expect.objectContaining({ type: 'outcome', outcome: 'done' })),
      );
      expect(effects('store')).toBe(10);
      const recall = send('r', 'recall', toInes);
      clock.runTo(clock.now() + 6000);
      expect(recall.at(-1)).toMatchObject({ type: 'outcome', outcome: 'done' });
      expect(effects('recall')).toBe(1);
    }
  });

  it('counts what it does not understand, and tells a device of another protocol from one that is silent', () => {
    const { clock, driver, wire } = setUp();
    wire.dead = true;
    clock.runTo(100);
    for (let t = 200; t <= 3000; t += 200) {
      clock.runTo(t);
      driver.receive(Buffer.from('/hello there'));
    }
    clock.runTo(3100);
    expect([driver.state, driver.malformed]).toEqual(['foreign', 15]);
  });
});
