/** What a number on a dial pad means where the pad does not take codes: a source on preview, a position, and what a router routes. */
import type { PlainValue, ShowDocument } from '../show/index';
import { inOrder } from './order';

export const DIAL_NUMBERS = ['preview', 'position', 'destination', 'source', 'crosspoint'] as const;
export type DialNumber = (typeof DIAL_NUMBERS)[number];

/** What is chosen at the pad's station. */
export interface DialChosen {
  readonly camera: unknown;
  readonly destination: unknown;
}

/** What a number does when Enter is pressed, before it is. */
export interface NumberDialled {
  /** Null: it does nothing yet, or nothing at all. */
  readonly sends: {
    readonly device: string;
    readonly command: string;
    readonly params: Readonly<Record<string, PlainValue>>;
  } | null;
  readonly words: string;
  /** So many longer numbers begin with these digits. */
  readonly longer: number;
}

type Show = Pick<ShowDocument, 'devices' | 'sources' | 'positions'>;
const none = (words: string, longer = 0): NumberDialled => ({ sends: null, words, longer });

function setting(settings: unknown, name: string): unknown {
  return typeof settings === 'object' && settings !== null ? (settings as Record<string, unknown>)[name] : undefined;
}
const countOf = (settings: unknown, name: string): number => {
  const configured = setting(settings, name);
  return typeof configured === 'number' ? configured : 32;
};
function labelOf(settings: unknown, list: string, number: number, otherwise: string): string {
  const texts = setting(settings, list);
  const text: unknown = Array.isArray(texts) ? texts[number - 1] : undefined;
  return typeof text === 'string' && text !== '' ? text : `${otherwise} ${number}`;
}

/** How many of these numbers are longer than the digits and begin with them. */
const longerOf = (numbers: readonly number[], digits: string): number =>
  numbers.map(String).filter((candidate) => candidate.length > digits.length && candidate.startsWith(digits)).length;
const upTo = (most: number): number[] => Array.from({ length: most }, (_none, at) => at + 1);

/** What there is to be dialled in this show. */
export function numbersOf({ devices, sources, positions }: Show): DialNumber[] {
  const has = (kind: string): boolean => devices.some((device) => device.kind === kind);
  return [
    ...(has('switcher') && sources.some(({ input }) => input !== null) ? (['preview'] as const) : []),
    ...(positions.length > 0 ? (['position'] as const) : []),
    ...(has('router') ? (['destination', 'source', 'crosspoint'] as const) : []),
  ];
}

/** What these digits do on a pad that takes such numbers. @param digits one or more */
export function numberDialled(show: Show, takes: DialNumber, digits: string, chosen: DialChosen): NumberDialled {
  const number = Number(digits);
  if (takes === 'preview') {
    const switcher = inOrder(show.devices).find((candidate) => candidate.kind === 'switcher');
    const source = show.sources.find(({ input }) => input === number);
    const longer = longerOf(
      show.sources.flatMap(({ input }) => input ?? []),
      digits,
    );
    return switcher === undefined || source === undefined
      ? none('No source has this number', longer)
      : {
          sends: { device: switcher.key, command: 'preview', params: { source: source.key } },
          words: `${source.name} to preview`,
          longer,
        };
  }
  if (takes === 'position') {
    const camera = show.devices.find(({ key }) => key === chosen.camera);
    if (camera === undefined) return none('No camera with positions is chosen. Choose one first');
    const positions = inOrder(show.positions.filter((candidate) => candidate.camera === camera.key));
    const position = positions[number - 1];
    const longer = longerOf(upTo(positions.length), digits);
    return position === undefined
      ? none(`${camera.name} has no such position`, longer)
      : {
          sends: { device: camera.key, command: 'recall', params: { position: position.key } },
          words: `${camera.name} to ${position.name}`,
          longer,
        };
  }
  const router = inOrder(show.devices).find((candidate) => candidate.kind === 'router');
  if (router === undefined) return none('This show has no router');
  const { key, settings } = router;
  const [destinations, sources] = [countOf(settings, 'destinations'), countOf(settings, 'sources')];
  const destination = (item: number): string => labelOf(settings, 'destinationLabels', item, 'Destination');
  const source = (item: number): string => labelOf(settings, 'sourceLabels', item, 'Source');
  const route = (from: number, to: number, longer: number): NumberDialled => ({
    sends: { device: key, command: 'connect', params: { destination: to, source: from } },
    words: `${source(from)} to ${destination(to)}`,
    longer,
  });
  switch (takes) {
    case 'destination': {
      const longer = longerOf(upTo(destinations), digits);
      return number < 1 || number > destinations
        ? none(`${router.name} has ${destinations} destinations`, longer)
        : {
            sends: { device: 'chosen', command: 'destination', params: { to: number } },
            words: `Choose ${destination(number)}`,
            longer,
          };
    }
    case 'source': {
      const to = chosen.destination;
      const longer = longerOf(upTo(sources), digits);
      if (typeof to !== 'number') return none('No destination is chosen. Choose one first');
      return number < 1 || number > sources
        ? none(`${router.name} has ${sources} sources`, longer)
        : route(number, to, longer);
    }
    case 'crosspoint': {
      // Both numbers with as many digits as the larger one needs: nobody has to say where the one ends.
      const width = String(Math.max(destinations, sources)).length;
      const to = Number(digits.slice(0, width));
      const ready = digits.length >= width;
      if (ready && (to < 1 || to > destinations)) return none(`${router.name} has ${destinations} destinations`);
      if (digits.length < 2 * width)
        return none(
          ready
            ? `${destination(to)}, then ${width} digits of the source`
            : `${width} digits of the destination, then ${width} of the source`,
          1,
        );
      const from = Number(digits.slice(width));
      return from < 1 || from > sources ? none(`${router.name} has ${sources} sources`) : route(from, to, 0);
    }
  }
}
