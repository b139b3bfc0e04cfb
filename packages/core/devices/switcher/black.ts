/** Fade to black: what lies over the program of the first mix bank, from 0 (nothing) to 1 (black). */
import type { Points } from '../kind';

interface Fade {
  readonly from: number;
  readonly to: 0 | 1;
  readonly startedAt: number;
  readonly frames: number;
}

export interface Black {
  readonly level: number;
  readonly fade: Fade | null;
}

/** The usual case, as one object: a state that holds it has nothing to tell about black. */
export const NOT_BLACK: Black = { level: 0, fade: null };

export const blackFrom = (from: Points): Black => (from.black === true ? { level: 1, fade: null } : NOT_BLACK);

const framesGone = ({ startedAt, frames }: Fade, now: number, frameMs: number): number =>
  Math.min(frames, Math.floor((now - startedAt) / frameMs + 1e-6));

const levelAt = ({ level, fade }: Black, now: number, frameMs: number): number =>
  fade === null ? level : fade.from + (fade.to - fade.from) * (framesGone(fade, now, frameMs) / fade.frames);

/** A fade takes its whole length from wherever the picture is at that moment: half black is left as evenly as it was reached. */
export const fadedTo = (black: Black, to: 0 | 1, frames: number, now: number, frameMs: number): Black => ({
  level: black.level,
  fade: { from: levelAt(black, now, frameMs), to, startedAt: now, frames: Math.max(1, frames) },
});

/** What has come to its end up to now. The same when nothing has. */
export const advanceBlack = (black: Black, now: number, frameMs: number): Black =>
  black.fade !== null && framesGone(black.fade, now, frameMs) >= black.fade.frames
    ? { level: black.fade.to, fade: null }
    : black;

/** When the next frame of a fade is due, or null. */
export const wakeOfBlack = ({ fade }: Black, now: number, frameMs: number): number | null =>
  fade === null ? null : fade.startedAt + (framesGone(fade, now, frameMs) + 1) * frameMs;

export const pointsOfBlack = (black: Black, now: number, frameMs: number): Points => ({
  black: black.fade === null && black.level === 1,
  fading: black.fade !== null,
  blackLevel: Math.round(levelAt(black, now, frameMs) * 1000) / 1000,
});
