import { kindOf } from '../devices/index';
import { type AppError, fail, ok, type PlainValue, type Result } from '../show/index';
import type { Step } from '../show/index';
import type { Clock } from './clock';
import type { DeviceNews, DevicePort } from './devicePort';
import type { Journal } from './journal';
import { LampBoard } from './lamps';
import { MacroRunner, type RunView } from './macroRunner';
import { type PressAnswer, PressIntake, type PressInput } from './pressIntake';
import type { Program } from './program';
import { resolveArgument } from './resolve';
import { pinsOf, readerOf } from './scope';
import { StateBoard } from './stateBoard';

/** What the engine takes from outside: live, a real clock and a durable journal; in rehearsal, a virtual clock and an array. */
export interface EngineOptions {
  readonly clock: Clock;
  readonly journal: Journal;
  readonly program: Program;
  /** Names runs and commands. */
  readonly newId: () => string;
  readonly onRun?: (run: RunView, ended: boolean) => void;
  /** Keys of the board that changed in one instant, lamps already worked out. */
  readonly onPublished?: (keys: ReadonlySet<string>) => void;
}

/**
 * Runs a show. A press goes: `press` → PressIntake (lease, tombstone, pins) → MacroRunner (steps) → DevicePort (driver or model);
 * what comes back goes: port → news → StateBoard → the lamps, waits and runs that read the changed keys.
 */
export class Engine {
  readonly board: StateBoard;
  readonly runner: MacroRunner;
  readonly intake: PressIntake;
  private readonly ports = new Map<string, DevicePort>();
  private readonly lampBoards = new Map<string, LampBoard>();
  private current: Program;

  constructor(private readonly options: EngineOptions) {
    this.current = options.program;
    this.board = new StateBoard((keys) => options.onPublished?.(keys));
    const shared = { clock: options.clock, board: this.board, journal: options.journal };
    this.runner = new MacroRunner({
      ...shared,
      newId: options.newId,
      portOf: (device) => this.ports.get(device),
      ...(options.onRun === undefined ? {} : { onRun: options.onRun }),
    });
    this.intake = new PressIntake({ ...shared, runner: this.runner, program: () => this.current });
    for (const value of this.current.document.values) this.board.set(`value.${value.key}`, value.start);
  }

  get program(): Program {
    return this.current;
  }

  /** Goes over to an edited show. Runs and held presses finish with the one that they began with. */
  setProgram(program: Program): void {
    this.board.turn(() => {
      this.current = program;
      for (const value of program.document.values) {
        if (typeof this.board.read(`value.${value.key}`) === 'symbol')
          this.board.set(`value.${value.key}`, value.start);
      }
      for (const [group, lamps] of this.lampBoards) {
        lamps.close();
        this.lampBoards.set(group, new LampBoard(this.board, program, group));
      }
    });
  }

  /** Ties a device's port in; its news go to the board. Until it is heard, its points are unknown. */
  attach(device: string, port: DevicePort): void {
    this.ports.set(device, port);
    this.board.set(`${device}.reached`, false);
  }

  detach(device: string): void {
    this.ports.delete(device);
    this.board.turn(() => this.board.forgetScope(device));
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
    return {
      points: (changes) =>
        this.board.turn(() => {
          for (const point in changes) {
            const value = changes[point];
            if (value !== undefined) this.board.set(keyOf(point), value);
          }
        }),
      reached: (yes, words) =>
        this.board.turn(() => {
          if (!yes) this.board.forgetScope(device, reachedOnly);
          this.board.set(`${device}.reached`, yes);
          this.options.journal.append({
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
    cause: string,
    linkGroup = 'main',
  ): Result<string, AppError> {
    const macro = this.current.macros.get(macroId);
    if (macro === undefined)
      return fail({
        code: 'unknown-macro',
        message: `There is no macro ${macroId}.`,
        mend: 'Choose one that exists.',
        path: 'macroId',
      });
    const scope = { linkGroup, params: {}, pins: pinsOf(this.board, linkGroup) };
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
          identity: macro.id,
          program: this.current,
          scope: { ...scope, params: given },
          steps: macro.steps,
          stopSteps: macro.stopSteps,
          again: macro.again,
          owns: macro.owns,
          cause,
          macroId: macro.id,
        }),
      ),
    );
  }

  /** Runs steps that belong to nothing of the show, such as a round through a camera's positions. @param program the show with their expressions parsed */
  runSteps(program: Program, name: string, steps: readonly Step[], owns: readonly string[], cause: string): string {
    const scope = { linkGroup: 'main', params: {}, pins: pinsOf(this.board, 'main') };
    return this.board.turn(() =>
      this.runner.start({
        name,
        identity: `steps ${owns.join(' ')}`,
        program,
        scope,
        steps,
        stopSteps: [],
        again: 'restart',
        owns,
        cause,
      }),
    );
  }

  stationLost(station: string): void {
    this.board.turn(() => this.intake.stationLost(station));
  }

  /** Ends runs with their stop steps, releases what is held, stops what moves. Program, captions and recordings stay. */
  stopAll(station: string): { runs: number; holds: number } {
    return this.board.turn(() => {
      const holds = this.intake.releaseEverything('Everything was stopped.');
      const runs = this.runner.stopEverything('Everything was stopped.');
      const { clock, journal, newId } = this.options;
      journal.append({ kind: 'stopAll', t: clock.now(), station, runs, holds });
      for (const device of this.current.document.devices) {
        const stop = Object.entries(kindOf(device, this.current.document)?.commands ?? {}).find(
          ([, command]) => command.lane === 'stop',
        );
        const port = this.ports.get(device.key);
        if (!stop || !port || this.board.read(`${device.key}.reached`) !== true) continue;
        const commandId = newId();
        const command = { command: stop[0], params: {} };
        journal.append({ kind: 'command', t: clock.now(), commandId, device: device.key, command });
        port.send(commandId, command, (event) => {
          if (event.type !== 'outcome') return;
          journal.append({
            kind: 'outcome',
            t: clock.now(),
            commandId,
            device: device.key,
            outcome: event.outcome,
            ...(event.why === undefined ? {} : { why: event.why }),
          });
        });
      }
      return { runs, holds };
    });
  }

  /** The lamps as a link group sees them; kept up to date from the first call on. */
  lamps(linkGroup: string): LampBoard {
    let lamps = this.lampBoards.get(linkGroup);
    if (lamps === undefined) {
      lamps = new LampBoard(this.board, this.current, linkGroup);
      this.lampBoards.set(linkGroup, lamps);
    }
    return lamps;
  }

  groups(): Iterable<string> {
    return this.lampBoards.keys();
  }
}
