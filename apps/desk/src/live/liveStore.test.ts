import { LiveStore } from './liveStore';

/** A socket whose other end is the test. */
class HandSocket {
  static OPEN = 1;
  static last: HandSocket;
  readyState = 1;
  readonly sent: {
    type: string;
    phase?: string;
    pressId?: string;
    resume?: unknown;
    at?: number;
    sent?: number;
    shows?: unknown;
  }[] = [];
  onopen: () => void = () => undefined;
  onmessage: (event: { data: string }) => void = () => undefined;
  onclose: () => void = () => undefined;
  /** A network that has died quietly: nothing comes, and nothing is told. */
  dead = false;

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
    if (!this.dead) this.onmessage({ data: JSON.stringify(message) });
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
  ended: [],
  devices: [],
  stores: { disk: null, database: true },
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

describe('the first word to the engine', () => {
  const greetings = () => HandSocket.last.sent.map(({ type, shows }) => [type, shows]);

  it('of a page that connects before it is drawn waits until it is known what the page shows', () => {
    const store = new LiveStore('ws://test/api/live', () => ({ station: 'Desk', person: '' }));
    store.open(true);
    HandSocket.last.onopen();
    expect(greetings()).toEqual([]);
    store.subscribe('point:switcher.program', () => undefined);
    jest.advanceTimersByTime(1);
    expect(greetings().slice(0, 1)).toEqual([['hello', { strips: [], scopes: ['switcher'] }]]);
    // One greeting, and then what changes.
    store.showStrip('s1');
    jest.advanceTimersByTime(400);
    expect(HandSocket.last.sent.filter(({ type }) => type === 'hello')).toHaveLength(1);
    expect(HandSocket.last.sent.filter(({ type }) => type === 'shows')).toHaveLength(1);
  });

  it('comes when the page is drawn and shows nothing of it; all the same from one that is never drawn; none comes over a connection that was lost meanwhile', () => {
    const store = new LiveStore('ws://test/api/live', () => ({ station: 'Desk', person: '' }));
    store.open(true);
    HandSocket.last.onopen();
    expect(greetings()).toEqual([]);
    store.drawn();
    expect(greetings().slice(0, 1)).toEqual([['hello', { strips: [], scopes: [] }]]);

    const never = new LiveStore('ws://test/api/live', () => ({ station: 'Desk', person: '' }));
    never.open(true);
    const socket = HandSocket.last;
    socket.onopen();
    jest.advanceTimersByTime(2510);
    expect(socket.sent[0]).toMatchObject({ type: 'hello', shows: { strips: [], scopes: [] } });

    const other = new LiveStore('ws://test/api/live', () => ({ station: 'Desk', person: '' }));
    other.open(true);
    const first = HandSocket.last;
    first.onopen();
    first.close();
    jest.advanceTimersByTime(1000);
    expect(first.sent).toEqual([]);
    // The next connection is one like any other.
    HandSocket.last.onopen();
    expect(greetings().slice(0, 1)).toEqual([['hello', { strips: [], scopes: [] }]]);
  });

  it('comes at once where something is shown already', () => {
    const store = new LiveStore('ws://test/api/live', () => ({ station: 'Desk', person: '' }));
    store.open(true);
    store.subscribe('point:switcher.program', () => undefined);
    HandSocket.last.onopen();
    expect(greetings().slice(0, 1)).toEqual([['hello', { strips: [], scopes: ['switcher'] }]]);
  });
});

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
      why: 'Contact was lost before an answer came. It is asked for when contact is back.',
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
    store.close();
  });

  it('shows nothing of the time before a gap as so: contact is back when the engine has told how things are', () => {
    const store = opened();
    HandSocket.last.close();
    jest.advanceTimersByTime(300);
    HandSocket.last.onopen();
    HandSocket.last.say({ type: 'time', sent: performance.now(), engine: 0 });
    HandSocket.last.say({ type: 'others', others: [] });
    expect(store.getState().connection).toBe('lost');
    HandSocket.last.say({
      ...snapshot,
      faces: { b1: { sign: 'onAir', lost: false, note: '' } },
      revision: 4,
      edits: [{ revision: 4, changes: [] }],
    });
    expect(store.getState()).toMatchObject({ connection: 'live', revision: 4, edits: [{ revision: 4 }] });
    expect(store.face('b1')?.sign).toBe('onAir');
    store.close();
  });

  it('tries again where the engine answers and has no room', () => {
    const store = new LiveStore('ws://test/api/live', () => ({ station: 'Desk', person: 'Ines' }));
    store.open();
    const socket = answerTimes(0);
    socket.onopen();
    socket.say({ type: 'error', error: { code: 'too-many', message: 'Full.', mend: 'Close some.' } });
    jest.advanceTimersByTime(9000);
    expect([HandSocket.last === socket, store.getState().connection === 'live']).toEqual([true, false]);
    jest.advanceTimersByTime(1400);
    expect(HandSocket.last).not.toBe(socket);
    store.close();
  });

  /** What the engine answers to everything that asks for its time, until the network dies. */
  const answerTimes = (offset = 5000) => {
    const socket = HandSocket.last;
    const send = socket.send.bind(socket);
    socket.send = (text) => {
      send(text);
      const message = socket.sent.at(-1);
      if (message?.type === 'time')
        socket.say({ type: 'time', sent: message.sent, engine: performance.now() + offset });
    };
    return socket;
  };

  it('notices a network that dies quietly within 2.5 s, and refuses presses at once from then on', () => {
    const store = opened();
    const socket = answerTimes();
    store.woke();
    jest.advanceTimersByTime(60_000);
    expect(store.getState().connection).toBe('live');
    socket.dead = true;
    // The worst moment: just after an answer.
    jest.advanceTimersByTime(2500);
    expect(store.getState().connection).toBe('lost');
    const before = socket.sent.length;
    store.up(store.down('b2'));
    expect([store.pressState('b2')?.phase, socket.sent.length]).toEqual(['failed', before]);
    store.close();
  });

  it('asks after contact is back whether a press without an answer was taken, and never sends it again', () => {
    const store = opened();
    const [lost, taken] = [store.down('b1'), store.down('b2')];
    HandSocket.last.close();
    jest.advanceTimersByTime(300);
    HandSocket.last.onopen();
    HandSocket.last.say({ ...snapshot, runs: [{ runId: 'r2', name: 'Two', buttonId: 'b2', step: '', leftMs: 900 }] });
    expect(phases()).toEqual(['up', 'up']);
    HandSocket.last.say({ type: 'answer', pressId: lost, phase: 'up', accepted: true, runId: null });
    HandSocket.last.say({ type: 'answer', pressId: taken, phase: 'up', accepted: true, runId: 'r2' });
    expect(store.pressState('b1')?.why).toMatch(/never reached the engine/);
    expect(store.pressState('b2')?.phase).toBe('working');
    store.close();
  });

  it('after a gap knows of a run what the engine knows: one that ended is over, one that a crash ended is told as interrupted', () => {
    const store = opened();
    const run = (runId: string, buttonId: string) => ({ runId, name: runId, buttonId, step: '', leftMs: 100 });
    for (const item of [run('r1', 'b1'), run('r2', 'b2')]) HandSocket.last.say({ type: 'run', run: item });
    HandSocket.last.say({
      ...snapshot,
      epoch: 4,
      ended: [{ ...run('r2', 'b2'), ended: { how: 'interrupted', why: 'The engine ended before it was over.' } }],
    });
    expect([store.getState().runs, store.pressState('b1')]).toEqual([[], undefined]);
    expect(store.pressState('b2')).toMatchObject({ phase: 'failed', why: 'The engine ended before it was over.' });
    expect(store.getState().lastRun).toMatchObject({ how: 'interrupted', run: { runId: 'r2' } });
  });

  it('stamps a press with the engine’s own time, whatever the time of day is', () => {
    const store = opened();
    answerTimes(5000);
    store.woke();
    const at = performance.now();
    jest.setSystemTime(new Date('2031-01-01'));
    store.down('b1');
    expect(HandSocket.last.sent.at(-1)?.at).toBeCloseTo(at + 5000, 0);
    store.close();
  });

  it('keeps what was known last of a point that is unknown now, apart from what is known', () => {
    const store = opened();
    HandSocket.last.say({ type: 'changes', epoch: 3, n: 11, points: { 'switcher.program': null } });
    expect([store.point('switcher.program'), store.lastKnown('switcher.program')?.value]).toEqual([undefined, 4]);
    HandSocket.last.say({ type: 'changes', epoch: 3, n: 12, points: { 'switcher.program': 5 } });
    expect([store.point('switcher.program'), store.lastKnown('switcher.program')]).toEqual([5, undefined]);
  });
});
