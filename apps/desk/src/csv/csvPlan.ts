import { changed, made } from '@umbek/core/changes';
import { DEVICE_KINDS, GENERIC, ROUTER_MOST } from '@umbek/core/devices';
import { inOrder, keyFrom, orderBetween } from '@umbek/core/programming';
import { type Change, type Device, Family, type ShowDocument, type Source } from '@umbek/core/show';
import Papa from 'papaparse';
import { ulid } from 'ulid';
import { hostFault, portFault } from './address';

/** What a list can be read as. */
export type CsvTarget = 'devices' | 'sources' | 'labels' | 'people';

export interface CsvFault {
  /** Line of the text, counted from 1 with the heading. */
  readonly line: number;
  readonly words: string;
}

export interface CsvPlan {
  readonly changes: readonly Change[];
  /** What will be made or changed, a line each. */
  readonly preview: readonly string[];
  readonly faults: readonly CsvFault[];
}

/** Columns of each list; those behind the bar may be left out. */
export const CSV_COLUMNS: Readonly<
  Record<CsvTarget, { readonly needed: readonly string[]; readonly more: readonly string[] }>
> = {
  devices: { needed: ['name', 'kind', 'address', 'port'], more: ['room'] },
  sources: { needed: ['name', 'input'], more: ['short name', 'family'] },
  labels: { needed: ['side', 'number', 'label'], more: [] },
  people: { needed: ['name'], more: ['title', 'place'] },
};

/** More lines than these in one go are refused as a whole. */
export const MOST_LINES = 1000;
/** As many as a show may hold. */
const MOST_PEOPLE = 10_000;

interface Row {
  readonly line: number;
  readonly cell: (column: string) => string;
}

const nothing = (faults: readonly CsvFault[]): CsvPlan => ({ changes: [], preview: [], faults });

/** Rows of a text with a heading line; a missing column, a broken quote and too many lines are told with their line. */
function rowsOf(
  text: string,
  target: CsvTarget,
): { readonly rows: readonly Row[] } | { readonly faults: readonly CsvFault[] } {
  const lines = text.split(/\r\n|\n|\r/);
  const filled = lines.filter((line) => line.trim() !== '').length;
  const most = target === 'people' ? MOST_PEOPLE : MOST_LINES;
  if (filled > most + 1)
    return {
      faults: [
        {
          line: most + 2,
          words: `These are ${filled - 1} lines; at most ${most} can be taken in one go. Split the list.`,
        },
      ],
    };
  const parsed = Papa.parse<string[]>(text.trimEnd(), { delimiter: '', skipEmptyLines: false });
  const [broken] = parsed.errors.filter((error) => error.type !== 'Delimiter');
  if (broken)
    return {
      faults: [
        { line: (broken.row ?? 0) + 1, words: 'A quotation mark is never closed. Close it, or leave both out.' },
      ],
    };
  const [heading = [], ...rest] = parsed.data;
  const columns = heading.map((item) => item.trim().toLowerCase());
  const missing = CSV_COLUMNS[target].needed.filter((column) => !columns.includes(column));
  if (missing.length > 0)
    return {
      faults: [
        {
          line: 1,
          words: `The heading lacks ${missing.join(', ')}. Begin with a line such as ${CSV_COLUMNS[target].needed.join(',')}.`,
        },
      ],
    };
  const rows = rest.flatMap((cells, index): Row[] =>
    cells.every((cell) => cell.trim() === '')
      ? []
      : [{ line: index + 2, cell: (column) => (cells[columns.indexOf(column)] ?? '').trim() }],
  );
  return rows.length === 0 ? { faults: [{ line: 2, words: 'There is nothing below the heading.' }] } : { rows };
}

/** What a list would make of the show; with any fault nothing is made at all. @param router the router that labels are for */
export function planCsv(text: string, target: CsvTarget, document: ShowDocument, router?: Device): CsvPlan {
  const read = rowsOf(text, target);
  if ('faults' in read) return nothing(read.faults);
  const plan =
    target === 'devices'
      ? planDeviceRows(read.rows, document)
      : target === 'sources'
        ? planSourceRows(read.rows, document)
        : target === 'people'
          ? planPeopleRows(read.rows, document)
          : planLabels(read.rows, router);
  return plan.faults.length > 0 ? { ...plan, changes: [] } : plan;
}

const kindNamed = (text: string): string | undefined =>
  Object.values(DEVICE_KINDS).find(
    (kind) =>
      kind.key !== GENERIC &&
      [kind.key, kind.words].some((candidate) => candidate.toLowerCase() === text.toLowerCase()),
  )?.key;

function planDeviceRows(rows: readonly Row[], document: ShowDocument): CsvPlan {
  const faults: CsvFault[] = [];
  const keys = new Set(document.devices.map((device) => device.key));
  const names = new Map(document.devices.map((device) => [device.name, 0]));
  const addresses = new Map<string, number>();
  let order = inOrder(document.devices).at(-1)?.order ?? null;
  const devices = rows.map(({ line, cell }): Device => {
    const [name, host, port] = [cell('name'), cell('address'), cell('port')];
    const kind = kindNamed(cell('kind'));
    const at = `${host}:${port}`;
    const twice = names.get(name);
    const fault =
      name === ''
        ? 'The name is missing.'
        : name.length > 120
          ? 'The name is longer than 120 characters.'
          : twice !== undefined
            ? `${name} is there already${twice > 0 ? `, on line ${twice}` : ''}. Give another name.`
            : kind === undefined
              ? `There is no kind ${cell('kind') || '(empty)'}. Give one of ${Object.values(DEVICE_KINDS)
                  .filter((deviceKind) => deviceKind.key !== GENERIC)
                  .map((deviceKind) => deviceKind.words)
                  .join(', ')}.`
              : (hostFault(host) ??
                portFault(port, host, document, null) ??
                (addresses.has(at)
                  ? `Line ${addresses.get(at) ?? 0} is at ${at} as well. Give one of them another port.`
                  : null));
    if (fault !== null) faults.push({ line, words: fault });
    names.set(name, line);
    addresses.set(at, line);
    const key = keyFrom(name, keys, kind ?? 'device');
    keys.add(key);
    order = orderBetween(order, null);
    return {
      id: ulid(),
      key,
      name,
      kind: kind ?? '',
      host,
      port: Number(port),
      room: cell('room').slice(0, 60),
      settings: kind === 'switcher' ? { frameRate: document.show.frameRate } : {},
      order,
    };
  });
  return {
    changes: devices.map((device) => made('devices', device)),
    preview: devices.map(
      (device) =>
        `${device.name} · ${device.kind} · ${device.host}:${device.port}${device.room === '' ? '' : ` · ${device.room}`}`,
    ),
    faults,
  };
}

/** A source of the same name is changed and keeps its key, so that everything that names it goes on; the others are made. */
function planSourceRows(rows: readonly Row[], document: ShowDocument): CsvPlan {
  const faults: CsvFault[] = [];
  const changes: Change[] = [];
  const preview: string[] = [];
  const keys = new Set([...document.sources, ...document.roles].map((item) => item.key));
  const counts = new Map<string, number>();
  const listed = new Set(rows.map(({ cell }) => cell('name')));
  // Inputs that other sources have, those of this list as it will be among them.
  const taken = new Map<number, string>(
    document.sources.flatMap(({ input, name }) => (input === null || listed.has(name) ? [] : [[input, name] as const])),
  );
  const most = inputsOf(document);
  let order = inOrder(document.sources).at(-1)?.order ?? null;
  for (const { line, cell } of rows) {
    const name = cell('name');
    const input = cell('input') === '' ? null : Number(cell('input'));
    const family = cell('family') === '' ? undefined : Family.safeParse(cell('family').toLowerCase()).data;
    const fault =
      name === ''
        ? 'The name is missing.'
        : name.length > 120
          ? 'The name is longer than 120 characters.'
          : counts.has(name)
            ? `${name} is on line ${counts.get(name) ?? 0} already. Give another name.`
            : input !== null && (!Number.isInteger(input) || input < 1 || input > 1024)
              ? 'An input is a whole number from 1 to 1024, or empty.'
              : input !== null && input > most
                ? `The switcher has no input ${input}: its numbers end at ${most}.`
                : input !== null && taken.has(input)
                  ? `Input ${input} belongs to ${taken.get(input) ?? ''} already. Give another input.`
                  : cell('short name').length > 16
                    ? 'A short name has at most 16 characters.'
                    : cell('family') !== '' && family === undefined
                      ? `There is no family ${cell('family')}. Give one of ${Family.options.join(', ')}.`
                      : null;
    if (fault !== null) faults.push({ line, words: fault });
    counts.set(name, line);
    if (input !== null) taken.set(input, name);
    const there = document.sources.find((candidate) => candidate.name === name);
    const inputWords = input === null ? 'no input' : `input ${input}`;
    if (there) {
      const fields: Change[] = [];
      if (there.input !== input) fields.push(changed('sources', there, 'input', input));
      if (cell('short name') !== '' && cell('short name') !== there.shortName)
        fields.push(changed('sources', there, 'shortName', cell('short name')));
      if (family !== undefined && family !== there.family) fields.push(changed('sources', there, 'family', family));
      changes.push(...fields);
      preview.push(fields.length === 0 ? `${name} stays as it is` : `${name} becomes ${inputWords}`);
      continue;
    }
    const key = keyFrom(name, keys, 'source');
    keys.add(key);
    order = orderBetween(order, null);
    const source: Source = {
      id: ulid(),
      key,
      name,
      shortName: cell('short name') || name.slice(0, 16),
      family: family ?? 'slate',
      input,
      camera: null,
      picture: 'none',
      line: null,
      order,
    };
    changes.push(made('sources', source));
    preview.push(`${name} · ${inputWords}`);
  }
  return { changes, preview, faults };
}

/** A person of the same name is changed and keeps their place and key; the others come behind those who are there. */
function planPeopleRows(rows: readonly Row[], document: ShowDocument): CsvPlan {
  const faults: CsvFault[] = [];
  const changes: Change[] = [];
  const preview: string[] = [];
  const known = new Map(document.people.map((person) => [person.name, person]));
  const keys = new Set(document.people.map((person) => person.key));
  const counts = new Map<string, number>();
  let order = inOrder(document.people).at(-1)?.order ?? null;
  let added = 0;
  for (const { line, cell } of rows) {
    const [name, title, place] = [cell('name'), cell('title'), cell('place')];
    const long = [
      ['name', name],
      ['title', title],
      ['place', place],
    ].find(([, text = '']) => text.length > 120);
    const fault =
      name === ''
        ? 'The name is missing.'
        : long !== undefined
          ? `The ${long[0] ?? 'name'} is longer than 120 characters.`
          : counts.has(name)
            ? `${name} is on line ${counts.get(name) ?? 0} already. Leave one of the two out.`
            : null;
    if (fault !== null) {
      faults.push({ line, words: fault });
      continue;
    }
    counts.set(name, line);
    const there = known.get(name);
    if (there) {
      // An empty cell, or a column that is not there, leaves what was.
      const fields = (['title', 'place'] as const).flatMap((field) => {
        const to = field === 'title' ? title : place;
        return to === '' || to === there[field] ? [] : [changed('people', there, field, to)];
      });
      changes.push(...fields);
      preview.push(fields.length === 0 ? `${name} stays as they are` : `${name} is changed`);
      continue;
    }
    const key = keyFrom(name, keys, 'person');
    keys.add(key);
    order = orderBetween(order, null);
    added += 1;
    changes.push(made('people', { id: ulid(), key, name, title, place, order }));
    preview.push([name, title, place].filter(Boolean).join(' · '));
  }
  if (document.people.length + added > MOST_PEOPLE)
    faults.push({
      line: 1,
      words: `The list would hold ${document.people.length + added} people; it holds at most ${MOST_PEOPLE}. Remove some first.`,
    });
  return { changes, preview, faults };
}

function planLabels(rows: readonly Row[], router: Device | undefined): CsvPlan {
  if (router === undefined) return nothing([{ line: 1, words: 'There is no router to label.' }]);
  const faults: CsvFault[] = [];
  const labels = {
    source: [...((router.settings.sourceLabels as string[] | undefined) ?? [])],
    destination: [...((router.settings.destinationLabels as string[] | undefined) ?? [])],
  };
  const preview: string[] = [];
  for (const { line, cell } of rows) {
    const side = cell('side').toLowerCase();
    const number = Number(cell('number'));
    const most = Number(router.settings[side === 'source' ? 'sources' : 'destinations'] ?? 32);
    const fault =
      side !== 'source' && side !== 'destination'
        ? 'The side is source or destination.'
        : !Number.isInteger(number) || number < 1 || number > Math.min(most, ROUTER_MOST)
          ? `${router.name} counts its ${side}s from 1 to ${most}.`
          : cell('label').length > 60
            ? 'A label has at most 60 characters.'
            : null;
    if (fault !== null) {
      faults.push({ line, words: fault });
      continue;
    }
    const list = labels[side === 'source' ? 'source' : 'destination'];
    while (list.length < number) list.push('');
    list[number - 1] = cell('label');
    preview.push(`${side} ${number}: ${cell('label')}`);
  }
  return {
    changes: [
      changed('devices', router, 'settings', {
        ...router.settings,
        sourceLabels: labels.source,
        destinationLabels: labels.destination,
      }),
    ],
    preview,
    faults,
  };
}

/** So many pictures the switcher of the show knows by number: its inputs, then its own outputs. Any number where there is none. */
function inputsOf(document: ShowDocument): number {
  const switcher = document.devices.find((device) => device.kind === 'switcher');
  return switcher === undefined ? Infinity : (DEVICE_KINDS.switcher?.airOf?.(switcher.settings).sources ?? Infinity);
}
