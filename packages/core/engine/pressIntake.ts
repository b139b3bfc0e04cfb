import { type AppError, type Button, type PlainValue, type Step } from '../show/index';
import type { ReadKey } from '../expression/index';
import { directButton, type DirectCommand } from './directButton';
import type { Cancel, Clock } from './clock';
import type { Journal } from './journal';
import type { MacroRunner } from './macroRunner';
import type { Program } from './program';
import { seenOnAir } from './onAir';
import { resolveCommand, resolveDevice } from './resolve';
import { pinsOf, reachedKey, readerOf, type Scope } from './scope';
import type { StateBoard } from './stateBoard';

/** A held press must be renewed within this many milliseconds, or it counts as released. */
export const LEASE_MS = 400;
/** A press older than this is refused: a cut that arrives late is worse than none. */
export const OLDEST_PRESS_MS = 2000;
/** How long answers are remembered, so that the same press again gets the same answer. */
const MEMORY_MS = 60_000;

/** Why a command that is sent directly does not fit its device's declaration. */
function unfit(button: Button, program: Program, read: ReadKey): AppError | null {
  const [step] = button.steps;
  const resolved = step?.kind === 'command' ? resolveCommand(step, program, read) : null;
  return resolved === null || resolved.ok ? null : resolved.error;
}

/** The button that a press means: the show's, one made up for a direct command, or the show's with one step alone, or from one on. Undefined when there is no such button or step. */
function buttonFor(input: PressInput, program: Program): Button | undefined {
  if (input.direct) return directButton(input.buttonId, input.direct, program);
  const button = program.buttons.get(input.buttonId);
  if (button === undefined || input.only === undefined) return button;
  const list = [button.steps, button.releaseSteps].find((steps) => steps.some((step) => step.id === input.only));
  if (list === undefined) return undefined;
  const at = list.findIndex((step) => step.id === input.only);
  const steps = input.onward === true ? list.slice(at) : list.slice(at, at + 1);
  const part = input.onward === true ? `from step ${at + 1}` : 'one step';
  return { ...button, legend: `${button.legend} · ${part}`.slice(0, 120), mode: 'press', steps, releaseSteps: [] };
}

const NO_PINS: ReadonlyMap<string, PlainValue> = new Map();

/** A second touch must come within this many milliseconds of the first, and not sooner than a trembling finger. */
export const SECOND_TOUCH_MS = 3000;
const TREMBLE_MS = 120;

export interface PressInput {
  readonly pressId: string;
  readonly buttonId: string;
  readonly phase: 'down' | 'hold' | 'up';
  readonly station: string;
  readonly person?: string | undefined;
  /** Link group whose selections the press uses. */
  readonly linkGroup?: string;
  /** Time of day of the touch, milliseconds since 1970, corrected for the station's clock; left out: now. */
  readonly at?: number | undefined;
  /** In place of a button of the show; `buttonId` then only names it in the journal. */
  readonly direct?: DirectCommand | undefined;
  /** Only this step of the button, to try it alone. */
  readonly only?: string;
  /** With `only`: the steps behind that one as well. */
  readonly onward?: boolean;
  /** True when no second touch is to be asked for: a rehearsal has no hands. */
  readonly sure?: boolean;
}

export type PressAnswer =
  { readonly accepted: true; readonly runId: string | null } | { readonly accepted: false; readonly error: AppError };

interface Held {
  /** As pressed, or as steered since. */
  button: Button;
  readonly program: Program;
  readonly scope: Scope;
  runId: string;
  renewedAt: number;
  cancelLease: Cancel;
}

interface PressRecord {
  readonly pressId: string;
  readonly buttonId: string;
  readonly station: string;
  readonly person: string | undefined;
  readonly since: number;
  down: PressAnswer | undefined;
  up: PressAnswer | undefined;
  held: Held | null;
}

/**
 * Where every press comes in, from whichever station and way. Answers at once, before any device has replied, and does each
 * (pressId, phase) once.
 */
export class PressIntake {
  /** In order of arrival, so that the oldest are forgotten first. */
  private readonly records = new Map<string, PressRecord>();
  /** First touches that wait for their second one: `station/button` → when. */
  private readonly touched = new Map<string, number>();

  constructor(
    private readonly deps: {
      readonly clock: Clock;
      readonly board: StateBoard;
      readonly journal: Journal;
      readonly runner: MacroRunner;
      readonly program: () => Program;
    },
  ) {}

  press(input: PressInput): PressAnswer {
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
    for (const record of this.records.values())
      if (record.station === station) this.release(record, `${station} is gone.`);
  }

  releaseEverything(why: string): number {
    const held = [...this.records.values()].filter((record) => record.held !== null);
    held.forEach((record) => this.release(record, why));
    return held.length;
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
    const button = buttonFor(input, program);
    if (button === undefined) {
      return this.refuse(record, input, {
        code: 'unknown-button',
        message: `There is no button ${input.buttonId}.`,
        mend: 'Load the panel again.',
        path: 'buttonId',
      });
    }
    const age = input.at === undefined ? 0 : this.deps.clock.wall().getTime() - input.at;
    if (age > OLDEST_PRESS_MS) {
      return this.refuse(record, input, {
        code: 'too-old',
        message: `The press is ${Math.round(age / 100) / 10} s old and was not carried out.`,
        mend: 'Look at what is on air, then press again.',
        path: 'at',
      });
    }
    const linkGroup = input.linkGroup ?? 'main';
    const scope: Scope = {
      linkGroup,
      params: {} as Record<string, PlainValue>,
      pins: program.selects(button.id) ? pinsOf(this.deps.board, linkGroup) : NO_PINS,
    };
    const obstacle =
      this.obstacle(button.steps[0], program, scope) ??
      (input.direct ? unfit(button, program, readerOf(this.deps.board, scope)) : null);
    if (obstacle) return this.refuse(record, input, obstacle);
    const doubt = input.sure === true ? null : this.doubt(button, input, program, scope);
    if (doubt) return this.refuse(record, input, doubt);
    this.log('down', record);
    const runId = this.deps.runner.start({
      name: button.legend,
      identity: button.id,
      program,
      scope,
      steps: button.steps,
      stopSteps: [],
      again: 'restart',
      owns: [],
      cause: `press ${record.pressId}`,
      buttonId: button.id,
    });
    if (button.mode === 'hold') {
      record.held = { button, program, scope, runId, renewedAt: this.deps.clock.now(), cancelLease: () => undefined };
      this.watchLease(record, record.held);
    }
    return (record.down = { accepted: true, runId });
  }

  private renew(input: PressInput): PressAnswer {
    const held = this.records.get(input.pressId)?.held;
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
    return { accepted: true, runId: held.runId };
  }

  /** A held command with other parameters, as a stick gives them: sent anew under the same press, and ended once by its release. */
  private steer(held: Held, direct: DirectCommand): void {
    const [step] = held.button.steps;
    if (step?.kind !== 'command' || step.device !== direct.device || step.command !== direct.command) return;
    if (Object.entries(direct.params).every(([key, value]) => step.params[key] === value)) return;
    const button = directButton(held.button.id, direct, held.program);
    if (unfit(button, held.program, readerOf(this.deps.board, held.scope))) return;
    held.button = button;
    held.runId = this.deps.runner.start({
      name: button.legend,
      identity: button.id,
      program: held.program,
      scope: held.scope,
      steps: button.steps,
      stopSteps: [],
      again: 'restart',
      owns: [],
      cause: 'steered',
      buttonId: button.id,
    });
  }

  private up(input: PressInput): PressAnswer {
    const record = this.records.get(input.pressId) ?? this.remember(input);
    if (record.up) return record.up;
    const runId = record.down?.accepted === true ? record.down.runId : null;
    record.up = { accepted: true, runId };
    this.release(record);
    return record.up;
  }

  /** The one way out of a held press: release, end of lease, lost station and stop-all all lead here, and it goes once. */
  private release(record: PressRecord, why?: string): void {
    const { held } = record;
    if (!held) return;
    record.held = null;
    held.cancelLease();
    this.log('up', record, why);
    this.deps.runner.stop(held.runId, 'Released.');
    if (held.button.releaseSteps.length === 0) return;
    this.deps.runner.start({
      name: `${held.button.legend} · release`,
      identity: `${held.button.id}/release/${record.pressId}`,
      program: held.program,
      scope: held.scope,
      steps: held.button.releaseSteps,
      stopSteps: [],
      again: 'ignore',
      owns: [],
      cause: why ?? `release ${record.pressId}`,
      buttonId: held.button.id,
    });
  }

  private watchLease(record: PressRecord, held: Held): void {
    const { clock, board } = this.deps;
    const due = held.renewedAt + LEASE_MS;
    held.cancelLease = clock.at(due, () => {
      // Input that already waits at the socket is read before a lease is let expire: a busy engine is not a released finger.
      held.cancelLease = clock.at(clock.now(), () => {
        if (record.held !== held) return;
        if (clock.now() - held.renewedAt < LEASE_MS) this.watchLease(record, held);
        else board.turn(() => this.release(record, 'The press was no longer renewed.'));
      });
    });
  }

  /** Why the first step cannot go: its device is silent, or a choice is missing. */
  private obstacle(step: Step | undefined, program: Program, scope: Scope): AppError | null {
    if (step === undefined)
      return { code: 'empty-button', message: 'This button does nothing yet.', mend: 'Give it a step in the Bench.' };
    if (step.kind === 'run') return this.obstacle(program.macros.get(step.macro)?.steps[0], program, scope);
    if (step.kind === 'together') {
      for (const one of step.steps) {
        const found = this.obstacle(one, program, scope);
        if (found) return found;
      }
      return null;
    }
    if (step.kind !== 'command') return null;
    const device = resolveDevice(step.device, program, readerOf(this.deps.board, scope));
    if (!device.ok) return device.error;
    if (this.deps.board.read(reachedKey(device.value)) === true) return null;
    const known = program.devices.get(device.value);
    return {
      code: 'device-silent',
      message: `${known?.name ?? device.value} does not answer at ${known?.host ?? '?'}:${known?.port ?? '?'}; nothing was sent.`,
      mend: 'Check its power, address and port.',
    };
  }

  /** Why this press needs a second touch, when it does and the second touch has not come. */
  private doubt(button: Button, input: PressInput, program: Program, scope: Scope): AppError | null {
    const mayMove = input.direct !== undefined || program.mayMove(button.id);
    const seen = mayMove ? seenOnAir(button.steps, program, readerOf(this.deps.board, scope)) : null;
    if (button.guard === 'none' && seen === null) return null;
    const key = `${input.station}/${input.buttonId}`;
    const now = this.deps.clock.now();
    const first = this.touched.get(key);
    this.touched.delete(key);
    if (first !== undefined && now - first >= TREMBLE_MS && now - first <= SECOND_TOUCH_MS) return null;
    this.touched.set(key, first !== undefined && now - first < TREMBLE_MS ? first : now);
    return seen === null
      ? { code: 'second-touch', message: `${button.legend} is guarded.`, mend: 'Touch again within 3 s.' }
      : { code: 'second-touch', message: seen, mend: 'Touch again within 3 s.' };
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
      why,
    });
  }

  private remember(input: Pick<PressInput, 'pressId' | 'buttonId' | 'station' | 'person'>): PressRecord {
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
      since: now,
      down: undefined,
      up: undefined,
      held: null,
    };
    this.records.set(input.pressId, record);
    return record;
  }
}
