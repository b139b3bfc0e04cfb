import type { Clock } from './clock';
import { directButton, type DirectCommand } from './directButton';
import { DriveLedger } from './driveLedger';
import { DeedLedger } from './deeds';
import { additionOf, endsOf, type Held, releaseOf } from './heldPress';
import type { Journal } from './journal';
import type { MacroRunner } from './macroRunner';
import { awayOf, obstacleOf } from './obstacle';
import type { Sure } from './onAir';
import { buttonFor, secondPressOf, startParams, turnedTo, unfit, valueOf } from './pressedButton';
import type { PressAnswer, PressInput, Taken, TakenHand } from './pressInput';
import type { Program } from './program';
import { pinsOf, readerFor, readerOf, type Scope } from './scope';
import { SecondTouches } from './secondTouch';
import type { StateBoard } from './stateBoard';
import { type TakeBack, TakeBacks, type TakenPress } from './takeBacks';
import { Turns } from './turns';
import { windowOfKey } from './windowDrive';
import type { Addition, AppError, Button, Step } from '../show/index';

export { type TakeBack, TAKE_BACK_MS } from './takeBacks';

/** A held press must be renewed within this many milliseconds, or it counts as released. */
export const LEASE_MS = 400;
/** A press older than this is refused: a cut that arrives late is worse than none. */
export const OLDEST_PRESS_MS = 2000;
/** So long after its last renewal a value in the hand may still be turned on, milliseconds: as long as a press is young enough to be taken. */
const TURNED_ON_MS = OLDEST_PRESS_MS;
/** How long answers are remembered, so that the same press again gets the same answer. */
const MEMORY_MS = 60_000;

const ALLOWED: { readonly sure: Sure } = { sure: 'all' };

interface PressRecord extends TakenPress {
  readonly buttonId: string;
  readonly person: string | undefined;
  readonly shortcut: string | undefined;
  readonly since: number;
  down: PressAnswer | undefined;
  up: PressAnswer | undefined;
  held: Held | null;
  /** A value in the hand whose lease ran out: nothing moves by itself, so what the hand turns it to next still counts for a while. */
  lapsed: Held | null;
}

/**
 * Where every press comes in, from whichever station and way. Answers at once, before any device has replied, and does each
 * (pressId, phase) once.
 */
export class PressIntake {
  /** In order of arrival, so that the oldest are forgotten first. */
  private readonly records = new Map<string, PressRecord>();

  /** Those of them that are held now. */
  private readonly holding = new Set<PressRecord>();

  private readonly touches: SecondTouches;
  private readonly turns: Turns;
  private readonly backs: TakeBacks;

  constructor(
    private readonly deps: {
      readonly clock: Clock;
      readonly board: StateBoard;
      readonly journal: Journal;
      readonly runner: MacroRunner;
      readonly program: () => Program;
      readonly onTrouble: (where: string, error: unknown) => void;
      readonly onTaken?: (taken: Taken) => void;
    },
  ) {
    this.touches = new SecondTouches(deps.clock);
    this.turns = new Turns(deps);
    this.backs = new TakeBacks(deps);
  }

  /** Takes one phase of a press. A fault inside fails this press alone, in words, and lets go of what it held. */
  press(input: PressInput): PressAnswer {
    try {
      return this.answer(input);
    } catch (error) {
      this.deps.onTrouble(`press ${input.phase}`, error);
      const record = this.records.get(input.pressId) ?? this.remember(input);
      this.release(record, 'It failed inside the engine.');
      const known = input.phase === 'up' ? record.up : record.down;
      if (known) return known;
      return this.refuse(record, input, {
        code: 'internal',
        message: 'The press failed inside the engine.',
        mend: 'Look at what is on air, then press again. The log tells where it failed.',
      });
    }
  }

  private answer(input: PressInput): PressAnswer {
    switch (input.phase) {
      case 'down':
        return this.down(input);
      case 'hold':
        return this.renew(input);
      case 'up':
        return this.up(input);
    }
  }

  /** Answers given before a crash, so that a client that asks again is not served twice. */
  restore(
    input: Pick<PressInput, 'pressId' | 'buttonId' | 'station'>,
    phase: 'down' | 'up',
    answer: PressAnswer,
  ): void {
    const record = this.records.get(input.pressId) ?? this.remember(input);
    record[phase] = answer;
  }

  /** A station is gone: everything that it held is released. */
  stationLost(station: string): void {
    for (const record of this.records.values()) {
      if (record.station !== station) continue;
      record.lapsed = null;
      this.release(record, `${station} is gone.`);
    }
  }

  /** @param hurried whether the release steps run without their pauses and waits */
  releaseEverything(why: string, hurried = false): number {
    for (const record of this.records.values()) record.lapsed = null;
    const held = [...this.records.values()].filter((record) => record.held !== null);
    held.forEach((record) => this.release(record, why, hurried));
    return held.length;
  }

  /** Buttons that are held now, with what their release would do. */
  heldNow(): { readonly legend: string; readonly steps: readonly Step[]; readonly program: Program }[] {
    return [...this.records.values()].flatMap(({ held }) =>
      held === null
        ? []
        : [{ legend: held.button.legend, steps: releaseOf(held, this.deps.board), program: held.program }],
    );
  }

  private down(input: PressInput): PressAnswer {
    const known = this.records.get(input.pressId);
    if (known?.down) return known.down;
    if (known?.up) {
      return this.refuse(known, input, {
        code: 'released-before-press',
        message: 'The release came before the press, so nothing was done.',
        mend: 'Press again.',
      });
    }
    const record = known ?? this.remember(input);
    const program = this.deps.program();
    const linkGroup = input.linkGroup ?? 'main';
    const now = readerFor(this.deps.board, linkGroup);
    const wanted =
      input.takeBack === undefined
        ? buttonFor(input, program, now)
        : this.backs.button(this.records.get(input.takeBack), input.station);
    if (wanted !== undefined && 'code' in wanted) return this.refuse(record, input, wanted);
    const meant = wanted && this.turns.meant(wanted, input, program, now);
    const value = meant && valueOf(meant, input, program, now);
    if (typeof value === 'object') return this.refuse(record, input, value);
    const button = meant && value !== undefined ? turnedTo(meant, value) : meant;
    if (button === undefined) {
      return this.refuse(record, input, {
        code: 'unknown-button',
        message: `There is no button ${input.buttonId}.`,
        mend: 'Load the panel again.',
        path: 'buttonId',
      });
    }
    const age = input.at === undefined ? 0 : this.deps.clock.now() - input.at;
    if (age > OLDEST_PRESS_MS) {
      return this.refuse(record, input, {
        code: 'too-old',
        message: `The press is ${Math.round(age / 100) / 10} s old and was not carried out.`,
        mend: 'Look at what is on air, then press again.',
        path: 'at',
      });
    }
    // What a macro moves without an end only a held button may run.
    const fault =
      input.direct || input.only !== undefined
        ? undefined
        : (program.faultOf(button.id) ?? (program.macros.has(button.id) ? program.endlessOf(button.id) : undefined));
    if (fault) {
      const { message, mend } = fault;
      return this.refuse(record, input, { code: 'broken-button', message, mend });
    }
    const pins = input.direct || program.selects(input.buttonId) ? pinsOf(this.deps.board, linkGroup) : new Map();
    const asked: Scope = {
      linkGroup,
      station: input.station,
      ...(input.rank === undefined ? {} : { rank: input.rank }),
      params: startParams(input, program, now),
      pins,
      sure: null,
    };
    const read = readerOf(this.deps.board, asked);
    const obstacle =
      awayOf(button, program, read) ??
      obstacleOf(button.steps[0], program, asked, this.deps.board) ??
      (input.direct ? unfit(button, program, read) : null);
    if (obstacle) return this.refuse(record, input, obstacle);
    const verdict = input.sure === true ? ALLOWED : this.touches.ask(button, input, program, read);
    if ('code' in verdict) return this.refuse(record, input, verdict);
    const scope: Scope = verdict.sure === null ? asked : { ...asked, sure: verdict.sure };
    this.log('down', record);
    const target = this.records.get(input.takeBack ?? '');
    if (target !== undefined) {
      target.takenBack = true;
      this.release(target, 'Taken back.');
      if (target.down?.accepted === true && target.down.runId !== null)
        this.deps.runner.stop(target.down.runId, 'Taken back.');
    }
    const drives =
      button.mode === 'hold' ? new DriveLedger((device) => this.takeFromOthers(device, record)) : undefined;
    const deeds = (record.deeds = new DeedLedger());
    record.legend = button.legend;
    this.backs.pressed(record);
    const runId = this.deps.runner.start({
      name: button.legend,
      ...secondPressOf(button, program, read),
      // Two stations that take back at once do not end each other.
      ...(target === undefined ? {} : { identity: `${button.id}/${record.pressId}` }),
      program,
      scope,
      steps: button.steps,
      cause: { kind: 'press', id: record.pressId },
      buttonId: button.id,
      deeds,
      eachTried: target !== undefined,
      ...(drives === undefined ? {} : { drives }),
      ...(input.stepped === true && drives === undefined ? { stepped: true } : {}),
      ...(input.only === undefined && input.stepped !== true ? {} : { part: true }),
    });
    if (wanted !== undefined && wanted.sets.length > 0) this.turns.keepSent(wanted, button, program, read);
    const later = additionOf(button, 'held');
    if (drives !== undefined || later !== undefined || additionOf(button, 'release') !== undefined) {
      record.held = {
        ends: drives !== undefined,
        deeds,
        button,
        program,
        scope,
        drives: drives ?? new DriveLedger(),
        runId,
        renewedAt: this.deps.clock.now(),
        cancelLease: () => undefined,
        cancelLater: () => undefined,
      };
      this.holding.add(record);
      this.watchLease(record, record.held);
      if (later !== undefined) this.watchLater(record, record.held, later);
    }
    return (record.down = { accepted: true, runId });
  }

  /** What a station's last press could be taken back to, as things are now; null when there is nothing, or its time is over. */
  takeBack(station: string): TakeBack | null {
    return this.backs.ahead(station);
  }

  private renew(input: PressInput): PressAnswer {
    const record = this.records.get(input.pressId);
    const held = record?.held ?? this.lapsedOf(record);
    if (!held) {
      return {
        accepted: false,
        error: {
          code: 'not-held',
          message: 'This press is over.',
          mend: 'Lift the finger and press again.',
          path: 'pressId',
        },
      };
    }
    held.renewedAt = this.deps.clock.now();
    if (input.direct) this.steer(held, input.direct);
    else if (input.value !== undefined && held.button.dial !== null) this.turn(held, input.value);
    return { accepted: true, runId: held.runId };
  }

  /** A value in the hand whose station stood still for longer than its lease, and that is turned on. */
  private lapsedOf(record: PressRecord | undefined): Held | null {
    const held = record?.lapsed ?? null;
    return held !== null && this.deps.clock.now() - held.renewedAt <= TURNED_ON_MS ? held : null;
  }

  /** A value in the hand is turned on: the latest one goes out, whatever became of those before. */
  private turn(held: Held, value: number): void {
    const button = turnedTo(held.button, value);
    if (JSON.stringify(button.steps) === JSON.stringify(held.button.steps)) return;
    held.button = button;
    this.goOn(held, button);
  }

  /** A held command with other parameters, as a stick gives them: sent anew under the same press, and ended once by its release. */
  private steer(held: Held, direct: DirectCommand): void {
    const [step] = held.button.steps;
    if (step?.kind !== 'command' || step.command !== direct.command) return;
    if (step.device !== direct.device && !direct.device.includes('.')) return;
    if (Object.entries(direct.params).every(([key, value]) => step.params[key] === value)) return;
    const read = readerOf(this.deps.board, held.scope);
    const button = directButton(held.button.id, direct, held.program, read);
    if (unfit(button, held.program, read)) return;
    held.button = button;
    // The hand is on this camera: whoever took it on air meanwhile, it may be steered on.
    const hand = [step.device, held.scope.pins.get(step.device)].filter((candidate) => typeof candidate === 'string');
    const sure = held.scope.sure === 'all' ? 'all' : new Set([...(held.scope.sure ?? []), ...hand]);
    this.goOn({ ...held, scope: { ...held.scope, sure } }, button, held);
  }

  /** The press goes on with other steps. @param to where the new run is kept */
  private goOn(held: Held, button: Button, to: Held = held): void {
    to.runId = this.deps.runner.start({
      name: button.legend,
      identity: button.id,
      program: held.program,
      scope: held.scope,
      steps: button.steps,
      again: 'startOver',
      cause: { kind: 'steer', id: held.runId },
      buttonId: button.id,
      drives: held.drives,
      deeds: held.deeds,
    });
  }

  private up(input: PressInput): PressAnswer {
    const record = this.records.get(input.pressId) ?? this.remember(input);
    if (record.up) return record.up;
    const held = record.held ?? this.lapsedOf(record);
    // Where a hand let go is where it stays, also when the last turn before it got lost.
    if (held !== null && input.value !== undefined && held.button.dial !== null) this.turn(held, input.value);
    record.lapsed = null;
    const runId = record.down?.accepted === true ? record.down.runId : null;
    record.up = { accepted: true, runId };
    this.release(record);
    return record.up;
  }

  /** The one way out of a held press: release, end of lease, lost station and stop-all all lead here, and it goes once. */
  private release(record: PressRecord, why?: string, hurried = false): void {
    const { held } = record;
    if (!held) return;
    record.held = null;
    this.holding.delete(record);
    held.cancelLease();
    this.log('up', record, why);
    held.cancelLater();
    // A value stays where the hand let go: what carries it may still wait for its turn at a busy device, and is not called back.
    if (held.ends && held.button.dial === null) this.deps.runner.stop(held.runId, 'Released.');
    const steps = [...endsOf(held, this.deps.board), ...releaseOf(held, this.deps.board)];
    if (steps.length === 0) return;
    this.deps.runner.start({
      name: `${held.button.legend} · release`,
      identity: `${held.button.id}/release/${record.pressId}`,
      program: held.program,
      scope: held.scope,
      steps,
      again: 'ignore',
      cause: { kind: 'release', id: record.pressId },
      buttonId: held.button.id,
      eachTried: true,
      hurried,
      deeds: held.deeds,
    });
  }

  /**
   * Of two hands on one device the later one has it. The earlier one's press ends now, its stops before the later one's move: ended by its own
   * finger, it would stop the other's.
   */
  private takeFromOthers(device: string, by: PressRecord): void {
    for (const from of [...this.holding]) {
      if (from.station === by.station || from.held?.drives.has(device) !== true) continue;
      this.release(from, `${nameOfStation(by)} took ${deviceName(device, from.held.program)}.`, true);
      this.deps.onTaken?.({ device: windowOfKey(device) ?? device, from: handOf(from), by: handOf(by) });
    }
  }

  /** What a button does beside its press once it has been held for so long. */
  private watchLater(record: PressRecord, held: Held, { ms, steps }: Addition): void {
    const { clock, board, runner } = this.deps;
    held.cancelLater = clock.at(clock.now() + ms, () =>
      board.turn(() => {
        if (record.held !== held) return;
        runner.start({
          name: `${held.button.legend} · held`,
          identity: `${held.button.id}/held`,
          program: held.program,
          scope: held.scope,
          steps,
          again: 'startOver',
          cause: { kind: 'run', id: held.runId },
          buttonId: held.button.id,
          deeds: held.deeds,
        });
      }),
    );
  }

  /** Somebody with more right reserved a device: whoever has less and moves it lets go. @returns how many did */
  releaseBelow(device: string, rank: number, why: string): number {
    const below = [...this.holding].filter(
      ({ held }) => held?.drives.has(device) === true && (held.scope.rank ?? Infinity) < rank,
    );
    for (const record of below) this.release(record, why, true);
    return below.length;
  }

  private watchLease(record: PressRecord, held: Held): void {
    const { clock, board } = this.deps;
    const due = held.renewedAt + LEASE_MS;
    held.cancelLease = clock.at(due, () => {
      // Input that already waits at the socket is read before a lease is let expire: a busy engine is not a released finger.
      held.cancelLease = clock.at(clock.now(), () => {
        if (record.held !== held) return;
        if (clock.now() - held.renewedAt < LEASE_MS) this.watchLease(record, held);
        else {
          if (held.button.dial !== null) record.lapsed = held;
          board.turn(() => this.release(record, 'The press was no longer renewed.'));
        }
      });
    });
  }

  private refuse(record: PressRecord, input: PressInput, error: AppError): PressAnswer {
    this.deps.journal.append({
      kind: 'refusal',
      t: this.deps.clock.now(),
      pressId: input.pressId,
      phase: input.phase,
      buttonId: input.buttonId,
      station: input.station,
      error,
    });
    return (record.down = { accepted: false, error });
  }

  private log(phase: 'down' | 'up', record: PressRecord, why?: string): void {
    this.deps.journal.append({
      kind: 'press',
      t: this.deps.clock.now(),
      pressId: record.pressId,
      phase,
      buttonId: record.buttonId,
      station: record.station,
      person: record.person,
      ...(record.shortcut === undefined ? {} : { shortcut: record.shortcut }),
      why,
    });
  }

  private remember(input: Pick<PressInput, 'pressId' | 'buttonId' | 'station' | 'person' | 'shortcut'>): PressRecord {
    const now = this.deps.clock.now();
    for (const [id, old] of this.records) {
      if (now - old.since <= MEMORY_MS) break;
      if (old.held === null) this.records.delete(id);
    }
    const record: PressRecord = {
      pressId: input.pressId,
      buttonId: input.buttonId,
      station: input.station,
      person: input.person,
      shortcut: input.shortcut,
      since: now,
      down: undefined,
      up: undefined,
      held: null,
      lapsed: null,
      deeds: null,
      legend: '',
      takenBack: false,
    };
    this.records.set(input.pressId, record);
    return record;
  }
}

const handOf = ({ pressId, station, person }: PressRecord): TakenHand => ({ pressId, station, person: person ?? '' });
/** Pages of one name are told apart by a number that says nothing to people. */
const nameOfStation = ({ station }: PressRecord): string => station.replace(/#\d+$/, '');

function deviceName(device: string, { document }: Program): string {
  const source = windowOfKey(device);
  const all = source === null ? document.devices : document.sources;
  return all.find(({ key }) => key === (source ?? device))?.name ?? device;
}
