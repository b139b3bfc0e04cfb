import { createSocket } from 'node:dgram';
import { type AddressInfo, createServer, type Socket } from 'node:net';
import { corvaneHill } from '@umbek/demo';
import { compileProgram, Engine } from '@umbek/core/engine';
import { MAST_CAM } from '@umbek/core/samples';
import { ProfileFile, type ShowDocument } from '@umbek/core/show';
import { RealClock } from '@umbek/host';
import { WebSocketServer } from 'ws';
import { holds } from '../../../e2e/support/holds';
import { realNetwork } from '../border/realNetwork';
import { DeviceSockets, type GuardedMove } from '../engine/deviceSockets';
import { stopSender } from '../supervisor/stopSender';

const closers: (() => void)[] = [];
afterEach(() => closers.splice(0).forEach((close) => close()));

/** An engine with one device by this profile at a port. */
function engineWith(profile: object, port: number) {
  const content = ProfileFile.parse({ format: 'umbek-profile', version: 1, name: 'It', ...profile });
  const demo = corvaneHill();
  const [device] = demo.devices;
  const [entry] = demo.profiles;
  if (!device || !entry) throw new Error('The demo has no device or no profile.');
  const show: ShowDocument = {
    ...demo,
    devices: [{ ...device, key: 'it', name: 'It', kind: 'generic', port, settings: { profile: 'it' } }],
    profiles: [{ ...entry, key: 'it', content }],
    buttons: [],
    strips: [],
    panels: [],
    macros: [],
    positions: [],
    sources: [],
    roles: [],
    reframes: [],
  };
  const compiled = compileProgram(show, 1);
  const outcomes: string[] = [];
  const guarded: (GuardedMove | null)[] = [];
  let ids = 0;
  const engine = new Engine({
    clock: new RealClock(),
    program: compiled,
    journal: { append: (event) => void (event.kind === 'outcome' && outcomes.push(event.outcome)) },
    newId: () => `t${(ids += 1)}`,
  });
  const sockets = new DeviceSockets({
    engine,
    clock: new RealClock(),
    flush: () => undefined,
    guard: (_device, move) => void guarded.push(move),
    idPrefix: 't',
    onState: () => undefined,
    travelled: () => undefined,
    network: realNetwork,
    onTrouble: (where, error) => {
      throw new Error(`${where}: ${String(error)}`);
    },
  });
  closers.push(() => sockets.close());
  sockets.follow();
  let presses = 0;
  return {
    reached: () => holds(() => engine.board.read('it.reached') === true),
    point: (key: string) => engine.board.read(`it.${key}`),
    send: (command: string, params: Record<string, number | string> = {}) => {
      const press = {
        pressId: `p${(presses += 1)}`,
        buttonId: `it.${command}`,
        station: 'test',
        direct: { device: 'it', command, params },
      };
      const answer = engine.press({ ...press, phase: 'down' });
      engine.press({ ...press, phase: 'up' });
      return answer.accepted;
    },
    hold: (command: string, params: Record<string, number>) => {
      const press = {
        pressId: `p${(presses += 1)}`,
        buttonId: `it.${command}`,
        station: 'test',
        direct: { device: 'it', command, params },
      };
      expect(engine.press({ ...press, phase: 'down' })).toMatchObject({ accepted: true });
      return { up: () => engine.press({ ...press, phase: 'up' }) };
    },
    outcomes,
    guarded,
    close: () => sockets.close(),
    words: () => sockets.health()[0]?.words,
  };
}

const command = (send: object) => ({
  key: 'go',
  words: 'Go',
  params: [{ key: 'level', type: 'number', whole: true }],
  send: [send],
});

async function tcpPeer(onData: (bytes: Buffer, socket: Socket) => void): Promise<number> {
  const sockets = new Set<Socket>();
  const server = createServer((socket) => {
    sockets.add(socket.on('data', (bytes) => onData(bytes, socket)).on('error', () => undefined));
  });
  closers.push(() => {
    for (const socket of sockets) socket.destroy();
    server.close();
  });
  await new Promise<void>((open) => server.listen(0, '127.0.0.1', open));
  return (server.address() as AddressInfo).port;
}

async function udpPeer(onData: (bytes: Buffer, answer: (text: Uint8Array) => void) => void): Promise<number> {
  const socket = createSocket('udp4');
  closers.push(() => socket.close());
  socket.on('message', (bytes, from) => onData(bytes, (answer) => socket.send(answer, from.port, from.address)));
  await new Promise<void>((open) => socket.bind(0, '127.0.0.1', open));
  return socket.address().port;
}

describe('a device by profile on its real socket', () => {
  it('speaks JSON over a WebSocket; a broken connection is silence, and it connects again', async () => {
    const heard: string[] = [];
    const server = new WebSocketServer({ port: 0, host: '127.0.0.1', path: '/control' });
    closers.push(() => server.close());
    server.on('connection', (socket) =>
      socket.on('message', (data: Buffer) => {
        heard.push(data.toString());
        socket.send('{"now":{"level":9}}');
      }),
    );
    await new Promise((open) => server.once('listening', open));
    const it = engineWith(
      {
        transport: { kind: 'webSocket', path: '/control' },
        commands: [command({ as: 'json', json: { set: { cel: 'param.level' } } })],
        points: [{ key: 'level', words: 'Level', type: 'number', from: { as: 'json', path: '$.now.level' } }],
      },
      (server.address() as AddressInfo).port,
    );
    await it.reached();
    expect(it.send('go', { level: 9 })).toBe(true);
    await holds(() => it.point('level') === 9);
    expect([heard, it.outcomes]).toEqual([['{"set":9}'], ['sent']]);
    for (const client of server.clients) client.terminate();
    await holds(() => it.words()?.includes('does not answer') === true);
    expect(it.send('go', { level: 1 })).toBe(false);
    await it.reached();
  });

  it('asks and is answered in text over UDP', async () => {
    let level = 3;
    const port = await udpPeer((bytes, answer) => {
      const set = /^SET (\d+)\n$/.exec(bytes.toString());
      if (set) level = Number(set[1]);
      answer(Buffer.from(`LEVEL=${level}`));
    });
    const it = engineWith(
      {
        transport: { kind: 'udp', ending: '\n' },
        commands: [command({ as: 'text', text: 'SET {{ param.level }}' })],
        points: [{ key: 'level', words: 'Level', type: 'number', from: { as: 'text', pattern: 'LEVEL=(\\d+)' } }],
        asks: [{ everyMs: 100, send: { as: 'text', text: '?' } }],
      },
      port,
    );
    await it.reached();
    await holds(() => it.point('level') === 3);
    it.send('go', { level: 12 });
    await holds(() => it.point('level') === 12);
  });

  it('speaks raw bytes over TCP, and reads its answers as bytes', async () => {
    const heard: number[][] = [];
    const port = await tcpPeer((bytes, socket) => {
      heard.push([...bytes]);
      socket.write(Uint8Array.of(2, 0x4c, bytes[1] ?? 0, 3));
    });
    const it = engineWith(
      {
        transport: { kind: 'tcp', ending: '' },
        commands: [command({ as: 'bytes', bytes: [2, { cel: 'param.level' }, 3] })],
        points: [{ key: 'level', words: 'Level', type: 'number', from: { as: 'bytes', pattern: '^02 4C (..) 03$' } }],
      },
      port,
    );
    await it.reached();
    it.send('go', { level: 200 });
    await holds(() => it.point('level') === 200);
    expect(heard).toEqual([[2, 200, 3]]);
  });

  it.each(['tcp', 'udp'] as const)('speaks MIDI over %s, and hears a controller', async (over) => {
    const heard: number[][] = [];
    const answer = Uint8Array.of(0xb0, 7, 99);
    const port =
      over === 'tcp'
        ? await tcpPeer((bytes, socket) => (heard.push([...bytes]), socket.write(answer)))
        : await udpPeer((bytes, tell) => (heard.push([...bytes]), tell(answer)));
    const it = engineWith(
      {
        transport: { kind: 'midi', over },
        commands: [command({ as: 'midi', message: 'noteOn', channel: 2, number: 60, value: { cel: 'param.level' } })],
        points: [
          {
            key: 'fader',
            words: 'Fader',
            type: 'number',
            from: { as: 'midi', message: 'control', channel: 1, number: 7 },
          },
        ],
      },
      port,
    );
    await it.reached();
    it.send('go', { level: 100 });
    await holds(() => it.point('fader') === 99);
    expect(heard).toEqual([[0x91, 60, 100]]);
  });

  it('says of a device that nobody asks that nobody knows whether it listens', async () => {
    const port = await udpPeer(() => undefined);
    const it = engineWith({ transport: { kind: 'udp' }, commands: [command({ as: 'text', text: 'X' })] }, port);
    await it.reached();
    expect(it.words()).toMatch(/only receives: its profile polls nothing, so whether it answers is unknown\.$/);
  });
});

describe('a head by profile on its real socket', () => {
  it('is left with the parent while it moves, and stopped before it is let go', async () => {
    const lines: string[] = [];
    const port = await tcpPeer((bytes, socket) => {
      for (const line of bytes.toString().split('\r\n').filter(Boolean)) {
        if (line !== 'WHERE?') lines.push(line);
        socket.write('AT 0 STAND\r\n');
      }
    });
    const it = engineWith(MAST_CAM, port);
    await it.reached();
    // A move that nobody holds has no end: only a held press may begin it.
    const held = it.hold('nudge', { x: -1, y: 0 });
    await holds(() => lines.includes('RUN -1 0'));
    expect(it.guarded).toEqual([
      {
        host: '127.0.0.1',
        port,
        datagrams: [Buffer.from('HALT\r\n').toString('base64')],
        over: { kind: 'tcp' },
      },
    ]);
    held.up();
    await holds(() => lines.includes('HALT'));
    await holds(() => it.guarded.at(-1) === null);
    it.hold('nudge', { x: 1, y: 0 });
    await holds(() => lines.includes('RUN 1 0'));
    lines.length = 0;
    it.close();
    await holds(() => lines.includes('HALT'));
  });

  it('is stopped by a process that never spoke to it, over TCP, HTTP and a WebSocket', async () => {
    const heard: string[] = [];
    const tcp = await tcpPeer((bytes, socket) => {
      heard.push(bytes.toString());
      socket.write('HTTP/1.1 204 No Content\r\ncontent-length: 0\r\n\r\n');
    });
    const server = new WebSocketServer({ port: 0, host: '127.0.0.1', path: '/control' });
    closers.push(() => server.close());
    server.on('connection', (socket) => socket.on('message', (data: Buffer) => heard.push(data.toString())));
    await new Promise((open) => server.once('listening', open));
    stopSender.send('127.0.0.1', tcp, [Buffer.from('HALT\r\n')], { kind: 'tcp' });
    await holds(() => heard.length === 1);
    stopSender.send('127.0.0.1', (server.address() as AddressInfo).port, [Buffer.from('{"halt":1}')], {
      kind: 'webSocket',
      path: '/control',
    });
    await holds(() => heard.length === 2);
    expect(heard).toEqual(['HALT\r\n', '{"halt":1}']);
    // A request of a profile over HTTP is left with the parent as it stands on the wire.
    const byHttp = engineWith(
      {
        ...MAST_CAM,
        transport: { kind: 'http', headers: { 'x-key': 'mast' } },
        commands: MAST_CAM.commands.map((item) => ({
          ...item,
          send: [{ as: 'http', method: 'POST', path: `/${item.key}`, json: { now: true } }],
        })),
        points: [],
        asks: [],
      },
      tcp,
    );
    await byHttp.reached();
    byHttp.hold('nudge', {});
    const [move] = byHttp.guarded;
    expect(Buffer.from(move?.datagrams[0] ?? '', 'base64').toString()).toBe(
      `POST /stop HTTP/1.1\r\nhost: 127.0.0.1:${tcp}\r\nconnection: close\r\ncontent-length: 12\r\n` +
        'content-type: application/json\r\nx-key: mast\r\n\r\n{"now":true}',
    );
  });
});
