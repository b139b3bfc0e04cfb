import { type DeviceCommand, type PtzSettings, travelMs } from '@umbek/core/devices';
import type { CommandEvent } from '@umbek/core/engine';

/** What the head was last seen to show; null where it was not read yet. */
export interface HeadPlace {
  readonly pan: number | null;
  readonly tilt: number | null;
  readonly zoom: number | null;
}

/** How a way to a place is going, as far as readings tell. */
export interface Approach {
  /** Clock time at which the head took it, milliseconds. */
  readonly since: number;
  /** A way that stands still elsewhere is given up after so long, milliseconds. */
  readonly limitMs: number;
  /** Clock time since which readings have shown one place. */
  thereSince: number | null;
  /** Readings in a row at one place. */
  stillReads: number;
  /** It said that it is done: when, and the first inquiry whose answer can bear that out. */
  claim: { readonly at: number; readonly from: number } | null;
}

/** A goal read unchanged for so long counts as arrived although the completion was not heard. */
const ARRIVED_AFTER_MS = 300;
/** The same for a head that says that it is done and is not where it was sent: so many readings in a row. */
const CLAIM_READS = 3;
/** So many readings in a row at one place, after its time: the head stands. */
const STANDS_READS = 5;
/** A move is given up at twice what it should take, and never sooner than after so long. */
const FEWEST_MOVE_MS = 3000;
/** The same where nobody knows whence it moves. */
const UNKNOWN_MOVE_MS = 12_000;
/** A reading this near to its goal, in degrees, is at it: two steps of a head. */
const NEAR_DEGREES = 0.16;
/** The same for the zoom, as a part of it. */
const NEAR_ZOOM = 0.02;

export const TAKEN_OVER = 'A newer move or a stop ended it.';

const near = (value: number | null, goal: unknown, tolerance: number): boolean =>
  goal === undefined || (value !== null && Math.abs(value - Number(goal)) <= tolerance);

/**
 * Whether a way to a place is over, by one more reading: its own word and its place agree; or it stands there although its completion was not
 * heard; or it stands elsewhere when its time is over. Heads that begin late, or tell their way only at its end, are real: standing still proves
 * nothing before. Takes the reading into `approach`.
 * @param asked number of the inquiry that was answered
 * @param takenOverAt when the head last took a drive or a stop, which ends a way that was under way
 * @returns null while it goes on
 */
export function endOfWay(
  approach: Approach,
  { params }: DeviceCommand,
  place: HeadPlace,
  {
    still,
    asked,
    now,
    takenOverAt,
  }: { readonly still: boolean; readonly asked: number; readonly now: number; readonly takenOverAt: number },
): (CommandEvent & { type: 'outcome' }) | null {
  const there =
    near(place.pan, params.pan, NEAR_DEGREES) &&
    near(place.tilt, params.tilt, NEAR_DEGREES) &&
    near(place.zoom, params.zoom, NEAR_ZOOM * Number(params.zoom ?? 1));
  approach.stillReads = still ? approach.stillReads + 1 : 0;
  approach.thereSince = still ? (approach.thereSince ?? now) : null;
  const { claim } = approach;
  if (claim !== null && asked >= claim.from) {
    if (there) return { type: 'outcome', outcome: 'done' };
    // It stands, wherever that is, and says that it is done: its own stored place may not be the show's.
    if (approach.stillReads >= CLAIM_READS && now - claim.at >= ARRIVED_AFTER_MS)
      return takenOverAt <= approach.since
        ? { type: 'outcome', outcome: 'done' }
        : { type: 'outcome', outcome: 'refused', why: TAKEN_OVER };
  }
  if (approach.thereSince === null || now - approach.thereSince < ARRIVED_AFTER_MS) return null;
  if (there)
    return {
      type: 'outcome',
      outcome: 'done',
      why: 'Its completion was not heard; the head was seen to stand there.',
    };
  return now - approach.since > approach.limitMs && approach.stillReads >= STANDS_READS
    ? { type: 'outcome', outcome: 'late', why: 'The head stands elsewhere; it may not have carried this out.' }
    : null;
}

/** Twice what a move should take from where the head stands, and 3 s at the least, milliseconds. */
export function limitOfWay({ params }: DeviceCommand, { pan, tilt, zoom }: HeadPlace, settings: PtzSettings): number {
  if (pan === null || tilt === null || zoom === null) return UNKNOWN_MOVE_MS;
  const from = { pan, tilt, zoom };
  const to = {
    pan: Number(params.pan ?? pan),
    tilt: Number(params.tilt ?? tilt),
    zoom: Math.max(1, Number(params.zoom ?? zoom)),
  };
  const predicted = params.seconds === undefined ? travelMs(from, to, settings) : Number(params.seconds) * 1000;
  return Number.isFinite(predicted) ? Math.max(FEWEST_MOVE_MS, 2 * predicted) : UNKNOWN_MOVE_MS;
}
