import { type ComponentType, lazy, Suspense } from 'react';
import { Loading } from '../common/Loading';
import { laterPlaces, type Places } from '../laterPlaces';
import { Boundary } from './Boundary';

/** The Desk has so long for itself before the other places are fetched. */
const AFTER_MS = 3000;

/** A place that is fetched after the Desk, which opens without it: when somebody goes there, or soon after by itself, so that it is there without a network too. */
export function laterPlace(name: Exclude<keyof Places, 'LogTail' | 'Picker' | 'applyEdit'>): ComponentType {
  const Place = lazy(() => laterPlaces().then((places) => ({ default: places[name] as ComponentType })));
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
export const LogTail = lazy(() => laterPlaces().then((places) => ({ default: places.LogTail })));

/** A list to choose from, with what it takes to search it: a Desk that has not been asked for one opens without. */
export const LaterPicker = lazy(() => laterPlaces().then((places) => ({ default: places.Picker })));

/** Fetches the places soon, as often as it takes. @returns what ends it */
export function fetchPlaces(): () => void {
  const timer = setTimeout(() => void laterPlaces(), AFTER_MS);
  return () => clearTimeout(timer);
}
