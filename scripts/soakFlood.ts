import type { WebSocket } from 'ws';
import { demoId } from '@umbek/demo';
import { ulid } from 'ulid';
import { quantile } from '../bench/result';
import { type Demo, type StandinProcess, until } from '../e2e/support/demo';

/** So many bad messages of each kind come. */
export const FLOOD = 100_000;
/** Together, each second. */
const A_SECOND = 2500;
const PRESS_EVERY_MS = 100;
const QUIET_MS = 6000;

/** A press of the switcher while others misbehave: how soon it is answered, and that it is. */
async function presses(
  desk: WebSocket,
  lengthMs: number,
  wait: (pressId: string) => Promise<number>,
): Promise<number[]> {
  const took: number[] = [];
  const end = Date.now() + lengthMs;
  for (let count = 0; Date.now() < end; count += 1) {
    const pressId = ulid();
    const buttonId = demoId('BTN', 1 + (count % 4));
    const answered = wait(pressId);
    desk.send(JSON.stringify({ type: 'press', pressId, buttonId, phase: 'down' }));
    took.push(await answered);
    await new Promise((next) => setTimeout(next, PRESS_EVERY_MS));
  }
  return took;
}

const malformed = async (demo: Demo): Promise<number> =>
  (await demo.health()).devices.reduce((sum, item) => sum + item.malformed, 0);

export interface FloodRow {
  readonly what: string;
  readonly quietMs: number;
  readonly meanwhileMs: number;
  /** Messages that the engine took for no words of the device. */
  readonly malformed: number;
}

/** Every device but the switcher goes mad, in each of the two ways; the switcher's buttons are pressed meanwhile. */
export async function flood(
  demo: Demo,
  desk: WebSocket,
  wait: (pressId: string) => Promise<number>,
): Promise<FloodRow[]> {
  const bad: StandinProcess[] = Object.entries(demo.standins).flatMap(([key, standinProcess]) =>
    key === 'switcher' ? [] : [standinProcess],
  );
  const quiet = quantile(await presses(desk, QUIET_MS, wait), 0.5);
  const rows: FloodRow[] = [];
  for (const fault of ['implausible', 'babbling'] as const) {
    const before = await malformed(demo);
    const badRate = Math.ceil(A_SECOND / bad.length);
    for (const standinProcess of bad) await standinProcess.faults({ [fault]: true, badRate });
    const took = await presses(desk, (FLOOD / A_SECOND) * 1000, wait);
    for (const standinProcess of bad) await standinProcess.faults({});
    rows.push({
      what: fault,
      quietMs: quiet,
      meanwhileMs: quantile(took, 0.5),
      malformed: (await malformed(demo)) - before,
    });
    await until(
      'every device is reached again',
      async () => (await demo.health()).devices.every(({ state }) => state === 'reached'),
      60_000,
    );
  }
  return rows;
}
