import type { Voices } from '../../show/index';

/** Which shot is wanted: the number of a microphone, counted from 0, the wide shot, or none yet. */
export type Wanted = number | 'wide' | null;

/** Levels and times by which microphones are judged: dB below full scale, milliseconds. */
export type VoiceLimits = Pick<
  Voices,
  'talksDb' | 'hysteresisDb' | 'attackMs' | 'releaseMs' | 'togetherMs' | 'nobodyMs'
>;

interface Mic {
  readonly talks: boolean;
  /** Since when its level says that this is to end; null: it does not. */
  readonly turnsSince: number | null;
}

/** What is known of all microphones at one moment. */
export interface Heard {
  readonly mics: readonly Mic[];
  /** How many talk: nobody, one, or several together. */
  readonly many: 'nobody' | 'one' | 'several';
  /** Since when so many do, milliseconds. */
  readonly since: number;
  readonly wanted: Wanted;
}

/** Nobody talks, and no shot is wanted. */
export const silence = (mics: number, now: number): Heard => ({
  mics: Array.from({ length: mics }, () => ({ talks: false, turnsSince: null })),
  many: 'nobody',
  since: now,
  wanted: null,
});

/**
 * Goes on by one sample of every level; what a level was holds until the next sample. Somebody talks whose level was at or over `talksDb` for the
 * attack time, until it was under `talksDb` less the hysteresis for the release time. One who talks alone is wanted at once; several together, or
 * nobody, want the wide shot after their times.
 * @param levels dB below full scale, one of each microphone
 * @param now milliseconds; never less than before
 */
export function hear(before: Heard, levels: readonly number[], now: number, limits: VoiceLimits): Heard {
  const mics = before.mics.map((mic, at) => judged(mic, levels[at] ?? -Infinity, now, limits));
  const talking = mics.flatMap(({ talks }, at) => (talks ? [at] : []));
  const many = talking.length === 0 ? 'nobody' : talking.length === 1 ? 'one' : 'several';
  const since = many === before.many ? before.since : now;
  const waits = waitOf(many, limits);
  const [only] = talking;
  const wanted =
    many === 'one' && only !== undefined ? only : waits !== null && now - since >= waits ? 'wide' : before.wanted;
  return { mics, many, since, wanted };
}

function judged(mic: Mic, level: number, now: number, limits: VoiceLimits): Mic {
  const { talksDb, hysteresisDb, attackMs, releaseMs } = limits;
  const turns = mic.talks ? level < talksDb - hysteresisDb : level >= talksDb;
  if (!turns) return mic.turnsSince === null ? mic : { ...mic, turnsSince: null };
  const since = mic.turnsSince ?? now;
  if (now - since >= (mic.talks ? releaseMs : attackMs)) return { talks: !mic.talks, turnsSince: null };
  return mic.turnsSince === since ? mic : { ...mic, turnsSince: since };
}

const waitOf = (many: Heard['many'], { togetherMs, nobodyMs }: VoiceLimits): number | null =>
  many === 'several' ? togetherMs : many === 'nobody' ? nobodyMs : null;

/** When something turns without another sample, milliseconds; null: nothing does. */
export function turnsAt({ mics, many, since, wanted }: Heard, limits: VoiceLimits): number | null {
  const waits = waitOf(many, limits);
  const times = [
    ...mics.flatMap(({ talks, turnsSince }) =>
      turnsSince === null ? [] : [turnsSince + (talks ? limits.releaseMs : limits.attackMs)],
    ),
    ...(waits === null || wanted === 'wide' ? [] : [since + waits]),
  ];
  return times.length === 0 ? null : Math.min(...times);
}
