import { PtzSettings } from '@umbek/core/devices';
import { type Approach, endOfWay, limitOfWay } from './viscaArrival';

const GOAL = { command: 'recall', params: { position: 'p', pan: 10, tilt: 2, zoom: 3 } };
const AT_GOAL = { pan: 10.1, tilt: 2.1, zoom: 3.05 };
const ELSEWHERE = { pan: 8, tilt: 2, zoom: 3 };

/** Readings every 100 ms, each with whether it shows the place of the one before. @returns the outcome and the time of the reading that told it */
function ends(
  readings: readonly { readonly place: typeof AT_GOAL; readonly still: boolean }[],
  options: { claimAt?: number; takenOverAt?: number; limitMs?: number } = {},
): [outcome: string, at: number] | null {
  const approach: Approach = {
    since: 0,
    limitMs: options.limitMs ?? 3000,
    thereSince: null,
    stillReads: 0,
    claim: null,
  };
  for (const [index, { place, still }] of readings.entries()) {
    const now = (index + 1) * 100;
    if (options.claimAt !== undefined && now >= options.claimAt) approach.claim ??= { at: now, from: index };
    const end = endOfWay(approach, GOAL, place, {
      still,
      asked: index,
      now,
      takenOverAt: options.takenOverAt ?? -Infinity,
    });
    if (end !== null) return [end.outcome, now];
  }
  return null;
}
const stands = (place: typeof AT_GOAL, count: number) => Array.from({ length: count }, () => ({ place, still: true }));
const moves = (count: number) => Array.from({ length: count }, () => ({ place: ELSEWHERE, still: false }));

describe('the end of a way to a place', () => {
  it('is there with the first reading that bears out what the head says', () => {
    expect(ends([...moves(4), { place: AT_GOAL, still: false }], { claimAt: 500 })).toEqual(['done', 500]);
  });

  it('is there 300 ms after it stands there, where no completion was heard', () => {
    // Still for the first time at 300 ms, so at 600 ms.
    expect(ends([...moves(2), ...stands(AT_GOAL, 9)])).toEqual(['done', 600]);
  });

  it('is there where a head stands elsewhere and says that it is done: three readings and 300 ms', () => {
    expect(ends([...moves(2), ...stands(ELSEWHERE, 9)], { claimAt: 300 })).toEqual(['done', 600]);
  });

  it('is none, whatever the head says, where a drive or a stop took it over', () => {
    expect(ends([...moves(2), ...stands(ELSEWHERE, 9)], { claimAt: 300, takenOverAt: 150 })).toEqual(['refused', 600]);
  });

  it('is not told while a head has not begun or tells its way only at the end, before its time is over', () => {
    expect(ends(stands(ELSEWHERE, 29))).toBeNull();
    // Past 3 s, with more than five readings at one place.
    expect(ends(stands(ELSEWHERE, 40))).toEqual(['late', 3100]);
  });
});

describe('the time that a way may take', () => {
  const settings = PtzSettings.parse({});
  it('is 3 s at the least, 12 s where nobody knows whence it goes, twice a stated length', () => {
    expect(limitOfWay(GOAL, { pan: 10, tilt: 2, zoom: 3 }, settings)).toBe(3000);
    expect(limitOfWay(GOAL, { pan: null, tilt: 2, zoom: 3 }, settings)).toBe(12_000);
    expect(
      limitOfWay({ command: 'recall', params: { ...GOAL.params, seconds: 8 } }, { pan: 0, tilt: 0, zoom: 1 }, settings),
    ).toBe(16_000);
  });
});
