import type { CommandEvent } from '@umbek/core/engine';
import { VirtualClock } from '@umbek/core/rehearse';
import type { PlainValue } from '@umbek/core/show';
import {
  ACKNOWLEDGE,
  decodeRouterMessage,
  encodeFrame,
  encodeRouterMessage,
  FrameReader,
  type RouterMessage,
} from '@umbek/wire/swp08';
import { RouterDriver } from './routerDriver';

/** A driver whose router is played by hand: what it says is read as messages, what the router says is framed. */
function setUp(destinations = 4) {
  const clock = new VirtualClock();
  const said: (RouterMessage | 'received')[] = [];
  const points: Record<string, PlainValue> = {};
  const reached: boolean[] = [];
  const connects: number[] = [];
  const reader = new FrameReader();
  const driver = new RouterDriver(
    { destinations, sources: 8 },
    {
      clock,
      title: 'Exchange',
      guard: () => undefined,
      placeAt: () => '',
      news: { points: (changes) => void Object.assign(points, changes), reached: (yes) => reached.push(yes) },
      connect: () => connects.push(clock.now()),
      hangUp: () => undefined,
      transmit: (bytes) => {
        for (const event of reader.push(bytes)) {
          if (event.type === 'ack') said.push('received');
          if (event.type !== 'data') continue;
          const message = decodeRouterMessage(event.data);
          if (message.ok) said.push(message.value);
        }
      },
    },
  );
  driver.open();
  const tell = (message: RouterMessage): void => driver.receive(encodeFrame(encodeRouterMessage(message)));
  const begin = (): void => {
    driver.connected();
    tell({ kind: 'dump', first: 0, sources: [0, 1, 2, 3].slice(0, destinations) });
    tell({ kind: 'protectDump', first: 0, protections: [false, false, true, false].slice(0, destinations) });
    said.length = 0;
  };
  const send = (id: string, command: string, params: Record<string, PlainValue>): CommandEvent[] => {
    const events: CommandEvent[] = [];
    driver.send(id, { command, params }, (event) => events.push(event));
    return events;
  };
  return { clock, driver, said, points, reached, connects, tell, begin, send };
}

const done: CommandEvent = { type: 'outcome', outcome: 'done' };

describe('the router driver', () => {
  it('connects, reads every crosspoint and protection, and only then is the router reached', () => {
    const { driver, said, points, reached, connects, tell } = setUp();
    expect(connects).toEqual([0]);
    driver.connected();
    expect(said).toEqual([{ kind: 'dumpRequest' }, { kind: 'protectDumpRequest' }]);
    tell({ kind: 'dump', first: 0, sources: [0, 1, 2, 3] });
    expect(reached).toEqual([]);
    tell({ kind: 'protectDump', first: 0, protections: [false, false, true, false] });
    // On the wire they count from 0, everywhere else from 1.
    expect([reached, points]).toEqual([
      [true],
      {
        out1: 1,
        out2: 2,
        out3: 3,
        out4: 4,
        out1Protected: false,
        out2Protected: false,
        out3Protected: true,
        out4Protected: false,
      },
    ]);
  });

  it('takes a dump in pieces, in whatever order', () => {
    const { driver, reached, tell } = setUp();
    driver.connected();
    tell({ kind: 'protectDump', first: 2, protections: [true, false] });
    tell({ kind: 'dump', first: 2, sources: [7, 6] });
    tell({ kind: 'dump', first: 0, sources: [5, 4] });
    expect(reached).toEqual([]);
    tell({ kind: 'protectDump', first: 0, protections: [false, false] });
    expect(reached).toEqual([true]);
  });

  it('calls a connect done when the router says connected, and acknowledges what it hears', () => {
    const { begin, send, said, tell, points } = setUp();
    begin();
    const events = send('1', 'connect', { destination: 2, source: 8 });
    expect(said).toEqual([{ kind: 'connect', destination: 1, source: 7 }]);
    tell({ kind: 'connected', destination: 1, source: 7 });
    expect([events, points.out2, said.at(-1)]).toEqual([[done], 8, 'received']);
  });

  it('is not taken in by what another controller connects to the same destination', () => {
    const { begin, send, tell, points, clock } = setUp();
    begin();
    const events = send('1', 'connect', { destination: 2, source: 8 });
    tell({ kind: 'connected', destination: 1, source: 4 });
    expect([events, points.out2]).toEqual([[], 5]);
    tell({ kind: 'connected', destination: 1, source: 7 });
    clock.runTo(10);
    expect([events, points.out2]).toEqual([[done], 8]);
  });

  it('is refused where the destination is protected, and takes the next command then', () => {
    const { begin, send, said, tell } = setUp();
    begin();
    const first = send('1', 'connect', { destination: 3, source: 1 });
    const second = send('2', 'protect', { destination: 3, on: false });
    expect(said).toHaveLength(1);
    tell({ kind: 'protectTally', destination: 2, device: 4, protected: true });
    expect(first).toEqual([{ type: 'outcome', outcome: 'refused', why: 'Destination 3 is protected.' }]);
    expect(said.filter((candidate) => candidate !== 'received').at(-1)).toMatchObject({
      kind: 'protectDisconnect',
      destination: 2,
    });
    tell({ kind: 'protectDisconnected', destination: 2, device: 1, protected: false });
    expect(second).toEqual([done]);
  });

  it('is late when the router lives and does not answer, and settled by reading back', () => {
    const { begin, send, tell, clock, driver } = setUp();
    begin();
    const events = send('1', 'connect', { destination: 1, source: 6 });
    for (let t = 200; t <= 1100; t += 100) {
      clock.runTo(t);
      driver.receive(ACKNOWLEDGE);
    }
    expect(events).toMatchObject([{ type: 'outcome', outcome: 'late' }]);
    tell({ kind: 'dump', first: 0, sources: [5, 1, 2, 3] });
    tell({ kind: 'protectDump', first: 0, protections: [false, false, false, false] });
    expect(events.at(-1)).toEqual({ type: 'settled', words: 'Read back: out1 6' });
  });

  it('is silent at once when the connection is gone, and connects again', () => {
    const { begin, driver, reached, connects, send, clock } = setUp();
    begin();
    const events = send('1', 'connect', { destination: 1, source: 6 });
    driver.disconnected();
    expect([driver.state, reached]).toEqual(['silent', [true, false]]);
    expect(events).toMatchObject([{ type: 'outcome', outcome: 'lost' }]);
    clock.runTo(2000);
    expect(connects.length).toBe(2);
  });

  it('counts what is not its protocol', () => {
    const { driver, clock } = setUp();
    driver.connected();
    for (let t = 100; t < 3000; t += 100) {
      clock.runTo(t);
      driver.receive(Buffer.from('HTTP/1.1 400 Bad Request\r\n\r\n'));
    }
    expect(driver.state).toBe('foreign');
    expect(driver.malformed).toBeGreaterThan(0);
  });
});
