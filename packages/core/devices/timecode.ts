import { z } from 'zod';
import type { PointDefinition } from './kind';

/** A day, seconds: timecode begins anew with each. */
export const DAY_S = 86_400;

/** The timecode of a device as it is switched on, seconds of real time since 00:00:00:00: 10:00:00:00 where nothing else is set. */
export const TimecodeFrom = z.number().min(0).max(86_399).default(36_000);

/** What a device with a timecode of its own tells of it: seconds, each as it begins, and whether they go on. */
export const TIMECODE_POINTS: Readonly<Record<'timecode' | 'timecodeRuns', PointDefinition>> = {
  timecode: {
    words: 'Timecode',
    type: 'number',
    means: 'timecode',
    ticks: { by: 1, while: 'timecodeRuns' },
    counts: true,
    moments: [{ words: 'timecode reaches 10:01:00:00', so: '{} >= 36060' }],
  },
  timecodeRuns: { words: 'Timecode runs', type: 'switch' },
};
