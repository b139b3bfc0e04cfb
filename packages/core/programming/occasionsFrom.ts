import { IS_SO } from '../engine/isSo';
import { pointsOf } from '../devices/index';
import type { PointDefinition } from '../devices/index';
import type { Occasion, ShowDocument, Trigger } from '../show/index';
import { occasionChoices, type OccasionChoice, occasionWords } from './triggers';

/** A level is asked against this where a trigger begins from it, by its unit; the condition is changed where the trigger is edited. */
const LIMITS: Readonly<Record<string, number>> = { dB: -30, dBFS: -30, '%': 50, s: 5, h: 1 };

const turns = (condition: string, to = true): Occasion => ({ kind: 'turns', condition, to });

/**
 * What a trigger can begin from that is made from the thing itself.
 * @param from key of a source, device or show value, a point of a device (`sound.ch1Level`), or the id of a button: its lamps
 * @returns empty where nothing has this name, or nothing is to be had from it
 */
export function occasionsFrom(from: string, document: ShowDocument): OccasionChoice[] {
  const button = document.buttons.find(({ id }) => id === from);
  if (button !== undefined) {
    const conditions = [...new Set(button.lamps.flatMap(({ when }) => (when.includes(IS_SO) ? [] : [when])))];
    return conditions.flatMap((when) => allThree(button.legend, when, document));
  }
  const [key = '', point] = from.split('.');
  const device = document.devices.find((candidate) => candidate.key === key);
  if (device === undefined || point === undefined || key === 'value')
    return occasionChoices(document).filter((occasionChoice) => concerns(occasionChoice, from));
  // Whatever stands in an address: it is no pattern.
  const known = occasionChoices(document).filter(({ on }) => isOf(textOf(on), from));
  const points = pointsOf(device, document);
  const definition = Object.hasOwn(points, point) ? points[point] : undefined;
  // A level is kept over a limit as well as told of.
  const isLevel = definition?.silentWhile !== undefined;
  return definition === undefined || (known.length > 0 && !isLevel)
    ? known
    : ofPoint(device.name, from, definition, document);
}

/** A state that no list holds: a number against a limit, a text that changes. */
function ofPoint(
  device: string,
  key: string,
  { type, unit = '', means }: PointDefinition,
  document: ShowDocument,
): OccasionChoice[] {
  if (type === 'switch') return allThree(device, key, document);
  const changes = choice(device, 'when', { kind: 'changes', of: key }, document);
  if (means === 'input')
    return [
      changes,
      ...document.sources.flatMap((source) =>
        source.input === null ? [] : allThree(device, `${key} == input("${source.key}")`, document),
      ),
    ];
  if (type === 'text') return [changes];
  const limit = LIMITS[unit] ?? 0;
  return [
    choice(device, 'when', turns(`${key} > ${limit}`), document),
    choice(device, 'when', turns(`${key} < ${limit}`), document),
    choice(device, 'while', turns(`${key} > ${limit}`), document),
    choice(device, 'while', turns(`${key} < ${limit}`), document),
  ];
}

const allThree = (group: string, condition: string, document: ShowDocument): OccasionChoice[] => [
  choice(group, 'while', turns(condition), document),
  choice(group, 'when', turns(condition), document),
  choice(group, 'when', turns(condition, false), document),
];

const choice = (group: string, kind: Trigger['kind'], on: Occasion, document: ShowDocument): OccasionChoice => ({
  key: `${kind}/${JSON.stringify(on)}`,
  group,
  words: occasionWords({ kind, on }, document),
  kind,
  on,
});

const textOf = (on: Occasion): string => (on.kind === 'turns' ? on.condition : on.kind === 'changes' ? on.of : '');

/** Whether a condition begins with this point, and not with one whose name only begins the same. */
const isOf = (text: string, point: string): boolean =>
  text.startsWith(point) && !/[A-Za-z0-9]/.test(text.charAt(point.length));

/** Whether a choice is about one thing: a source, device or value by its key. */
const concerns = ({ on }: OccasionChoice, key: string): boolean => {
  const text = textOf(on);
  return text.includes(`"${key}"`) || text.startsWith(`${key}.`) || text === `value.${key}`;
};
