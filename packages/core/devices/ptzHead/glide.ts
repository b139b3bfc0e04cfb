import { planTo, restAt } from './motion';
import { type AxisName, limitsOf, type PtzSettings, SPEED_STEPS, stepSpeedOf } from './settings';

/**
 * The step of the head's speed table with which a way from rest takes nearest to so many seconds. Heads know no others, so the time is only about kept.
 * @param from degrees, or motor codes of the zoom
 */
export function glideStep(axis: AxisName, from: number, to: number, seconds: number, settings: PtzSettings): number {
  const limits = limitsOf(settings)[axis];
  const off = (step: number): number =>
    Math.abs(
      planTo(restAt(from, { ...limits, speed: stepSpeedOf(axis, step, settings) }, 0), to, 0).endsAt - seconds * 1000,
    );
  let best = 1;
  for (let step = 2; step <= SPEED_STEPS[axis]; step += 1) if (off(step) < off(best)) best = step;
  return best;
}
