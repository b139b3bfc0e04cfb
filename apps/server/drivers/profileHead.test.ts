import type { DeviceCommand } from '@umbek/core/devices';
import { compileProfile, type Outgoing } from '@umbek/core/profile';
import { MAST_CAM } from '@umbek/core/samples';
import { VirtualClock } from '@umbek/core/rehearse';
import type { PlainValue, ProfileFile } from '@umbek/core/show';
import { ProfileDriver, type SendResult } from './profileDriver';
import { ProfileHead } from './profileHead';

const memoryAt = (number: number): string => (number === 3 ? 'gate' : '');
const placeAt = (pan: number): string => (pan === 12 ? 'gate' : '');
const recall = { command: 'recall', params: { position: 'gate', number: 3 } };
const nudge = { command: 'nudge', params: { x: 1, y: 0 } };

describe('where a head by profile has arrived', () => {
  const head = (profile: ProfileFile = MAST_CAM, clock = new VirtualClock()) =>
    new ProfileHead(profile, { clock, memoryAt, placeAt });

  it('is the memory that it names while it does not travel', () => {
    const mast = head();
    expect(mast.reported({ memory: 3, travelling: false }, 5)).toEqual({
      memory: 3,
      travelling: false,
      arrived: 'gate',
    });
    expect(mast.reported({ memory: 3, travelling: true }, 5)).toMatchObject({ arrived: '' });
    // A memory that the show does not know is no position.
    expect(mast.reported({ memory: 8, travelling: false }, 5)).toMatchObject({ arrived: '' });
  });

  it('is told by nothing that may have been said before the move: the answer to the second question after it is the first that counts', () => {
    const mast = head();
    mast.sent(recall, 10);
    // The head stood in this memory before, and says so once more.
    for (const asked of [10, 11]) expect(mast.reported({ memory: 3, travelling: false }, asked)).toEqual({ memory: 3 });
    expect(mast.reported({ memory: 3, travelling: false }, 12)).toMatchObject({ arrived: 'gate', travelling: false });
  });

  it('is nowhere once it was nudged, whatever memory it still names', () => {
    const mast = head();
    mast.sent(nudge, 0);
    expect(mast.reported({ memory: 3, travelling: false }, 2)).toMatchObject({ arrived: '' });
    mast.sent(recall, 2);
    expect(mast.reported({ memory: 3, travelling: false }, 4)).toMatchObject({ arrived: 'gate' });
  });

  it('is where it looks, for one that tells pan, tilt and zoom; half a second after a move where nothing is asked', () => {
    const clock = new VirtualClock();
    const point = (key: string): ProfileFile['points'][number] => ({
      ...(MAST_CAM.points[0] as ProfileFile['points'][number]),
      key,
    });
    const mast = head({ ...MAST_CAM, points: ['pan', 'tilt', 'zoom'].map(point), asks: [] }, clock);
    expect(mast.reported({ pan: 12 }, 0)).toEqual({ pan: 12 });
    expect(mast.reported({ tilt: 1, zoom: 1 }, 0)).toEqual({ tilt: 1, zoom: 1, arrived: 'gate' });
    mast.sent(recall, 0);
    clock.runTo(499);
    expect(mast.reported({ pan: 12 }, 0)).toEqual({ pan: 12 });
    clock.runTo(500);
    expect(mast.reported({ pan: 12 }, 0)).toMatchObject({ arrived: 'gate' });
  });

  it('is not told by one that gives neither', () => {
    const mast = head({ ...MAST_CAM, points: MAST_CAM.points.slice(1) });
    expect(mast.reported({ travelling: false }, 9)).toEqual({ travelling: false });
  });
});

/** A driver whose messages the test answers for by hand. */
function driverOf(fails = false, transport: ProfileFile['transport'] = MAST_CAM.transport) {
  const clock = new VirtualClock();
  const sent: string[] = [];
  const left: string[] = [];
  const points: Record<string, PlainValue>[] = [];
  const waiting: ((result: SendResult) => void)[] = [];
  const words = (messages: readonly Outgoing[] | null): string | null =>
    messages === null ? null : messages.map((message) => (message.as === 'text' ? message.text : message.as)).join();
  const compiled = compileProfile({ ...MAST_CAM, transport });
  if (!compiled.ok) throw new Error(compiled.error[0]?.message);
  const driver = new ProfileDriver(compiled.value, {
    clock,
    title: 'Mast cam',
    news: { points: (changes) => void points.push({ ...changes }), reached: () => undefined },
    guard: () => undefined,
    placeAt,
    memoryAt,
    connect: () => driver.connected(),
    leaveStops: (messages, ms) => void left.push(words(messages) + (ms === undefined ? '' : ` ${ms}`)),
    transmit: (message, beat, then) => {
      if (!beat) sent.push(words([message]) ?? '');
      if (beat) clock.at(clock.now(), () => then({ sent: true }));
      else if (fails && message.as === 'text' && message.text === 'HALT')
        clock.at(clock.now(), () => then({ failed: 'lost' }));
      else waiting.push(then);
    },
  });
  driver.open();
  clock.runTo(10);
  driver.receive({ as: 'text', text: 'AT 1 STAND' });
  sent.length = 0;
  const answer = (): void => {
    waiting.shift()?.({ sent: true });
    clock.runTo(clock.now());
  };
  return { clock, driver, sent, left, points, answer };
}

describe('a stop of a device by profile', () => {
  it('waits for nothing that is under way, drops what waits, and is said again against loss until something else is asked', () => {
    const { clock, driver, sent, left, answer } = driverOf(false, { kind: 'udp', ending: '' });
    const outcomes: string[] = [];
    const tell = (id: string) => (event: { type: string; outcome?: string }) =>
      void outcomes.push(`${id} ${event.outcome ?? event.type}`);
    driver.send('a', nudge, tell('a'));
    driver.send('b', recall, tell('b'));
    expect([sent, left]).toEqual([['RUN 1 0'], ['HALT']]);
    driver.send('c', { command: 'stop', params: {} }, tell('c'));
    expect(sent).toEqual(['RUN 1 0', 'HALT']);
    clock.runTo(clock.now());
    expect(outcomes).toEqual(['b refused']);
    answer();
    answer();
    expect(left).toEqual(['HALT', 'null']);
    clock.runTo(clock.now() + 130);
    expect(sent).toEqual(['RUN 1 0', 'HALT', 'HALT', 'HALT']);
    // Moved again: what is left of the stop would end this move.
    driver.send('d', nudge, tell('d'));
    clock.runTo(clock.now() + 500);
    expect(sent.filter((text) => text === 'HALT')).toHaveLength(3);
  });

  it('over a connection is said once', () => {
    const { clock, driver, sent } = driverOf();
    driver.send('a', nudge, () => undefined);
    driver.send('b', { command: 'stop', params: {} }, () => undefined);
    clock.runTo(clock.now() + 500);
    expect(sent).toEqual(['RUN 1 0', 'HALT']);
  });

  it('that does not get through is said as soon as the device is back, and stays with the parent until then', () => {
    const { clock, driver, sent, left } = driverOf(true);
    driver.send('a', nudge, () => undefined);
    driver.send('b', { command: 'stop', params: {} }, () => undefined);
    clock.runTo(clock.now() + 300);
    expect(left).toEqual(['HALT']);
    driver.disconnected();
    sent.length = 0;
    clock.runTo(clock.now() + 3000);
    driver.receive({ as: 'text', text: 'AT 0 RUN' });
    expect(sent).toEqual(['HALT']);
    expect(left.at(-1)).toBe('null');
  });

  it('comes by itself when a move has stated its length, which the parent is left as well', () => {
    const { clock, driver, sent, left, answer } = driverOf();
    driver.send('a', { command: 'nudge', params: { x: 1, y: 0, forSeconds: 0.5 } }, () => undefined);
    expect(left).toEqual(['HALT', 'HALT 500']);
    const began = clock.now();
    answer();
    clock.runTo(began + 499);
    expect(sent).toEqual(['RUN 1 0']);
    clock.runTo(began + 500);
    expect(sent).toEqual(['RUN 1 0', 'HALT']);
    answer();
    expect(left.at(-1)).toBe('null');
  });

  it('is taken from the parent too when a recall goes out, which would be ended in its middle', () => {
    const { clock, driver, sent, left, answer } = driverOf();
    driver.send('a', { command: 'nudge', params: { x: 1, y: 0, forSeconds: 0.5 } }, () => undefined);
    answer();
    driver.send('b', recall, () => undefined);
    // Without a length: should the engine die now, the head is stopped as any that it moved.
    expect(left).toEqual(['HALT', 'HALT 500', 'HALT']);
    clock.runTo(clock.now() + 3000);
    expect(sent).toEqual(['RUN 1 0', 'GO 3']);
  });

  it.each<[string, DeviceCommand, string[]]>([
    ['a held move', { command: 'nudge', params: { x: 0, y: 1 } }, []],
    ['a recall', recall, []],
    ['another length', { command: 'nudge', params: { x: 0, y: 1, forSeconds: 2 } }, ['2400 HALT']],
    ['a stop', { command: 'stop', params: {} }, ['400 HALT']],
  ])('is forgotten where %s comes before the length is over', (_name, command, stops) => {
    const { clock, driver, sent, answer } = driverOf();
    driver.send('a', { command: 'nudge', params: { x: 1, y: 0, forSeconds: 0.5 } }, () => undefined);
    const began = clock.now();
    const heard: string[] = [];
    answer();
    for (let ms = 0; ms <= 3000; ms += 100) {
      clock.runTo(began + ms);
      if (ms === 400) driver.send('b', command, () => undefined);
      heard.push(...sent.splice(0).flatMap((text) => (text === 'HALT' ? [`${ms} HALT`] : [])));
      answer();
    }
    expect(heard).toEqual(stops);
  });
});
