import { type ComponentType, lazy, Suspense } from 'react';
import { Loading } from '../common/Loading';
import { Boundary } from './Boundary';

const fetchThem = () => import('../places');
type Places = Awaited<ReturnType<typeof fetchThem>>;

/** The Desk has so long for itself before the other places are fetched. */
const AFTER_MS = 3000;
/** What did not come is asked for again: a phone that was out of reach for a moment must not lack a place for the rest of the evening. */
const AGAIN_MS = 5000;

/** The places, as soon as they come: what failed once is asked for until it is there, so that no part of the page is lost for good. */
async function load(): Promise<Places> {
  for (;;) {
    try {
      return await fetchThem();
    } catch {
      await new Promise((next) => setTimeout(next, AGAIN_MS));
    }
  }
}

/** A place that is fetched after the Desk, which opens without it: when somebody goes there, or soon after by itself, so that it is there without a network too. */
export function laterPlace(name: Exclude<keyof Places, 'LogTail' | 'Picker'>): ComponentType {
  const Place = lazy(() => load().then((places) => ({ default: places[name] as ComponentType })));
  return function Later() {
    return (
      <Boundary>
        <Suspense fallback={<Loading />}>
          <Place />
        </Suspense>
      </Boundary>
    );
  };
}

/** The end of the log, for wide screens. It puts whatever can happen into words, which a phone's Desk does without. */
export const LogTail = lazy(() => load().then((places) => ({ default: places.LogTail })));

/** A list to choose from, with what it takes to search it: a Desk that has not been asked for one opens without. */
export const LaterPicker = lazy(() => load().then((places) => ({ default: places.Picker })));

/** Fetches the places soon, as often as it takes. @returns what ends it */
export function fetchPlaces(): () => void {
  const timer = setTimeout(() => void load(), AFTER_MS);
  return () => clearTimeout(timer);
}
