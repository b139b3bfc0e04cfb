import type { AxisLimits } from './motion';
import { type AxisName, limitsOf, PtzSettings, zoomCodeOf } from './settings';
import { travelMs } from './travel';

interface Place {
  readonly pan: number;
  readonly tilt: number;
  readonly zoom: number;
}

/** A recall as it really went: times in milliseconds from the datagram of the command. */
export interface TravelRun {
  readonly from: Place;
  readonly to: Place;
  /** First acknowledgement. */
  readonly ackMs: number;
  /** The head's own "done". */
  readonly doneMs: number;
  /** Where the head said it was on the way. */
  readonly path: readonly { readonly t: number; readonly pan: number; readonly tilt: number; readonly zoom: number }[];
}

/** The limits that were learned, named as in the settings of a head; an axis without enough runs keeps what is declared. */
export type LearnedLimits = Pick<
  PtzSettings,
  'panSpeed' | 'tiltSpeed' | 'zoomSpeed' | 'panAcceleration' | 'tiltAcceleration' | 'zoomAcceleration' | 'replyDelayMs'
>;

export interface Learned {
  readonly limits: LearnedLimits;
  /** Runs that each axis was fitted to; 0 where what is declared stays. */
  readonly runs: Readonly<Record<AxisName, number>>;
  /** Share by which the prediction is off, over all runs: middle and worst, 0.02 for 2 %. */
  readonly medianError: number;
  readonly worstError: number;
  /** Nine of ten travels take at most so many times what is predicted. */
  readonly p90: number;
}

/** Fewer runs than this teach nothing. */
export const FEWEST_RUNS = 5;
/** A shorter way on an axis says nothing of its speed: degrees, or motor codes of the zoom. */
const SHORTEST: Readonly<Record<AxisName, number>> = { pan: 2, tilt: 2, zoom: 400 };
const AXES: readonly AxisName[] = ['pan', 'tilt', 'zoom'];
/** Of runs whose distance from the rest is over so many median absolute deviations nothing is learned. */
const OUTLIER_MADS = 3;
/** Bounds what a search may cost: some thousand evaluations. */
const MOST_ROUNDS = 150;
/** Longest time for which a head's readings may lag behind its place. */
const MOST_LAG_MS = 120;

/** One run as one axis made it. */
interface AxisRun {
  readonly from: number;
  readonly to: number;
  readonly path: readonly { readonly t: number; readonly at: number }[];
}

interface Fit {
  readonly speed: number;
  readonly acceleration: number;
  /** By how much the readings lag behind, milliseconds. */
  readonly lag: number;
}

/** Longest travel that is believed, milliseconds. */
const LONGEST_TRAVEL_MS = 120_000;
/** Faster than this no head turns, degrees a second. */
const FASTEST = 720;

const isPlace = ({ pan, tilt, zoom }: Place): boolean =>
  Number.isFinite(pan) &&
  Math.abs(pan) <= 360 &&
  Number.isFinite(tilt) &&
  Math.abs(tilt) <= 180 &&
  zoom >= 1 &&
  zoom <= 60;

/**
 * Whether a recall can have gone as it was told: finite, in order, no faster than any head turns. A head that jumps, or tells its way only at
 * the end, teaches nothing about its speed.
 */
export function plausibleRun(run: TravelRun): boolean {
  const { from, to, ackMs, doneMs, path } = run;
  if (!isPlace(from) || !isPlace(to) || !path.every(isPlace)) return false;
  if (!(ackMs >= 0 && doneMs >= ackMs && doneMs <= LONGEST_TRAVEL_MS)) return false;
  let before = { t: ackMs, ...from };
  for (const reading of path) {
    const seconds = (reading.t - before.t) / 1000;
    if (!(seconds >= -0.2)) return false;
    // A reading may be one poll old: a tenth of a second is allowed on top.
    for (const axis of ['pan', 'tilt'] as const)
      if (Math.abs(reading[axis] - before[axis]) > FASTEST * (Math.max(0, seconds) + 0.1)) return false;
    before = reading;
  }
  const far = Math.max(Math.abs(to.pan - from.pan), Math.abs(to.tilt - from.tilt));
  // On the way it was nowhere but at its ends: it jumped, or did not tell.
  const between = path.some((reading) =>
    (['pan', 'tilt', 'zoom'] as const).some(
      (axis) => Math.abs(reading[axis] - from[axis]) > 0.05 && Math.abs(reading[axis] - to[axis]) > 0.05,
    ),
  );
  return between || far < SHORTEST.pan;
}

const median = (values: readonly number[]): number => {
  const sorted = [...values].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  return sorted.length === 0
    ? 0
    : sorted.length % 2 === 1
      ? (sorted[middle] ?? 0)
      : ((sorted[middle - 1] ?? 0) + (sorted[middle] ?? 0)) / 2;
};

/** How far an axis has gone on a way of so many units, so many seconds after it began from rest: the trapezoid profile in closed form. */
function gone(distance: number, speed: number, acceleration: number, seconds: number): number {
  if (seconds <= 0) return 0;
  const ramp = Math.min(speed / acceleration, Math.sqrt(distance / acceleration));
  const peak = ramp * acceleration;
  const cruise = (distance - peak * ramp) / peak;
  if (seconds >= cruise + 2 * ramp) return distance;
  if (seconds <= ramp) return (acceleration * seconds * seconds) / 2;
  if (seconds <= ramp + cruise) return (peak * ramp) / 2 + peak * (seconds - ramp);
  const left = cruise + 2 * ramp - seconds;
  return distance - (acceleration * left * left) / 2;
}

/** Mean square between a run's readings and the trapezoid profile of a fit. */
function misfit(run: AxisRun, { speed, acceleration, lag }: Fit): number {
  const distance = Math.abs(run.to - run.from);
  const sign = Math.sign(run.to - run.from);
  let sum = 0;
  for (const { t, at } of run.path) {
    const off = run.from + sign * gone(distance, speed, acceleration, (t - lag) / 1000) - at;
    sum += off * off;
  }
  return sum / run.path.length;
}

/** Least squares over speed, acceleration and lag by pattern search (Hooke and Jeeves, 1961) on their logarithms, from what is declared. */
function search(runs: readonly AxisRun[], limits: AxisLimits): Fit {
  const cost = (point: readonly number[]): number => {
    const [speed = 0, acceleration = 0, lag = 0] = point;
    if (lag < 0 || lag > MOST_LAG_MS) return Number.POSITIVE_INFINITY;
    const fit = { speed: Math.exp(speed), acceleration: Math.exp(acceleration), lag };
    return runs.reduce((sum, run) => sum + misfit(run, fit), 0);
  };
  let best = [Math.log(limits.speed), Math.log(limits.acceleration), 0];
  let least = cost(best);
  const steps = [0.4, 0.4, 20];
  const explored = (from: readonly number[], before: number): { point: readonly number[]; sum: number } => {
    let [point, sum] = [from, before];
    for (let axis = 0; axis < steps.length; axis += 1) {
      for (const sign of [1, -1]) {
        const tried = point.map((value, index) => (index === axis ? value + sign * (steps[axis] ?? 0) : value));
        const off = cost(tried);
        if (off >= sum) continue;
        [point, sum] = [tried, off];
        break;
      }
    }
    return { point, sum };
  };
  for (let round = 0; round < MOST_ROUNDS && (steps[0] ?? 0) > 5e-4; round += 1) {
    const found = explored(best, least);
    if (found.sum >= least) {
      steps.forEach((step, index) => (steps[index] = step / 2));
      continue;
    }
    // On the same way once more: along a valley between lag and acceleration single steps would crawl.
    const further = found.point.map((value, index) => 2 * value - (best[index] ?? 0));
    const again = explored(further, cost(further));
    const next = again.sum < found.sum ? again : found;
    [best, least] = [[...next.point], next.sum];
  }
  const [speed = 0, acceleration = 0, lag = 0] = best;
  return { speed: Math.exp(speed), acceleration: Math.exp(acceleration), lag };
}

/**
 * Speed and acceleration of one axis from its own polled path: least squares, then once more without the runs that lie far off.
 * @returns undefined when fewer than five runs moved the axis far enough
 */
function fitAxis(
  axis: AxisName,
  runs: readonly TravelRun[],
  settings: PtzSettings,
): { readonly fit: Fit; readonly runs: number } | undefined {
  const on = (place: Place): number => (axis === 'zoom' ? zoomCodeOf(place.zoom, settings) : place[axis]);
  const own = runs
    .map((run): AxisRun => ({
      from: on(run.from),
      to: on(run.to),
      path: run.path.map((reading) => ({ t: reading.t - run.ackMs, at: on(reading) })),
    }))
    .filter((run) => Math.abs(run.to - run.from) >= SHORTEST[axis] && run.path.length >= 2);
  if (own.length < FEWEST_RUNS) return undefined;
  const limits = limitsOf(settings)[axis];
  const first = search(own, limits);
  const offs = own.map((run) => Math.sqrt(misfit(run, first)));
  const middle = median(offs);
  const spread = median(offs.map((off) => Math.abs(off - middle)));
  const kept = own.filter(
    (_, index) => (offs[index] ?? 0) - middle <= OUTLIER_MADS * Math.max(spread, 0.02 * SHORTEST[axis]),
  );
  if (kept.length < FEWEST_RUNS) return undefined;
  return {
    fit:
      kept.length === own.length
        ? first
        : search(kept, { ...limits, speed: first.speed, acceleration: first.acceleration }),
    runs: kept.length,
  };
}

/** Slowest and fastest that a head is believed to be: degrees or motor codes a second, and a second squared. */
const BELIEVED: Readonly<Record<keyof LearnedLimits, readonly [number, number]>> = {
  panSpeed: [0.5, 720],
  tiltSpeed: [0.5, 720],
  zoomSpeed: [50, 65_536],
  panAcceleration: [1, 1000],
  tiltAcceleration: [1, 1000],
  zoomAcceleration: [100, 100_000],
  replyDelayMs: [0, 1000],
};

const plausibleLimits = (limits: LearnedLimits): boolean =>
  (Object.keys(BELIEVED) as (keyof LearnedLimits)[]).every((key) => {
    const [least, most] = BELIEVED[key];
    return limits[key] >= least && limits[key] <= most;
  });

const rounded = (value: number): number => Math.round(value * 1000) / 1000;

/**
 * What the recalls of one head teach about its limits. The head's own delay is measured by itself (what a travel takes beyond its slowest
 * axis), speed and acceleration are fitted from the path of each axis: in the total time alone they cannot be told apart.
 * @param runs recalls without lost replies, from rest
 * @returns null when fewer than five runs are there
 */
export function learnLimits(runs: readonly TravelRun[], settings: PtzSettings): Learned | null {
  if (runs.length < FEWEST_RUNS) return null;
  const fits = Object.fromEntries(AXES.map((axis) => [axis, fitAxis(axis, runs, settings)])) as Record<
    AxisName,
    ReturnType<typeof fitAxis>
  >;
  const axisLimits = {
    panSpeed: rounded(fits.pan?.fit.speed ?? settings.panSpeed),
    panAcceleration: rounded(fits.pan?.fit.acceleration ?? settings.panAcceleration),
    tiltSpeed: rounded(fits.tilt?.fit.speed ?? settings.tiltSpeed),
    tiltAcceleration: rounded(fits.tilt?.fit.acceleration ?? settings.tiltAcceleration),
    zoomSpeed: rounded(fits.zoom?.fit.speed ?? settings.zoomSpeed),
    zoomAcceleration: rounded(fits.zoom?.fit.acceleration ?? settings.zoomAcceleration),
  };
  const bare = { ...settings, ...axisLimits, replyDelayMs: 0 };
  const delay = Math.min(
    1000,
    Math.max(0, rounded(median(runs.map((run) => run.doneMs - travelMs(run.from, run.to, bare))))),
  );
  const limits = { ...axisLimits, replyDelayMs: delay };
  // What no head can be is not learned: what is declared stays.
  if (!PtzSettings.safeParse({ ...settings, ...limits }).success || !plausibleLimits(limits)) return null;
  const ratios = runs
    .map((run) => run.doneMs / travelMs(run.from, run.to, { ...settings, ...limits }))
    .sort((a, b) => a - b);
  const errors = ratios.map((ratio) => Math.abs(ratio - 1));
  return {
    limits,
    runs: { pan: fits.pan?.runs ?? 0, tilt: fits.tilt?.runs ?? 0, zoom: fits.zoom?.runs ?? 0 },
    medianError: rounded(median(errors)),
    worstError: rounded(Math.max(...errors)),
    p90: rounded(ratios[Math.min(ratios.length - 1, Math.ceil(ratios.length * 0.9) - 1)] ?? 1),
  };
}

/** How long a wait for an arrival lasts at most, when nobody has said: the largest of twice the prediction, 1.5 × p90, p90 + 0.5 s and 3 s, in whole tenths. */
export const arrivalTimeoutMs = (predictedMs: number, p90 = 1): number =>
  Math.ceil(Math.max(2 * predictedMs, 1.5 * predictedMs * p90, predictedMs * p90 + 500, 3000) / 100) * 100;
