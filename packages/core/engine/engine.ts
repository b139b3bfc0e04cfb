import { kindOf, type PointDefinition, pointsOf } from '../devices/index';
import { type AppError, fail, ok, type PlainValue, type Result } from '../show/index';
import type { Device, LampSign, Macro, Step } from '../show/index';
import type { Cancel, Clock } from './clock';
import type { DeviceNews, DevicePort } from './devicePort';
import type { Cause, ClaimRecord, Journal } from './journal';
import { LampBoard } from './lamps';
import { LiveLists } from './liveLists';
import { MacroRunner, type RunView } from './macroRunner';
import type { PressAnswer, PressInput, Taken } from './pressInput';
import { PressIntake, type TakeBack } from './pressIntake';
import { followPeople } from './people';
import type { Program } from './program';
import { AirWatch } from './airWatch';
import type { Sure } from './onAir';
import { ownerOf, rankOf, reserve, type Reserver } from './reservations';
import { resolveArgument } from './resolve';
import { Counting } from './counting';
import { Causes } from './rules/causes';
import { whyOf } from './rules/why';
import { Rules } from './rules/rules';
import { armedKey, type ByHand } from './rules/ruleView';
import { callIdentity } from './run';
import { readerOf, type Scope } from './scope';
import { StateBoard } from './stateBoard';

/**
 * Keys that an engine takes over from the one before: selections, what was sent last, which rules are armed, what they went by and what keeps them off,
 * and who reserved which head.
 */
const KEPT = /^(chosen|sent|armed|was|keptOff|reserved|reservedRank|reservedOwner)@/;

/** Steps that a stop-all does not wait for, and therefore does not tell of. */
const WAITS: ReadonlySet<Step['kind']> = new Set(['pause', 'wait', 'ask', 'note']);

/** What the engine takes from outside: live, a real clock and a durable journal; in rehearsal, a virtual clock and an array. */
export interface EngineOptions {
  readonly clock: Clock;
  readonly journal: Journal;
  readonly program: Program;
  /** Names runs and commands. */
  readonly newId: () => string;
  readonly onRun?: (run: RunView, ended: boolean) => void;
  /** A hand took a device that another one had been moving. */
  readonly onTaken?: (taken: Taken) => void;
  /** Lamps are shown otherwise than their rules say, or as they say again. */
  readonly onFaces?: () => void;
  /** A press asked that its station shows a panel, or a page of one; empty: the page that was shown last. */
  readonly onShow?: (station: string, panel: string, page: string) => void;
  /** Keys of the board that changed in one instant, lamps already worked out. */
  readonly onPublished?: (keys: ReadonlySet<string>) => void;
  /** Show values and selections as an engine before this one left them, by board key. */
  readonly restored?: ReadonlyMap<string, PlainValue>;
  /** What *while* rules of the engine before held. */
  readonly restoredClaims?: readonly ClaimRecord[];
  /** False where the show is to do nothing by itself, as in the rehearsal of a button. */
  readonly rules?: boolean;
  /** False where nobody talks into the microphones: no rule follows them. */
  readonly hears?: boolean;
  /** Something inside threw: it failed alone, and this is where. */
  readonly onTrouble?: (where: string, error: unknown) => void;
  /** False where nothing asks whether a source is on air by name; a rehearsal without it costs less. */
  readonly watchAir?: boolean;
  /** A rehearsal has nobody to ask. */
  readonly answerAsks?: boolean;
}

/** What a stop-all would do now, in words, so that it can be told before it happens. */
export interface StopAhead {
  readonly runs: readonly { readonly name: string; readonly steps: readonly string[] }[];
  readonly holds: readonly { readonly legend: string; readonly steps: readonly string[] }[];
  /** Names of devices that move. */
  readonly moving: readonly string[];
  /** Names of triggers that are disarmed. */
  readonly triggers: readonly string[];
}

/**
 * Runs a show. A press goes: `press` → PressIntake (lease, tombstone, pins) → MacroRunner (steps) → DevicePort (driver or model);
 * what comes back goes: port → news → StateBoard → the lamps, waits and runs that read the changed keys.
 */
/** What a device had said before it fell silent. */
export interface LastSeen {
  /** Milliseconds of the engine's clock. */
  readonly at: number;
  readonly points: readonly (readonly [key: string, value: PlainValue])[];
}

export class Engine {
  private readonly lastSeen_ = new Map<string, LastSeen>();
  readonly board: StateBoard;
  readonly runner: MacroRunner;
  readonly intake: PressIntake;
  /** What the show does by itself; null where it does nothing. */
  readonly rules: Rules | null;
  /** Who caused what; null where the show does nothing by itself. */
  readonly causes: Causes | null;
  private readonly counting: Counting;
  private readonly journal: Journal;
  private readonly ports = new Map<string, DevicePort>();
  private readonly lampsTried = new Map<string, Cancel>();
  private readonly lampBoards = new Map<string, LampBoard>();
  private readonly air: AirWatch | null;
  private readonly lists: LiveLists;
  private current: Program;

  constructor(private readonly options: EngineOptions) {
    this.current = options.program;
    const onTrouble = (where: string, error: unknown): void => options.onTrouble?.(where, error);
    const causes = options.rules === false ? null : new Causes(options.journal, () => this.current);
    this.causes = causes;
    this.journal = causes ?? options.journal;
    let counting: Counting | null = null;
    this.board = new StateBoard(
      (keys) => {
        counting?.published(keys);
        causes?.published(keys, this.board, options.clock.now());
        options.onPublished?.(keys);
      },
      (error) => onTrouble('what reads the board', error),
    );
    this.counting = counting = new Counting(options.clock, this.board, this.current);
    const shared = {
      clock: options.clock,
      board: this.board,
      journal: this.journal,
      counting: this.counting,
    };
    this.runner = new MacroRunner({
      ...shared,
      onTrouble,
      newId: options.newId,
      portOf: (device) => this.ports.get(device),
      ...(options.onRun === undefined ? {} : { onRun: options.onRun }),
      ...(options.onShow === undefined ? {} : { onShow: options.onShow }),
      ...(options.answerAsks === true ? { answerAsks: true } : {}),
      rules: (trigger, does, by, runId) => this.ruled(trigger, does, by, runId),
    });
    this.intake = new PressIntake({
      ...shared,
      runner: this.runner,
      program: () => this.current,
      onTrouble,
      ...(options.onTaken === undefined ? {} : { onTaken: options.onTaken }),
    });
    for (const value of this.current.document.values) {
      const key = `value.${value.key}`;
      this.board.set(key, options.restored?.get(key) ?? value.start);
    }
    for (const [key, value] of options.restored ?? []) if (KEPT.test(key)) this.board.set(key, value);
    followPeople(this.board, this.current);
    this.lists = this.board.turn(() => new LiveLists({ board: this.board, clock: options.clock }, this.current));
    this.air = options.watchAir === false ? null : new AirWatch(this.board, this.current);
    this.rules =
      causes === null
        ? null
        : this.board.turn(
            () =>
              new Rules(
                {
                  ...shared,
                  causes,
                  runner: this.runner,
                  program: () => this.current,
                  onTrouble,
                  why: (key) => whyOf(this, key),
                  hears: options.hears !== false,
                },
                options.restoredClaims,
              ),
          );
  }

  get program(): Program {
    return this.current;
  }

  /** Goes over to an edited show. Runs and held presses finish with the one that they began with. */
  setProgram(program: Program): void {
    this.board.turn(() => {
      const before = this.current;
      this.current = program;
      this.counting.follow(program);
      if (before.document.values !== program.document.values) {
        const kept = new Set(program.document.values.map((value) => `value.${value.key}`));
        for (const value of before.document.values)
          if (!kept.has(`value.${value.key}`)) this.board.forget(`value.${value.key}`);
        for (const value of program.document.values)
          if (typeof this.board.read(`value.${value.key}`) === 'symbol')
            this.board.set(`value.${value.key}`, value.start);
      }
      if (before.document.people !== program.document.people) followPeople(this.board, program);
      this.lists.follow(program);
      this.air?.follow(program);
      for (const lamps of this.lampBoards.values()) lamps.follow(program);
      this.rules?.follow(before, program);
    });
  }

  /** The show begins: every value that says so goes back to its start. An act of the engineer, in the as-run. */
  beginShow(station: string, person?: string): number {
    return this.board.turn(() => {
      const { clock } = this.options;
      const { journal } = this;
      journal.append({ kind: 'showBegin', t: clock.now(), station, person });
      const reset = this.current.document.values.filter((value) => value.atShowStart === 'reset');
      for (const value of reset) {
        const key = `value.${value.key}`;
        this.board.set(key, value.start);
        journal.append({ kind: 'set', t: clock.now(), key, value: value.start });
      }
      this.rules?.atStart();
      return reset.length;
    });
  }

  /** Every value of the show gets the content that is given for its key, or its start: another show was opened. */
  putValues(contents: Readonly<Record<string, PlainValue>>): void {
    this.board.turn(() => {
      const { clock } = this.options;
      const { journal } = this;
      for (const { key: name, start } of this.current.document.values) {
        const key = `value.${name}`;
        const value = Object.hasOwn(contents, name) ? (contents[name] ?? start) : start;
        this.board.set(key, value);
        journal.append({ kind: 'set', t: clock.now(), key, value });
      }
      this.rules?.atStart();
    });
  }

  /** What silent devices had said last, with when they fell silent: for people to look at. Nothing of the engine goes by it. */
  get lastSeen(): ReadonlyMap<string, LastSeen> {
    return this.lastSeen_;
  }

  /** Ties a device's port in; its news go to the board. Until it is heard, its points are unknown. */
  attach(device: string, port: DevicePort): void {
    this.ports.set(device, port);
    this.board.set(`${device}.reached`, false);
  }

  detach(device: string): void {
    this.ports.delete(device);
    this.lastSeen_.delete(device);
    this.board.turn(() => {
      this.board.forgetScope(device);
      this.putReserved(device, null);
    });
  }

  /** The mouthpiece of a device's port. */
  newsOf(device: string): DeviceNews {
    const reachedOnly = new Set([`${device}.reached`]);
    // Points come often and are few: their keys are put together once.
    const keys = new Map<string, string>();
    const keyOf = (point: string): string => {
      let key = keys.get(point);
      if (key === undefined) keys.set(point, (key = `${device}.${point}`));
      return key;
    };
    let as: Device | undefined;
    let types: ReturnType<typeof pointsOf> = {};
    const typeOf = (point: string): PointDefinition['type'] | undefined => {
      const now = this.program.devices.get(device);
      if (now !== as) {
        as = now;
        types = now === undefined ? {} : pointsOf(now, this.program.document);
      }
      return Object.hasOwn(types, point) ? types[point]?.type : undefined;
    };
    return {
      points: (changes) =>
        this.board.turn(() => {
          for (const point in changes) {
            const value = changes[point];
            if (value === undefined) continue;
            // A device that says "not a number", or a word where it declares a switch, says nothing: what it had said before is no longer true either.
            if (!isPlausible(value, typeOf(point))) this.board.forget(keyOf(point));
            else this.board.set(keyOf(point), value);
          }
        }),
      reached: (yes, words) =>
        this.board.turn(() => {
          if (yes) this.lastSeen_.delete(device);
          else {
            const known = this.board.forgetScope(device, reachedOnly);
            if (known.length > 0) this.lastSeen_.set(device, { at: this.options.clock.now(), points: known });
          }
          this.board.set(`${device}.reached`, yes);
          this.journal.append({
            kind: 'device',
            t: this.options.clock.now(),
            device,
            state: yes ? 'reached' : 'silent',
            words,
          });
        }),
    };
  }

  press(input: PressInput): PressAnswer {
    return this.board.turn(() => this.intake.press(input));
  }

  /** Runs a macro that no button pressed. */
  runMacro(
    macroId: string,
    params: Readonly<Record<string, PlainValue>>,
    cause: Cause,
    linkGroup = 'main',
    sure: Sure = null,
  ): Result<string, AppError> {
    const macro = this.current.macros.get(macroId);
    if (macro === undefined)
      return fail({
        code: 'unknown-macro',
        message: `There is no macro ${macroId}.`,
        mend: 'Choose one that exists.',
        path: 'macroId',
      });
    const fault = this.current.faultOf(macroId) ?? this.current.endlessOf(macroId);
    if (fault) return fail({ code: 'broken-macro', message: fault.message, mend: fault.mend });
    const scope: Scope = { ...this.runner.freshScope(linkGroup), sure };
    const given: Record<string, PlainValue> = {};
    for (const param of macro.params) {
      const value = resolveArgument(params[param.key] ?? param.start, this.current, readerOf(this.board, scope));
      if (!value.ok) return value;
      given[param.key] = value.value;
    }
    return ok(
      this.board.turn(() =>
        this.runner.start({
          name: macro.name,
          identity: callIdentity(macro.id, given),
          program: this.current,
          scope: { ...scope, params: given },
          steps: macro.steps,
          stopSteps: macro.atStop === 'asBefore' ? 'asBefore' : macro.stopSteps,
          again: macro.again,
          owns: macro.owns,
          cause,
          macroId: macro.id,
        }),
      ),
    );
  }

  /** Runs steps that belong to nothing of the show, such as a round through a camera's positions. @param program the show with one macro more, made of these steps */
  runSteps(program: Program, macro: Macro, cause: Cause, rank?: number): Result<string, AppError> {
    const fault = program.faultOf(macro.id) ?? program.endlessOf(macro.id);
    if (fault)
      return fail({ code: 'broken-steps', message: fault.message, mend: fault.mend, path: fault.path ?? 'steps' });
    return ok(
      this.board.turn(() =>
        this.runner.start({
          name: macro.name,
          identity: `steps ${macro.owns.join(' ')}`,
          program,
          scope: { ...this.runner.freshScope('main'), ...(rank === undefined ? {} : { rank }) },
          steps: macro.steps,
          again: 'startOver',
          owns: macro.owns,
          cause,
        }),
      ),
    );
  }

  /** What taking the last press of a station back would do now; null when there is nothing to take back, or its time is over. */
  takeBack(station: string): TakeBack | null {
    return this.intake.takeBack(station);
  }

  /**
   * Somebody reserves a head: whoever has less right does not move it until it is free again, and lets go of it now.
   * @param owner by what the station is known, whatever it is called
   * @returns false where somebody with more right has reserved it
   */
  reserve(
    device: string,
    by: { readonly station: string; readonly person: string; readonly rank: number },
    owner = by.station,
  ): boolean {
    return this.board.turn(() => {
      if ((rankOf(this.board, device) ?? -1) > by.rank) return false;
      const who = by.person === '' ? by.station : `${by.person} at ${by.station}`;
      this.putReserved(device, { who, rank: by.rank, owner });
      const words = `${this.nameOf(device)} is reserved by ${who}.`;
      this.access(by, words);
      this.intake.releaseBelow(device, by.rank, words);
      return true;
    });
  }

  /** A reserved head is free again. @returns false where somebody with more right has reserved it */
  free(device: string, by: { readonly station: string; readonly person: string; readonly rank: number }): boolean {
    return this.board.turn(() => {
      const rank = rankOf(this.board, device);
      if (rank === null) return true;
      if (rank > by.rank) return false;
      this.putReserved(device, null);
      this.access(by, `${this.nameOf(device)} is free again.`);
      return true;
    });
  }

  /** Who reserved which of the show's devices, by what their stations are known. */
  reservations(): readonly { readonly device: string; readonly owner: string }[] {
    return this.current.document.devices.flatMap(({ key }) => {
      const owner = ownerOf(this.board, key);
      return owner === null ? [] : [{ device: key, owner }];
    });
  }

  private putReserved(device: string, by: Reserver | null): void {
    if (by === null && rankOf(this.board, device) === null) return;
    reserve({ board: this.board, journal: this.journal, clock: this.options.clock }, device, by);
  }

  private access({ station, person }: { readonly station: string; readonly person: string }, words: string): void {
    const { clock } = this.options;
    const { journal } = this;
    journal.append({ kind: 'access', t: clock.now(), station, ...(person === '' ? {} : { person }), words });
  }

  private nameOf(device: string): string {
    return this.current.devices.get(device)?.name ?? device;
  }

  /** A run arms, disarms or fires a trigger. */
  private ruled(id: string, does: 'arm' | 'disarm' | 'fire', by: ByHand, runId: string): string | null {
    const { rules } = this;
    if (!this.current.triggers.has(id)) return 'The trigger is gone.';
    if (rules === null) {
      // Where the show does nothing by itself, only what a button says of it is seen.
      if (does !== 'fire') this.board.set(armedKey(id), does === 'arm');
      return null;
    }
    if (does !== 'fire') {
      rules.arm(id, does === 'arm', by);
      return null;
    }
    const fired = rules.fire(id, by, this.causes?.run(runId)?.chain);
    return fired.ok ? null : fired.error.message;
  }

  stationLost(station: string): void {
    this.board.turn(() => this.intake.stationLost(station));
  }

  /**
   * Stops what moves, releases what is held and ends runs. Release and stop steps run to their end without pauses and waits, each whatever the
   * others did. Beyond them program, captions and recordings stay. Triggers are disarmed, and what *while* rules hold stays without them.
   * @param disarms false at the end of an engine: the next one goes on with the rules as they were
   */
  stopAll(station: string, disarms = true): { runs: number; holds: number } {
    return this.board.turn(() => {
      // First: no rule answers to what the stop changes.
      if (disarms) this.rules?.disarmAll({ station });
      this.stopHeads();
      const holds = this.intake.releaseEverything('Everything was stopped.', true);
      const runs = this.runner.stopEverything('Everything was stopped.');
      const { clock } = this.options;
      const { journal } = this;
      journal.append({ kind: 'stopAll', t: clock.now(), station, runs, holds });
      return { runs, holds };
    });
  }

  /** What a stop-all would do now. */
  stopAhead(): StopAhead {
    const words = (program: Program, steps: readonly Step[]): string[] =>
      steps.flatMap((step) => (WAITS.has(step.kind) ? [] : [program.sentence(step)]));
    return {
      runs: this.runner.closingsAhead().map(({ run, closings }) => ({
        name: run.request.name,
        steps: closings.flatMap(({ steps }) =>
          words(run.request.program, typeof steps === 'function' ? steps() : steps),
        ),
      })),
      holds: this.intake.heldNow().map(({ legend, steps, program }) => ({ legend, steps: words(program, steps) })),
      moving: this.current.document.devices
        .flatMap((device) => (this.board.read(`${device.key}.travelling`) === true ? [device.name] : []))
        .concat(this.runner.windows.moving),
      triggers: this.current.document.triggers.flatMap(({ id, name }) =>
        this.rules?.isArmed(id) === true ? [name] : [],
      ),
    };
  }

  /** Tells every device that can be told to stop its moves that it is to do so. */
  private stopHeads(): void {
    this.runner.windows.endAll();
    const { clock, newId } = this.options;
    const { journal } = this;
    for (const device of this.current.document.devices) {
      const commands = kindOf(device, this.current.document)?.commands ?? {};
      const stop = Object.entries(commands).find(([, command]) => command.lane === 'stop');
      const port = this.ports.get(device.key);
      if (!stop || !port || this.board.read(`${device.key}.reached`) !== true) continue;
      const commandId = newId();
      const command = { command: stop[0], params: {} };
      journal.append({ kind: 'command', t: clock.now(), commandId, device: device.key, command });
      port.send(commandId, command, ({ type, ...event }) => {
        if (type !== 'outcome' || !('outcome' in event)) return;
        const { outcome, why } = event;
        const record = { t: clock.now(), commandId, device: device.key, outcome };
        journal.append({ kind: 'outcome', ...record, ...(why === undefined ? {} : { why }) });
      });
    }
  }

  /** The lamps as a link group sees them; kept up to date from the first call on. @param strips whose buttons are shown, at the first call; null: all */
  lamps(linkGroup: string, strips: ReadonlySet<string> | null = null): LampBoard {
    let lamps = this.lampBoards.get(linkGroup);
    if (lamps === undefined) {
      const { clock, onFaces } = this.options;
      lamps = new LampBoard(this.board, this.current, linkGroup, strips, (work) => {
        clock.at(clock.now(), () => {
          this.board.turn(work);
          onFaces?.();
        });
      });
      this.lampBoards.set(linkGroup, lamps);
    }
    return lamps;
  }

  /** Shows the lamp of a button on every station as if its rule held, for so long. @param ms milliseconds */
  tryLamp(buttonId: string, sign: LampSign, ms: number): void {
    const { clock } = this.options;
    const show = (what: LampSign | null): void => {
      for (const lamps of this.lampBoards.values()) lamps.try(buttonId, what);
      this.options.onFaces?.();
    };
    this.lampsTried.get(buttonId)?.();
    show(sign);
    this.lampsTried.set(
      buttonId,
      clock.at(clock.now() + ms, () => {
        this.lampsTried.delete(buttonId);
        show(null);
      }),
    );
  }

  /** Nobody of this link group looks at its lamps any more. */
  dropLamps(linkGroup: string): void {
    this.lampBoards.get(linkGroup)?.close();
    this.lampBoards.delete(linkGroup);
  }

  /** How many link groups have their lamps worked out. */
  get lampBoardCount(): number {
    return this.lampBoards.size;
  }
}

const TYPE_OF = { number: 'number', text: 'string', switch: 'boolean' } as const;

/** Whether a point can be this. @param type as its kind declares it; left out: it declares no such point */
const isPlausible = (value: PlainValue, type: PointDefinition['type'] | undefined): boolean =>
  typeof value === 'number' && !Number.isFinite(value) ? false : type === undefined || typeof value === TYPE_OF[type];
