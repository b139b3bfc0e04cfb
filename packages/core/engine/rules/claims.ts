import { pointsOf } from '../../devices/index';
import { type ReadKey, UNKNOWN } from '../../expression/index';
import type { PlainValue, Step, Trigger } from '../../show/index';
import type { Cancel, Clock } from '../clock';
import { type Deed, DeedLedger, deedOfCommand, deedOfSet } from '../deeds';
import type { ClaimRecord, Journal } from '../journal';
import type { Program } from '../program';
import { resolveArgument, resolveCommand } from '../resolve';
import { boardKey, reachedKey, readerOf, type Scope } from '../scope';
import type { Reader, StateBoard } from '../stateBoard';
import { RULES_LINK_GROUP } from './ruleReader';

/** A device that was told something shows it within this many milliseconds, or it is told again. */
const SHOWN_WITHIN_MS = 1500;
/** What is back within so long was changed by nobody: a device had said something wrong for a moment. */
const BACK_WITHIN_MS = 5000;
/** So often it is looked whether a device that was told something shows it, milliseconds. */
const LOOKS_EVERY_MS = 50;
/** What a rule keeps goes with the values that it names, no faster than this. */
const FOLLOWS_EVERY_MS = 200;
/** After so many tries it is told that a device does not do it. */
const TRIES_TOLD = 3;
/** A device that goes on refusing is told again, more and more rarely: it may be ready in a minute. Tries, and milliseconds between them up to there. */
const AGAIN: readonly (readonly [tries: number, ms: number])[] = [
  [14, SHOWN_WITHIN_MS],
  [40, 5000],
  [Infinity, 30_000],
];
const againAfter = (tries: number): number => AGAIN.find(([most]) => tries < most)?.[1] ?? SHOWN_WITHIN_MS;

/** `entering`: sent, and not shown yet. `up`: the device shows it. `changed`: somebody put something else there, which stands. `unsure`: the device does not say. */
export type PartState = 'entering' | 'up' | 'changed' | 'unsure';

/** One thing that a *while* rule keeps so. */
interface Part {
  readonly step: Step;
  /** Board keys with what they become; empty where the device does not tell. */
  made: readonly (readonly [key: string, value: PlainValue])[];
  /** Device, for whether it answers; null of a show value. */
  readonly device: string | null;
  /** What brings back what stood there before the first claim. */
  readonly base: readonly Step[];
  /** What rules had put there before, where it was not seen yet that this took its place: a device that shows one of these shows nobody else's. */
  over: readonly Part['made'][];
  state: PartState;
  /** When somebody put something else there, engine milliseconds. */
  changedAt?: number | undefined;
  tries: number;
  /** The run that puts it up: before it is over, what its device shows may be from before. */
  run?: string | undefined;
  /** What its expressions said when it was sent last, as JSON; undefined where it has none, or must not be done twice. */
  given?: string | undefined;
}

/** Board key of what a rule holds, as JSON: a rehearsal from the present state begins with it. */
export const claimKey = (trigger: string): string => `claim@${trigger}`;

/** What the board says that rules hold. */
export const claimsOn = (state: ReadonlyMap<string, PlainValue>): ClaimRecord[] =>
  [...state].flatMap(([key, value]) => (key.startsWith('claim@') ? [JSON.parse(String(value)) as ClaimRecord] : []));

/** What a *while* rule holds now. */
export interface Claim {
  readonly trigger: string;
  readonly name: string;
  readonly parts: readonly Part[];
  /** Its rule is gone, or is another one now: it leaves as soon as what its device shows is known. */
  orphan: boolean;
}

/** Left, and its device may still show it: it is taken out until it does not. What comes to the same place is not to bring back what is just going. */
interface Going {
  readonly trigger: string;
  readonly name: string;
  readonly part: Part;
  /** What is to go from there: its own, and what rules had put there before it was seen. */
  readonly shows: readonly Part['made'][];
  tries: number;
  /** When its device was told last, engine milliseconds. */
  sentAt: number;
  cancel: Cancel;
}

/** The name under which what a rule still has to take out stands in the journal. */
export const leavingOf = (trigger: string): string => `${trigger}/leaving`;

export interface ClaimDependencies {
  readonly clock: Clock;
  readonly board: StateBoard;
  readonly journal: Journal;
  readonly program: () => Program;
  /** Runs steps in the name of a rule. @returns the id of the run */
  readonly run: (trigger: string, name: string, steps: readonly Step[], what: 'enter' | 'leave') => string;
  readonly runs: (runId: string) => boolean;
  /** What a rule holds is shown otherwise now. */
  readonly onChange: (trigger: string) => void;
  /** The rule is to be looked at again. */
  readonly again: (trigger: string) => void;
  /** Somebody put something else where a rule holds. @param keys what is other */
  readonly changed: (claim: Claim, keys: readonly string[]) => void;
  /** A device does not show what it was told, or goes on showing what was to go. */
  readonly notDone: (trigger: string, words: string) => void;
}

/**
 * What *while* rules hold: a ledger for each place of a device, in the order in which they came. The last one is shown; when it leaves, the one
 * below it is put up again, and when none is there, what stood before the first.
 */
export class ClaimLedger {
  private readonly claims: Claim[] = [];
  private readonly readers = new Map<Claim, ClaimReader>();
  /** Claims that are looked at in a moment. */
  private readonly soon = new Set<Claim>();
  /** When the values of a claim were looked at last. */
  private readonly followed = new WeakMap<Claim, number>();
  private going: Going[] = [];
  /** Rules of which the journal holds that they have still to take something out. */
  private readonly keptGoing = new Set<string>();

  constructor(private readonly deps: ClaimDependencies) {}

  /** What a rule holds, as it is programmed now. */
  of(trigger: string): Claim | undefined {
    return this.claims.find((claim) => claim.trigger === trigger && !claim.orphan);
  }

  get orphans(): readonly Claim[] {
    return this.claims.filter(({ orphan }) => orphan);
  }

  /** Its rule is gone or another one now. */
  orphan(trigger: string): void {
    for (const claim of this.claims) if (claim.trigger === trigger) claim.orphan = true;
  }

  /** Claims of the engine before: each counts only where its device still shows what it put there. */
  restore(records: readonly ClaimRecord[], there: (trigger: string) => boolean): void {
    for (const { trigger, name, parts: kept, leaving } of records) {
      const parts = kept.map(({ changed, over = [], ...part }): Part => ({
        ...part,
        over,
        state: changed ? 'changed' : 'unsure',
        tries: 0,
      }));
      if (leaving === true) {
        this.keptGoing.add(trigger);
        for (const part of parts) this.goes(trigger, name, part);
        continue;
      }
      const claim: Claim = { trigger, name, parts, orphan: !there(trigger) };
      this.claims.push(claim);
      this.deps.board.set(claimKey(trigger), JSON.stringify({ trigger, name, parts: kept } satisfies ClaimRecord));
      this.watch(claim);
    }
  }

  /** Puts up what a rule keeps. @returns why it cannot be yet; null when it is under way */
  enter({ id, name, steps }: Trigger, scope: Scope): string | null {
    const { board, program } = this.deps;
    const show = program();
    const read = readerOf(board, scope);
    const parts: Part[] = [];
    for (const step of steps) {
      if (step.kind === 'command') {
        const resolved = resolveCommand(step, show, read);
        if (!resolved.ok) return resolved.error.message;
        const { device } = resolved.value;
        const called = show.devices.get(device)?.name ?? device;
        if (board.read(reachedKey(device)) !== true) return `${called} does not answer.`;
        const deed = deedOfCommand(resolved.value, '', show, board.read, new DeedLedger());
        const made = madeIn(deed, device, show);
        const base = this.baseAt(made) ?? deed.back?.map((back) => back.step) ?? null;
        const over = this.standingAt(made);
        if (base === null) return `${called} does not tell what stands there now.`;
        parts.push({ step, made, device, base, over, state: 'entering', tries: 0, given: givenTo(step, show, read) });
      } else if (step.kind === 'set') {
        const to = resolveArgument(step.to, show, read);
        if (!to.ok) return to.error.message;
        const before = board.read(step.target);
        const deed = deedOfSet(step.target, step.target, '', before === UNKNOWN ? undefined : before, to.value);
        const made = [[step.target, to.value] as const];
        const base = this.baseAt(made) ?? deed.back?.map((back) => back.step) ?? [];
        const given = givenTo(step, show, read);
        parts.push({ step, made, device: null, base, over: [], state: 'entering', tries: 0, given });
      }
    }
    const claim: Claim = { trigger: id, name, parts, orphan: false };
    this.claims.push(claim);
    // What was to go from there need not: this one knows what stood before it.
    for (const gone of this.going.filter((candidate) => parts.some((part) => meets(candidate.part, part))))
      this.gone(gone);
    // Before anything goes out: an engine that dies now knows what it was about to hold.
    this.keep(claim);
    this.watch(claim);
    const run = this.deps.run(id, name, steps, 'enter');
    for (const part of parts) part.run = run;
    for (const part of parts) this.lookLater(claim, part);
    this.readers.get(claim)?.wake();
    return null;
  }

  /** What a claim keeps goes with the values that its steps name. What somebody put there in its place stays. */
  follow(claim: Claim, scope: Scope): void {
    const { board, clock, program } = this.deps;
    if (claim.parts.every(({ given }) => given === undefined)) return;
    const now = clock.now();
    const due = (this.followed.get(claim) ?? -Infinity) + FOLLOWS_EVERY_MS;
    if (now < due) {
      clock.at(due, () => this.claims.includes(claim) && this.deps.again(claim.trigger));
      return;
    }
    const show = program();
    const read = readerOf(board, scope);
    const changed: Part[] = [];
    for (const part of claim.parts) {
      const { step, state, given } = part;
      if (given === undefined || state === 'changed' || state === 'unsure') continue;
      const next = givenTo(step, show, read);
      const made = next === undefined || next === given ? null : madeBy(step, show, read, board);
      if (made === null) continue;
      part.given = next;
      part.over = joined([part.made], part.over);
      part.made = made;
      if (this.covered(claim, part)) continue;
      part.state = 'entering';
      part.tries = 0;
      changed.push(part);
    }
    if (changed.length === 0) return;
    this.followed.set(claim, now);
    this.keep(claim);
    this.watchAnew(claim);
    const run = this.deps.run(
      claim.trigger,
      claim.name,
      changed.map(({ step }) => step),
      'enter',
    );
    for (const part of changed) part.run = run;
    for (const part of changed) this.lookLater(claim, part);
  }

  /** Whether what its devices show is known, so that it can leave. */
  mayLeave(claim: Claim): boolean {
    return claim.parts.every(
      (part) => part.state !== 'unsure' || part.made.every(([key]) => this.deps.board.read(key) !== UNKNOWN),
    );
  }

  /** What leaving would send now. */
  ahead(claim: Claim): readonly Step[] {
    return this.wayOut(claim).flatMap(({ steps }) => steps);
  }

  /** Takes back what a rule kept. */
  leave(claim: Claim): readonly Step[] {
    const way = this.wayOut(claim);
    this.forget(claim);
    for (const { part, lower } of way) {
      if (lower !== null) {
        lower.state = 'entering';
        lower.tries = 0;
        lower.over = joined([part.made], part.over);
      } else this.goes(claim.trigger, claim.name, part);
    }
    this.keepGoing(claim.trigger);
    const steps = way.flatMap((item) => item.steps);
    const run = steps.length > 0 ? this.deps.run(claim.trigger, claim.name, steps, 'leave') : undefined;
    for (const { lower } of way) if (lower !== null) lower.run = run;
    for (const other of this.claims)
      for (const part of other.parts) if (way.some(({ lower }) => lower === part)) this.lookLater(other, part);
    return steps;
  }

  /** Gives up what rules hold, and sends nothing. */
  drop(claim: Claim): void {
    this.forget(claim);
  }

  dropAll(): void {
    for (const claim of [...this.claims]) this.drop(claim);
    for (const going of [...this.going]) this.gone(going);
  }

  /** What each part of a claim puts in its place when it goes; parts that nobody sees any more are left out. */
  private wayOut(claim: Claim): { part: Part; steps: readonly Step[]; lower: Part | null }[] {
    const { board } = this.deps;
    const at = this.claims.indexOf(claim);
    return [...claim.parts].reverse().flatMap((part) => {
      if (this.claims.slice(at + 1).some((later) => later.parts.some((other) => meets(other, part)))) return [];
      if (part.state === 'changed') return [];
      const stands = part.made.every(([key, value]) => {
        const now = board.read(key);
        return now === value || now === UNKNOWN;
      });
      if (!stands && part.state !== 'entering') return [];
      const below = this.claims
        .slice(0, at)
        .flatMap((other) => other.parts.filter((candidate) => meets(candidate, part)));
      const lower = below.at(-1) ?? null;
      if (lower?.state === 'changed') return [];
      return [{ part, steps: lower === null ? part.base : [lower.step], lower }];
    });
  }

  /** What rules have put at a place and may still stand there. */
  private standingAt(made: Part['made']): Part['over'] {
    const parts = [...this.going.map(({ part }) => part), ...this.claims.flatMap((claim) => claim.parts)];
    return parts
      .filter((part) => meets(part, { made }))
      .reduce<Part['over']>((all, part) => joined([part.made], part.over, all), []);
  }

  /** Whether a device shows what rules had put there before this part of one. */
  private showsOlder({ over }: Part): boolean {
    return over.some((made) => made.every(([key, value]) => this.deps.board.read(key) === value));
  }

  /** What stood at a place before the first claim on it; undefined where nothing claims it. */
  private baseAt(made: Part['made']): readonly Step[] | undefined {
    const parts = [...this.going.map(({ part }) => part), ...this.claims.flatMap((claim) => claim.parts)];
    return parts.reverse().find((part) => meets(part, { made }))?.base;
  }

  /** Whether another claim lies on top of this part. */
  private covered(claim: Claim, part: Part): boolean {
    return this.claims
      .slice(this.claims.indexOf(claim) + 1)
      .some((later) => later.parts.some((other) => meets(other, part)));
  }

  private watchAnew(claim: Claim): void {
    const reader = this.readers.get(claim);
    if (reader !== undefined) this.deps.board.unsubscribe(reader.keys, reader);
    this.watch(claim);
    this.readers.get(claim)?.wake();
  }

  private watch(claim: Claim): void {
    const keys = new Set<string>();
    const values = this.valuesOf(claim);
    for (const { made, device } of claim.parts) {
      for (const [key] of made) keys.add(key);
      if (device !== null) keys.add(reachedKey(device));
    }
    const reader = new ClaimReader([...keys, ...values], () => {
      this.look(claim);
      if (values.length > 0) this.deps.again(claim.trigger);
    });
    this.readers.set(claim, reader);
    this.deps.board.subscribe(reader.keys, reader);
  }

  /** What the steps of a claim read. What rules put somewhere themselves is left out: they would drive each other. */
  private valuesOf(claim: Claim): string[] {
    const made = new Set(this.claims.flatMap(({ parts }) => parts.flatMap((part) => part.made.map(([key]) => key))));
    return claim.parts
      .flatMap(({ step, given }) => (given === undefined ? [] : readsOf(step, this.deps.program())))
      .map((key) => boardKey(key, RULES_LINK_GROUP))
      .filter((key) => !made.has(key));
  }

  private forget(claim: Claim): void {
    const { clock, journal } = this.deps;
    const at = this.claims.indexOf(claim);
    if (at >= 0) this.claims.splice(at, 1);
    const reader = this.readers.get(claim);
    if (reader !== undefined) this.deps.board.unsubscribe(reader.keys, reader);
    this.readers.delete(claim);
    journal.append({ kind: 'claim', t: clock.now(), trigger: claim.trigger, claim: null });
    this.deps.board.forget(claimKey(claim.trigger));
    // An edited rule may hold anew already what it held before the edit.
    const now = this.of(claim.trigger);
    if (now !== undefined) this.keep(now);
  }

  /** What the devices of a claim show has changed. */
  private look(claim: Claim): void {
    const { board, again } = this.deps;
    for (const part of claim.parts) {
      if (this.covered(claim, part)) continue;
      const now = part.made.map(([key]) => board.read(key));
      if (now.includes(UNKNOWN)) {
        if (part.state === 'up' && part.device !== null && board.read(reachedKey(part.device)) !== true)
          this.becomes(claim, part, 'unsure');
        continue;
      }
      const other = part.made.filter(([, value], at) => now[at] !== value).map(([key]) => key);
      if (other.length === 0) {
        if (part.state === 'unsure') again(claim.trigger);
        // Of what it was told a moment before, such as to take the same out, it may still show nothing.
        if (part.state === 'entering' && this.underWay(part)) this.lookSoon(claim);
        else if (part.state !== 'changed') {
          part.over = [];
          this.becomes(claim, part, 'up');
        } else if (this.deps.clock.now() - (part.changedAt ?? -Infinity) < BACK_WITHIN_MS) {
          this.becomes(claim, part, 'up');
          this.keep(claim);
        }
      } else if (part.state === 'unsure' && this.showsOlder(part)) {
        // What it was told never came through: it still shows what rules had put there, and is told again.
        part.tries = 0;
        this.becomes(claim, part, 'entering');
        this.sendAgain(claim, part);
      } else if (part.state === 'unsure') {
        // It does not show it any more: it counts no longer, and the rule begins anew where its condition still holds.
        this.drop(claim);
        return again(claim.trigger);
      } else if (part.state === 'up') {
        part.state = 'changed';
        part.changedAt = this.deps.clock.now();
        this.keep(claim);
        this.deps.changed(claim, other);
      }
    }
  }

  private sendAgain(claim: Claim, part: Part): void {
    const { clock, board } = this.deps;
    clock.at(clock.now(), () =>
      board.turn(() => {
        if (!this.claims.includes(claim) || part.state !== 'entering' || this.covered(claim, part)) return;
        part.run = this.deps.run(claim.trigger, claim.name, [part.step], 'enter');
        this.lookLater(claim, part);
        this.deps.again(claim.trigger);
      }),
    );
  }

  private underWay({ run }: Part): boolean {
    return run !== undefined && this.deps.runs(run);
  }

  private lookSoon(claim: Claim): void {
    const { clock } = this.deps;
    if (this.soon.has(claim)) return;
    this.soon.add(claim);
    clock.at(clock.now() + LOOKS_EVERY_MS, () => {
      this.soon.delete(claim);
      if (this.claims.includes(claim)) this.look(claim);
    });
  }

  private becomes(claim: Claim, part: Part, state: PartState): void {
    if (part.state === state) return;
    part.state = state;
    this.deps.onChange(claim.trigger);
  }

  /** Tells a device again what it does not show after a while. */
  private lookLater(claim: Claim, part: Part): void {
    const { clock, board } = this.deps;
    if (part.made.length === 0) part.state = 'up';
    clock.at(clock.now() + againAfter(part.tries), () => {
      if (!this.claims.includes(claim) || part.state !== 'entering' || this.covered(claim, part)) return;
      const answers = part.device === null || board.read(reachedKey(part.device)) === true;
      if (!answers || part.made.some(([key]) => board.read(key) === UNKNOWN)) {
        return this.becomes(claim, part, 'unsure');
      }
      part.tries += 1;
      if (part.tries === TRIES_TOLD) this.deps.notDone(claim.trigger, `${this.nameOf(part)} does not show it.`);
      part.run = this.deps.run(claim.trigger, claim.name, [part.step], 'enter');
      this.lookLater(claim, part);
    });
  }

  /** From now on it is seen to that a device does not go on showing what a rule has left. */
  private goes(trigger: string, name: string, part: Part): void {
    // Where somebody had put up the same before, it stays.
    const shows = joined([part.made], part.over).filter((made) => this.becomesOther(part.base, made));
    if (shows.length === 0) return;
    const going: Going = {
      trigger,
      name,
      part,
      shows,
      tries: 0,
      sentAt: this.deps.clock.now(),
      cancel: () => undefined,
    };
    this.going.push(going);
    this.lookWhetherGone(going);
  }

  /** Whether steps make something else of what stands there. */
  private becomesOther(base: readonly Step[], made: Part['made']): boolean {
    const { board, program } = this.deps;
    return base.some((step) =>
      (madeBy(step, program(), board.read, board) ?? []).some(([key, to]) =>
        made.some(([own, value]) => own === key && value !== to),
      ),
    );
  }

  private gone(going: Going): void {
    going.cancel();
    this.going = this.going.filter((candidate) => candidate !== going);
    this.keepGoing(going.trigger);
    if (going.tries >= TRIES_TOLD) this.deps.again(going.trigger);
  }

  /** Tells a device again to take out what it still shows; one that does not say is asked when it does. */
  private lookWhetherGone(going: Going): void {
    const { clock, board, program } = this.deps;
    const { part, trigger, name } = going;
    going.cancel = clock.at(clock.now() + SHOWN_WITHIN_MS, () => {
      const known = part.made.every(([key]) => board.read(key) !== UNKNOWN);
      const still = going.shows.some((made) => made.every(([key, value]) => board.read(key) === value));
      if ((known && !still) || (part.device !== null && !program().devices.has(part.device))) return this.gone(going);
      if (known && clock.now() - going.sentAt >= againAfter(going.tries)) {
        going.tries += 1;
        going.sentAt = clock.now();
        if (going.tries === TRIES_TOLD) this.deps.notDone(trigger, `${this.nameOf(part)} still shows what was to go.`);
        this.deps.run(trigger, name, part.base, 'leave');
      }
      this.lookWhetherGone(going);
    });
  }

  private nameOf({ device }: Part): string {
    return this.deps.program().devices.get(device ?? '')?.name ?? 'The show';
  }

  /** An engine that dies now knows what it has still to take out. */
  private keepGoing(trigger: string): void {
    const { clock, journal } = this.deps;
    const own = this.going.filter((candidate) => candidate.trigger === trigger);
    const [first] = own;
    if (first === undefined && !this.keptGoing.delete(trigger)) return;
    if (first !== undefined) this.keptGoing.add(trigger);
    journal.append({
      kind: 'claim',
      t: clock.now(),
      trigger: leavingOf(trigger),
      claim:
        first === undefined
          ? null
          : { trigger, name: first.name, leaving: true, parts: own.map(({ part }) => recordOf(part)) },
    });
  }

  private keep({ trigger, name, parts }: Claim): void {
    const { board, clock, journal } = this.deps;
    const claim: ClaimRecord = {
      trigger,
      name,
      parts: parts.map(recordOf),
    };
    journal.append({ kind: 'claim', t: clock.now(), trigger, claim });
    board.set(claimKey(trigger), JSON.stringify(claim));
  }
}

/** Of what a place may still show so much is kept. */
const MOST_OLDER = 6;

function joined(...lists: readonly Part['over'][]): Part['over'] {
  const all = new Map(lists.flat().map((made) => [JSON.stringify(made), made]));
  return [...all.values()].slice(0, MOST_OLDER);
}

const recordOf = ({ step, made, device, base, over, state, given }: Part): ClaimRecord['parts'][number] => ({
  step,
  made,
  device,
  base,
  ...(over.length === 0 ? {} : { over }),
  changed: state === 'changed',
  ...(given === undefined ? {} : { given }),
});

/** Whether a point goes on while what shows it stays the same. */
function counts(key: string, device: string, program: Program): boolean {
  const { devices, document } = program;
  const known = devices.get(device);
  return known !== undefined && pointsOf(known, document)[key.slice(device.length + 1)]?.counts === true;
}

/** Arguments of a step that are worked out. */
const computed = (step: Step): readonly string[] =>
  (step.kind === 'command' ? Object.values(step.params) : step.kind === 'set' ? [step.to] : []).flatMap((argument) =>
    typeof argument === 'object' ? [argument.cel] : [],
  );

const readsOf = (step: Step, program: Program): string[] =>
  computed(step).flatMap((text) => program.expression(text)?.reads ?? []);

/** What the expressions of a step say now; undefined where it has none, where that is not known, or where doing it again would be another thing. */
function givenTo(step: Step, program: Program, read: ReadKey): string | undefined {
  if (computed(step).length === 0) return undefined;
  if (step.kind === 'set') {
    const to = resolveArgument(step.to, program, read);
    return to.ok ? JSON.stringify(to.value) : undefined;
  }
  if (step.kind !== 'command') return undefined;
  const resolved = resolveCommand(step, program, read);
  return resolved.ok && resolved.value.definition.repeatable
    ? JSON.stringify(resolved.value.command.params)
    : undefined;
}

/** What a step puts where, as its expressions are now; null where that cannot be worked out. */
function madeBy(step: Step, program: Program, read: ReadKey, board: StateBoard): Part['made'] | null {
  if (step.kind === 'set') {
    const to = resolveArgument(step.to, program, read);
    return to.ok ? [[step.target, to.value]] : null;
  }
  if (step.kind !== 'command') return null;
  const resolved = resolveCommand(step, program, read);
  if (!resolved.ok) return null;
  const { device } = resolved.value;
  return madeIn(deedOfCommand(resolved.value, '', program, board.read, new DeedLedger()), device, program);
}

const madeIn = (deed: Deed, device: string, program: Program): Part['made'] =>
  [...deed.made].flatMap(([key, { after }]) => (counts(key, device, program) ? [] : [[key, after] as const]));

const meets = (pick: Pick<Part, 'made'>, other: Pick<Part, 'made'>): boolean =>
  pick.made.some(([key]) => other.made.some(([same]) => same === key));

class ClaimReader implements Reader {
  constructor(
    readonly keys: readonly string[],
    readonly wake: () => void,
  ) {}
}
