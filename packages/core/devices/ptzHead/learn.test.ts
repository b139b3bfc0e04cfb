import {
  arrivalTimeoutMs,
  axisAt,
  learnLimits,
  limitsOf,
  planTo,
  PtzSettings,
  restAt,
  travelMs,
  type TravelRun,
  zoomCodeOf,
  zoomRatioOf,
} from './index';

const declared = PtzSettings.parse({});
const real = PtzSettings.parse({ panSpeed: 40, tiltSpeed: 24, zoomSpeed: 4200, panAcceleration: 90, replyDelayMs: 12 });

const PLACES = [
  { pan: -60, tilt: 12, zoom: 5 },
  { pan: 9, tilt: 36, zoom: 2.4 },
  { pan: 120, tilt: -10, zoom: 1 },
  { pan: 30, tilt: 60, zoom: 12 },
];
type Place = (typeof PLACES)[number];
const place = (index: number): Place => PLACES[index % PLACES.length] ?? { pan: 0, tilt: 0, zoom: 1 };

/** A recall as a head with these limits makes it, read every 100 ms on counts of 0.075°. */
function run(from: Place, to: Place, settings = real): TravelRun {
  const limits = limitsOf(settings);
  const [ackMs, doneMs] = [settings.replyDelayMs, travelMs(from, to, settings)];
  const motions = {
    pan: planTo(restAt(from.pan, limits.pan, ackMs), to.pan, ackMs).motion,
    tilt: planTo(restAt(from.tilt, limits.tilt, ackMs), to.tilt, ackMs).motion,
    zoom: planTo(restAt(zoomCodeOf(from.zoom, settings), limits.zoom, ackMs), zoomCodeOf(to.zoom, settings), ackMs)
      .motion,
  };
  const counted = (value: number): number => Math.round(value / 0.075) * 0.075;
  const path = [];
  for (let t = 100; t < doneMs; t += 100)
    path.push({
      t,
      pan: counted(axisAt(motions.pan, t).position),
      tilt: counted(axisAt(motions.tilt, t).position),
      zoom: zoomRatioOf(axisAt(motions.zoom, t).position, settings),
    });
  return { from, to, ackMs, doneMs, path };
}
const ten = Array.from({ length: 10 }, (_, index) => run(place(index), place(index + 1)));

describe('learning the limits of a head', () => {
  it('says nothing of fewer than five recalls', () => {
    expect(learnLimits(ten.slice(0, 4), declared)).toBeNull();
  });

  it('finds speed, acceleration and delay of a head that is slower than declared', () => {
    const learned = learnLimits(ten, declared);
    expect(learned?.limits.panSpeed).toBeCloseTo(40, 0);
    expect(learned?.limits.tiltSpeed).toBeCloseTo(24, 0);
    expect(Math.abs((learned?.limits.zoomSpeed ?? 0) - 4200)).toBeLessThan(60);
    expect(Math.abs((learned?.limits.panAcceleration ?? 0) - 90)).toBeLessThan(6);
    expect(learned?.runs).toEqual({ pan: 10, tilt: 10, zoom: 10 });
    expect(learned?.worstError).toBeLessThan(0.02);
  });

  it('predicts a pair of positions that it never saw within 5 %', () => {
    const { limits } = learnLimits(ten, declared) ?? { limits: {} };
    const [from, to] = [place(0), place(3)];
    const predicted = travelMs(from, to, { ...declared, ...limits });
    expect(Math.abs(predicted / travelMs(from, to, real) - 1)).toBeLessThan(0.05);
    // As declared it would have been a third too short.
    expect(travelMs(from, to, declared) / travelMs(from, to, real)).toBeLessThan(0.67);
  });

  it('leaves a run out that somebody held up', () => {
    const held = run(place(1), place(2), PtzSettings.parse({ ...real, panSpeed: 8, tiltSpeed: 5 }));
    const learned = learnLimits([...ten, held], declared);
    expect(learned?.runs.pan).toBe(10);
    expect(learned?.limits.panSpeed).toBeCloseTo(40, 0);
  });

  it('keeps what is declared for an axis that hardly moved', () => {
    const flat = ten.map((travelRun) => run({ ...travelRun.from, tilt: 0 }, { ...travelRun.to, tilt: 0 }));
    const learned = learnLimits(flat, declared);
    expect([learned?.limits.tiltSpeed, learned?.runs.tilt]).toEqual([60, 0]);
  });

  it('gives waits time enough: twice what is predicted, and three seconds at the least', () => {
    // 4 s: twice that is 8 s. 0.6 s: 3 s is more than 1.2 s. With nine of ten at 2 times, 4 s are 12 s.
    expect([arrivalTimeoutMs(4000), arrivalTimeoutMs(600), arrivalTimeoutMs(4000, 2)]).toEqual([8000, 3000, 12_000]);
  });
});
