/** What a link group can have chosen, each with what may be chosen for it. Whatever else is called `chosen.…` is no selection. */
import { GENERIC, pointsOf } from '../devices/index';
import { numberOf } from '../devices/drawn';
import { BOXES, LAYOUTS } from '../devices/switcher/numbers';
import { isHead, partOf } from '../show/part';
import type { Argument, Device, PlainValue, ShowDocument } from '../show/index';

/** One thing that can be chosen, with what is kept of it on the board. */
export interface Choosable {
  readonly value: string | number;
  readonly name: string;
}

export interface Selection {
  /** What it is called in a sentence: "Choose Gate wall as the destination". */
  readonly words: string;
  readonly type: 'text' | 'number';
  /** Where what is chosen by its key stands, the likeliest first; empty for what devices count, and for rooms. */
  readonly tables: readonly ('devices' | 'sources' | 'roles' | 'people')[];
  /** Everything that may be chosen, in the order of the rig; a text is the key of the thing, a number what devices count it by. */
  readonly choices: (document: ShowDocument) => readonly Choosable[];
}

const numbered = (most: number, name: (number: number) => string): Choosable[] =>
  Array.from({ length: Math.max(0, most) }, (_, at) => ({ value: at + 1, name: name(at + 1) }));

const keyed = (things: readonly { readonly key: string; readonly name: string }[]): Choosable[] =>
  things.map(({ key, name }) => ({ value: key, name }));

const ofPart = (document: ShowDocument, part: string): Device[] =>
  document.devices.filter((device) => partOf(device, document) === part);

/** What is cabled there, where somebody has said it. */
export function labelOf(settings: unknown, list: string, number: number, otherwise: string): string {
  const labels = typeof settings === 'object' && settings !== null ? (settings as Record<string, unknown>)[list] : null;
  const label: unknown = Array.isArray(labels) ? labels[number - 1] : null;
  return typeof label === 'string' && label !== '' ? label : otherwise;
}

/** How many destinations a router has: by its settings, or by the states that its profile tells. */
function destinationsOf(router: Device, document: ShowDocument): number {
  return router.kind === GENERIC
    ? Object.keys(pointsOf(router, document)).filter((point) => /^out\d+$/.test(point)).length
    : numberOf(router.settings, 'destinations', 32);
}

function destinations(document: ShowDocument): Choosable[] {
  const routers = ofPart(document, 'router');
  const most = Math.max(0, ...routers.map((router) => destinationsOf(router, document)));
  return numbered(most, (number) => {
    const named = routers.map(({ settings }) => labelOf(settings, 'destinationLabels', number, ''));
    return named.find((name) => name !== '') ?? `Destination ${number}`;
  });
}

const perSwitcher = (document: ShowDocument, most: number, name: (number: number) => string): Choosable[] =>
  ofPart(document, 'switcher').length === 0 ? [] : numbered(most, name);

/** Room of recorders that stand in none. */
export const NO_ROOM = 'No room';

/** Every selection by its key: `camera` stands on the board as `chosen.camera`. */
export const SELECTIONS: Readonly<Record<string, Selection>> = {
  camera: {
    words: 'camera',
    type: 'text',
    tables: ['devices', 'sources'],
    // A source without motors is moved by its window.
    choices: (document) => [
      ...keyed(document.devices.filter((device) => isHead(device, document))),
      ...keyed(document.sources.filter(({ camera }) => camera === null)),
    ],
  },
  source: {
    words: 'source',
    type: 'text',
    tables: ['sources', 'roles'],
    choices: ({ sources, roles }) => [...keyed(sources.filter(({ input }) => input !== null)), ...keyed(roles)],
  },
  destination: { words: 'destination', type: 'number', tables: [], choices: destinations },
  layout: {
    words: 'layout',
    type: 'number',
    tables: [],
    choices: (document) => perSwitcher(document, LAYOUTS, (number) => `Layout ${number}`),
  },
  // Named for what will sit there; today it is a box of the switcher's layouts.
  place: {
    words: 'box',
    type: 'number',
    tables: [],
    choices: (document) => perSwitcher(document, BOXES, (number) => `Box ${number}`),
  },
  recorderGroup: {
    words: 'recorder group',
    type: 'text',
    tables: [],
    choices: (document) =>
      [...new Set(ofPart(document, 'recorder').map(({ room }) => room))].map((room) => ({
        value: room === '' ? NO_ROOM : room,
        name: room === '' ? NO_ROOM : room,
      })),
  },
  person: { words: 'person', type: 'text', tables: ['people'], choices: ({ people }) => keyed(people) },
};

/** Key of the selection that a step sets; null when it sets something else. @param target as a step names it */
const keyChosen = (target: string): string | null =>
  target.startsWith('chosen.') ? target.slice('chosen.'.length) : null;

/** The selection of a target (`chosen.source`); undefined when there is none of that name. */
export function selectionOf(target: string): Selection | undefined {
  const key = keyChosen(target);
  return key !== null && Object.hasOwn(SELECTIONS, key) ? SELECTIONS[key] : undefined;
}

/** Names by what stands on the board; made once for a show, and anew after an edit. */
const known = new WeakMap<ShowDocument, Map<string, ReadonlyMap<PlainValue, string>>>();

function namesOf(target: string, document: ShowDocument): ReadonlyMap<PlainValue, string> {
  let all = known.get(document);
  if (all === undefined) known.set(document, (all = new Map()));
  let names = all.get(target);
  if (names === undefined) {
    const choices = selectionOf(target)?.choices(document) ?? [];
    // The first of a name stands: a camera before the window of a source that is called the same.
    names = new Map([...choices].reverse().map(({ value, name }) => [value, name]));
    all.set(target, names);
  }
  return names;
}

/** Whether this may be chosen: it is there, and of the kind that the selection holds. */
export const mayBeChosen = (target: string, value: unknown, document: ShowDocument): boolean =>
  namesOf(target, document).has(value as PlainValue);

/** What is chosen, by its name; undefined where it is not there. */
export const chosenName = (target: string, value: unknown, document: ShowDocument): string | undefined =>
  namesOf(target, document).get(value as PlainValue);

/** Why this cannot be chosen, with the mend. */
export const notThere = (target: string, value: Argument): { readonly message: string; readonly mend: string } => {
  const words = selectionOf(target)?.words;
  const what = typeof value === 'object' ? value.cel : String(value);
  return {
    message:
      words === undefined
        ? `There is no selection ${keyChosen(target) ?? target}.`
        : `There is no ${words} ${what} to choose.`,
    mend: 'Choose something that is there.',
  };
};
