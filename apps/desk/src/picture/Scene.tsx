import { viewAngleOf } from '@umbek/core/devices';
import type { View } from '@umbek/core/picture';
import { memo, useEffect, useLayoutEffect, useMemo, useRef } from 'react';
import Svg, { G, Path, Rect } from 'react-native-svg';
import { useLive } from '../live/LiveContext';
import { FILLS, HEIGHT, paint, WIDTH } from './paint';
import { ZENITH } from './world';

/** Where a camera looks, as its settings and its points tell. */
export interface CameraPlace {
  readonly key: string;
  readonly heading: number;
  readonly wideAngle: number;
}

export const viewOf = (pan: number, tilt: number, zoom: number, camera: Pick<CameraPlace, 'heading' | 'wideAngle'>): View => ({
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
      {paths.map((d, at) => (d === '' ? null : <Path key={at} d={d} fill={FILLS[at]?.fill ?? 'none'} opacity={FILLS[at]?.opacity ?? 1} />))}
    </Svg>
  );
});

/** A moving picture is laid out and painted by itself: what changes in it must not make the browser look at the caps. */
const OWN_LAYER = { contain: 'strict', willChange: 'transform' } as object;

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
  const next = readings.findIndex((one) => one.at >= at);
  const [before, after] = next < 0 ? [readings.at(-1), undefined] : [readings[next - 1], readings[next]];
  if (!before) return after;
  if (!after) return before;
  const share = (at - before.at) / Math.max(1, after.at - before.at);
  return { at, pan: between(before.pan, after.pan, share), tilt: between(before.tilt, after.tilt, share), zoom: between(before.zoom, after.zoom, share) };
}

/**
 * What a head sees, moving with it. The paths are laid down once; their outlines are then changed in place, outside React, so that thirty
 * frames a second cost no rendering.
 */
export const LiveScene = memo(function LiveScene({ camera }: { readonly camera: CameraPlace }) {
  const live = useLive();
  const group = useRef<unknown>(null);
  const drawn = useRef<string[]>([]);
  const { key, heading, wideAngle } = camera;
  useLayoutEffect(() => {
    drawn.current = [];
  }, []);
  useEffect(() => {
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
    const show = (place: Reading): void => {
      const svg = elementOf(group.current);
      if (!svg) return;
      const paths = paint(viewOf(place.pan, place.tilt, place.zoom, { heading, wideAngle }));
      paths.forEach((d, at) => {
        if (drawn.current[at] === d) return;
        svg.children[at]?.setAttribute('d', d);
      });
      drawn.current = paths;
      svg.dispatchEvent(new Event('drawn', { bubbles: true }));
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
  }, [key, heading, wideAngle, live]);
  return (
    <Svg width="100%" height="100%" viewBox={BOX} preserveAspectRatio="xMidYMid slice" style={OWN_LAYER}>
      <Rect width={WIDTH} height={HEIGHT} fill={ZENITH} />
      <G ref={group as never}>
        {FILLS.map(({ fill, opacity }, at) => (
          <Path key={at} d="" fill={fill} opacity={opacity} />
        ))}
      </G>
    </Svg>
  );
});

/** On the web a drawn group is its DOM element, held by the component under this name. */
function elementOf(drawn: unknown): SVGGElement | null {
  const held = (drawn as { elementRef?: { current: unknown } } | null)?.elementRef?.current ?? drawn;
  return held instanceof SVGGElement ? held : null;
}
