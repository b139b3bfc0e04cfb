import { type View, viewAngleOf } from '@umbek/core/picture';
import { memo, useEffect, useMemo, useRef } from 'react';
import Svg, { Path, Rect } from 'react-native-svg';
import { useLive } from '../live/LiveContext';
import type { LiveStore } from '../live/liveStore';
import { CANVAS, draw, fit } from './canvas';
import { FILLS, HEIGHT, paint, WIDTH } from './paint';
import { ZENITH } from './world';

/** Where a camera looks, as its settings and its points tell. */
export interface CameraPlace {
  readonly key: string;
  readonly heading: number;
  readonly wideAngle: number;
}

export const viewOf = (
  pan: number,
  tilt: number,
  zoom: number,
  camera: Pick<CameraPlace, 'heading' | 'wideAngle'>,
): View => ({
  pan: pan + camera.heading,
  tilt,
  width: viewAngleOf(zoom, camera),
});

const BOX = `0 0 ${WIDTH} ${HEIGHT}`;

/** A picture that stands still: drawn once for each place it shows. */
export const StillScene = memo(function StillScene({ pan, tilt, width }: View) {
  const paths = useMemo(() => paint({ pan, tilt, width }), [pan, tilt, width]);
  return (
    <Svg width="100%" height="100%" viewBox={BOX} preserveAspectRatio="xMidYMid slice">
      <Rect width={WIDTH} height={HEIGHT} fill={ZENITH} />
      {paths.map((d, at) =>
        d === '' ? null : <Path key={at} d={d} fill={FILLS[at]?.fill ?? 'none'} opacity={FILLS[at]?.opacity ?? 1} />,
      )}
    </Svg>
  );
});

/** The picture is shown this much later than it is told, so that it can move evenly between two readings of the head. */
const BEHIND_MS = 130;

interface Reading {
  readonly at: number;
  readonly pan: number;
  readonly tilt: number;
  readonly zoom: number;
}

const between = (a: number, b: number, share: number): number => a + (b - a) * share;

/** Where the head was at a time, evenly between its readings. */
export function placeAt(readings: readonly Reading[], at: number): Reading | undefined {
  const next = readings.findIndex((reading) => reading.at >= at);
  const [before, after] = next < 0 ? [readings.at(-1), undefined] : [readings[next - 1], readings[next]];
  if (!before) return after;
  if (!after) return before;
  const share = (at - before.at) / Math.max(1, after.at - before.at);
  return {
    at,
    pan: between(before.pan, after.pan, share),
    tilt: between(before.tilt, after.tilt, share),
    zoom: between(before.zoom, after.zoom, share),
  };
}

/** Calls back with the place to draw, at each frame while the head moves and once where it stands. @returns what ends it */
function followPlace(live: LiveStore, key: string, show: (place: Reading) => void): () => void {
  const readings: Reading[] = [];
  let frame = 0;
  const read = (): void => {
    const [pan, tilt, zoom] = ['pan', 'tilt', 'zoom'].map((point) => live.point(`${key}.${point}`));
    if (typeof pan !== 'number' || typeof tilt !== 'number' || typeof zoom !== 'number') return;
    const at = performance.now();
    const before = readings.at(-1);
    // After a rest the move begins now, not where the last reading was taken.
    if (before && at - before.at > 400) readings.push({ ...before, at: at - 100 });
    if (before && at - before.at < 5) readings.pop();
    readings.push({ at, pan, tilt, zoom });
    if (readings.length > 8) readings.splice(0, readings.length - 8);
    if (frame === 0) frame = requestAnimationFrame(step);
  };
  const step = (now: number): void => {
    frame = 0;
    const newest = readings.at(-1);
    if (!newest) return;
    const still = now - BEHIND_MS >= newest.at;
    const place = still ? newest : placeAt(readings, now - BEHIND_MS);
    if (place) show(place);
    if (!still) frame = requestAnimationFrame(step);
  };
  read();
  const first = readings.at(-1);
  if (first) show(first);
  const ends = ['pan', 'tilt', 'zoom'].map((point) => live.subscribe(`point:${key}.${point}`, read));
  return () => {
    cancelAnimationFrame(frame);
    for (const end of ends) end();
  };
}

/** What a head sees, moving with it. It is drawn outside React: thirty frames a second cost no rendering. */
export const LiveScene = memo(function LiveScene({ camera }: { readonly camera: CameraPlace }) {
  const live = useLive();
  const canvas = useRef<HTMLCanvasElement>(null);
  const { key, heading, wideAngle } = camera;
  useEffect(() => {
    const target = canvas.current;
    if (!target) return undefined;
    let last: Reading | null = null;
    const show = (place: Reading): void => {
      last = place;
      draw(target, viewOf(place.pan, place.tilt, place.zoom, { heading, wideAngle }));
      target.dispatchEvent(new Event('drawn', { bubbles: true }));
    };
    const end = followPlace(live, key, show);
    const resized = new ResizeObserver(() => {
      fit(target);
      if (last) show(last);
    });
    resized.observe(target);
    return () => {
      end();
      resized.disconnect();
    };
  }, [key, heading, wideAngle, live]);
  return <canvas ref={canvas} style={CANVAS} />;
});
