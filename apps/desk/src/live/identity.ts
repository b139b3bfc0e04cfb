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
      claims: typeof stored.claims === 'string' ? stored.claims : null,
      brightness: Math.min(1, Math.max(0.3, stored.brightness ?? 1)),
    };
  } catch {
    return { station: 'Desk', person: '', claims: null, brightness: 1 };
  }
}

export function writeIdentity(memory: StationMemory): void {
  try {
    window.localStorage.setItem(KEY, JSON.stringify(memory));
  } catch {
    // A browser that keeps nothing forgets the name at the next start; presses work all the same.
  }
}

const BROWSER_KEY = 'umbek.browser';
/** Letters and digits that are told apart when read aloud. */
const LETTERS = 'ACDEFHJKMNPRTWXY34679';
let browserName: string | null = null;

/** Tells this browser from others of the same station's name; made once. */
function nameOfBrowser(): string {
  if (browserName !== null) return browserName;
  const made = Array.from({ length: 4 }, () => LETTERS[Math.floor(Math.random() * LETTERS.length)] ?? 'A').join('');
  try {
    browserName = window.localStorage.getItem(BROWSER_KEY) ?? made;
    window.localStorage.setItem(BROWSER_KEY, browserName);
  } catch {
    // A browser that keeps nothing is another one after each reload.
    browserName = made;
  }
  return browserName;
}

const ASKED_KEY = 'umbek.nameAsked';
let asked = false;

/** Whether this browser was asked who works at it. @param now that it has been */
export function nameWasAsked(now = false): boolean {
  asked ||= now;
  try {
    if (now) window.localStorage.setItem(ASKED_KEY, 'yes');
    return asked || window.localStorage.getItem(ASKED_KEY) !== null;
  } catch {
    return asked;
  }
}

let given = false;

/** Others gave this station its name and person: they stand in the log and go by undo, whatever was typed here. */
export function nameGiven({ station, person }: Pick<StationIdentity, 'station' | 'person'>): void {
  given = true;
  const known = readIdentity();
  if (known.station !== station || known.person !== person) writeIdentity({ ...known, station, person });
}

/** Who edits count as: the person; where nobody gave a name, this browser alone, so that nobody undoes what another one did. */
export const editorName = (): string => {
  const { person, station } = readIdentity();
  if (person !== '') return person;
  return given ? station : `${station} ${nameOfBrowser()}`;
};
