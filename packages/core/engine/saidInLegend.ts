import { pointsOf } from '../devices/index';
import { isHead } from '../show/part';
import { type PlainValue, timecodeText } from '../show/index';
import type { Program } from './program';
import { chosenName } from './selections';

/** Types of show values that hold the key of something, whose name people read. */
const NAMED_TYPES: ReadonlySet<string> = new Set(['source', 'role', 'camera']);

/**
 * What people read where a legend shows one point, value or selection and nothing else: a source by its name, not by the number or key that devices
 * count it by; a position by its name; a timecode as one. Undefined: as it is.
 */
export function saidInLegend(key: string, value: PlainValue, program: Program): string | undefined {
  const { document } = program;
  const dot = key.indexOf('.');
  const [scope, name] = [key.slice(0, dot), key.slice(dot + 1)];
  const thing = (): string | undefined =>
    typeof value !== 'string'
      ? undefined
      : (
          program.devices.get(value) ??
          program.sources.get(value) ??
          program.roles.get(value) ??
          program.people.get(value)
        )?.name;
  // What is told of the chosen person is told as it is.
  if (scope === 'chosen') return /^person./.test(name) ? undefined : (thing() ?? chosenName(key, value, document));
  if (scope === 'value') {
    const type = document.values.find((candidate) => candidate.key === name)?.type;
    return type !== undefined && NAMED_TYPES.has(type) ? thing() : undefined;
  }
  const device = program.devices.get(scope);
  if (device === undefined) return undefined;
  if (typeof value === 'string')
    return name === 'arrived' && isHead(device, document) ? program.positions.get(value)?.name : undefined;
  const means = pointsOf(device, document)[name]?.means;
  if (typeof value !== 'number' || means === undefined) return undefined;
  if (means === 'timecode') return timecodeText(value, document.show.frameRate);
  if (value === 0) return '–';
  return document.sources.find(({ input }) => input === value)?.name;
}

/** Whether an edit changed anything that legends name. */
export const namesChanged = (before: Program, after: Program): boolean =>
  (['devices', 'sources', 'roles', 'people', 'positions', 'values'] as const).some(
    (table) => before.document[table] !== after.document[table],
  );
