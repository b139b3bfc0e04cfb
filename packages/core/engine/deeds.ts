import { type ReadKey, UNKNOWN } from '../expression/index';
import type { PlainValue, Step } from '../show/index';
import type { Program } from './program';
import { referenceOf } from './program';
import type { ResolvedCommand } from './resolve';
import type { StateBoard } from './stateBoard';

/** So many commands of one press are remembered; what did more than that is not taken back by a touch. */
const MOST_DEEDS = 200;

/** A step that brings something back, with the board keys that it puts. */
interface Back {
  readonly step: Step;
  readonly puts: readonly string[];
}

/** One thing that a press did: a command to a device, or a value that it set. */
export interface Deed {
  /** As a sentence, for what stays as it is. */
  readonly words: string;
  /** Board keys that it put to something, with what stood there before. */
  readonly made: ReadonlyMap<string, { readonly before: PlainValue | undefined; readonly after: PlainValue }>;
  /** What brings back what stood before; null when nothing can. */
  readonly back: readonly Back[] | null;
  /** What it makes depends on what stood before it, such as a cut or a mix. */
  readonly relative: boolean;
  /** A move that goes on until it is told to end: its release ends it, and does not swing back. */
  readonly drives: boolean;
  /** The device refused it: nothing came of it. */
  refused: boolean;
}

/** What a press did, in order, for as long as somebody may want it back. What stands inside a part of it is also told to the whole. */
export class DeedLedger {
  private readonly deeds: Deed[] = [];
  /** What was put last, by board key: news of it may still be on its way. */
  private readonly outcomes = new Map<
    string,
    { readonly before: PlainValue | undefined; readonly after: PlainValue }
  >();
  /** Whatever was put there on the way: news of the last may not have come yet. */
  readonly ours = new Map<string, Set<PlainValue>>();
  private tooMany = false;
  /** The engine's time of the latest one, milliseconds; null when there is none. */
  lastAt: number | null = null;

  constructor(private readonly whole: DeedLedger | null = null) {}

  add(deed: Deed, now: number): void {
    this.lastAt = now;
    for (const [key, { after }] of deed.made) this.ours.set(key, (this.ours.get(key) ?? new Set()).add(after));
    if (this.again(deed)) return;
    for (const [key, made] of deed.made) this.outcomes.set(key, made);
    if (this.deeds.length < MOST_DEEDS) this.deeds.push(deed);
    else this.tooMany = true;
    this.whole?.add(deed, now);
  }

  /** The same thing turned on, as a fader under a finger: it is one deed, from what stood before the first to what stands after the last. */
  private again(deed: Deed): boolean {
    const last = this.deeds.at(-1);
    if (last === undefined || last.refused || last.made.size !== 1 || deed.made.size !== 1) return false;
    const [[key, before] = []] = last.made;
    const [[same, after] = []] = deed.made;
    if (key === undefined || key !== same || before === undefined || after === undefined) return false;
    const made = { before: before.before, after: after.after };
    const item = { ...last, made: new Map([[key, made]]) };
    this.deeds[this.deeds.length - 1] = item;
    this.outcomes.set(key, made);
    this.whole?.add(deed, this.lastAt ?? 0);
    return true;
  }

  /** A point as it is once the device has told what came of the deeds so far. @param now as the board has it */
  ahead(key: string, now: PlainValue | undefined): PlainValue | undefined {
    const made = this.outcomes.get(key);
    return made !== undefined && made.before === now ? made.after : now;
  }

  get all(): readonly Deed[] {
    return this.deeds;
  }

  get overfull(): boolean {
    return this.tooMany;
  }
}

/** A command as it goes out, with what undoes it as its device stands at this moment. @param now reads points as they were when it was sent */
export function deedOfCommand(
  { device, definition, command }: ResolvedCommand,
  words: string,
  program: Program,
  now: ReadKey,
  ledger: DeedLedger,
): Deed {
  const read = (point: string): PlainValue | undefined => {
    const key = `${device}.${point}`;
    const value = now(key);
    return ledger.ahead(key, value === UNKNOWN ? undefined : value);
  };
  const { effect } = definition;
  const made = new Map<string, { before: PlainValue | undefined; after: PlainValue }>();
  for (const [point, after] of Object.entries(effect?.makes(command.params, read) ?? {}))
    made.set(`${device}.${point}`, { before: read(point), after });
  const undo = effect?.undo(command.params, read) ?? null;
  const back =
    undo?.map((deviceCommand): Back => {
      const meant = program.kindOf(device)?.commands[deviceCommand.command];
      // Devices count sources by number; a step names one by what the device told.
      const params = Object.fromEntries(
        Object.entries(deviceCommand.params).map(([key, value]) => [
          key,
          typeof value === 'number' && meant !== undefined && referenceOf(meant, key) === 'source'
            ? `input:${value}`
            : value,
        ]),
      );
      return {
        step: { id: 'back', onFail: 'goOn', kind: 'command', device, command: deviceCommand.command, params },
        puts: Object.keys(meant?.effect?.makes(deviceCommand.params, read) ?? {}).map((point) => `${device}.${point}`),
      };
    }) ?? null;
  const drives = definition.endedBy !== undefined && command.params.forSeconds === undefined;
  return { words, made, back, relative: effect?.relative === true, drives, refused: false };
}

/** A value or a selection that was set. @param target as a step names it */
export const deedOfSet = (
  target: string,
  key: string,
  words: string,
  before: PlainValue | undefined,
  after: PlainValue,
): Deed => ({
  words,
  made: new Map([[key, { before, after }]]),
  // A choice that nobody had made cannot be made undone: a selection is never taken away.
  back:
    before === undefined
      ? null
      : [{ step: { id: 'back', onFail: 'goOn', kind: 'set', target, to: before }, puts: [key] }],
  relative: false,
  drives: false,
  refused: false,
});

/** What taking a press back would do. */
export interface WayBack {
  /** The latest first. */
  readonly steps: readonly Step[];
  /** What stays as it is, each with why. */
  readonly stays: readonly string[];
}

/**
 * What brings back what stood before these deeds, as things are now. What somebody changed since is left as it is, and so is what nothing can
 * bring back; both are told.
 * @param why a release leaves a camera where it was driven to
 */
export function wayBack(ledger: DeedLedger, board: StateBoard, why: 'takeBack' | 'release'): WayBack {
  const all: Back[] = [];
  const stays: string[] = [];
  const deeds = ledger.all.filter((deed) => !deed.refused && !(why === 'release' && deed.drives));
  // Where a mix meets another command on its way, what comes of both is not told beforehand.
  const unsure = new Set<string>();
  for (const deed of deeds) {
    if (!deed.relative) continue;
    const meets = deeds.some((other) => other !== deed && [...other.made.keys()].some((key) => deed.made.has(key)));
    if (meets) for (const key of deed.made.keys()) unsure.add(key);
  }
  const covered = new Set<string>();
  const kept: Deed[] = [];
  for (const deed of deeds) {
    // An earlier deed that brings the same points back to what stood before it does for this one as well.
    const within = deed.made.size > 0 && [...deed.made.keys()].every((key) => covered.has(key));
    if (within) continue;
    kept.push(deed);
    if (deed.back !== null) for (const key of deed.made.keys()) covered.add(key);
  }
  const same = cameToNothing(deeds, unsure);
  for (const deed of kept.reverse()) {
    const { words, made, back } = deed;
    if (same.has(deed)) continue;
    if (back === null) stays.push(`${words}: it cannot be taken back.`);
    else if (back.length > 0 && changedSince(made, ledger.ours, unsure, board))
      stays.push(`${words}: it was changed since.`);
    else all.push(...back);
  }
  if (ledger.overfull) stays.push(`It did more than ${MOST_DEEDS} things; those after them stay.`);
  const steps = putOnce(all);
  return { steps: steps.map((step, at) => ({ ...step, id: `back-${at + 1}` })), stays };
}

/**
 * What a later one of them puts anew need not be put before: the later one goes in the place of the first that put the same. A mix that still goes
 * on is ended by what comes back on program, before its preview is put: the other way round its end would change both once more.
 */
function putOnce(all: readonly Back[]): Step[] {
  const moved = new Set<Back>();
  return all.flatMap((back, at): Step[] => {
    if (moved.has(back)) return [];
    const later = all.slice(at + 1);
    const anew = new Set(later.flatMap(({ puts }) => puts));
    if (back.puts.length === 0 || !back.puts.every((key) => anew.has(key))) return [back.step];
    const last = later.findLastIndex(
      ({ puts }) => puts.length === back.puts.length && puts.every((key) => back.puts.includes(key)),
    );
    const between = later.slice(0, last);
    const same = later[last];
    // What says nothing of what it puts may go by what stands there: it keeps its place.
    if (same === undefined || moved.has(same) || between.some(({ puts }) => puts.length === 0)) return [];
    moved.add(same);
    return [same.step];
  });
}

/**
 * Deeds after which all is as before: a caption that came and went. Those that share a point count together, since what takes the later one back
 * leads to where the earlier one left it.
 */
function cameToNothing(deeds: readonly Deed[], unsure: ReadonlySet<string>): ReadonlySet<Deed> {
  const groups: { keys: Set<string>; deeds: Deed[] }[] = [];
  for (const deed of deeds) {
    const shared = groups.filter(({ keys }) => [...deed.made.keys()].some((key) => keys.has(key)));
    const merged = {
      keys: new Set([...shared.flatMap(({ keys }) => [...keys]), ...deed.made.keys()]),
      deeds: [...shared.flatMap((group) => group.deeds), deed],
    };
    groups.splice(0, groups.length, ...groups.filter((group) => !shared.includes(group)), merged);
  }
  const nothing = groups.filter(({ keys, deeds: members }) => {
    const first = new Map<string, PlainValue | undefined>();
    const last = new Map<string, PlainValue>();
    for (const { made } of deeds.filter((deed) => members.includes(deed)))
      for (const [key, { before, after }] of made) {
        if (!first.has(key)) first.set(key, before);
        last.set(key, after);
      }
    return keys.size > 0 && [...keys].every((key) => !unsure.has(key) && first.get(key) === last.get(key));
  });
  return new Set(nothing.flatMap((group) => group.deeds));
}

/** Whether a point is neither as the press left it nor as it was before it, as during a mix: then somebody else has had a hand in it. */
const changedSince = (
  made: Deed['made'],
  ours: ReadonlyMap<string, ReadonlySet<PlainValue>>,
  unsure: ReadonlySet<string>,
  board: StateBoard,
): boolean =>
  [...made].some(([key, { before }]) => {
    if (unsure.has(key)) return false;
    const now = board.read(key);
    return now !== UNKNOWN && ours.get(key)?.has(now) !== true && now !== before;
  });
