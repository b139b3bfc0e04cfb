import { UNKNOWN } from '../expression/index';
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
  /** A move that goes on until it is told to end: its release ends it, and does not swing back. */
  readonly drives: boolean;
  /** The device refused it: nothing came of it. */
  refused: boolean;
}

/** What a press did, in order, for as long as somebody may want it back. What stands inside a part of it is also told to the whole. */
export class DeedLedger {
  private readonly deeds: Deed[] = [];
  /** What was put last, by board key: news of it may still be on its way. */
  private readonly put = new Map<string, { readonly before: PlainValue | undefined; readonly after: PlainValue }>();
  private tooMany = false;
  /** The engine's time of the latest one, milliseconds; null when there is none. */
  lastAt: number | null = null;

  constructor(private readonly whole: DeedLedger | null = null) {}

  add(deed: Deed, now: number): void {
    this.lastAt = now;
    if (this.again(deed)) return;
    for (const [key, made] of deed.made) this.put.set(key, made);
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
    const one = { ...last, made: new Map([[key, made]]) };
    this.deeds[this.deeds.length - 1] = one;
    this.put.set(key, made);
    this.whole?.add(deed, this.lastAt ?? 0);
    return true;
  }

  /** A point as it is once the device has told what came of the deeds so far. @param now as the board has it */
  ahead(key: string, now: PlainValue | undefined): PlainValue | undefined {
    const made = this.put.get(key);
    return made !== undefined && made.before === now ? made.after : now;
  }

  get all(): readonly Deed[] {
    return this.deeds;
  }

  get overfull(): boolean {
    return this.tooMany;
  }
}

/** A command as it goes out, with what undoes it as its device stands at this moment. Call it before the board forgets what the command unsettles. */
export function deedOfCommand(
  { device, definition, command }: ResolvedCommand,
  words: string,
  program: Program,
  board: StateBoard,
  ledger: DeedLedger,
): Deed {
  const read = (point: string): PlainValue | undefined => {
    const key = `${device}.${point}`;
    const value = board.read(key);
    return ledger.ahead(key, value === UNKNOWN ? undefined : value);
  };
  const { effect } = definition;
  const made = new Map<string, { before: PlainValue | undefined; after: PlainValue }>();
  for (const [point, after] of Object.entries(effect?.makes(command.params, read) ?? {}))
    made.set(`${device}.${point}`, { before: read(point), after });
  const undo = effect?.undo(command.params, read) ?? null;
  const back =
    undo?.map((one): Back => {
      const meant = program.kindOf(device)?.commands[one.command];
      // Devices count sources by number; a step names one by what the device told.
      const params = Object.fromEntries(
        Object.entries(one.params).map(([key, value]) => [
          key,
          typeof value === 'number' && meant !== undefined && referenceOf(meant, key) === 'source'
            ? `input:${value}`
            : value,
        ]),
      );
      return {
        step: { id: 'back', onFail: 'goOn', kind: 'command', device, command: one.command, params },
        puts: Object.keys(meant?.effect?.makes(one.params, read) ?? {}).map((point) => `${device}.${point}`),
      };
    }) ?? null;
  const drives = definition.endedBy !== undefined && command.params.forSeconds === undefined;
  return { words, made, back, drives, refused: false };
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
  const last = new Map<string, PlainValue>();
  for (const { made } of deeds) for (const [key, { after }] of made) last.set(key, after);
  const covered = new Set<string>();
  const kept: Deed[] = [];
  for (const deed of deeds) {
    // An earlier deed that brings the same points back to what stood before it does for this one as well.
    const within = deed.made.size > 0 && [...deed.made.keys()].every((key) => covered.has(key));
    if (within) continue;
    kept.push(deed);
    if (deed.back !== null) for (const key of deed.made.keys()) covered.add(key);
  }
  for (const { words, made, back } of kept.reverse()) {
    if ([...made].length > 0 && [...made].every(([key, { before }]) => last.get(key) === before)) continue;
    if (back === null) stays.push(`${words}: it cannot be taken back.`);
    else if (back.length > 0 && changedSince(made, last, board)) stays.push(`${words}: it was changed since.`);
    else all.push(...back);
  }
  if (ledger.overfull) stays.push(`It did more than ${MOST_DEEDS} things; those after them stay.`);
  // What a later one of them puts anew need not be put before.
  const steps = all.flatMap(({ step, puts }, at) => {
    const anew = new Set(all.slice(at + 1).flatMap((one) => one.puts));
    return puts.length > 0 && puts.every((key) => anew.has(key)) ? [] : [step];
  });
  return { steps: steps.map((step, at) => ({ ...step, id: `back-${at + 1}` })), stays };
}

/** Whether a point is neither as the press left it nor as it was before it, as during a mix: then somebody else has had a hand in it. */
const changedSince = (made: Deed['made'], last: ReadonlyMap<string, PlainValue>, board: StateBoard): boolean =>
  [...made].some(([key, { before }]) => {
    const now = board.read(key);
    return now !== UNKNOWN && now !== last.get(key) && now !== before;
  });
