import { parentPort } from 'node:worker_threads';
import { learnLimits, PtzSettings, type TravelRun } from '@umbek/core/devices';

/** A thread of its own: fitting takes some tens of milliseconds, and a press never waits for it. */
parentPort?.on('message', ({ device, runs, settings }: { device: string; runs: TravelRun[]; settings: unknown }) => {
  parentPort?.postMessage({ device, learned: learnLimits(runs, PtzSettings.parse(settings)) });
});
