import {
  type Button,
  type Macro,
  type Panel,
  type Person,
  PLAIN_BUTTON,
  type Position,
  type Reframe,
  type Role,
  type ShowDocument,
  type ShowValue,
  type Source,
  type Strip,
} from '../show/index';
import { keyFrom } from './keys';
import { inOrder, orderBetween } from './order';

/** What a new button says until somebody says otherwise. */
export const NEW_LEGEND = 'New button';
/** Inputs of a switcher that a new source may be put on. */
const MOST_INPUTS = 64;

/** Behind the last one. */
const atTheEnd = (list: readonly { readonly order: string }[]): string =>
  orderBetween(inOrder(list).at(-1)?.order ?? null, null);
const keysOf = (...lists: readonly (readonly { readonly key: string }[])[]): ReadonlySet<string> =>
  new Set(lists.flatMap((list) => list.map((item) => item.key)));

/** A panel behind the others, under a name that can stay. */
export const newPanel = ({ panels }: ShowDocument, id: string): Panel => ({
  id,
  name: `Panel ${panels.length + 1}`,
  pages: [],
  order: atTheEnd(panels),
});

/** A strip below the others of its panel. @param page that it stands on; left out: on every page */
export function newStrip({ strips }: ShowDocument, id: string, panelId: string, page = ''): Strip {
  const siblings = strips.filter((strip) => strip.panelId === panelId);
  return { id, panelId, name: `Strip ${siblings.length + 1}`, family: 'stone', page, order: atTheEnd(siblings) };
}

/** A button at the end of its strip that does nothing yet. */
export const newButton = ({ buttons }: ShowDocument, id: string, stripId: string): Button => ({
  id,
  stripId,
  ...PLAIN_BUTTON,
  legend: NEW_LEGEND,
  steps: [],
  order: atTheEnd(buttons.filter((button) => button.stripId === stripId)),
});

/** A show value of a name and a type, at what such a value begins with. */
export function newValue({ values }: ShowDocument, id: string, name: string, type: ShowValue['type']): ShowValue {
  const start = type === 'switch' ? false : type === 'number' || type === 'duration' ? 0 : '';
  return {
    id,
    key: keyFrom(name, keysOf(values), 'value'),
    name,
    type,
    choices: [],
    start,
    atShowStart: 'reset',
    order: atTheEnd(values),
  };
}

/** A macro under the next number that does nothing yet. */
export const newMacro = (show: ShowDocument, id: string): Macro => {
  const number = nextNumber(show);
  return {
    id,
    number,
    name: `Macro ${number}`,
    folder: '',
    params: [],
    steps: [],
    stopSteps: [],
    atStop: 'steps',
    again: 'startOver',
    owns: [],
  };
};

/** The next number that no macro has. */
export const nextNumber = ({ macros }: Pick<ShowDocument, 'macros'>): number =>
  Math.max(0, ...macros.map(({ number }) => number)) + 1;

/** A source on the first input that none has. */
export function newSource({ sources, roles }: ShowDocument, id: string): Source {
  const taken = new Set(sources.map((source) => source.input));
  const number = sources.length + 1;
  return {
    id,
    key: keyFrom(`Source ${number}`, keysOf(sources, roles), 'source'),
    name: `Source ${number}`,
    shortName: `Src ${number}`,
    family: 'slate',
    input: Array.from({ length: MOST_INPUTS }, (_, at) => at + 1).find((input) => !taken.has(input)) ?? null,
    camera: null,
    picture: 'none',
    line: null,
    order: atTheEnd(sources),
  };
}

/** Somebody at the end of the people list. */
export const newPerson = (
  { people }: Pick<ShowDocument, 'people'>,
  id: string,
  { name, title = '', place = '' }: { readonly name: string; readonly title?: string; readonly place?: string },
): Person => ({ id, key: keyFrom(name, keysOf(people), 'person'), name, title, place, order: atTheEnd(people) });

/** A role of nobody yet. */
export function newRole({ roles, sources }: ShowDocument, id: string): Role {
  const name = `Role ${roles.length + 1}`;
  return {
    id,
    key: keyFrom(name, keysOf(roles, sources), 'role'),
    name,
    person: '',
    source: sources[0]?.key ?? null,
    order: atTheEnd(roles),
  };
}

/** What a camera sees now, under a name; the head itself does not hold it yet. */
export const newPosition = (
  { positions }: ShowDocument,
  id: string,
  camera: string,
  name: string,
  place: Pick<Position, 'pan' | 'tilt' | 'zoom' | 'focus' | 'iris'>,
): Position => ({
  id,
  key: keyFrom(`${camera} ${name}`, keysOf(positions), 'position'),
  name,
  camera,
  ...place,
  headNumber: null,
  inHead: null,
  order: atTheEnd(positions),
});

/** The window of a source as it is now, under a name. */
export function newReframe(
  { reframes }: ShowDocument,
  id: string,
  source: string,
  name: string,
  window: Pick<Reframe, 'x' | 'y' | 'scale'>,
): Reframe {
  const stored = reframes.filter((reframe) => reframe.source === source).length;
  return {
    id,
    key: keyFrom(`${source} view ${stored + 1}`, keysOf(reframes), 'view'),
    name,
    source,
    ...window,
    order: atTheEnd(reframes),
  };
}
