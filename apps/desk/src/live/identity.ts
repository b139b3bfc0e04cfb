import type { StationIdentity } from './liveStore';

const KEY = 'umbek.station';

/** What this browser remembers of itself: who it is, and how bright its caps are. */
export interface StationMemory extends StationIdentity {
  /** Brightness of the caps, 0.3 to 1. */
  readonly brightness: number;
}

export function readIdentity(): StationMemory {
  try {
    const stored = JSON.parse(window.localStorage.getItem(KEY) ?? '{}') as Partial<StationMemory>;
    return {
      station: stored.station ?? 'Desk',
      person: stored.person ?? '',
      brightness: Math.min(1, Math.max(0.3, stored.brightness ?? 1)),
    };
  } catch {
    return { station: 'Desk', person: '', brightness: 1 };
  }
}

export function writeIdentity(memory: StationMemory): void {
  try {
    window.localStorage.setItem(KEY, JSON.stringify(memory));
  } catch {
    // A browser that keeps nothing forgets the name at the next start; presses work all the same.
  }
}

/** Who edits count as: the person, or the station where nobody gave a name. */
export const editorName = (): string => {
  const { person, station } = readIdentity();
  return person === '' ? station : person;
};
