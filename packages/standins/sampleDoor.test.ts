import { createConnection } from 'node:net';
import { generic } from '@umbek/core/devices';
import { VirtualClock } from '@umbek/core/rehearse';
import { Faults } from './faults';
import { openSampleDoor } from './sampleDoor';

/** Goes on at each reading, as real time does; each time by half as much. */
class RestlessClock extends VirtualClock {
  private readings = 0;

  override now(): number {
    this.readings += 1;
    this.runTo(super.now() + 1 / 2 ** this.readings);
    return super.now();
  }
}

/** Says lines to a sample's stand-in, one after the other; a number lets so many milliseconds pass. @returns what it answered to each line */
async function saidTo(profile: string, lines: readonly (string | number)[]) {
  const clock = new RestlessClock();
  const door = await openSampleDoor({
    kind: generic,
    settings: { profile },
    port: 0,
    clock,
    faults: () => Faults.parse({}),
    chance: () => 0.5,
    pass: (_direction, _peer, _bytes, _mayDouble, work) => work(),
  });
  const socket = createConnection({ port: door.port, host: '127.0.0.1' });
  socket.setEncoding('utf8');
  const answers: string[] = [];
  for (const line of lines) {
    if (typeof line === 'number') {
      clock.runTo(clock.now() + line);
      continue;
    }
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

it('the slit takes four seconds for its whole way, and halts where it is', async () => {
  const { answers, report } = await saidTo('domeSlit', [
    'STATE?',
    'SLIT 50',
    1000,
    'STATE?',
    'HALT',
    1000,
    'STATE?',
    'SLIT 50',
    1100,
    'STATE?',
    'SLIT 200',
  ]);
  expect(answers).toEqual([
    'SLIT=0 MOTOR=STAND',
    'SLIT=0 MOTOR=RUN',
    'SLIT=25 MOTOR=RUN',
    'SLIT=25 MOTOR=STAND',
    'SLIT=25 MOTOR=STAND',
    'SLIT=25 MOTOR=RUN',
    'SLIT=50 MOTOR=STAND',
    'ERR',
  ]);
  expect(report.malformed).toBe(1);
});
