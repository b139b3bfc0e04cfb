import type { ComponentProps, ComponentType } from 'react';
import { useLater } from '../common/later';
import { Loading } from '../common/Loading';
import type { Choice, PickerProps } from '../common/Picker';
import { laterPlaces, type Places } from '../laterPlaces';
import { Boundary } from '../common/Boundary';

/** The Desk has so long for itself before the other places are fetched. */
const AFTER_MS = 3000;

/** A place that is fetched after the Desk, which opens without it: when somebody goes there, or soon after by itself, so that it is there without a network too. */
export function laterPlace(name: Exclude<keyof Places, 'LogTail' | 'Picker' | 'applyEdit'>): ComponentType {
  return function Later() {
    const places = useLater(laterPlaces);
    const Place = places === null ? Loading : (places[name] as ComponentType);
    return (
      <Boundary>
        <Place />
      </Boundary>
    );
  };
}

/** The end of the log, for wide screens. It puts whatever can happen into words, which a phone's Desk does without. */
export function LogTail(props: ComponentProps<Places['LogTail']>) {
  const places = useLater(laterPlaces);
  return places === null ? null : <places.LogTail {...props} />;
}

/** A list to choose from, with what it takes to search it: a Desk that has not been asked for one opens without. */
export function LaterPicker(props: PickerProps<Choice>) {
  const places = useLater(laterPlaces);
  return places === null ? null : <places.Picker {...props} />;
}

/** Fetches the places soon, as often as it takes. @returns what ends it */
export function fetchPlaces(): () => void {
  const timer = setTimeout(() => void laterPlaces.come(), AFTER_MS);
  return () => clearTimeout(timer);
}
