import { demoId } from '@umbek/demo';
import type { DeviceHealth } from '@umbek/protocol';
import { ulid } from 'ulid';
import { type Demo, until } from './demo';

type Key = keyof Demo['standins'];

/** What tests of the demo's machines do over and over. */
export function handsOn(demo: () => Demo) {
  return {
    /** Points as the stand-in itself has them. */
    points: async (key: Key): Promise<Record<string, unknown>> => (await demo().standins[key].report()).points,

    /** Commands that had their effect at the stand-in, in order. */
    commandsOf: async (key: Key): Promise<string[]> =>
      (await demo().standins[key].report()).effects.map((effect) => effect.command),

    health: async (key: Key): Promise<DeviceHealth | undefined> =>
      (await demo().health()).devices.find((device) => device.key === key),

    /** Presses a button of the demo by its number and waits for the end of its run. @returns "done", or why not */
    press: async (button: number): Promise<string> => {
      const pressId = ulid();
      const buttonId = demoId('BTN', button);
      const answer = await demo().post('/api/press', { pressId, buttonId, phase: 'down', station: 'test' });
      await demo().post('/api/press', { pressId, buttonId, phase: 'up', station: 'test' });
      if (answer.status !== 202) return String(answer.body.message);
      const runId = String(answer.body.runId);
      const end = await until('the run is over', async () =>
        (await demo().asRun()).find((entry) => entry.kind === 'runEnd' && entry.runId === runId),
      );
      return end.how === 'done' ? 'done' : String(end.why);
    },

    /** What the engine knows of a point. */
    known: async (device: string, point: string): Promise<unknown> =>
      (
        (await (await fetch(`${demo().url}/api/devices/${device}/points`)).json()) as {
          points: Record<string, unknown>;
        }
      ).points[point],
  };
}
