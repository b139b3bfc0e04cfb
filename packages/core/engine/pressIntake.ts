import { type AppError, type Button, type PlainValue, type Step, stepsWithin } from '../show/index';
import type { ReadKey } from '../expression/index';
import { directButton, type DirectCommand } from './directButton';
import type { Cancel, Clock } from './clock';
import type { Journal } from './journal';
import { DriveLedger } from './driveLedger';
import type { MacroRunner } from './macroRunner';
import type { Program } from './program';
import { airTouches, type Sure } from './onAir';
import { resolveArgument, resolveCommand, resolveDevice } from './resolve';
import { callIdentity, type RunRequest } from './run';
import { pinsOf, reachedKey, readerFor, readerOf, type Scope } from './scope';
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

/** Whether a part of a button begins a move that only a release ends. */
const movesOn = (steps: readonly Step[], program: Program, read: ReadKey): boolean =>
  [...stepsWithin(steps)].some((step) => {
    if (step.kind !== 'command' || step.params.forSeconds !== undefined) return false;
    const device = resolveDevice(step.device, program, read);
    return device.ok && program.kindOf(device.value)?.commands[step.command]?.endedBy !== undefined;
  });

/** The button that a press means: the show's, one made up for a direct command, or the show's with one step alone, or from one on. Undefined when there is no such button or step. */
function buttonFor(input: PressInput, program: Program, read: ReadKey): Button | undefined {
  if (input.direct) return directButton(input.buttonId, input.direct, program, read);
  const button = program.buttons.get(input.buttonId);
  if (button === undefined || input.only === undefined) return button;
  const list = [button.steps, button.releaseSteps].find((steps) => steps.some((step) => step.id === input.only));
  if (list === undefined) return undefined;
  const at = list.findIndex((step) => step.id === input.only);
  const steps = input.onward === true ? list.slice(at) : list.slice(at, at + 1);
  const part = input.onward === true ? `from step ${at + 1}` : 'one step';
  return {
    ...button,
    legend: `${button.legend} · ${part}`.slice(0, 120),
    // A step of a held button is held as well: what it moves is ended with it.
    mode: movesOn(steps, program, read) ? 'hold' : 'press',
    steps,
    releaseSteps: [],
  };
}

/** Steps that are nothing but one macro meet its rule for a second press, whichever button runs it. */
function secondPressOf(button: Button, program: Program, read: ReadKey): Pick<RunRequest, 'identity' | 'again'> {
  const own = { identity: button.id, again: 'startOver' } as const;
  const steps = button.steps.filter((step) => step.kind !== 'note');
  const [only] = steps;
  if (steps.length !== 1 || only?.kind !== 'run') return own;
  const macro = program.macros.get(only.macro);
  if (macro === undefined) return own;
  const params: Record<string, PlainValue> = {};
  for (const param of macro.params) {
    const value = resolveArgument(only.params[param.key] ?? param.start, program, read);
    if (!value.ok) return own;
    params[param.key] = value.value;
  }
  return { identity: callIdentity(macro.id, params), again: macro.again };
}

const NO_PINS: ReadonlyMap<string, PlainValue> = new Map();
const NO_PARAMS: Readonly<Record<string, PlainValue>> = {};
const ALLOWED: { readonly sure: Sure } = { sure: 'all' };
const NOBODY_ASKED: { readonly sure: Sure } = { sure: null };
/** First touches that are kept; their second ones come within seconds. */
const MOST_TOUCHED = 1000;
/** How far the first step is looked for through macros and lists. */
const DEEPEST_FIRST = 20;

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
  /** Time of the touch on the engine's clock, milliseconds; left out: now. Not a time of day: a stepped clock refuses no press. */
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
  /** Moves that its release has to end. */
  readonly drives: DriveLedger;
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
  /** First touches that wait for their second one, by station and button: when, and what was told. */
  private readonly touched = new Map<string, { readonly at: number; readonly told: ReadonlySet<string> }>();

  constructor(
    private readonly deps: {
      readonly clock: Clock;
      readonly board: StateBoard;
      readonly journal: Journal;
      readonly runner: MacroRunner;
      readonly program: () => Program;
      readonly onTrouble: (where: string, error: unknown) => void;
    },
  ) {}

  /** Takes one phase of a press. A fault inside fails this press alone, in words, and lets go of what it held. */
  press(input: PressInput): PressAnswer {
    try {
      return this.take(input);
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

  private take(input: PressInput): PressAnswer {
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

  /** @param hurried whether the release steps run without their pauses and waits */
  releaseEverything(why: string, hurried = false): number {
    const held = [...this.records.values()].filter((record) => record.held !== null);
    held.forEach((record) => this.release(record, why, hurried));
    return held.length;
  }

  /** Buttons that are held now, with what their release would do. */
  heldNow(): { readonly legend: string; readonly steps: readonly Step[]; readonly program: Program }[] {
    return [...this.records.values()].flatMap(({ held }) =>
      held === null ? [] : [{ legend: held.button.legend, steps: held.button.releaseSteps, program: held.program }],
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
    const button = buttonFor(input, program, now);
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
    const fault = input.direct || input.only !== undefined ? undefined : program.faultOf(button.id);
    if (fault) {
      const { message, mend } = fault;
      return this.refuse(record, input, { code: 'broken-button', message, mend });
    }
    const pins = input.direct || program.selects(input.buttonId) ? pinsOf(this.deps.board, linkGroup) : NO_PINS;
    const asked: Scope = { linkGroup, params: NO_PARAMS, pins, sure: null };
    const read = readerOf(this.deps.board, asked);
    const obstacle =
      this.obstacle(button.steps[0], program, asked, 0) ?? (input.direct ? unfit(button, program, read) : null);
    if (obstacle) return this.refuse(record, input, obstacle);
    const verdict = input.sure === true ? ALLOWED : this.doubt(button, input, program, read);
    if ('code' in verdict) return this.refuse(record, input, verdict);
    const scope: Scope = verdict.sure === null ? asked : { ...asked, sure: verdict.sure };
    this.log('down', record);
    const drives = button.mode === 'hold' ? new DriveLedger() : undefined;
    const runId = this.deps.runner.start({
      name: button.legend,
      ...secondPressOf(button, program, read),
      program,
      scope,
      steps: button.steps,
      cause: { kind: 'press', id: record.pressId },
      buttonId: button.id,
      ...(drives === undefined ? {} : { drives }),
    });
    if (drives !== undefined) {
      record.held = {
        button,
        program,
        scope,
        drives,
        runId,
        renewedAt: this.deps.clock.now(),
        cancelLease: () => undefined,
      };
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
    if (step?.kind !== 'command' || step.command !== direct.command) return;
    if (step.device !== direct.device && !direct.device.includes('.')) return;
    if (Object.entries(direct.params).every(([key, value]) => step.params[key] === value)) return;
    const read = readerOf(this.deps.board, held.scope);
    const button = directButton(held.button.id, direct, held.program, read);
    if (unfit(button, held.program, read)) return;
    held.button = button;
    // The hand is on this camera: whoever took it on air meanwhile, it may be steered on.
    const sure = held.scope.sure === 'all' ? 'all' : new Set([...(held.scope.sure ?? []), step.device]);
    held.runId = this.deps.runner.start({
      name: button.legend,
      identity: button.id,
      program: held.program,
      scope: { ...held.scope, sure },
      steps: button.steps,
      again: 'startOver',
      cause: { kind: 'steer', id: held.runId },
      buttonId: button.id,
      drives: held.drives,
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
  private release(record: PressRecord, why?: string, hurried = false): void {
    const { held } = record;
    if (!held) return;
    record.held = null;
    held.cancelLease();
    this.log('up', record, why);
    this.deps.runner.stop(held.runId, 'Released.');
    const steps = [...this.endsOf(held), ...held.button.releaseSteps];
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
    });
  }

  /** What ends the moves that the press began, before anything else that its release does; left out where the release begins with the same. */
  private endsOf(held: Held): Step[] {
    const [first] = held.button.releaseSteps;
    const read = readerOf(this.deps.board, held.scope);
    const saidFirst = (device: string, command: string): boolean => {
      if (first?.kind !== 'command' || first.command !== command) return false;
      const spoken = resolveDevice(first.device, held.program, read);
      return spoken.ok && spoken.value === device;
    };
    return held.drives.take().flatMap(([device, end]) =>
      saidFirst(device, end.command)
        ? []
        : [
            {
              id: `end-${device}`.slice(0, 40),
              onFail: 'goOn',
              kind: 'command',
              device,
              command: end.command,
              params: { ...end.params },
            },
          ],
    );
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
  private obstacle(step: Step | undefined, program: Program, scope: Scope, depth: number): AppError | null {
    if (step === undefined)
      return depth > 0
        ? null
        : { code: 'empty-button', message: 'This button does nothing yet.', mend: 'Give it a step in the Bench.' };
    if (depth > DEEPEST_FIRST) return null;
    if (step.kind === 'run') return this.obstacle(program.macros.get(step.macro)?.steps[0], program, scope, depth + 1);
    if (step.kind === 'press')
      return this.obstacle(program.buttons.get(step.button)?.steps[0], program, scope, depth + 1);
    if (step.kind === 'together') {
      for (const one of step.steps) {
        const found = this.obstacle(one, program, scope, depth + 1);
        if (found) return found;
      }
      return null;
    }
    if (step.kind !== 'command') return null;
    const device = resolveDevice(step.device, program, readerOf(this.deps.board, scope));
    if (!device.ok) return device.error;
    if (this.deps.board.read(reachedKey(device.value)) === true) return null;
    const known = program.devices.get(device.value);
    const wrong = program.deviceFault(device.value);
    if (wrong) return { code: 'broken-device', message: wrong.message, mend: wrong.mend };
    return {
      code: 'device-silent',
      message: `${known?.name ?? device.value} does not answer at ${known?.host ?? '?'}:${known?.port ?? '?'}; nothing was sent.`,
      mend: 'Check its power, address and port.',
    };
  }

  /** Why this press needs a second touch, when it does and the second touch has not come; otherwise what the hand has allowed. */
  private doubt(button: Button, input: PressInput, program: Program, read: ReadKey): AppError | { sure: Sure } {
    const mayMove = input.direct !== undefined || program.mayMove(input.buttonId);
    const touches = mayMove ? airTouches(button.steps, program, read) : [];
    if (button.guard === 'none' && touches.length === 0) return NOBODY_ASKED;
    const key = `${input.station}/${input.buttonId}`;
    const now = this.deps.clock.now();
    const first = this.touched.get(key);
    this.touched.delete(key);
    const since = first === undefined ? Infinity : now - first.at;
    const told = first?.told ?? new Set<string>();
    // A second touch allows what the first one was told, and no more.
    if (since >= TREMBLE_MS && since <= SECOND_TOUCH_MS && touches.every(({ what }) => told.has(what)))
      return { sure: new Set(told) };
    if (this.touched.size > MOST_TOUCHED) this.touched.clear();
    this.touched.set(key, {
      at: since < TREMBLE_MS ? now - since : now,
      told: new Set([...(since < TREMBLE_MS ? told : []), ...touches.map(({ what }) => what)]),
    });
    const message = touches.length === 0 ? `${button.legend} is guarded.` : touches.map(({ words }) => words).join(' ');
    return {
      code: 'second-touch',
      message,
      mend: 'Touch again within 3 s.',
      short: touches.length === 0 ? 'guarded: touch again' : 'on air: touch again',
    };
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
