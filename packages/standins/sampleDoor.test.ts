import { createConnection } from 'node:net';
import { generic } from '@umbek/core/devices';
import { RealClock } from '@umbek/host';
import { Faults } from './faults';
import { openSampleDoor } from './sampleDoor';

/** Says lines to a sample's stand-in, one after the other. @returns what it answered to each */
async function saidTo(profile: string, lines: readonly string[]) {
  const door = await openSampleDoor({
    kind: generic,
    settings: { profile },
    port: 0,
    clock: new RealClock(),
    faults: () => Faults.parse({}),
    chance: () => 0.5,
    pass: (_direction, _peer, _bytes, _mayDouble, work) => work(),
  });
  const socket = createConnection({ port: door.port, host: '127.0.0.1' });
  socket.setEncoding('utf8');
  const answers: string[] = [];
  for (const line of lines) {
    const answered = new Promise<string>((next) => socket.once('data', (text) => next(String(text).trim())));
    socket.write(`${line}\r\n`);
    answers.push(await answered);
  }
  const report = door.report();
  socket.destroy();
  door.close();
  return { answers, report };
}

it('the mast goes to its memories, runs until it is halted, and names none of them then', async () => {
  const { answers, report } = await saidTo('mastCam', ['WHERE?', 'GO 3', 'HALT', 'RUN -1 0.5', 'WHERE?', 'HALT', 'UP']);
  expect(answers).toEqual(['AT 0 STAND', 'AT 3 RUN', 'AT 0 STAND', 'AT 0 RUN', 'AT 0 RUN', 'AT 0 STAND', 'ERR']);
  expect(report.malformed).toBe(1);
  expect(report.effects.map(({ command }) => command)).toEqual(['GO 3', 'HALT', 'RUN -1 0.5', 'HALT']);
});

it('the slit runs to where it is sent, and halts', async () => {
  const { answers, report } = await saidTo('domeSlit', ['STATE?', 'SLIT 50', 'HALT', 'SLIT 200']);
  expect(answers).toEqual([
    'SLIT=0 MOTOR=STAND',
    'SLIT=0 MOTOR=RUN',
    expect.stringMatching(/^SLIT=\d MOTOR=STAND$/),
    'ERR',
  ]);
  expect(report.malformed).toBe(1);
});
