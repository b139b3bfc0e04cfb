import type { Raw } from './raw';

/**
 * From 1 to 2. The four answers to a second press have other names. Conditions and lamp rules name sources instead of the numbers that a
 * switcher counts them by, so that renumbering changes no rule; a lamp that says *on air* asks whether its source is seen anywhere.
 */
const AGAIN: Readonly<Record<string, string>> = {
  restart: 'startOver',
  ignore: 'ignore',
  queue: 'runAfterwards',
  stop: 'end',
};

/** Points of a switcher that hold the number of a source. */
const NUMBERED =
  'program|preview|aux\\d|bank2Program|bank2Preview|layout\\dBackground|layout\\dBox\\dOccupant|keyer\\dFill';

/** What the texts of one show are converted with. */
export interface Naming {
  readonly pattern: RegExp | null;
  readonly bySource: ReadonlyMap<number, string>;
}

const entriesOf = (show: Raw, list: string): Raw[] => (Array.isArray(show[list]) ? (show[list] as Raw[]) : []);

export function namingOf(show: Raw): Naming {
  const switchers = entriesOf(show, 'devices').flatMap((device) =>
    device.kind === 'switcher' ? [String(device.key)] : [],
  );
  const bySource = new Map<number, string>();
  for (const source of entriesOf(show, 'sources'))
    if (typeof source.input === 'number' && !bySource.has(source.input)) bySource.set(source.input, String(source.key));
  const pattern =
    switchers.length === 0 ? null : new RegExp(`\\b(${switchers.join('|')})\\.(${NUMBERED}) (==|!=) (\\d+)\\b`, 'g');
  return { pattern, bySource };
}

/** @param lamp what the lamp shows that the text stands in; undefined elsewhere */
function textIn(text: string, { pattern, bySource }: Naming, lamp?: unknown): string {
  if (pattern === null) return text;
  return text.replace(pattern, (all, device: string, point: string, how: string, number: string) => {
    const source = bySource.get(Number(number));
    if (source === undefined) return all;
    const is = how === '==' ? '' : '!';
    if (lamp === 'onAir' && point === 'program') return `${is}onAir("${source}")`;
    if (lamp === 'onPreview' && point === 'preview') return `${is}onPreview("${source}")`;
    return `${device}.${point} ${how} input("${source}")`;
  });
}

/** Steps and parameters: every expression in them, however deep. */
function inSteps(value: unknown, naming: Naming): unknown {
  if (Array.isArray(value)) return value.map((item) => inSteps(item, naming));
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value).map(([key, item]) => [
      key,
      typeof item === 'string' && (key === 'cel' || key === 'until') ? textIn(item, naming) : inSteps(item, naming),
    ]),
  );
}

const liveText = (text: string, naming: Naming): string =>
  text.replace(/\{\{(.*?)\}\}/g, (_all, inner: string) => `{{${textIn(inner, naming)}}}`);

function field(entity: string, name: string, value: unknown, naming: Naming): unknown {
  if (entity === 'macros' && name === 'again') return AGAIN[String(value)] ?? value;
  if (entity !== 'macros' && entity !== 'buttons') return value;
  if (name === 'lamps' && Array.isArray(value))
    return (value as Raw[]).map((lamp) => ({ ...lamp, when: textIn(String(lamp.when), naming, lamp.show) }));
  if (name === 'note' && typeof value === 'string') return liveText(value, naming);
  return ['steps', 'releaseSteps', 'stopSteps', 'params'].includes(name) ? inSteps(value, naming) : value;
}

function entry(entity: string, raw: Raw, naming: Naming): Raw {
  return Object.fromEntries(Object.entries(raw).map(([name, value]) => [name, field(entity, name, value, naming)]));
}

export function showToVersion2(show: Raw): Raw {
  const naming = namingOf(show);
  const list = (name: string): Raw[] => entriesOf(show, name).map((item) => entry(name, item, naming));
  return { ...show, buttons: list('buttons'), macros: list('macros') };
}

/** The content of one change of an edit: a field, or a whole entry under `*`. */
export function contentToVersion2(entity: string, name: string, content: unknown, show: Raw): unknown {
  const naming = namingOf(show);
  if (name !== '*') return field(entity, name, content, naming);
  return typeof content === 'object' && content !== null ? entry(entity, content as Raw, naming) : content;
}
