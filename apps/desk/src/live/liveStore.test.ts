import { LiveStore } from './liveStore';

/** A socket whose other end is the test. */
class HandSocket {
  static OPEN = 1;
  static last: HandSocket;
  readyState = 1;
  readonly sent: { type: string; phase?: string; pressId?: string; resume?: unknown }[] = [];
  onopen: () => void = () => undefined;
  onmessage: (event: { data: string }) => void = () => undefined;
  onclose: () => void = () => undefined;

  constructor(readonly url: string) {
    HandSocket.last = this;
  }

  send(text: string): void {
    this.sent.push(JSON.parse(text) as HandSocket['sent'][number]);
  }

  close(): void {
    this.readyState = 3;
    this.onclose();
  }

  say(message: object): void {
    this.onmessage({ data: JSON.stringify(message) });
  }
}

const snapshot = {
  type: 'snapshot',
  epoch: 3,
  n: 10,
  revision: 1,
  points: { 'switcher.program': 4 },
  faces: { b1: { sign: 'onAir', lost: false, note: '' } },
  runs: [],
  devices: [],
  now: 0,
};

function opened() {
  const store = new LiveStore('ws://test/api/live', () => ({ station: 'Desk', person: 'Ines' }));
  store.open();
  HandSocket.last.onopen();
  HandSocket.last.say(snapshot);
  return store;
}
const phases = () => HandSocket.last.sent.filter((message) => message.type === 'press').map((message) => message.phase);

beforeEach(() => {
  jest.useFakeTimers();
  Object.assign(globalThis, { WebSocket: HandSocket });
});
afterEach(() => jest.useRealTimers());

describe('the live store', () => {
  it('sends a press at once, renews it every 100 ms while held, and its release once', () => {
    const store = opened();
    const pressId = store.down('b1');
    expect([phases(), store.pressState('b1')?.phase]).toEqual([['down'], 'sent']);
    jest.advanceTimersByTime(250);
    expect(phases()).toEqual(['down', 'hold', 'hold']);
    store.up(pressId);
    store.up(pressId);
    jest.advanceTimersByTime(500);
    expect(phases()).toEqual(['down', 'hold', 'hold', 'up']);
  });

  it('shows a refusal with its words and its mend', () => {
    const store = opened();
    const pressId = store.down('b1');
    HandSocket.last.say({
      type: 'answer',
      pressId,
      phase: 'down',
      accepted: false,
      error: { code: 'device-silent', message: 'Dome cam does not answer.', mend: 'Check power.' },
    });
    expect(store.pressState('b1')).toMatchObject({ phase: 'failed', why: 'Dome cam does not answer. Check power.' });
  });

  it('follows a run to its end, and takes an end told twice as one', () => {
    const store = opened();
    HandSocket.last.say({ type: 'run', run: { runId: 'r', name: 'One', buttonId: 'b1', step: 'Cut', leftMs: null } });
    expect([store.pressState('b1')?.phase, store.getState().runs.length]).toEqual(['working', 1]);
    const end = { runId: 'r', name: 'One', buttonId: 'b1', step: 'Cut', leftMs: null, ended: { how: 'done' } };
    HandSocket.last.say({ type: 'run', run: end });
    expect([store.pressState('b1')?.phase, store.getState().runs.length]).toEqual(['done', 0]);
    jest.advanceTimersByTime(1300);
    HandSocket.last.say({ type: 'changes', epoch: 3, n: 11, runs: [end] });
    expect(store.pressState('b1')).toBeUndefined();
  });

  it('tells only who reads a point that changed, and forgets one that is unknown', () => {
    const store = opened();
    const [program, preview] = [jest.fn(), jest.fn()];
    store.subscribe('point:switcher.program', program);
    store.subscribe('point:switcher.preview', preview);
    HandSocket.last.say({ type: 'changes', epoch: 3, n: 11, points: { 'switcher.program': null } });
    expect([program.mock.calls.length, preview.mock.calls.length, store.point('switcher.program')]).toEqual([
      1,
      0,
      undefined,
    ]);
  });

  it('sends nothing without a connection and says so; then comes back and asks for what it missed', () => {
    const store = opened();
    const held = store.down('b1');
    const first = HandSocket.last;
    first.close();
    expect(store.pressState('b1')).toMatchObject({
      phase: 'failed',
      why: 'The connection was lost before an answer came.',
    });
    store.down('b2');
    expect(store.pressState('b2')?.why).toMatch(/nothing was sent/);
    jest.advanceTimersByTime(300);
    expect(HandSocket.last).not.toBe(first);
    HandSocket.last.onopen();
    expect(HandSocket.last.sent[0]).toMatchObject({ type: 'hello', resume: { epoch: 3, n: 10 } });
    // What was held before is not renewed into the new connection.
    jest.advanceTimersByTime(500);
    store.up(held);
    expect(phases()).toEqual([]);
  });
});
