import { UNKNOWN } from '../../expression/index';
import { type AppError, fail, ok, type Result, type Step, type Trigger } from '../../show/index';
import type { Cancel, Clock } from '../clock';
import type { Counting } from '../counting';
import type { ClaimRecord, Journal } from '../journal';
import type { MacroRunner } from '../macroRunner';
import type { Program } from '../program';
import { reachedKey, readerFor, type Scope } from '../scope';
import type { StateBoard } from '../stateBoard';
import type { Causes, Fired } from './causes';
import { type Claim, ClaimLedger } from './claims';
import { ClockWatch } from './clockWatch';
import { FollowRule, followSteps } from './followRule';
import { type Edge, RuleReader, RULES_LINK_GROUP } from './ruleReader';
import {
  armedKey,
  type ByHand,
  holdsKey,
  keptOffKey,
  type RuleEdge,
  ruleKey,
  RULES_ARMED,
  RULES_HOLD,
  type RuleView,
  type WhyEntry,
} from './ruleView';
import { WentBy } from './wentBy';
import { keyWords } from './words';

/** A rule does not fire twice in one chain of causes within this many milliseconds. */
export const CHAIN_MS = 2000;
/** A rule fires so often in a second and no more: the rest is told and left out. */
export const MOST_A_SECOND = 20;
/** A *while* rule that comes and goes more often than this in a second waits until the second is over. */
const MOST_TURNS_A_SECOND = 6;
/** A *while* rule that led to itself so often in one chain goes in a circle. */
const MOST_ROUNDS = 3;
/** What a *while* rule waits for is asked again after so many milliseconds. */
const RETRY_MS = 500;
/** So many rules that hold are named; of more, their number is told. */
const MOST_NAMED = 3;
/** Of each rule so many events are kept. */
export const MOST_EDGES = 50;
/** So many events are served in one instant; presses go between. */
const SERVED_AT_ONCE = 50;
/** A time of day that is further past than this when it is looked at was jumped over, milliseconds. */
const TOO_LATE_MS = 5000;

export interface RuleDependencies {
  readonly clock: Clock;
  readonly board: StateBoard;
  readonly counting: Counting;
  readonly journal: Journal;
  readonly causes: Causes;
  readonly runner: MacroRunner;
  readonly program: () => Program;
  readonly onTrouble: (where: string, error: unknown) => void;
  /** Why a key is what it is now. */
  readonly why: (key: string) => readonly WhyEntry[];
  /** False in a rehearsal: no microphone hears anybody there, and that is no silence. */
  readonly hears: boolean;
}

interface State {
  readonly edges: RuleEdge[];
  lastFired: number | null;
  lastWords: string;
  /** Why a *while* rule does not hold although its condition does; empty: nothing. */
  waiting: string;
  retry: Cancel;
  /** Engine times of the last second in which it fired, or came and went. */
  recent: number[];
  runId: string | null;
  /** Events left out since one was told. */
  leftOut: number;
  /** Counts whatever was told of it. */
  reportedAt: number;
}

/** An event whose run is yet to begin. */
type Told = Omit<RuleEdge, 'runId'> & { runId?: string };

/** An event that waits to be served, with what its rule read when it came. */
interface Happening {
  readonly reader: RuleReader;
  readonly read: readonly string[];
}

/** Where the delay of a rule stands among the steps of its run. */
const DELAY_PATH = 'steps.0';

const NOTHING: Cancel = () => undefined;

/**
 * What a show does by itself. Publication only queues what became of conditions; a turn of its own serves it, so that nothing has effects inside
 * publication, and presses go between.
 */
export class Rules {
  private readonly readers = new Map<string, RuleReader>();
  private readonly states = new Map<string, State>();
  private readonly times: ClockWatch;
  private readonly wentBy: WentBy;
  private readonly follows = new Map<string, FollowRule>();
  /** *Follow* rules to be looked at. */
  private readonly heard = new Set<string>();
  private readonly claims: ClaimLedger;
  /** Events of *when* rules in the order in which they came. */
  private queue: Happening[] = [];
  /** *While* rules to be looked at. */
  private readonly dirty = new Set<string>();
  private serving = false;
  /** *While* rules of a rehearsal, which hold whatever their conditions say. */
  private readonly tried = new Set<string>();
  /** Rules that went by something that became other. */
  private readonly turned = new Set<string>();
  /** Rules that were armed before all were disarmed at once. */
  private armedBefore: readonly string[] = [];

  constructor(
    private readonly deps: RuleDependencies,
    restored: readonly ClaimRecord[] = [],
  ) {
    this.claims = new ClaimLedger({
      clock: deps.clock,
      board: deps.board,
      journal: deps.journal,
      program: deps.program,
      run: (trigger, name, steps, what) => this.run(trigger, name, steps, what),
      runs: (runId) => deps.runner.has(runId),
      onChange: (trigger) => this.show(trigger),
      again: (trigger) => this.lookAgain(trigger),
      changed: (claim, keys) => this.changedBySomebody(claim, keys),
      notDone: (trigger, words) => this.waits(trigger, words),
    });
    this.wentBy = new WentBy({
      clock: deps.clock,
      board: deps.board,
      journal: deps.journal,
      now: (trigger) => this.readers.get(trigger)?.now ?? UNKNOWN,
      missed: (trigger, what) => this.missed(trigger, what),
      turned: (trigger) => this.lookAtTurned(trigger),
    });
    this.times = new ClockWatch({
      clock: deps.clock,
      zone: () => deps.program().document.show.timeZone,
      due: (trigger, at) => deps.hears && this.wentBy.keepTime(trigger, at),
      struck: (trigger, late) => deps.board.turn(() => this.alone(trigger.id, () => this.struck(trigger, late))),
      cannot: (trigger, words) => this.waits(trigger, words),
    });
    const program = deps.program();
    this.claims.restore(restored, (trigger) => program.triggers.has(trigger));
    for (const id of program.triggers.keys()) this.wentBy.restore(id);
    for (const trigger of program.triggers.values()) this.begin(trigger);
    this.sum();
  }

  /** Goes over to an edited show. What a rule holds that is gone, or is another one now, leaves. */
  follow(before: Program, program: Program): void {
    const profiles = before.document.profiles !== program.document.profiles;
    const zone = before.document.show.timeZone !== program.document.show.timeZone;
    const rig = before.document.devices !== program.document.devices;
    if (before.document.triggers === program.document.triggers && !profiles && !zone && !rig) return;
    for (const [id, reader] of [...this.readers]) {
      const next = program.triggers.get(id);
      if (next === reader.trigger && !profiles && !zone && !rig) continue;
      // A device that got another address ends neither what a hand did to it nor what it was about to take.
      if (next === reader.trigger && this.follows.has(id)) {
        this.hearAgain(id);
        continue;
      }
      this.end(id);
      if (next === undefined || keeps(next) !== keeps(reader.trigger)) {
        this.claims.orphan(id);
        this.lookAgain(id);
      }
    }
    for (const trigger of program.triggers.values()) if (!this.readers.has(trigger.id)) this.begin(trigger);
    this.sum();
  }

  /** Arms and disarms every rule as it is set in it: another show was opened, or the show begins. */
  atStart(): { readonly armed: number; readonly disarmed: number } {
    const counts = { armed: 0, disarmed: 0 };
    for (const trigger of this.deps.program().triggers.values()) {
      if (trigger.atStart === 'asLeft') continue;
      const armed = trigger.atStart === 'armed';
      counts[trigger.atStart] += 1;
      if (this.isArmed(trigger.id) !== armed) this.arm(trigger.id, armed);
    }
    return counts;
  }

  /** Every rule of the show, in no order. */
  list(): RuleView[] {
    return [...this.readers.keys()].map((id) => this.view(id));
  }

  view(id: string): RuleView {
    const { edges, lastFired, lastWords, waiting } = this.stateOf(id);
    const fault = this.deps.program().faultOf(id);
    const silent = this.silentOf(id) ?? this.troubleOf(id);
    return {
      id,
      armed: this.isArmed(id),
      state: this.stateNow(id),
      lastFired,
      lastWords: fault?.message ?? silent ?? (waiting === '' ? this.follows.get(id)?.words || lastWords : waiting),
      edges,
    };
  }

  /** Why a condition cannot be worked out, in words; null where it can, or nothing of it is known. */
  private troubleOf(id: string): string | null {
    const trouble = this.readers.get(id)?.trouble ?? null;
    return trouble === null ? null : `Its condition cannot be worked out: ${trouble}`;
  }

  /** The device that does not say whether it still shows what a rule holds, in words; null: there is none. */
  private silentOf(id: string): string | null {
    const { board } = this.deps;
    const part = this.claims.of(id)?.parts.find(({ state }) => state === 'unsure');
    if (part?.device === undefined || part.device === null) return null;
    const name = this.deps.program().devices.get(part.device)?.name ?? part.device;
    return board.read(reachedKey(part.device)) === true
      ? `${name} has not said yet what it shows.`
      : `${name} does not answer.`;
  }

  /** What a *while* rule would send if it were disarmed now, as steps. */
  leavingAhead(id: string): readonly Step[] {
    const claim = this.claims.of(id);
    return claim === undefined ? [] : this.claims.ahead(claim);
  }

  /** Rules that were armed when all were disarmed at once. */
  get armableAgain(): readonly string[] {
    return this.armedBefore.filter((id) => this.readers.has(id) && !this.isArmed(id));
  }

  isArmed(id: string): boolean {
    return this.deps.board.read(armedKey(id)) === true;
  }

  /** A rule may fire from now on, or may not. What a *while* rule holds it takes back. @param by left out: the show itself */
  arm(id: string, armed: boolean, by?: ByHand): void {
    const { board, clock, journal } = this.deps;
    const trigger = this.deps.program().triggers.get(id);
    if (trigger === undefined || this.isArmed(id) === armed) return;
    board.set(armedKey(id), armed);
    journal.append({ kind: 'set', t: clock.now(), key: armedKey(id), value: armed });
    const who = by === undefined ? '' : ` by ${nameOf(by)}`;
    const state = this.stateOf(id);
    state.lastWords = `${armed ? 'Armed' : 'Disarmed'}${who}.`;
    state.waiting = '';
    this.tell(trigger, armed ? 'armed' : 'disarmed', state.lastWords, by);
    this.show(id);
    if (!armed) this.callBack(trigger);
    if (trigger.kind === 'while') this.lookAgain(id);
    this.follows.get(id)?.look();
    this.sum();
  }

  /** What still waits for its delay, or for a camera, does not begin any more. */
  private callBack({ id, delayMs }: Trigger): void {
    const { runner } = this.deps;
    this.follows.get(id)?.end('Its trigger was disarmed.');
    const { runId } = this.stateOf(id);
    if (delayMs === 0 || runId === null) return;
    if (runner.list().some((run) => run.runId === runId && run.stepPath === DELAY_PATH))
      runner.stop(runId, 'Its trigger was disarmed.');
  }

  /** All at once: none fires any more, and what *while* rules hold stays as it is, without them. */
  disarmAll(by: ByHand): number {
    const { board, clock, journal } = this.deps;
    const armed = [...this.readers.keys()].filter((id) => this.isArmed(id));
    if (armed.length > 0) this.armedBefore = armed;
    this.claims.dropAll();
    this.queue = [];
    for (const id of armed) {
      board.set(armedKey(id), false);
      journal.append({ kind: 'set', t: clock.now(), key: armedKey(id), value: false });
      const state = this.stateOf(id);
      state.waiting = '';
      state.lastWords = `Disarmed by ${nameOf(by)}, with all others.`;
      const trigger = this.readers.get(id)?.trigger;
      if (trigger !== undefined) this.callBack(trigger);
      this.follows.get(id)?.look();
      this.show(id);
    }
    this.sum();
    return armed.length;
  }

  /**
   * A rule does its steps now, whatever its condition says.
   * @param chain triggers that led to it, where a run fires it
   */
  fire(id: string, by: ByHand, chain: readonly Fired[] = []): Result<string, AppError> {
    const { clock } = this.deps;
    const program = this.deps.program();
    const trigger = program.triggers.get(id);
    if (trigger === undefined)
      return fail({ code: 'unknown-trigger', message: `There is no trigger ${id}.`, mend: 'Load the list again.' });
    if (trigger.kind !== 'when')
      return fail({
        code: `${trigger.kind}-rule`,
        message: `${trigger.name} is a ${trigger.kind} rule: it goes by ${trigger.kind === 'while' ? 'its condition' : 'who talks'}.`,
        mend: 'Arm it, or rehearse it.',
      });
    const fault = program.faultOf(id);
    if (fault !== undefined) return fail({ code: 'broken-trigger', message: fault.message, mend: fault.mend });
    const round = this.roundOf(trigger, chain);
    if (round !== null) {
      this.didNot(trigger, round, [], undefined);
      return fail({
        code: 'trigger-circle',
        message: `${trigger.name}: ${round}`,
        mend: 'Take one of the steps out that lead there.',
      });
    }
    const words = `Fired by ${nameOf(by)}.`;
    this.deps.causes.fires(id, [...chain, { trigger: id, t: clock.now() }].slice(-MOST_EDGES));
    const edge = this.note(trigger, { t: clock.now(), what: 'fired', words, read: [], by });
    this.tell(trigger, 'fired', words, by);
    const runId = this.start(trigger, trigger.steps, by.rank);
    edge.runId = runId;
    return ok(runId);
  }

  /**
   * What a rule would do, in a rehearsal: a *while* rule as if its condition held for so long, milliseconds.
   * @returns why it cannot be; null when it is under way
   */
  rehearse(id: string, holdMs: number): string | null {
    const { clock, board } = this.deps;
    const program = this.deps.program();
    const trigger = program.triggers.get(id);
    if (trigger === undefined) return 'The trigger is gone.';
    const fault = program.faultOf(id);
    if (fault !== undefined) return fault.message;
    if (trigger.kind === 'when') {
      this.does(trigger, [], 'Rehearsed.', [], undefined);
      return null;
    }
    if (trigger.kind === 'follow') {
      this.start(trigger, followSteps(trigger, program.document));
      return null;
    }
    this.tried.add(id);
    // What it holds already it holds anew: what stood before it stays what it was.
    const held = this.claims.of(id);
    const waits = this.claims.enter(trigger, this.scope());
    if (waits !== null) return waits;
    if (held !== undefined) this.claims.drop(held);
    clock.at(clock.now() + holdMs, () =>
      board.turn(() => {
        this.tried.delete(id);
        const claim = this.claims.of(id);
        if (claim !== undefined) this.claims.leave(claim);
      }),
    );
    return null;
  }

  private begin(trigger: Trigger): void {
    const { board, clock, journal } = this.deps;
    if (board.read(armedKey(trigger.id)) === UNKNOWN) {
      const armed = trigger.atStart === 'armed';
      board.set(armedKey(trigger.id), armed);
      journal.append({ kind: 'set', t: clock.now(), key: armedKey(trigger.id), value: armed });
    }
    const reader = new RuleReader(
      trigger,
      board,
      this.deps.program(),
      this.deps.counting,
      (ruleReader, edge) => this.edge(ruleReader, edge),
      // Its turn may have come just while a command had made it unknown: nobody else looks at it then.
      (ruleReader) => ruleReader.trigger.kind === 'while' && this.lookAgain(ruleReader.trigger.id),
      // Not in the middle of publication, and not before it is one of the rules.
      ({ trigger: { id } }) => clock.at(clock.now(), () => board.turn(() => this.readers.has(id) && this.show(id))),
    );
    this.readers.set(trigger.id, reader);
    if (trigger.kind === 'follow' && trigger.on.kind === 'voices' && this.deps.hears)
      this.follows.set(trigger.id, this.followRule(trigger));
    board.set(holdsKey(trigger.id), this.stateNow(trigger.id) === 'holds');
    if (trigger.kind === 'while') this.lookAgain(trigger.id);
    if (trigger.on.kind === 'time') {
      const wall = clock.wall().getTime();
      this.wentBy.beginsAt(trigger, wall);
      this.times.watch(trigger, wall);
    } else if (trigger.kind === 'when') this.wentBy.known(trigger);
  }

  /** What happened while the engine was away is told, and not done. */
  private missed(trigger: Trigger, what: string): void {
    if (this.isArmed(trigger.id))
      this.didNot(trigger, `${what} while the engine was away: nothing was done.`, [], undefined);
  }

  private lookAtTurned(id: string): void {
    if (!this.deps.hears) return;
    this.turned.add(id);
    this.serveSoon();
  }

  private end(id: string): void {
    this.readers.get(id)?.close();
    this.readers.delete(id);
    this.times.end(id);
    this.wentBy.end(id);
    this.states.get(id)?.retry();
    this.turned.delete(id);
    this.dirty.delete(id);
    this.heard.delete(id);
    this.follows.get(id)?.close();
    this.follows.delete(id);
    this.queue = this.queue.filter(({ reader }) => reader.trigger.id !== id);
  }

  /** What a *follow* rule does, and what it tells. */
  private followRule(trigger: Trigger): FollowRule {
    const { clock, board, runner, causes } = this.deps;
    const { id, name } = trigger;
    this.hearAgain(id);
    return new FollowRule(
      trigger,
      {
        clock,
        board,
        again: () => this.hearAgain(id),
        program: this.deps.program,
        armed: () => this.isArmed(id),
        runs: (runId) => runner.has(runId),
        stop: (runId, why) => runner.stop(runId, why),
        take: (steps, words, level, onEnd) => {
          const t = clock.now();
          causes.fires(id, [{ trigger: id, t }]);
          const read = level === undefined ? [] : [keyWords(level, board.read(level), this.deps.program())];
          const edge = this.note(trigger, { t, what: 'fired', words, read, key: level });
          this.tell(trigger, 'fired', words, undefined, level);
          edge.runId = this.start(trigger, steps, undefined, onEnd);
          return edge.runId;
        },
        ahead: (steps, source) => void this.run(id, name, steps, 'ahead', source),
        overruled: (words) => {
          const key = trigger.on.kind === 'voices' ? `${trigger.on.switcher}.program` : undefined;
          this.note(trigger, { t: clock.now(), what: 'changed', words, read: [], key });
          this.tell(trigger, 'changed', words, undefined, key);
        },
        keptOff: (forMs) => {
          const value = forMs === 0 ? 0 : clock.wall().getTime() + forMs;
          board.set(keptOffKey(id), value);
          this.deps.journal.append({ kind: 'set', t: clock.now(), key: keptOffKey(id), value });
        },
        onChange: () => {
          this.show(id);
          this.sum();
        },
      },
      this.keptOffUntil(trigger),
    );
  }

  /** Until when a hand keeps a *follow* rule off, milliseconds of the engine's clock. A clock that was set meanwhile keeps it off no longer than the rule says. */
  private keptOffUntil({ id, on }: Trigger): number | undefined {
    const { clock, board } = this.deps;
    const until = board.read(keptOffKey(id));
    if (typeof until !== 'number' || on.kind !== 'voices') return undefined;
    const left = until - clock.wall().getTime();
    return left <= 0 ? undefined : clock.now() + Math.min(left, on.holdOffMs);
  }

  private hearAgain(id: string): void {
    this.heard.add(id);
    this.serveSoon();
  }

  private stateOf(id: string): State {
    let state = this.states.get(id);
    if (state === undefined) {
      state = {
        edges: [],
        lastFired: null,
        lastWords: '',
        waiting: '',
        retry: NOTHING,
        recent: [],
        runId: null,
        leftOut: 0,
        reportedAt: 0,
      };
      this.states.set(id, state);
    }
    return state;
  }

  /** Within publication: what a rule goes by has become something else. Nothing is done here. */
  private edge(reader: RuleReader, edge: Edge): void {
    const { trigger } = reader;
    if (trigger.kind === 'while') return this.lookAgain(trigger.id);
    if (trigger.on.kind === 'turns') this.lookAtTurned(trigger.id);
    // What could not be told before has not turned.
    if (edge.from === UNKNOWN) return;
    if (trigger.on.kind === 'turns' && edge.to !== trigger.on.to) return;
    const state = this.stateOf(trigger.id);
    const now = this.deps.clock.now();
    state.recent = state.recent.filter((t) => now - t < 1000);
    if (state.recent.length >= MOST_A_SECOND) {
      state.leftOut += 1;
      return;
    }
    state.recent.push(now);
    this.queue.push({ reader, read: this.readNow(reader) });
    this.serveSoon();
  }

  private lookAgain(id: string): void {
    this.dirty.add(id);
    this.serveSoon();
  }

  private serveSoon(): void {
    if (this.serving) return;
    this.serving = true;
    const { clock, board } = this.deps;
    clock.at(clock.now(), () => {
      this.serving = false;
      board.turn(() => this.serve());
    });
  }

  private serve(): void {
    const served = this.queue.splice(0, SERVED_AT_ONCE);
    for (const item of served) this.alone(item.reader.trigger.id, () => this.happened(item));
    if (this.queue.length > 0) this.serveSoon();
    const heard = [...this.heard];
    this.heard.clear();
    for (const id of heard) this.alone(id, () => this.follows.get(id)?.look());
    const turned = [...this.turned];
    this.turned.clear();
    for (const id of turned)
      this.alone(id, () => {
        const reader = this.readers.get(id);
        if (reader !== undefined) this.wentBy.look(reader.trigger);
      });
    const ids = [...this.dirty];
    this.dirty.clear();
    // What comes goes before what leaves: on one place the one takes over from the other without a gap.
    for (const id of ids) this.alone(id, () => this.mayEnter(id));
    for (const id of ids) this.alone(id, () => this.mayLeave(id));
    if (ids.length > 0) this.sum();
  }

  /** A rule that throws fails alone. */
  private alone(id: string, work: () => void): void {
    try {
      work();
    } catch (error) {
      this.deps.onTrouble(`trigger ${this.readers.get(id)?.trigger.name ?? id}`, error);
    }
  }

  /** The event of a *when* rule has come. */
  private happened({ reader, read }: Happening): void {
    const { trigger } = reader;
    const { clock, causes } = this.deps;
    const now = clock.now();
    const key = this.keyOf(reader);
    const words = readWords(read);
    const chain = key === undefined ? [] : causes.chainTo(key);
    const against = this.speaksAgainst(trigger, chain);
    if (against !== null) return this.didNot(trigger, against, read, key);
    this.does(trigger, [...chain, { trigger: trigger.id, t: now }], words, read, key);
  }

  private does(
    trigger: Trigger,
    chain: readonly Fired[],
    words: string,
    read: readonly string[],
    key: string | undefined,
  ): void {
    const state = this.stateOf(trigger.id);
    if (trigger.again === 'ignore' && state.runId !== null && this.deps.runner.has(state.runId))
      return this.didNot(trigger, 'Its steps were still running.', read, key);
    this.deps.causes.fires(trigger.id, chain.slice(-MOST_EDGES));
    const delay: Step[] =
      trigger.delayMs === 0 ? [] : [{ id: 'delay', onFail: 'stop', kind: 'pause', length: { ms: trigger.delayMs } }];
    const sentence = state.leftOut === 0 ? words : `${words} ${state.leftOut} more came too fast and were left out.`;
    state.leftOut = 0;
    // Told before its steps begin: what they do comes after it.
    const edge = this.note(trigger, { t: this.deps.clock.now(), what: 'fired', words: sentence, read, key });
    this.tell(trigger, 'fired', sentence, undefined, key);
    edge.runId = this.start(trigger, [...delay, ...trigger.steps]);
  }

  /** Why an event comes to nothing; null: nothing speaks against it. */
  private speaksAgainst(trigger: Trigger, chain: readonly Fired[]): string | null {
    const { clock, board } = this.deps;
    const program = this.deps.program();
    const { id, onlyIf, minGapMs } = trigger;
    if (!this.isArmed(id)) return 'It is disarmed.';
    const fault = program.faultOf(id);
    if (fault !== undefined) return fault.message;
    const now = clock.now();
    const round = this.roundOf(trigger, chain);
    if (round !== null) return round;
    if (onlyIf !== '') {
      const holds = program.expression(onlyIf)?.evaluate(readerFor(board, RULES_LINK_GROUP));
      if (holds !== true)
        return holds === false ? 'Its "only if" did not hold.' : 'It was not known whether its "only if" held.';
    }
    const { lastFired } = this.stateOf(id);
    if (lastFired !== null && now - lastFired < minGapMs)
      return `It had fired ${tenths(now - lastFired)} before; ${tenths(minGapMs)} have to pass.`;
    return null;
  }

  /** How a rule led to itself a moment ago, in words; null: it did not. */
  private roundOf(trigger: Trigger, chain: readonly Fired[]): string | null {
    const now = this.deps.clock.now();
    const again = chain.find((fired) => fired.trigger === trigger.id && now - fired.t < CHAIN_MS);
    if (again === undefined) return null;
    const { triggers } = this.deps.program();
    const names = chain.slice(chain.indexOf(again)).map((fired) => triggers.get(fired.trigger)?.name ?? '…');
    return `It led to itself: ${[...names, trigger.name].join(', then ')}. It was stopped there.`;
  }

  private didNot(trigger: Trigger, why: string, read: readonly string[], key: string | undefined): void {
    const state = this.stateOf(trigger.id);
    const last = state.edges.at(-1);
    this.note(trigger, { t: this.deps.clock.now(), what: 'notFired', words: why, read, key });
    // The same again and again is told once in the as-run; the rule itself keeps each.
    if (last?.what === 'notFired' && last.words === why) return;
    this.tell(trigger, 'notFired', why, undefined, key);
  }

  private mayEnter(id: string): void {
    const reader = this.readers.get(id);
    if (reader?.trigger.kind !== 'while') return;
    const state = this.stateOf(id);
    if (!this.isArmed(id) || reader.now !== true) return this.waits(id, '');
    const claim = this.claims.of(id);
    if (claim !== undefined) return this.claims.follow(claim, this.scope());
    const { clock, causes } = this.deps;
    const fault = this.deps.program().faultOf(id);
    if (fault !== undefined) return;
    if (this.tooOften(id, state)) return;
    const now = clock.now();
    const key = this.keyOf(reader);
    const chain = (key === undefined ? [] : causes.chainTo(key)).filter((fired) => now - fired.t < CHAIN_MS);
    if (chain.filter((fired) => fired.trigger === id).length >= MOST_ROUNDS) {
      const names = [...new Set(chain.map((fired) => this.deps.program().triggers.get(fired.trigger)?.name ?? '…'))];
      this.arm(id, false);
      state.lastWords = `It went in a circle with itself: ${names.join(', then ')}. It was disarmed.`;
      return this.tell(reader.trigger, 'disarmed', state.lastWords, undefined, key);
    }
    causes.fires(id, [...chain, { trigger: id, t: now }]);
    const waits = this.claims.enter(reader.trigger, this.scope());
    if (waits !== null) {
      this.waits(id, waits);
      state.retry();
      state.retry = clock.at(now + RETRY_MS, () => this.lookAgain(id));
      return;
    }
    state.waiting = '';
    const read = this.readNow(reader);
    const words = readWords(read);
    this.note(reader.trigger, { t: now, what: 'holds', words, read, key });
    this.tell(reader.trigger, 'holds', words, undefined, key);
  }

  private mayLeave(id: string): void {
    for (const claim of this.claims.orphans)
      if (claim.trigger === id && this.claims.mayLeave(claim)) this.leaves(claim, null);
    const reader = this.readers.get(id);
    const claim = this.claims.of(id);
    if (reader === undefined || claim === undefined || this.tried.has(id)) return;
    if (this.isArmed(id) && reader.now !== false) return;
    if (!this.claims.mayLeave(claim)) return;
    if (this.isArmed(id) && this.tooOften(id, this.stateOf(id))) return;
    this.leaves(claim, reader);
  }

  private leaves(claim: Claim, reader: RuleReader | null): void {
    const { causes, clock } = this.deps;
    const program = this.deps.program();
    const trigger = reader?.trigger;
    const key = reader === null ? undefined : this.keyOf(reader);
    const chain = key === undefined ? [] : causes.chainTo(key);
    causes.fires(claim.trigger, [...chain, { trigger: claim.trigger, t: clock.now() }].slice(-MOST_EDGES));
    const changed = claim.parts.some(({ state }) => state === 'changed');
    const steps = this.claims.leave(claim);
    const did =
      steps.length > 0
        ? steps.map((step) => program.sentence(step)).join(', ')
        : changed
          ? 'nothing was sent: somebody had changed it meanwhile'
          : 'nothing was to be sent';
    if (trigger === undefined) return;
    const read = reader === null ? [] : this.readNow(reader);
    const words = `It ended: ${did}.`;
    this.note(trigger, { t: clock.now(), what: 'left', words, read, key });
    this.tell(trigger, 'left', words, undefined, key);
  }

  /** Whether a rule comes and goes too often; it is looked at again when the second is over. */
  private tooOften(id: string, state: State): boolean {
    const { clock } = this.deps;
    const now = clock.now();
    state.recent = state.recent.filter((t) => now - t < 1000);
    if (state.recent.length < MOST_TURNS_A_SECOND) {
      state.recent.push(now);
      return false;
    }
    state.retry();
    state.retry = clock.at((state.recent[0] ?? now) + 1000, () => this.lookAgain(id));
    return true;
  }

  private changedBySomebody(claim: Claim, keys: readonly string[]): void {
    const reader = this.readers.get(claim.trigger);
    if (reader === undefined) return;
    const { board, clock } = this.deps;
    const words = `Somebody changed it: ${keys.map((key) => keyWords(key, board.read(key), this.deps.program())).join(', ')}. That stays until the condition has been false once.`;
    this.note(reader.trigger, { t: clock.now(), what: 'changed', words, read: [], key: keys[0] });
    this.tell(reader.trigger, 'changed', words, undefined, keys[0]);
  }

  private waits(id: string, words: string): void {
    const state = this.stateOf(id);
    if (state.waiting === words) return;
    state.waiting = words;
    this.show(id);
  }

  /** A time of day has come. @param late milliseconds */
  private struck(trigger: Trigger, late: number): void {
    const { on } = trigger;
    const at = on.kind === 'time' ? on.at : '';
    const against = late > TOO_LATE_MS ? `The clock was set forward past ${at}.` : this.speaksAgainst(trigger, []);
    if (against !== null) this.didNot(trigger, against, [], undefined);
    else this.does(trigger, [{ trigger: trigger.id, t: this.deps.clock.now() }], `It was ${at}.`, [], undefined);
  }

  private scope(): Scope {
    return this.deps.runner.freshScope(RULES_LINK_GROUP);
  }

  private start(trigger: Trigger, steps: readonly Step[], rank?: number, onEnd?: (done: boolean) => void): string {
    const state = this.stateOf(trigger.id);
    const runId = this.deps.runner.start({
      name: trigger.name,
      identity: trigger.id,
      program: this.deps.program(),
      scope: rank === undefined ? this.scope() : { ...this.scope(), rank },
      steps,
      again: trigger.again,
      cause: { kind: 'trigger', id: trigger.id },
      ...(onEnd === undefined ? {} : { onEnd }),
    });
    state.runId = runId;
    return runId;
  }

  private run(id: string, name: string, steps: readonly Step[], what: 'enter' | 'leave' | 'ahead', of = ''): string {
    return this.deps.runner.start({
      name: what === 'enter' ? name : `${name} · ${what === 'leave' ? 'leaves' : 'ahead'}`,
      // Each by itself: what comes does not end what leaves.
      identity: `${id}/${what}${of}`,
      program: this.deps.program(),
      scope: this.scope(),
      steps,
      again: 'runAfterwards',
      cause: { kind: 'trigger', id },
      eachTried: true,
    });
  }

  /** The key that a rule goes by which changed last. */
  private keyOf(reader: RuleReader): string | undefined {
    const { causes } = this.deps;
    let latest: { readonly key: string; readonly t: number } | undefined;
    for (const key of reader.reads) {
      const change = causes.change(key);
      if (change !== undefined && (latest === undefined || change.t > latest.t)) latest = { key, t: change.t };
    }
    return latest?.key;
  }

  private readNow(reader: RuleReader): readonly string[] {
    const { board, counting } = this.deps;
    const program = this.deps.program();
    // What counts is told as it is between two seconds: that is what the condition went by.
    const read = counting.reader((key) => board.read(key));
    // That a source has a number is how it is compared, and no news.
    return reader.reads.flatMap((key) => (key.startsWith('input@') ? [] : [keyWords(key, read(key), program)]));
  }

  /** Pages see that there is something new to see. */
  private show(id: string): void {
    const state = this.stateOf(id);
    state.reportedAt += 1;
    const now = this.stateNow(id);
    this.deps.board.set(ruleKey(id), `${now} ${state.reportedAt}`);
    this.deps.board.set(holdsKey(id), now === 'holds');
  }

  /** What every station is told of the rules as a whole. */
  private sum(): void {
    const { board } = this.deps;
    let armed = 0;
    const hold: string[] = [];
    for (const [id, { trigger }] of this.readers) {
      if (this.isArmed(id)) armed += 1;
      if (this.stateNow(id) === 'holds') hold.push(trigger.name);
    }
    board.set(RULES_ARMED, armed);
    board.set(RULES_HOLD, hold.length > MOST_NAMED ? `${hold.length} hold` : hold.join(', '));
  }

  private stateNow(id: string): RuleView['state'] {
    const follow = this.follows.get(id);
    if (follow !== undefined) return FOLLOW_STATE[follow.state];
    const claim = this.claims.of(id);
    if (claim === undefined)
      return this.stateOf(id).waiting === '' && this.troubleOf(id) === null ? 'rests' : 'waiting';
    if (claim.parts.some(({ state }) => state === 'unsure')) return 'waiting';
    return claim.parts.some(({ state }) => state === 'changed') ? 'changed' : 'holds';
  }

  private note(trigger: Trigger, entry: Omit<Told, 'because'>): Told {
    const state = this.stateOf(trigger.id);
    const edge: Told = { ...entry, because: entry.key === undefined ? [] : this.deps.why(entry.key) };
    state.edges.push(edge);
    if (state.edges.length > MOST_EDGES) state.edges.shift();
    state.lastWords = edge.words;
    if (edge.what === 'fired' || edge.what === 'holds') state.lastFired = edge.t;
    this.show(trigger.id);
    return edge;
  }

  private tell(
    { id, name }: Trigger,
    what: 'fired' | 'notFired' | 'holds' | 'left' | 'changed' | 'armed' | 'disarmed',
    words: string,
    by?: ByHand,
    key?: string,
  ): void {
    const { clock, journal } = this.deps;
    journal.append({
      kind: 'trigger',
      t: clock.now(),
      trigger: id,
      name,
      what,
      words,
      ...(key === undefined ? {} : { key }),
      ...(by === undefined ? {} : { station: by.station, ...(by.person === undefined ? {} : { person: by.person }) }),
    });
  }
}

const FOLLOW_STATE = { rests: 'rests', follows: 'holds', heldOff: 'changed', waits: 'waiting' } as const;

const nameOf = ({ station, person }: ByHand): string =>
  person === undefined || person === '' ? station : `${person} at ${station}`;

/** What was so when it happened, as a sentence. */
const readWords = (read: readonly string[]): string =>
  read.length === 0 ? 'Its condition came true.' : `${read.join(', ')}.`;

const tenths = (ms: number): string => `${Math.round(ms / 100) / 10} s`;

/** What of a rule decides what it holds. */
const keeps = ({ kind, on, steps }: Trigger): string => JSON.stringify([kind, on, steps]);
