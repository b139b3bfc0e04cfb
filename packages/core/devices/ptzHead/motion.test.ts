import fc from 'fast-check';
import { type AxisLimits, axisAt, planTo, planVelocity, restAt } from './motion';

const limits: AxisLimits = { min: -170, max: 170, speed: 80, acceleration: 160 };

describe('a move from rest to rest', () => {
  it('takes d/v + v/a where the top speed is reached', () => {
    // v²/a = 40°; 120° at 80°/s and 160°/s²: 120/80 + 80/160 = 2 s.
    expect(planTo(restAt(0, limits, 0), 120, 0).endsAt).toBeCloseTo(2000, 9);
  });

  it('takes 2·√(d/a) where it is not', () => {
    // 10° at 160°/s²: 2·√(10/160) = 0.5 s.
    expect(planTo(restAt(0, limits, 0), -10, 0).endsAt).toBeCloseTo(500, 9);
  });

  it('is where the profile says at each moment', () => {
    const { motion } = planTo(restAt(0, limits, 1000), 120, 1000);
    // After 0.25 s: ½·160·0.25² = 5°, at 40°/s. After 1 s: 20° of speeding up and 0.5 s at 80°/s = 60°. Symmetric about the middle.
    expect(axisAt(motion, 1250)).toEqual({ position: 5, velocity: 40 });
    expect(axisAt(motion, 2000)).toEqual({ position: 60, velocity: 80 });
    expect(axisAt(motion, 2750)).toEqual({ position: 115, velocity: 40 });
    expect(axisAt(motion, 9000)).toEqual({ position: 120, velocity: 0 });
  });

  it('goes no further than the limit', () => {
    expect(axisAt(planTo(restAt(160, limits, 0), 999, 0).motion, 60_000).position).toBe(170);
  });
});

describe('a move from a moving start', () => {
  it('brakes first when it is going away', () => {
    const away = planVelocity(restAt(0, limits, 0), -80, 0).motion;
    // After 0.5 s at −80°/s it stands at −20°. Braking takes 0.5 s and 20° more: −40°. Then 40° = v²/a: 40/80 + 80/160 = 1 s.
    expect(axisAt(away, 500)).toEqual({ position: -20, velocity: -80 });
    expect(planTo(away, 0, 500).endsAt).toBeCloseTo(2000, 9);
  });

  it('always ends at the goal, at rest, never faster than it may', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -150, max: 150, noNaN: true }),
        fc.double({ min: -80, max: 80, noNaN: true }),
        fc.double({ min: -150, max: 150, noNaN: true }),
        (from, speed, goal) => {
          const moving = planVelocity(restAt(from, { ...limits, min: -1e6, max: 1e6 }, 0), speed, 0).motion;
          const { motion, endsAt } = planTo(moving, goal, 700);
          const end = axisAt(motion, endsAt + 1);
          expect(end.position).toBeCloseTo(goal, 6);
          expect(end.velocity).toBe(0);
          for (let t = 700; t < endsAt; t += 50)
            expect(Math.abs(axisAt(motion, t).velocity)).toBeLessThanOrEqual(80.0001);
        },
      ),
      { numRuns: 200, seed: 4 },
    );
  });
});

describe('a steady drive', () => {
  it('stands when it runs into the limit', () => {
    const { motion } = planVelocity(restAt(160, limits, 0), 40, 0);
    expect(axisAt(motion, 5000)).toEqual({ position: 170, velocity: 0 });
  });
});
