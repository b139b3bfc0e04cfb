import type { LiveFace, LivePoint, LiveServerMessage } from '@umbek/protocol';
import { VirtualClock } from '@umbek/core/rehearse';
import { LiveRoom, View } from './liveRoom';

let clock = new VirtualClock();
beforeEach(() => {
  clock = new VirtualClock();
});

/** A socket that keeps what it is given, and how much of that its peer has not taken yet. */
class HandSocket {
  bufferedAmount = 0;
  readonly got: LiveServerMessage[] = [];

  close(): void {
    this.bufferedAmount = 0;
  }

  send(text: string): void {
    this.got.push(JSON.parse(text) as LiveServerMessage);
  }
}

function setUp() {
  const points: Record<string, LivePoint> = { 'switcher.program': 4 };
  let faces: Record<string, LiveFace> = {};
  const allFaces: Record<string, LiveFace> = {};
  const lastSeen: { at: number; points: [string, LivePoint][] }[] = [];
  const kept: string[] = [];
  let revision = 1;
  const room = new LiveRoom({
    epoch: 7,
    show: () => ({ id: 'show', name: 'The Long Night' }),
    revision: () => revision,
    point: (key) => points[key] ?? null,
    from: 0,
    points: () => Object.entries(points),
    lamps: () => ({
      all: () => Object.entries(allFaces),
      takeChanges: () => {
        const changed = faces;
        faces = {};
        return Object.entries(changed);
      },
      stripOf: (id) => (id.startsWith('far') ? 'far' : 'near'),
      show: (strips) => kept.push(strips === null ? 'all' : [...strips].sort().join(' ')),
    }),
    ended: () => [],
    lastSeen: () => lastSeen,
    runs: () => [],
    devices: () => [],
    stores: () => ({ disk: null, database: true }),
    clock,
    often: (key) => key.endsWith('Level'),
  });
  const join = (resume?: { epoch: number; n: number }, view: View | null = null): HandSocket => {
    const socket = new HandSocket();
    room.join(socket, view, resume);
    // Those that come within a moment are told together.
    clock.runTo(clock.now() + (socket.got.length === 0 ? 50 : 0));
    return socket;
  };
  const change = (key: string, value: LivePoint | null): void => {
    if (value === null) delete points[key];
    else points[key] = value;
    room.changed([key]);
  };
  return {
    room,
    join,
    change,
    kept,
    lastSeen,
    light: (id: string) => {
      faces = { ...faces, [id]: { sign: 'onAir', lost: false, note: '' } };
      Object.assign(allFaces, faces);
    },
    revised: () => (revision += 1),
  };
}
const changes = (socket: HandSocket) => socket.got.flatMap((message) => (message.type === 'changes' ? [message] : []));

describe('the clients of a link group', () => {
  it('begin with everything, and then get what changed, collected for 20 ms', () => {
    const { join, change, light } = setUp();
    const socket = join();
    expect(socket.got).toMatchObject([{ type: 'snapshot', epoch: 7, n: 0, points: { 'switcher.program': 4 } }]);
    change('switcher.program', 1);
    change('switcher.preview', 4);
    light('b1');
    expect(changes(socket)).toEqual([]);
    clock.runTo(clock.now() + 20);
    expect(changes(socket)).toMatchObject([
      { n: 1, points: { 'switcher.program': 1, 'switcher.preview': 4 }, faces: { b1: { sign: 'onAir' } } },
    ]);
    // What nobody can vouch for any more is told as such.
    change('switcher.program', null);
    clock.runTo(clock.now() + 20);
    expect(changes(socket)[1]).toMatchObject({ n: 2, points: { 'switcher.program': null } });
  });

  it('are told levels five times a second, however often they change', () => {
    const { join, change } = setUp();
    const socket = join();
    for (let t = 0; t < 1000; t += 40) {
      change('sound.ch1Level', -t / 40);
      clock.runTo(clock.now() + 40);
    }
    expect(changes(socket).length).toBeLessThanOrEqual(5);
    expect(changes(socket).length).toBeGreaterThanOrEqual(4);
  });

  it('that come back are told everything anew, and the edits that they missed where all of them are known', () => {
    const { room, join, change } = setUp();
    const edit = (revision: number): void => {
      room.edited({ revision, changes: [] });
      clock.runTo(clock.now() + 20);
    };
    join();
    change('switcher.program', 1);
    clock.runTo(clock.now() + 20);
    edit(2);
    edit(3);
    const [all] = join({ epoch: 7, n: 1 }).got;
    expect(all).toMatchObject({ type: 'snapshot', n: 3, points: { 'switcher.program': 1 } });
    expect(all).toMatchObject({ edits: [{ revision: 2 }, { revision: 3 }] });
    expect(join({ epoch: 7, n: 2 }).got).toMatchObject([{ edits: [{ revision: 3 }] }]);
    // Nothing missed; of another start of the engine; from a count that is ahead: the page finds out itself what it lacks.
    for (const since of [
      { epoch: 7, n: 3 },
      { epoch: 6, n: 1 },
      { epoch: 7, n: 9 },
    ])
      expect(join(since).got[0]).not.toHaveProperty('edits');
    room.edited();
    clock.runTo(clock.now() + 20);
    expect(join({ epoch: 7, n: 1 }).got[0]).not.toHaveProperty('edits');
    // Half a minute later they are gone: only what was edited since then is told.
    clock.runTo(clock.now() + 31_000);
    edit(5);
    expect(join({ epoch: 7, n: 1 }).got).toMatchObject([{ type: 'snapshot', edits: [{ revision: 5 }] }]);
  });

  it('are told something large a few at a time, each in order, so that a press waits for some of them only', () => {
    const { room, join, change, light } = setUp();
    const all = [join(), join(), join(), join()];
    const last = join();
    // Two of 200,000 characters pass the 300,000 that one piece of work may send.
    light('b'.repeat(200_000));
    room.shows(last, new View({ strips: ['b'], scopes: [] }));
    const counts = (): number[] => all.map((socket) => changes(socket).length);
    expect(counts()).toEqual([1, 1, 0, 0]);
    change('switcher.program', 1);
    room.shows(last, new View({ strips: [], scopes: [] }));
    expect(counts()).toEqual([1, 1, 0, 0]);
    clock.runTo(clock.now());
    expect(counts()).toEqual([2, 2, 2, 2]);
    expect(changes(all[3] as HandSocket).map(({ n }) => n)).toEqual([1, 2]);
    room.close();
  });

  it('that come back all at once have a turn each, those that show the same together, and lack nothing that changed meanwhile', () => {
    const { room, change } = setUp();
    const near = new View({ strips: ['near'], scopes: ['switcher'] });
    const sockets = Array.from({ length: 6 }, () => new HandSocket());
    const [first, ...others] = sockets;
    sockets.forEach((socket, at) => room.join(socket, at % 2 === 0 ? null : near, undefined));
    // The first is not held up; everybody else waits behind what else there is to do.
    expect(first?.got).toMatchObject([{ type: 'snapshot', points: { 'switcher.program': 4 } }]);
    expect(others.flatMap(({ got }) => got)).toEqual([]);
    change('switcher.program', 1);
    clock.runTo(clock.now() + 50);
    for (const { got } of others) expect(got).toMatchObject([{ type: 'snapshot', points: { 'switcher.program': 1 } }]);
    expect(changes(first as HandSocket)).toMatchObject([{ points: { 'switcher.program': 1 } }]);
    clock.runTo(clock.now() + 1000);
    expect(others.map(({ got }) => got.length)).toEqual([1, 1, 1, 1, 1]);
  });

  it('that come one after the other within 50 ms are told in one piece of work, all but the first', () => {
    const { room, change, kept } = setUp();
    const sockets = Array.from({ length: 10 }, () => new HandSocket());
    for (const socket of sockets) {
      room.join(socket, null, undefined);
      clock.runTo(clock.now() + 1);
    }
    const reached = (): number => sockets.filter(({ got }) => got.length > 0).length;
    expect([reached(), kept.length]).toEqual([1, 1]);
    change('switcher.program', 1);
    clock.runTo(50);
    expect([reached(), kept.length]).toEqual([10, 2]);
    expect(sockets[9]?.got).toMatchObject([{ type: 'snapshot', points: { 'switcher.program': 1 } }]);
  });

  it('that are a megabyte behind get everything anew once they have caught up, also when nothing changes any more', () => {
    const { join, change } = setUp();
    const [slow, quick] = [join(), join()];
    slow.bufferedAmount = 1_000_001;
    change('switcher.program', 1);
    clock.runTo(clock.now() + 20);
    expect([changes(slow).length, changes(quick).length]).toEqual([0, 1]);
    clock.runTo(clock.now() + 5000);
    expect(slow.got).toHaveLength(1);
    slow.bufferedAmount = 0;
    clock.runTo(clock.now() + 250);
    expect(slow.got.at(-1)).toMatchObject({ type: 'snapshot', n: 1, points: { 'switcher.program': 1 } });
    // From here on it is told changes like the others.
    change('switcher.program', 2);
    clock.runTo(clock.now() + 20);
    expect(changes(slow)).toMatchObject([{ n: 2 }]);
  });

  it('are told edits along with their revision, or the revision alone when one of them is not known', () => {
    const { room, join, revised } = setUp();
    const socket = join();
    revised();
    room.edited({ revision: 2, changes: [] });
    revised();
    room.edited({ revision: 3, changes: [] });
    clock.runTo(clock.now() + 20);
    expect(changes(socket)[0]).toMatchObject({ revision: 3, edits: [{ revision: 2 }, { revision: 3 }] });
    revised();
    room.edited();
    clock.runTo(clock.now() + 20);
    expect(changes(socket)[1]).toMatchObject({ revision: 4 });
    expect(changes(socket)[1]).not.toHaveProperty('edits');
  });
});

describe('a station that says what it shows', () => {
  const view = new View({ strips: ['near'], scopes: ['switcher'] });

  it('is told that and nothing else, and nothing at all of a moment that does not concern it', () => {
    const { join, change, light } = setUp();
    change('roofCam.pan', 3);
    const [socket, all] = [join(undefined, view), join()];
    expect(socket.got).toMatchObject([{ type: 'snapshot', points: { 'switcher.program': 4 }, faces: {} }]);
    light('farButton');
    change('roofCam.pan', 4);
    clock.runTo(clock.now() + 20);
    expect(changes(socket)).toEqual([]);
    expect(changes(all)).toMatchObject([{ points: { 'roofCam.pan': 4 }, faces: { farButton: { sign: 'onAir' } } }]);
    light('nearButton');
    light('farButton');
    change('switcher.program', 2);
    change('roofCam.pan', 5);
    clock.runTo(clock.now() + 20);
    const [message] = changes(socket);
    expect([message?.points, Object.keys(message?.faces ?? {})]).toEqual([{ 'switcher.program': 2 }, ['nearButton']]);
    expect(changes(socket)).toHaveLength(1);
  });

  it('is told what a silent device of it had said last, and how long ago that is', () => {
    const { join, change, lastSeen } = setUp();
    change('switcher.program', null);
    lastSeen.push({
      at: clock.now(),
      points: [
        ['switcher.program', 4],
        ['roofCam.pan', 3],
      ],
    });
    clock.runTo(clock.now() + 7000);
    expect(join(undefined, view).got).toMatchObject([
      { points: {}, last: { 'switcher.program': { value: 4, agoMs: 7000 } } },
    ]);
    expect(Object.keys((join(undefined, view).got[0] as { last: object }).last)).toEqual(['switcher.program']);
  });

  it('is told all of what it comes to show, and no more of what it shows no longer', () => {
    const { room, join, change, light, kept } = setUp();
    change('roofCam.pan', 3);
    light('farButton');
    const socket = join(undefined, view);
    room.shows(socket, new View({ strips: ['far'], scopes: ['roofCam', 'switcher'] }));
    expect(changes(socket)).toEqual([
      {
        type: 'changes',
        epoch: 7,
        n: 1,
        anew: { strips: ['far'], scopes: ['roofCam'] },
        points: { 'roofCam.pan': 3 },
        faces: { farButton: { sign: 'onAir', lost: false, note: '' } },
      },
    ]);
    light('nearButton');
    change('roofCam.pan', null);
    clock.runTo(20);
    expect(changes(socket)[1]).toEqual({ type: 'changes', epoch: 7, n: 2, points: { 'roofCam.pan': null } });
    room.leave(socket);
    expect(kept).toEqual(['near', 'far', '']);
  });

  it('that comes back sees the lamps that changed while nobody showed them', () => {
    const { room, join, light, change } = setUp();
    const socket = join(undefined, view);
    room.leave(socket);
    light('nearButton');
    change('roofCam.pan', 4);
    clock.runTo(20);
    expect(join({ epoch: 7, n: 0 }, view).got).toMatchObject([
      { type: 'snapshot', faces: { nearButton: { sign: 'onAir' } } },
    ]);
  });
});
