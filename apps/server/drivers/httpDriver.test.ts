import { recorder } from '@umbek/core/devices';
import type { CommandEvent } from '@umbek/core/engine';
import { VirtualClock } from '@umbek/core/rehearse';
import type { PlainValue } from '@umbek/core/show';
import { type HttpAnswer, HttpDriver } from './httpDriver';

/** A driver whose requests are answered by hand. */
function setUp() {
  const clock = new VirtualClock();
  const asked: { line: string; body: Record<string, unknown>; then: (answer: HttpAnswer) => void }[] = [];
  const points: Record<string, PlainValue> = {};
  const reached: boolean[] = [];
  let stream: {
    opened: () => void;
    event: (data: string) => void;
    ended: (why: 'refused' | 'foreign' | 'lost') => void;
  } | null = null;
  const driver = new HttpDriver(
    recorder,
    {
      clock,
      title: 'Gate room 4',
      guard: () => undefined,
      placeAt: () => '',
      news: { points: (changes) => void Object.assign(points, changes), reached: (yes) => reached.push(yes) },
      ask: ({ method, path, body }, then) => void asked.push({ line: `${method} ${path}`, body: { ...body }, then }),
      listen: (_path, events) => {
        stream = events;
        return () => (stream = null);
      },
    },
    'e1',
  );
  driver.open();
  const whole = (number: number, points: Record<string, PlainValue>): HttpAnswer => ({
    status: 200,
    body: { device: 'recorder', number, points: points },
  });
  /** Answers the oldest request to a path that waits. */
  const answer = (line: string, what: HttpAnswer): void => {
    const at = asked.findIndex((candidate) => candidate.line === line);
    expect(at).toBeGreaterThanOrEqual(0);
    asked.splice(at, 1)[0]?.then(what);
  };
  const begin = (): void => {
    stream?.opened();
    answer('GET /state', whole(4, { recording: false, file: '' }));
  };
  const send = (id: string, command: string, params: Record<string, PlainValue> = {}): CommandEvent[] => {
    const events: CommandEvent[] = [];
    driver.send(id, { command, params }, (event) => events.push(event));
    return events;
  };
  return {
    clock,
    driver,
    asked,
    points,
    reached,
    whole,
    answer,
    begin,
    send,
    tell: (change: object) => stream?.event(JSON.stringify(change)),
    end: (why: 'refused' | 'foreign' | 'lost') => stream?.ended(why),
  };
}

describe('the HTTP driver', () => {
  it('listens first and reads then, so that nothing happens unseen between the two', () => {
    const { asked, begin, driver, points, reached } = setUp();
    expect(asked).toEqual([]);
    begin();
    expect([driver.state, reached, points]).toEqual(['reached', [true], { recording: false, file: '' }]);
  });

  it('sends a command with an id of its own, and again under the same one when its answer got lost', () => {
    const { begin, send, asked, answer, clock } = setUp();
    begin();
    const events = send('9', 'start', { file: 'night one' });
    expect(asked.at(-1)).toMatchObject({ line: 'POST /commands/start', body: { id: 'e1.9', file: 'night one' } });
    answer('POST /commands/start', { failed: 'lost' });
    clock.runTo(200);
    expect(asked.filter(({ line }) => line === 'POST /commands/start')).toMatchObject([{ body: { id: 'e1.9' } }]);
    answer('POST /commands/start', { status: 200, body: { outcome: 'done' } });
    expect(events).toEqual([{ type: 'outcome', outcome: 'done' }]);
  });

  it('hands a refusal on in the words of the device', () => {
    const { begin, send, answer } = setUp();
    begin();
    const events = send('9', 'start', { file: 'night one' });
    answer('POST /commands/start', { status: 409, body: { outcome: 'refused', why: 'The disk is full.' } });
    expect(events).toEqual([{ type: 'outcome', outcome: 'refused', why: 'The disk is full.' }]);
  });

  it('takes changes in their order, and reads again until it has what it missed', () => {
    const { begin, tell, points, asked, answer, whole, clock } = setUp();
    begin();
    tell({ number: 5, point: 'recording', value: true });
    expect([points.recording, asked]).toEqual([true, []]);
    // Number 6 is missed.
    tell({ number: 7, point: 'elapsed', value: 1 });
    answer('GET /state', { failed: 'lost' });
    expect(points).not.toHaveProperty('file', 'night one');
    clock.runTo(600);
    answer('GET /alive', { status: 200, body: { device: 'recorder', number: 7 } });
    answer('GET /state', whole(7, { recording: true, file: 'night one', elapsed: 1 }));
    expect(points).toMatchObject({ file: 'night one' });
    // Nothing is missing any more: the next beat asks for no more.
    clock.runTo(1200);
    answer('GET /alive', { status: 200, body: { device: 'recorder', number: 7 } });
    expect(asked.filter(({ line }) => line === 'GET /state')).toEqual([]);
  });

  it('drops an answer that is older than what the stream has told since, and asks again', () => {
    const { begin, tell, points, asked, answer, whole, clock } = setUp();
    begin();
    tell({ number: 6, point: 'elapsed', value: 1 });
    tell({ number: 7, point: 'elapsed', value: 2 });
    answer('GET /state', whole(6, { elapsed: 1, file: 'x' }));
    expect(points.elapsed).toBe(2);
    clock.runTo(600);
    answer('GET /alive', { status: 200, body: { device: 'recorder', number: 7 } });
    expect(asked.some(({ line }) => line === 'GET /state')).toBe(true);
  });

  it('tells a stranger at the port from nobody', () => {
    const stranger = setUp();
    for (let t = 0; t < 3000; t += 200) {
      stranger.clock.runTo(t);
      stranger.end('foreign');
    }
    expect(stranger.driver.state).toBe('foreign');
    const nobody = setUp();
    for (let t = 0; t < 3000; t += 200) {
      nobody.clock.runTo(t);
      nobody.end('refused');
    }
    expect(nobody.driver.state).toBe('silent');
  });
});
