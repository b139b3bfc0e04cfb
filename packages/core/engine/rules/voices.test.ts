import { hear, type Heard, silence, turnsAt, type VoiceLimits, type Wanted } from './voices';

const LIMITS: VoiceLimits = {
  talksDb: -30,
  hysteresisDb: 6,
  attackMs: 200,
  releaseMs: 400,
  togetherMs: 1000,
  nobodyMs: 2000,
};
const LOUD = -20;
const QUIET = -60;

/** Plays a track, 25 samples a second: how long, and the level of each microphone. @returns when the wanted shot became another, milliseconds */
function played(mics: number, track: readonly (readonly [number, ...number[]])[], limits = LIMITS): [number, Wanted][] {
  const turns: [number, Wanted][] = [];
  let now = 0;
  let heard: Heard = silence(mics, now);
  for (const [ms, ...levels] of track)
    for (const until = now + ms; now < until; now += 40) {
      const next = hear(heard, levels, now, limits);
      if (next.wanted !== heard.wanted) turns.push([now, next.wanted]);
      heard = next;
    }
  return turns;
}

describe('microphones', () => {
  it('want the shot of the one who talks, after the attack time', () => {
    expect(
      played(2, [
        [1000, QUIET, QUIET],
        [1000, LOUD, QUIET],
      ]),
    ).toEqual([[1200, 0]]);
  });

  it('take a cough for no talk', () => {
    expect(
      played(2, [
        [1000, QUIET, QUIET],
        [160, LOUD, QUIET],
        [800, QUIET, QUIET],
      ]),
    ).toEqual([]);
  });

  it('count from where talk begins down to the hysteresis below it, the limits themselves included', () => {
    // -30 is talk; -36 is not yet under -36, so it goes on; -36.1 is.
    const track = [
      [400, -30, QUIET],
      [2000, -36, QUIET],
      [1000, -36.1, QUIET],
      [400, -30.1, QUIET],
    ] as const;
    // Silent at 2400 + 400; nobody for 2000 would be 4800, after the end.
    expect(played(2, track)).toEqual([[200, 0]]);
  });

  it('bridge a breath shorter than the release time', () => {
    expect(
      played(2, [
        [1000, LOUD, QUIET],
        [360, QUIET, QUIET],
        [1000, LOUD, QUIET],
        [360, QUIET, QUIET],
        [4000, LOUD, QUIET],
      ]),
    ).toEqual([[200, 0]]);
  });

  it('want the wide shot when two talk together long enough, and the one who goes on after that', () => {
    const track = [
      [1000, LOUD, QUIET],
      [2000, LOUD, LOUD],
      [1000, QUIET, LOUD],
    ] as const;
    // The second talks from 1200; both for 1000; the first is silent from 3000 + 400.
    expect(played(2, track)).toEqual([
      [200, 0],
      [2200, 'wide'],
      [3400, 1],
    ]);
  });

  it('keep the shot when the second only falls in for a moment', () => {
    expect(
      played(2, [
        [1000, LOUD, QUIET],
        [600, LOUD, LOUD],
        [2000, LOUD, QUIET],
      ]),
    ).toEqual([[200, 0]]);
  });

  it('want the wide shot when nobody talks for long enough', () => {
    // Silent at 1000 + 400, nobody for 2000 from then.
    expect(
      played(2, [
        [1000, QUIET, LOUD],
        [4000, QUIET, QUIET],
      ]),
    ).toEqual([
      [200, 1],
      [3400, 'wide'],
    ]);
  });

  it('change from several to nobody with a time of its own', () => {
    const track = [
      [600, LOUD, LOUD],
      [4000, QUIET, QUIET],
    ] as const;
    // Together from 200 to 1000, which is 800 of 1000; then nobody for 2000.
    expect(played(2, track)).toEqual([[3000, 'wide']]);
  });

  it('turn at times that can be told beforehand', () => {
    const first = hear(silence(2, 0), [LOUD, QUIET], 0, LIMITS);
    expect(turnsAt(first, LIMITS)).toBe(200);
    const talks = hear(first, [LOUD, QUIET], 200, LIMITS);
    expect([talks.wanted, turnsAt(talks, LIMITS)]).toEqual([0, null]);
    const both = hear(hear(talks, [LOUD, LOUD], 300, LIMITS), [LOUD, LOUD], 500, LIMITS);
    expect([both.many, turnsAt(both, LIMITS)]).toEqual(['several', 1500]);
    const wide = hear(both, [LOUD, LOUD], 1500, LIMITS);
    expect([wide.wanted, turnsAt(wide, LIMITS)]).toEqual(['wide', null]);
  });

  it('know nobody at first, and want the wide shot when that goes on', () => {
    expect(turnsAt(silence(3, 500), LIMITS)).toBe(2500);
    expect(played(3, [[2400, QUIET, QUIET, QUIET]])).toEqual([[2000, 'wide']]);
  });
});
