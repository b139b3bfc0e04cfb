import type { AirGraph } from '../devices/index';
import { type ReadKey, UNKNOWN, type Verdict } from '../expression/index';
import type { Device } from '../show/index';
import type { Program } from './program';

/** Layouts in layouts are followed so deep. */
const DEEPEST = 8;

/** What is needed of a show to know what is on air. */
export type AirShow = Pick<Program, 'document' | 'kindOf'>;

/** Where a source stands with regard to what goes out. */
export type Seen = 'seen' | 'possibly' | 'unseen';

/** What is on air of one switcher, worked out from its own points. */
export interface Air {
  /** Sources that are seen, by number, with where. */
  readonly seen: ReadonlyMap<number, string>;
  /** Sources that would be seen if preview were taken, with where. */
  readonly next: ReadonlyMap<number, string>;
  /** False when something that hangs on it is not known: then every other source is possibly seen. */
  readonly certain: boolean;
  readonly nextCertain: boolean;
  /** What it was worked out from; while that is the same, so is the answer. */
  readonly from: { readonly program: Part; readonly preview: Part };
}

/** What one output shows, with every point that was read for it. */
interface Part {
  readonly seen: ReadonlyMap<number, string>;
  readonly certain: boolean;
  readonly reads: ReadonlyMap<string, Verdict>;
}

const NO_PART: Part = { seen: new Map(), certain: true, reads: new Map() };
const airFrom = (program: Part, preview: Part): Air => ({
  seen: program.seen,
  next: preview.seen,
  certain: program.certain,
  nextCertain: preview.certain,
  from: { program, preview },
});
const NOTHING = airFrom(NO_PART, NO_PART);

/** The switcher of a show: sources count its inputs. */
export const switcherOf = (program: AirShow): Device | undefined =>
  program.document.devices.find((device) => program.kindOf(device.key)?.airOf !== undefined);

interface FoundGraph {
  readonly key: string;
  readonly graph: AirGraph;
  /** Board keys of the switcher's points by name: spelled once, read at every change. */
  readonly keys: Map<string, string>;
}
/** A program never changes, and its graph is asked for at every change of a point. */
const graphs = new WeakMap<AirShow, FoundGraph | null>();

/** The graph of the show's switcher. */
export function graphOf(program: AirShow): FoundGraph | undefined {
  let found = graphs.get(program);
  if (found === undefined) {
    const device = switcherOf(program);
    const graph = device && program.kindOf(device.key)?.airOf?.(device.settings);
    found = device && graph ? { key: device.key, graph, keys: new Map() } : null;
    graphs.set(program, found);
  }
  return found ?? undefined;
}

/**
 * What is seen on air and where: the one answer for guards, slow moves, tally, lamps, words and pictures. On program, coming in, in a box of a
 * layout that is seen, filling a keyer that is on, on a bus or output that counts as air. A device that is silent is known of nothing.
 * @param before an earlier answer for the same show: what it was worked out from is looked at first
 * @param changed the one board key that changed since then, where it is known to be one
 */
export function airOf(program: AirShow, read: ReadKey, before?: Air, changed?: string): Air {
  const found = graphOf(program);
  if (found === undefined) return NOTHING;
  const { graph } = found;
  const further = program.document.show.airOutputs ?? [];
  const outputs = (): string[] => ['program', ...graph.outputs.filter((output) => further.includes(output))];
  const programPart =
    before !== undefined && holds(before.from.program, read, changed)
      ? before.from.program
      : partOf(found, outputs(), read);
  const previewPart =
    before !== undefined && holds(before.from.preview, read, changed)
      ? before.from.preview
      : partOf(found, ['preview'], read);
  if (before?.from.program === programPart && before.from.preview === previewPart) return before;
  return airFrom(programPart, previewPart);
}

function holds({ reads }: Part, read: ReadKey, changed: string | undefined): boolean {
  if (changed !== undefined && !reads.has(changed)) return reads.size > 0;
  for (const [key, value] of reads) if (read(key) !== value) return false;
  return reads.size > 0;
}

function partOf({ key, graph, keys }: FoundGraph, outputs: readonly string[], read: ReadKey): Part {
  const reads = new Map<string, Verdict>();
  const point = (name: string) => {
    let at = keys.get(name);
    if (at === undefined) keys.set(name, (at = `${key}.${name}`));
    const value = read(at);
    reads.set(at, value);
    return value === UNKNOWN ? undefined : value;
  };
  const seen = new Map<number, string>();
  let certain = true;
  for (const output of outputs) certain = closure(graph, output, point, seen) && certain;
  return { seen, certain, reads };
}

/** Follows what an output shows down to plain inputs. @returns whether all of it was known */
function closure(
  graph: AirGraph,
  output: string,
  point: Parameters<AirGraph['feed']>[1],
  into: Map<number, string>,
): boolean {
  let certain = true;
  const visit = (of: string | number, depth: number): void => {
    const feed = graph.feed(of, point);
    if (feed === undefined) return;
    if (!feed.certain || depth > DEEPEST) certain = false;
    if (depth > DEEPEST) return;
    for (const { number, how } of feed.parts) {
      if (into.has(number)) continue;
      into.set(number, how);
      visit(number, depth + 1);
    }
  };
  visit(output, 0);
  return certain;
}

/** Whether a source of this number is seen; one on no input never is. */
export function seenOf(input: number | null | undefined, air: Air): Seen {
  if (input === null || input === undefined) return 'unseen';
  if (air.seen.has(input)) return 'seen';
  return air.certain ? 'unseen' : 'possibly';
}

/** Whether the picture of a head is seen, through any source that it carries, and where. */
export function cameraSeen(camera: string, program: AirShow, air: Air): { readonly seen: Seen; readonly how: string } {
  let best: { seen: Seen; how: string } = { seen: 'unseen', how: '' };
  for (const source of program.document.sources) {
    if (source.camera !== camera) continue;
    const seen = seenOf(source.input, air);
    if (seen === 'seen') return { seen, how: air.seen.get(source.input ?? 0) ?? '' };
    if (seen === 'possibly') best = { seen, how: '' };
  }
  return best;
}
