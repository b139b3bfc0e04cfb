/**
 * One axis of a head under a trapezoid speed profile (elementary kinematics): accelerate, cruise, brake.
 * Units are the axis's own (degrees, or zoom motor code) and milliseconds at the surface, seconds inside.
 */
export interface AxisLimits {
  readonly min: number;
  readonly max: number;
  /** Top speed, units a second. */
  readonly speed: number;
  /** Acceleration, units a second squared. */
  readonly acceleration: number;
}

/** A stretch of constant acceleration, from `at` for `seconds`. */
interface Stretch {
  readonly at: number;
  readonly seconds: number;
  readonly from: number;
  readonly velocity: number;
  readonly acceleration: number;
}

/** Where an axis is and where it goes: stretches in order; after the last one it keeps the last one's closing velocity. */
export interface AxisMotion {
  readonly stretches: readonly Stretch[];
  readonly limits: AxisLimits;
}

export interface AxisState {
  readonly position: number;
  /** Units a second. */
  readonly velocity: number;
}

const clamp = (value: number, limits: AxisLimits): number => Math.min(limits.max, Math.max(limits.min, value));

export function restAt(position: number, limits: AxisLimits, now: number): AxisMotion {
  return { limits, stretches: [{ at: now, seconds: 0, from: clamp(position, limits), velocity: 0, acceleration: 0 }] };
}

/** Position and velocity at a time. An axis that runs into its limit stands there. */
export function axisAt(motion: AxisMotion, now: number): AxisState {
  let stretch = motion.stretches[0];
  for (const next of motion.stretches) if (next.at <= now) stretch = next;
  if (stretch === undefined) return { position: 0, velocity: 0 };
  const t = Math.max(0, (now - stretch.at) / 1000);
  const inside = Math.min(t, stretch.seconds);
  const velocity = stretch.velocity + stretch.acceleration * inside;
  const raw =
    stretch.from + stretch.velocity * inside + (stretch.acceleration * inside * inside) / 2 + velocity * (t - inside);
  const position = clamp(raw, motion.limits);
  return { position, velocity: raw === position ? velocity : 0 };
}

class Plan {
  readonly stretches: Stretch[] = [];
  private at: number;

  constructor(
    private position: number,
    private velocity: number,
    now: number,
  ) {
    this.at = now;
  }

  add(seconds: number, acceleration: number): void {
    if (seconds <= 0) return;
    this.stretches.push({ at: this.at, seconds, from: this.position, velocity: this.velocity, acceleration });
    this.position += this.velocity * seconds + (acceleration * seconds * seconds) / 2;
    this.velocity += acceleration * seconds;
    this.at += seconds * 1000;
  }

  here(): { position: number; velocity: number } {
    return { position: this.position, velocity: this.velocity };
  }

  /** Closes the plan with an exact standing place, so that rounding does not leave a crawl. */
  rest(position: number): Stretch[] {
    return [...this.stretches, { at: this.at, seconds: 0, from: position, velocity: 0, acceleration: 0 }];
  }

  end(): number {
    return this.at;
  }
}

/**
 * Plans a move to a target that ends at rest, from the axis's present velocity.
 * From rest over distance d with top speed v and acceleration a it takes v²/a ≤ d ? d/v + v/a : 2·√(d/a).
 * @returns the motion and when it is over (ms)
 */
export function planTo(motion: AxisMotion, target: number, now: number): { motion: AxisMotion; endsAt: number } {
  const { limits } = motion;
  const goal = clamp(target, limits);
  const start = axisAt(motion, now);
  const plan = new Plan(start.position, start.velocity, now);
  const a = limits.acceleration;
  const braking = (start.velocity * start.velocity) / (2 * a);
  const ahead = (goal - start.position) * Math.sign(start.velocity || goal - start.position);
  if (start.velocity !== 0 && braking > ahead) plan.add(Math.abs(start.velocity) / a, -Math.sign(start.velocity) * a);
  const { position, velocity } = plan.here();
  const distance = goal - position;
  const direction = Math.sign(distance);
  if (direction !== 0) {
    const speed = Math.max(0, velocity * direction);
    const peak = Math.min(limits.speed, Math.sqrt(a * Math.abs(distance) + (speed * speed) / 2));
    const speedUp = (peak - speed) / a;
    const covered = (peak * peak - speed * speed) / (2 * a) + (peak * peak) / (2 * a);
    plan.add(speedUp, direction * a);
    plan.add((Math.abs(distance) - covered) / peak, 0);
    plan.add(peak / a, -direction * a);
  }
  return { motion: { limits, stretches: plan.rest(goal) }, endsAt: plan.end() };
}

/** Plans a change to a steady velocity (units a second; 0 brakes to a stand). @returns the motion and when the change is over (ms) */
export function planVelocity(
  motion: AxisMotion,
  velocity: number,
  now: number,
): { motion: AxisMotion; endsAt: number } {
  const { limits } = motion;
  const wanted = Math.min(limits.speed, Math.max(-limits.speed, velocity));
  const start = axisAt(motion, now);
  const plan = new Plan(start.position, start.velocity, now);
  const change = wanted - start.velocity;
  plan.add(Math.abs(change) / limits.acceleration, Math.sign(change) * limits.acceleration);
  const { position } = plan.here();
  const stretches =
    wanted === 0
      ? plan.rest(clamp(position, limits))
      : [...plan.stretches, { at: plan.end(), seconds: 0, from: position, velocity: wanted, acceleration: 0 }];
  return { motion: { limits, stretches }, endsAt: plan.end() };
}
