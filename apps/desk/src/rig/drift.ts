import { type DeviceCommand, type PointDefinition, pointsOf } from '@umbek/core/devices';
import type { Device, PlainValue, SetUp, ShowDocument } from '@umbek/core/show';

/** One content of a device that is not as it was saved with the show. */
export interface Difference {
  readonly point: string;
  readonly words: string;
  /** What its number counts, where it counts something that has a name. */
  readonly means?: PointDefinition['means'];
  readonly saved: PlainValue;
  readonly now: PlainValue;
  /** What puts it back. */
  readonly command: DeviceCommand;
}

/** Points of a device that belong to its set-up: those that a command can put back. */
export const setUpPoints = (device: Device, document: ShowDocument): [string, PointDefinition][] =>
  Object.entries(pointsOf(device, document)).filter(([, definition]) => definition.restore !== undefined);

/** What a device shows now beside what was saved. A point that is not known now is no difference: nobody can say. */
export function differencesOf(
  device: Device,
  setUp: SetUp,
  document: ShowDocument,
  now: (key: string) => PlainValue | undefined,
): Difference[] {
  return setUpPoints(device, document).flatMap(([point, definition]) => {
    const [saved, shown] = [setUp.points[point], now(`${device.key}.${point}`)];
    if (saved === undefined || shown === undefined || saved === shown || !definition.restore) return [];
    const { words, means, restore } = definition;
    return [{ point, words, saved, now: shown, command: restore(saved), ...(means === undefined ? {} : { means }) }];
  });
}

/** A content as people read it: inputs by the names of their sources. */
export function contentWords(value: PlainValue, { means }: Pick<Difference, 'means'>, document: ShowDocument): string {
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'number' && means === 'input')
    return value === 0
      ? 'nothing'
      : (document.sources.find((source) => source.input === value)?.name ?? `input ${value}`);
  return value === '' ? 'nothing' : String(value);
}
