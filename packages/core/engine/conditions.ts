import { type PointDefinition, pointsOf } from '../devices/index';
import {
  type Device,
  type PlainValue,
  type ShowDocument,
  type ShowValue,
  stepsWithin,
  timecodeText,
} from '../show/index';
import { chosenName, SELECTIONS, selectionOf } from './selections';
import { typeOfValue, valueWords } from './valueWords';

/** How a point is compared. `is` of a switch is the switch itself; `has` asks whether an entry is in what is listed one a line. */
export type Comparison = 'is' | 'isNot' | 'over' | 'under' | 'reaches' | 'has' | 'hasNot';

/** A condition that a list can show: one point of a device, or one show value, compared with one content. */
export interface SimpleCondition {
  /** Key of a device, or `value`. */
  readonly scope: string;
  readonly point: string;
  readonly is: Comparison;
  /** A plain content; of a point that counts inputs also the key of a source. */
  readonly value: PlainValue | { readonly source: string };
}

/** What can be asked, as a list shows it. */
export interface Askable {
  readonly scope: string;
  readonly point: string;
  readonly group: string;
  readonly words: string;
  readonly type: 'number' | 'text' | 'switch';
  readonly unit: string;
  /** Its number is an input of the switcher: it is compared with a source. */
  readonly input: boolean;
  /** Its number is a timecode: it is compared with one. */
  readonly timecode: boolean;
  /** It lists, one entry a line. */
  readonly list: boolean;
}

/** Every point of every device, and every show value. */
export function askables(document: ShowDocument): Askable[] {
  const points = document.devices.flatMap((device) =>
    Object.entries(pointsOf(device, document)).map(([point, definition]) => ofPoint(device, point, definition)),
  );
  return [
    ...document.values.map(ofValue),
    ...Object.keys(SELECTIONS).flatMap((key) => ofSelection(document, key) ?? []),
    ...points,
  ];
}

const ofPoint = (device: Device, point: string, definition: PointDefinition): Askable => ({
  scope: device.key,
  point,
  group: device.name,
  // That it is told one a line is the device's matter.
  words: definition.lines === true ? definition.words.replace(/, one a line$/, '') : definition.words,
  type: definition.type,
  unit: definition.unit ?? '',
  input: definition.means === 'input',
  timecode: definition.means === 'timecode',
  list: definition.lines === true,
});

/** What is chosen in a link group, where the show has something to choose. */
function ofSelection(document: ShowDocument, key: string): Askable | undefined {
  const selection = Object.hasOwn(SELECTIONS, key) ? SELECTIONS[key] : undefined;
  if (selection === undefined || selection.choices(document).length === 0) return undefined;
  return {
    scope: 'chosen',
    point: key,
    group: 'Chosen',
    words: `The chosen ${selection.words}`,
    type: selection.type,
    unit: '',
    input: false,
    timecode: false,
    list: false,
  };
}

function ofValue(value: ShowValue): Askable {
  const type = typeOfValue(value);
  return {
    scope: 'value',
    point: value.key,
    group: 'Show values',
    words: value.name,
    type: type === 'switch' ? 'switch' : type === 'number' || type === 'duration' ? 'number' : 'text',
    unit: type === 'duration' ? 's' : '',
    input: false,
    timecode: false,
    list: type === 'list',
  };
}

/** What is asked under this name; a show has tens of thousands of them, and most are never asked. */
function askableAt(document: ShowDocument, scope: string, point: string): Askable | undefined {
  if (scope === 'value') {
    const value = document.values.find(({ key }) => key === point);
    return value && ofValue(value);
  }
  if (scope === 'chosen') return ofSelection(document, point);
  const device = document.devices.find(({ key }) => key === scope);
  const points = device && pointsOf(device, document);
  if (device === undefined || points === undefined || !Object.hasOwn(points, point)) return undefined;
  const definition = points[point];
  return definition && ofPoint(device, point, definition);
}

const SIGNS: Readonly<Record<Exclude<Comparison, 'has' | 'hasNot'>, string>> = {
  is: '==',
  isNot: '!=',
  over: '>',
  under: '<',
  reaches: '>=',
};

/** The condition as CEL. */
export function celOf({ scope, point, is, value }: SimpleCondition): string {
  const key = `${scope}.${point}`;
  if (is === 'has' || is === 'hasNot') {
    const among = `${JSON.stringify(String(value))} in lines(${key})`;
    return is === 'has' ? among : `!(${among})`;
  }
  if (typeof value === 'boolean') return (is === 'isNot') === value ? `!${key}` : key;
  const content = typeof value === 'object' ? `input(${JSON.stringify(value.source)})` : JSON.stringify(value);
  return `${key} ${SIGNS[is]} ${content}`;
}

const SWITCH = /^(!?)([a-z][A-Za-z0-9]{0,39})\.([A-Za-z][A-Za-z0-9]{0,59})$/;
const COMPARED =
  /^([a-z][A-Za-z0-9]{0,39})\.([A-Za-z][A-Za-z0-9]{0,59}) (==|!=|>=|>|<) (?:(-?\d+(?:\.\d+)?)|("(?:[^"\\]|\\.)*")|input\("([a-z][A-Za-z0-9]{0,39})"\))$/;

const LISTED = /^(!\()?("(?:[^"\\]|\\.)*") in lines\(([a-z][A-Za-z0-9]{0,39})\.([A-Za-z][A-Za-z0-9]{0,59})\)(\)?)$/;

/** Reads a condition back as a list shows it; null where it says more than that, or asks for what is not there. */
export function conditionOf(cel: string, document: ShowDocument): SimpleCondition | null {
  const text = cel.trim();
  const [, not, ofSwitch = '', switchPoint = ''] = SWITCH.exec(text) ?? [];
  const known = (scope: string, point: string): Askable | undefined => askableAt(document, scope, point);
  if (not !== undefined) {
    if (known(ofSwitch, switchPoint)?.type !== 'switch') return null;
    return { scope: ofSwitch, point: switchPoint, is: 'is', value: not === '' };
  }
  const [, negated, entry = '""', ofList = '', listPoint = '', closed] = LISTED.exec(text) ?? [];
  if (closed !== undefined) {
    if ((negated === undefined) !== (closed === '') || known(ofList, listPoint)?.list !== true) return null;
    const is = negated === undefined ? 'has' : 'hasNot';
    return { scope: ofList, point: listPoint, is, value: textIn(entry) };
  }
  const [, scope, point, sign, number, quoted, source] = COMPARED.exec(text) ?? [];
  if (scope === undefined || point === undefined || known(scope, point) === undefined) return null;
  const is = (Object.keys(SIGNS) as (keyof typeof SIGNS)[]).find((candidate) => SIGNS[candidate] === sign) ?? 'is';
  if (source !== undefined) return { scope, point, is, value: { source } };
  if (number !== undefined) return { scope, point, is, value: Number(number) };
  return { scope, point, is, value: textIn(quoted ?? '""') };
}

/** A text as CEL quotes it. */
function textIn(quoted: string): string {
  try {
    return JSON.parse(quoted) as string;
  } catch {
    return quoted.slice(1, -1);
  }
}

const IS_WORDS: Readonly<Record<Comparison, string>> = {
  is: 'is',
  isNot: 'is not',
  over: 'is over',
  under: 'is under',
  reaches: 'reaches',
  has: 'has',
  hasNot: 'does not have',
};

/** "Switcher: input on auxiliary output 1 is Roof cam". */
export function conditionWords(condition: SimpleCondition, document: ShowDocument): string {
  const { scope, point, is, value } = condition;
  const asked = askableAt(document, scope, point);
  // What a point can say stands behind a colon in its words: here it is compared with one of that.
  const about =
    asked === undefined
      ? `${scope}.${point}`
      : scope === 'chosen'
        ? asked.words
        : `${asked.group}: ${(asked.words.split(/:|, one a line/)[0] ?? '').toLowerCase()}`;
  if (typeof value === 'boolean') return `${about}${(is === 'isNot') === value ? ', not so' : ''}`;
  const words =
    typeof value === 'object'
      ? (document.sources.find(({ key }) => key === value.source)?.name ?? `${value.source} (gone)`)
      : contentWords(value, asked, document, point);
  // Of two times one is before the other.
  return `${about} ${asked?.timecode === true && is === 'under' ? 'is before' : IS_WORDS[is]} ${words}`;
}

function contentWords(
  value: string | number,
  asked: Askable | undefined,
  document: ShowDocument,
  point: string,
): string {
  const held = asked?.scope === 'value' ? document.values.find(({ key }) => key === point) : undefined;
  if (held !== undefined && asked?.list !== true) return valueWords(document, held, value);
  if (asked?.input === true && typeof value === 'number')
    return document.sources.find(({ input }) => input === value)?.name ?? `input ${value}`;
  if (asked?.timecode === true && typeof value === 'number') return timecodeText(value, document.show.frameRate);
  if (asked?.scope === 'chosen') return chosenName(`chosen.${point}`, value, document) ?? `${value} (gone)`;
  if (value === '') return 'empty';
  const named = [...document.positions, ...document.sources].find(({ key }) => key === value);
  return `${named?.name ?? String(value)}${asked?.unit ? ` ${asked.unit}` : ''}`;
}

/** A state that is not so, in words: "keyer 1 is on" is "keyer 1 is off", "mix or wipe under way" is "no mix or wipe under way". */
export function negated(words: string): string {
  if (/ is on$/.test(words)) return words.replace(/ is on$/, ' is off');
  if (/ is /.test(words)) return words.replace(' is ', ' is not ');
  return /under way/.test(words) ? `no ${words}` : `not: ${words}`;
}

const ASKED = /^(!?)(onAir|onPreview|armed|holds)\("([A-Za-z0-9]{1,40})"\)$/;
const ARRIVED = /^([a-z][A-Za-z0-9]*)\.arrived == (?:"([A-Za-z0-9]+)"|param\.[A-Za-z0-9]+)$/;
const REACHED = /^(!?)([a-z][A-Za-z0-9]*)\.reached$/;
/** A text or a bracket that holds the sign itself is left as it is. */
const PLAIN_PART = /^[^"()]*(?:\(?"[^"]*"\)?)?[^"()]*$/;

const PICTURE = /^picture\("([A-Za-z0-9]{1,40})"\) (==|!=) "(good|none|black|frozen)"$/;
/** What is said of a source by its picture, and where it is otherwise. */
const PICTURE_SAID: Readonly<Record<string, readonly [so: string, notSo: string]>> = {
  good: ['gives a good picture', 'gives no good picture'],
  none: ['gives no picture', 'gives a picture'],
  black: ['is black', 'is not black'],
  frozen: ['is frozen', 'is not frozen'],
};

const SO: Readonly<Record<string, readonly [so: string, notSo: string]>> = {
  onAir: ['is on air', 'is not on air'],
  onPreview: ['is on preview', 'is not on preview'],
  armed: ['is armed', 'is disarmed'],
  holds: ['holds', 'does not hold'],
};

/** The conditions that stand side by side in one; itself alone where a text or a bracket holds the sign. */
export function conjuncts(cel: string): string[] {
  const parts = cel.split(' && ');
  return parts.every((part) => PLAIN_PART.test(part) || PICTURE.test(part)) ? parts : [cel];
}

const OF_GIVEN = /\bat\(param\.([A-Za-z0-9]+)\)\.([A-Za-z0-9]+)/;

/** What is asked of the device that a macro is given, told like the one that it was written with; null where that cannot be told so. */
function saidOfGiven(text: string, document: ShowDocument): string | null {
  const [, param = '', point = ''] = OF_GIVEN.exec(text) ?? [];
  if (param === '') return null;
  const steps = document.macros.flatMap((macro) => [...stepsWithin([...macro.steps, ...macro.stopSteps])]);
  const written = steps.flatMap((step) => (step.kind === 'command' && step.deviceFrom === param ? [step.device] : []));
  const like = document.devices.find(
    (device) => written.includes(device.key) && Object.hasOwn(pointsOf(device, document), point),
  );
  if (like === undefined || text.includes(`${like.key}.`)) return null;
  const said = saidOf(text.replaceAll(`at(param.${param}).`, `${like.key}.`), document);
  const given = `the ${param.replace(/([a-z])([A-Z\d])/g, '$1 $2').toLowerCase()} given`;
  return said.includes(`${like.key}.`) ? null : said.replaceAll(like.name, given);
}

/** A condition as a clause: "Roof cam is on air", "Meteors is over 3"; what says more than the lists can show stands as it is written. */
export function saidOf(cel: string, document: ShowDocument): string {
  const text = cel.trim();
  const ofGiven = saidOfGiven(text, document);
  if (ofGiven !== null) return ofGiven;
  const parts = conjuncts(text);
  if (parts.length > 1) return parts.map((part) => saidOf(part, document)).join(', and ');
  const [, not, asks = '', key = ''] = ASKED.exec(text) ?? [];
  if (not !== undefined) {
    const named = [...document.sources, ...document.roles].find((candidate) => candidate.key === key);
    const name = named?.name ?? document.triggers.find(({ id }) => id === key)?.name ?? `${key} (gone)`;
    return `${name} ${SO[asks]?.[not === '' ? 0 : 1] ?? ''}`;
  }
  const [, shown = '', same, what = ''] = PICTURE.exec(text) ?? [];
  if (same !== undefined) {
    const name =
      [...document.sources, ...document.roles].find((candidate) => candidate.key === shown)?.name ?? `${shown} (gone)`;
    return `${name} ${PICTURE_SAID[what]?.[same === '==' ? 0 : 1] ?? ''}`;
  }
  const nameOf = (device: string): string | undefined =>
    document.devices.find((candidate) => candidate.key === device)?.name;
  const [, camera = '', position] = ARRIVED.exec(text) ?? [];
  const head = nameOf(camera);
  if (head !== undefined) {
    const at = document.positions.find((candidate) => candidate.key === position)?.name;
    return `${head} has arrived${at === undefined ? '' : ` at ${at}`}`;
  }
  const [, gone, reached = ''] = REACHED.exec(text) ?? [];
  const there = nameOf(reached);
  if (there !== undefined) return `${there} ${gone === '' ? 'answers' : 'does not answer'}`;
  const simple = conditionOf(text, document);
  if (simple === null) return text;
  const { scope, point, is, value } = simple;
  const words = conditionWords(simple, document).replace(/^Show values: /, '');
  if (typeof value !== 'boolean' || (is === 'isNot') !== value) return words;
  const about = askableAt(document, scope, point);
  return about === undefined
    ? words
    : `${about.group}: ${negated(about.words.toLowerCase())}`.replace(/^Show values: /, '');
}

/** A point or a value by its key, with its content in people's words: "Switcher: input on program", "Roof cam". Null for what no list knows. */
export function toldOf(
  key: string,
  content: PlainValue | null | undefined,
  document: ShowDocument,
): { readonly about: string; readonly is: string } | null {
  const dot = key.indexOf('.');
  const [scope, point] = [key.slice(0, dot), key.slice(dot + 1)];
  if (scope === 'chosen')
    return { about: `Chosen ${selectionOf(key)?.words ?? point}`, is: chosenWords(key, content, document) };
  const asked = askableAt(document, scope, point);
  if (asked === undefined) return null;
  const about =
    scope === 'value' ? asked.words : `${asked.group}: ${(asked.words.split(/:|, one a line/)[0] ?? '').toLowerCase()}`;
  if (content === null || content === undefined) return { about, is: 'not known' };
  if (typeof content === 'boolean') return { about, is: content ? 'yes' : 'no' };
  return { about, is: contentWords(content, asked, document, point) };
}

const chosenWords = (key: string, content: PlainValue | null | undefined, document: ShowDocument): string =>
  content === null || content === undefined || content === ''
    ? 'nothing'
    : (chosenName(key, content, document) ?? String(content));
