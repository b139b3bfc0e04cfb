import type { LiveServerMessage } from '@umbek/protocol';
import { corvaneHill } from '@umbek/demo';
import { compileProgram, Engine } from '@umbek/core/engine';
import { VirtualClock } from '@umbek/core/rehearse';
import type { DeviceSockets } from '../engine/deviceSockets';
import { LIMITS, RequestAllowances } from './limits';
import { LiveDesk } from './liveDesk';
import type { LiveClient } from './liveRoom';

const ID = '01J0C0RVANEH1PRESS00000001';

function setUp() {
  const clock = new VirtualClock();
  const troubles: string[] = [];
  const engine = new Engine({
    clock,
    program: compileProgram(corvaneHill(), 1),
    journal: { append: () => undefined },
    newId: () => 'n',
  });
  const devices = { health: () => [] } as unknown as DeviceSockets;
  const desk = new LiveDesk({
    engine,
    devices,
    takeBack: () => null,
    stores: () => ({ disk: null, database: true }),
    clock,
    epoch: 1,
    expectedEnd: () => undefined,
    interrupted: [],
    onTrouble: (where) => troubles.push(where),
  });
  const page = (group = 'main') => {
    const got: LiveServerMessage[] = [];
    const state = { closed: false };
    const client: LiveClient = {
      bufferedAmount: 0,
      send: (text) => got.push(JSON.parse(text) as LiveServerMessage),
      close: () => (state.closed = true),
    };
    const connection = desk.connect(client);
    connection?.message(JSON.stringify({ type: 'hello', station: 'desk', linkGroup: group }));
    const codes = () => got.flatMap((message) => (message.type === 'error' ? [message.error.code] : []));
    return { connection, got, codes, state, say: (message: unknown) => connection?.message(JSON.stringify(message)) };
  };
  return { clock, engine, desk, page, troubles };
}

describe('what one page may ask of the engine', () => {
  it('so many messages a second, and what comes beyond is told and not done', () => {
    const { page, clock } = setUp();
    const firstPage = page();
    for (let count = 0; count < LIMITS.messagesAtOnce + 50; count += 1) firstPage.say({ type: 'time', sent: count });
    expect(firstPage.got.filter((message) => message.type === 'time').length).toBeLessThan(LIMITS.messagesAtOnce);
    expect(firstPage.codes()).toEqual(['slow-down']);
    clock.runTo(1000);
    firstPage.say({ type: 'time', sent: 1 });
    expect(firstPage.got.at(-1)?.type).toBe('time');
  });

  it('not to press what does not exist for ever', () => {
    const { page, clock } = setUp();
    const firstPage = page();
    for (let count = 0; count < 70; count += 1) {
      clock.runTo(clock.now() + 10);
      firstPage.say({
        type: 'press',
        pressId: ID.slice(0, 24) + String(10 + count),
        buttonId: 'nothing',
        phase: 'down',
      });
    }
    expect([firstPage.codes().at(-1), firstPage.state.closed]).toEqual(['slow-down', true]);
  });

  it('so many link groups, and a group that nobody looks at costs nothing after a while', () => {
    const { page, desk, engine, clock } = setUp();
    const pages = Array.from({ length: LIMITS.linkGroups }, (_, index) => page(`group-${index}`));
    expect(page('one-more').codes()).toEqual(['too-many']);
    for (const item of pages) item.connection?.closed();
    expect(desk.roomCount).toBe(LIMITS.linkGroups);
    clock.runTo(clock.now() + 31_000);
    expect([desk.roomCount, engine.lampBoardCount]).toEqual([0, 0]);
  });

  it('so many pages at one time', () => {
    const { page, desk } = setUp();
    const pages = Array.from({ length: LIMITS.connections }, () => page());
    expect(page().codes()).toEqual(['too-many']);
    pages[0]?.connection?.closed();
    expect(page().codes()).toEqual([]);
    expect(desk.connectionCount).toBe(LIMITS.connections);
  });

  it.each([
    ['{'],
    ['null'],
    ['[]'],
    ['7'],
    ['{"type":"constructor"}'],
    ['{"type":"send","pressId":"x"}'],
    [`{"type":"send","pressId":"${ID}","phase":"down","device":"switcher","command":"constructor","params":{}}`],
    [
      `{"type":"send","pressId":"${ID}","phase":"down","device":"__proto__","command":"toString","params":{"__proto__":{"a":1}}}`,
    ],
    [`{"type":"press","pressId":"${ID}","buttonId":"__proto__","phase":"down"}`],
  ])('a message that means nothing is refused in words: %s', (text) => {
    const { page, troubles, engine } = setUp();
    engine.newsOf('switcher').reached(true, 'here');
    const firstPage = page();
    firstPage.got.length = 0;
    firstPage.connection?.message(text);
    const [answer] = firstPage.got;
    expect(answer?.type === 'error' || (answer?.type === 'answer' && !answer.accepted)).toBe(true);
    expect(troubles).toEqual([]);
  });
});

describe('what one address may ask over HTTP', () => {
  it('is so much at once and so much a second, and costs no other address anything', () => {
    const clock = new VirtualClock();
    const requests = new RequestAllowances(clock);
    const taken = (address: string, count: number): number =>
      Array.from({ length: count }, () => requests.allow(address)).filter(Boolean).length;
    expect(taken('10.0.0.1', 10_000)).toBe(LIMITS.requestsAtOnce);
    expect(taken('10.0.0.2', 500)).toBe(500);
    clock.runTo(100);
    // A tenth of a second later a tenth of what a second allows.
    expect(taken('10.0.0.1', 10_000)).toBe(LIMITS.requestsASecond / 10);
  });

  it('is kept for no more than a thousand addresses', () => {
    const requests = new RequestAllowances(new VirtualClock(), 1, 1);
    expect(requests.allow('first')).toBe(true);
    expect(requests.allow('first')).toBe(false);
    for (let index = 0; index < 1000; index += 1) requests.allow(`10.1.${index >> 8}.${index & 255}`);
    expect(requests.allow('first')).toBe(true);
  });
});
