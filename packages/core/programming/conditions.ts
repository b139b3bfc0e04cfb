import { type PointDefinition, pointsOf } from '../devices/index';
import type { PlainValue, ShowDocument } from '../show/index';
import { typeOfValue, valueWords } from './valueFields';

/** How a point is compared. `is` of a switch is the switch itself; `has` asks whether an entry is in what is listed one a line. */
export type Comparison = 'is' | 'isNot' | 'over' | 'under' | 'has' | 'hasNot';

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
  /** It lists, one entry a line. */
  readonly list: boolean;
}

/** Every point of every device, and every show value. */
export function askables(document: ShowDocument): Askable[] {
  const points = document.devices.flatMap((device) =>
    Object.entries(pointsOf(device, document)).map(([point, definition]: [string, PointDefinition]) => ({
      scope: device.key,
      point,
      group: device.name,
      // That it is told one a line is the device's matter.
      words: definition.lines === true ? definition.words.replace(/, one a line$/, '') : definition.words,
      type: definition.type,
      unit: definition.unit ?? '',
      input: definition.means === 'input',
      list: definition.lines === true,
    })),
  );
  const values = document.values.map((value): Askable => {
    const type = typeOfValue(value);
    return {
      scope: 'value',
      point: value.key,
      group: 'Show values',
      words: value.name,
      type: type === 'switch' ? 'switch' : type === 'number' || type === 'duration' ? 'number' : 'text',
      unit: type === 'duration' ? 's' : '',
      input: false,
      list: type === 'list',
    };
  });
  return [...values, ...points];
}

const SIGNS: Readonly<Record<Exclude<Comparison, 'has' | 'hasNot'>, string>> = {
  is: '==',
  isNot: '!=',
  over: '>',
  under: '<',
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
  /^([a-z][A-Za-z0-9]{0,39})\.([A-Za-z][A-Za-z0-9]{0,59}) (==|!=|>|<) (?:(-?\d+(?:\.\d+)?)|("(?:[^"\\]|\\.)*")|input\("([a-z][A-Za-z0-9]{0,39})"\))$/;

const LISTED = /^(!\()?("(?:[^"\\]|\\.)*") in lines\(([a-z][A-Za-z0-9]{0,39})\.([A-Za-z][A-Za-z0-9]{0,59})\)(\)?)$/;

/** Reads a condition back as a list shows it; null where it says more than that, or asks for what is not there. */
export function conditionOf(cel: string, document: ShowDocument): SimpleCondition | null {
  const text = cel.trim();
  const [, not, ofSwitch = '', switchPoint = ''] = SWITCH.exec(text) ?? [];
  const known = (scope: string, point: string): Askable | undefined =>
    askables(document).find((one) => one.scope === scope && one.point === point);
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
  const is = (Object.keys(SIGNS) as (keyof typeof SIGNS)[]).find((one) => SIGNS[one] === sign) ?? 'is';
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
  has: 'has',
  hasNot: 'does not have',
};

/** "Switcher: input on auxiliary output 1 is Roof cam". */
export function conditionWords(condition: SimpleCondition, document: ShowDocument): string {
  const { scope, point, is, value } = condition;
  const asked = askables(document).find((one) => one.scope === scope && one.point === point);
  const about = asked === undefined ? `${scope}.${point}` : `${asked.group}: ${asked.words.toLowerCase()}`;
  if (typeof value === 'boolean') return `${about}${(is === 'isNot') === value ? ', not so' : ''}`;
  const told =
    typeof value === 'object'
      ? (document.sources.find(({ key }) => key === value.source)?.name ?? `${value.source} (gone)`)
      : contentWords(value, asked, document, point);
  return `${about} ${IS_WORDS[is]} ${told}`;
}

function contentWords(
  value: string | number,
  asked: Askable | undefined,
  document: ShowDocument,
  point: string,
): string {
  const held = asked?.scope === 'value' ? document.values.find(({ key }) => key === point) : undefined;
  if (held !== undefined && asked?.list !== true) return valueWords(document, held, value);
  if (value === '') return 'empty';
  const named = [...document.positions, ...document.sources].find(({ key }) => key === value);
  return `${named?.name ?? String(value)}${asked?.unit ? ` ${asked.unit}` : ''}`;
}
