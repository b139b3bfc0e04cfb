import { mkdtempSync } from 'node:fs';
import { get } from 'node:https';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { RealClock } from '@umbek/host';
import { RoomDoor } from './roomDoor';

const CROWD = 30;

const answerOf = (port: number): Promise<string> =>
  new Promise((done, failed) => {
    get({ host: '127.0.0.1', port, rejectUnauthorized: false, agent: false }, (response) => {
      let text = '';
      response.on('data', (piece: Buffer) => (text += piece.toString()));
      response.on('end', () => done(text));
    }).on('error', failed);
  });

describe('the door to the room', () => {
  let door: RoomDoor;
  beforeEach(async () => {
    door = await RoomDoor.make(
      { port: 0, host: '127.0.0.1' },
      mkdtempSync(join(tmpdir(), 'umbek-door-')),
      new RealClock(() => undefined),
      (request, response) => response.end(request.socket.remoteAddress),
      (error) => {
        throw error;
      },
    );
    await door.listen();
  });
  afterEach(() => door.close());

  it('begins one handshake in a turn of the engine, however many come at once, and serves all of them', async () => {
    let turn = 0;
    const next = (): void => void ((turn += 1), (ticking = setImmediate(next)));
    let ticking = setImmediate(next);
    const begun: number[] = [];
    door.server.on('connection', () => begun.push(turn));
    const answers = await Promise.all(Array.from({ length: CROWD }, () => answerOf(door.port)));
    clearImmediate(ticking);
    expect(answers).toEqual(Array.from({ length: CROWD }, () => '127.0.0.1'));
    expect(begun).toHaveLength(CROWD);
    expect(new Set(begun).size).toBe(CROWD);
  });

  it('closes on those that wait, say nothing, or say no TLS', async () => {
    const ended = Array.from(
      { length: 3 },
      (_none, at) =>
        new Promise<void>((done) => {
          const socket = connect(door.port, '127.0.0.1', () => at > 0 && socket.write('GET / HTTP/1.0'));
          socket.on('error', () => undefined);
          socket.on('close', () => done());
        }),
    );
    // The one that says no TLS is let go at once, the silent one with the door.
    await Promise.all(ended.slice(1));
    await door.close();
    await ended[0];
  });
});
