import { planTo, restAt } from './motion';
import { limitsOf, type PtzSettings, zoomCodeOf } from './settings';

interface Place {
  readonly pan: number;
  readonly tilt: number;
  readonly zoom: number;
}

/** Milliseconds from rest to rest: the slowest of pan, tilt and zoom under their trapezoid profiles, and the head's reply delay. */
export function travelMs(from: Place, to: Place, settings: PtzSettings): number {
  const limits = limitsOf(settings);
  const axis = (name: 'pan' | 'tilt' | 'zoom', start: number, goal: number): number =>
    planTo(restAt(start, limits[name], 0), goal, 0).endsAt;
  const slowest = Math.max(
    axis('pan', from.pan, to.pan),
    axis('tilt', from.tilt, to.tilt),
    axis('zoom', zoomCodeOf(from.zoom, settings), zoomCodeOf(to.zoom, settings)),
  );
  return slowest + settings.replyDelayMs;
}
