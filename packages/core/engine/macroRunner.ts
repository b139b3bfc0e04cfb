import { ExpressionFault, type ReadKey } from '../expression/index';
import { type PlainValue, type Step, unreachable } from '../show/index';
import type { Cancel, Clock } from './clock';
import type { CommandEvent, DevicePort } from './devicePort';
import type { Journal } from './journal';
import type { Program } from './program';
import { slowOnAir } from './onAir';
import { resolveArgument, resolveCommand } from './resolve';
import { boardKey, reachedKey, readerOf, type Scope } from './scope';
import type { Reader, StateBoard } from './stateBoard';

/** What a run is asked to be. */
export interface RunRequest {
  readonly name: string;
  /** Runs of the same identity meet the `again` rule: a macro's or a button's id. */
  readonly identity: string;
  readonly program: Program;
  readonly scope: Scope;
  readonly steps: readonly Step[];
  readonly stopSteps: readonly Step[];
  readonly again: 'restart' | 'ignore' | 'queue' | 'stop';
  readonly owns: readonly string[];
  readonly cause: string;
  readonly buttonId?: string | undefined;
  readonly macroId?: string | undefined;
}

/** A run as others see it. */
export interface RunView {
  readonly runId: string;
  readonly name: string;
  readonly buttonId?: string | undefined;
  readonly startedAt: number;
  readonly step: string;
  readonly stepPath: string;
  /** Engine time at which the present pause ends or the present wait gives up; null when neither. */
  readonly until: number | null;
  readonly stopping: boolean;
}

export interface RunnerDependencies {
  readonly clock: Clock;
  readonly board: StateBoard;
  readonly journal: Journal;
  readonly newId: () => string;
  readonly portOf: (device: string) => DevicePort | undefined;
  /** A run began, went on or ended. */
  readonly onRun?: (run: RunView, ended: boolean) => void;
}

/** Takes one entry out. A run waits for one or two things at a time: a list of these is quicker than a set. */
const nameOf = (device: string, run: Run): string => run.program.devices.get(device)?.name ?? device;

function drop(list: Cancel[], entry: Cancel): void {
  if (list[list.length - 1] === entry) list.pop();
  else if (list.includes(entry)) list.splice(list.indexOf(entry), 1);
}

type Result = { readonly ok: true } | { readonly ok: false; readonly why: string };
type Finish = (result: Result) => void;
const FINE: Result = { ok: true };

/** A list of steps under way, with the scope and the nominal time that its pauses count from. */
interface Frame {
  readonly scope: Scope;
  readonly read: ReadKey;
  readonly path: string;
  /** When the present step was due: later pauses count from here, so that lateness does not add up. */
  due: number;
}

interface Run extends RunRequest {
  readonly runId: string;
  readonly startedAt: number;
  readonly cancels: Cancel[];
  /** Commands whose outcome has not come, each with what takes it back while it is not sent. */
  readonly pending: Cancel[];
  stepsEnded: boolean;
  stopping: { how: 'failed' | 'stopped'; why: string } | null;
  ended: boolean;
  step: string;
  stepPath: string;
  until: number | null;
}

/** Runs macros: the one interpreter of steps, live and in rehearsal. */
export class MacroRunner {
  private readonly runs = new Map<string, Run>();
  private readonly owners = new Map<string, Run>();
  private readonly queues = new Map<string, RunRequest[]>();

  constructor(private readonly deps: RunnerDependencies) {}

  /** Whether anything runs. */
  get busy(): boolean {
    return this.runs.size > 0;
  }

  list(): RunView[] {
    return [...this.runs.values()].map(viewOf);
  }

  /** Starts a run, or does what the `again` rule says when one of this identity is under way. @returns the id of the run that answers for it */
  start(request: RunRequest): string {
    const present = [...this.runs.values()].find((run) => run.identity === request.identity && run.stopping === null);
    if (present) {
      switch (request.again) {
        case 'ignore':
          return present.runId;
        case 'queue':
          this.queues.set(request.identity, [...(this.queues.get(request.identity) ?? []), request]);
          return present.runId;
        case 'stop':
          this.stop(present.runId, 'Pressed again.');
          return present.runId;
        case 'restart':
          this.stop(present.runId, 'Started over.');
          break;
        default:
          unreachable(request.again);
      }
    }
    return this.begin(request);
  }

  /** Stops a run: what waits is dropped, its stop steps run, then it is over. Commands already sent are not taken back. */
  stop(runId: string, why: string): void {
    const run = this.runs.get(runId);
    if (run && run.stopping === null) this.wind(run, 'stopped', why);
  }

  stopEverything(why: string): number {
    const open = [...this.runs.values()].filter((run) => run.stopping === null);
    this.queues.clear();
    open.forEach((run) => this.stop(run.runId, why));
    return open.length;
  }

  private begin(request: RunRequest): string {
    const { clock, journal } = this.deps;
    // Field by field: copying an object that grows further fields is slow the first times, and most presses are first times.
    const run: Run = {
      name: request.name,
      identity: request.identity,
      program: request.program,
      scope: request.scope,
      steps: request.steps,
      stopSteps: request.stopSteps,
      again: request.again,
      owns: request.owns,
      cause: request.cause,
      buttonId: request.buttonId,
      macroId: request.macroId,
      runId: this.deps.newId(),
      startedAt: clock.now(),
      cancels: [],
      pending: [],
      stepsEnded: false,
      stopping: null,
      ended: false,
      step: '',
      stepPath: '',
      until: null,
    };
    this.runs.set(run.runId, run);
    journal.append({
      kind: 'runStart',
      t: run.startedAt,
      runId: run.runId,
      name: run.name,
      cause: run.cause,
      buttonId: run.buttonId,
      macroId: run.macroId,
    });
    for (const device of run.owns) {
      const owner = this.owners.get(device);
      if (owner && owner !== run) this.stop(owner.runId, `${run.name} took ${device}.`);
      this.owners.set(device, run);
    }
    this.sequence(run, run.steps, this.frame(run, run.scope, 'steps'), (result) => {
      if (!result.ok) this.wind(run, 'failed', result.why);
      else {
        run.stepsEnded = true;
        this.maybeEnd(run);
      }
    });
    if (!run.ended) this.deps.onRun?.(viewOf(run), false);
    return run.runId;
  }

  private frame(run: Run, scope: Scope, path: string): Frame {
    return { scope, read: readerOf(this.deps.board, scope), path, due: this.deps.clock.now() };
  }

  /** Steps one after the other. A loop as long as steps end at once, so that a long macro does not grow the stack. */
  private sequence(run: Run, steps: readonly Step[], frame: Frame, finish: Finish): void {
    let index = 0;
    let inLoop = false;
    let again = false;
    // A step ends once, before the next one begins: one way on serves them all.
    const next: Finish = (result) => {
      if (!result.ok && steps[index]?.onFail === 'stop') return finish(result);
      index += 1;
      go();
    };
    const go = (): void => {
      if (inLoop) {
        again = true;
        return;
      }
      inLoop = true;
      do {
        again = false;
        const step = steps[index];
        if (step === undefined) {
          inLoop = false;
          finish(FINE);
          return;
        }
        this.one(run, step, frame, index, next);
      } while (again);
      inLoop = false;
    };
    go();
  }

  private one(run: Run, step: Step, frame: Frame, index: number, finish: Finish): void {
    const { clock, journal } = this.deps;
    const path = `${frame.path}.${index}`;
    run.step = run.program.sentence(step);
    run.stepPath = path;
    journal.append({ kind: 'step', t: clock.now(), runId: run.runId, stepId: step.id, path, words: run.step });
    let ended = false;
    const end = (result: Result = FINE): void => {
      if (ended || run.ended) return;
      ended = true;
      run.until = null;
      if (result.ok)
        journal.append({ kind: 'stepEnd', t: clock.now(), runId: run.runId, stepId: step.id, path, ok: true });
      else
        journal.append({
          kind: 'stepEnd',
          t: clock.now(),
          runId: run.runId,
          stepId: step.id,
          path,
          ok: false,
          why: result.why,
        });
      finish(result);
    };
    switch (step.kind) {
      case 'command':
        this.command(run, step, frame, end);
        break;
      case 'pause': {
        const ms =
          'ms' in step.length ? step.length.ms : (step.length.frames * 1000) / run.program.document.show.frameRate;
        frame.due += ms;
        this.later(run, frame.due, end);
        break;
      }
      case 'wait':
        this.wait(run, step, frame, end);
        break;
      case 'set':
        this.set(run, step, frame, end);
        break;
      case 'run':
        this.call(run, step, frame, path, end);
        break;
      case 'together':
        this.together(run, step.steps, frame, path, end);
        break;
      default:
        unreachable(step);
    }
  }

  private command(run: Run, step: Extract<Step, { kind: 'command' }>, frame: Frame, end: Finish): void {
    const { board, clock, journal } = this.deps;
    const resolved = resolveCommand(step, run.program, frame.read);
    if (!resolved.ok) return end({ ok: false, why: resolved.error.message });
    const { device, unsettles } = resolved.value;
    const command = slowOnAir(device, resolved.value.command, run.program, frame.read);
    const port = this.deps.portOf(device);
    if (port === undefined || board.read(reachedKey(device)) !== true)
      return end({ ok: false, why: `${nameOf(device, run)} does not answer.` });
    const commandId = this.deps.newId();
    const { runId } = run;
    journal.append({ kind: 'command', t: clock.now(), runId, commandId, device, command });
    for (const key of unsettles) board.forget(key);
    const onEvent = (event: CommandEvent): void => {
      board.enter();
      try {
        const t = clock.now();
        if (event.type === 'accepted') {
          journal.append({ kind: 'accepted', t, runId, commandId, device });
          end(FINE);
        } else if (event.type === 'settled') {
          journal.append({ kind: 'settled', t, runId, commandId, device, words: event.words });
        } else {
          if (event.why === undefined)
            journal.append({ kind: 'outcome', t, runId, commandId, device, outcome: event.outcome });
          else journal.append({ kind: 'outcome', t, runId, commandId, device, outcome: event.outcome, why: event.why });
          if (open) drop(run.pending, takeBack);
          open = false;
          if (event.outcome === 'done' || event.outcome === 'sent') end(FINE);
          else {
            const why = event.why ?? `${nameOf(device, run)}: ${event.outcome}.`;
            end({ ok: false, why });
            // A move that fails after its acceptance still ends the run, wherever that has got to.
            if (step.onFail === 'stop' && !run.ended && run.stopping === null) this.wind(run, 'failed', why);
          }
          this.maybeEnd(run);
        }
      } finally {
        board.leave();
      }
    };
    // A port never calls back from inside `send`, so the outcome finds these.
    let open = true;
    const takeBack = port.send(commandId, command, onEvent);
    run.pending.push(takeBack);
  }

  private wait(run: Run, step: Extract<Step, { kind: 'wait' }>, frame: Frame, end: Finish): void {
    const { board, clock } = this.deps;
    const expression = run.program.expression(step.until);
    if (expression === undefined) return end({ ok: false, why: 'The condition was never parsed.' });
    let keys: string[] = [];
    const leave = (result: Result): void => {
      board.unsubscribe(keys, reader);
      cancelTimer();
      drop(run.cancels, giveUp);
      frame.due = clock.now();
      end(result);
    };
    const look = (): boolean => {
      const verdict = expression.evaluate(frame.read);
      if (verdict instanceof ExpressionFault) {
        leave({ ok: false, why: `The condition "${step.until}" cannot be worked out: ${verdict.message}` });
        return true;
      }
      if (verdict === true) leave(FINE);
      return verdict === true;
    };
    const reader: Reader = {
      wake: () => {
        if (look() || !expression.indirect) return;
        board.unsubscribe(keys, reader);
        listen();
      },
    };
    const listen = (): void => {
      keys = expression.readsNow(frame.read).map((key) => boardKey(key, frame.scope.linkGroup));
      board.subscribe(keys, reader);
    };
    let cancelTimer: Cancel = () => undefined;
    const giveUp = (): void => {
      board.unsubscribe(keys, reader);
      cancelTimer();
    };
    if (look()) return;
    listen();
    run.cancels.push(giveUp);
    run.until = clock.now() + step.timeoutMs;
    cancelTimer = clock.at(run.until, () =>
      board.turn(() =>
        leave({ ok: false, why: `Waited ${Math.round(step.timeoutMs / 100) / 10} s in vain: ${step.until}` }),
      ),
    );
    this.deps.onRun?.(viewOf(run), false);
  }

  private set(run: Run, step: Extract<Step, { kind: 'set' }>, frame: Frame, end: Finish): void {
    const { board, clock, journal } = this.deps;
    const value = resolveArgument(step.to, run.program, frame.read);
    if (!value.ok) return end({ ok: false, why: value.error.message });
    const key = boardKey(step.target, frame.scope.linkGroup);
    board.set(key, value.value);
    journal.append({ kind: 'set', t: clock.now(), runId: run.runId, key, value: value.value });
    end(FINE);
  }

  private call(run: Run, step: Extract<Step, { kind: 'run' }>, frame: Frame, path: string, end: Finish): void {
    const macro = run.program.macros.get(step.macro);
    if (macro === undefined) return end({ ok: false, why: 'The macro is gone.' });
    const params: Record<string, PlainValue> = {};
    for (const param of macro.params) {
      const value = resolveArgument(step.params[param.key] ?? param.start, run.program, frame.read);
      if (!value.ok) return end({ ok: false, why: value.error.message });
      params[param.key] = value.value;
    }
    const inner = this.frame(run, { ...frame.scope, params }, `${path}.macro`);
    inner.due = frame.due;
    this.sequence(run, macro.steps, inner, (result) => {
      frame.due = inner.due;
      end(result);
    });
  }

  private together(run: Run, steps: readonly Step[], frame: Frame, path: string, end: Finish): void {
    let open = steps.length;
    if (open === 0) return end(FINE);
    const began = frame.due;
    let latest = began;
    steps.forEach((step, index) => {
      const branch: Frame = { ...frame, path, due: began };
      this.one(run, step, branch, index, (result) => {
        latest = Math.max(latest, branch.due);
        open -= 1;
        if (!result.ok && step.onFail === 'stop') end(result);
        else if (open === 0) {
          frame.due = latest;
          end(FINE);
        }
      });
    });
  }

  private later(run: Run, due: number, work: () => void): void {
    run.until = due;
    const cancel = this.deps.clock.at(due, () => {
      drop(run.cancels, cancel);
      this.deps.board.turn(work);
    });
    run.cancels.push(cancel);
    this.deps.onRun?.(viewOf(run), false);
  }

  /** Ends what the run still does, runs its stop steps, then closes it. */
  private wind(run: Run, how: 'failed' | 'stopped', why: string): void {
    if (run.ended || run.stopping !== null) return;
    run.stopping = { how, why };
    for (const cancel of [...run.cancels, ...run.pending]) cancel();
    run.cancels.length = 0;
    const finish = (): void => {
      run.stepsEnded = true;
      this.end(run, how, why);
    };
    if (run.stopSteps.length === 0) finish();
    else this.sequence(run, run.stopSteps, this.frame(run, run.scope, 'stopSteps'), finish);
  }

  private maybeEnd(run: Run): void {
    if (run.ended || run.stopping !== null || !run.stepsEnded || run.pending.length > 0) return;
    this.end(run, 'done');
  }

  private end(run: Run, how: 'done' | 'failed' | 'stopped', why?: string): void {
    run.ended = true;
    this.runs.delete(run.runId);
    for (const [device, owner] of this.owners) if (owner === run) this.owners.delete(device);
    this.deps.journal.append({ kind: 'runEnd', t: this.deps.clock.now(), runId: run.runId, how, why });
    this.deps.onRun?.(viewOf(run), true);
    const [next, ...rest] = this.queues.get(run.identity) ?? [];
    if (next === undefined) return;
    this.queues.set(run.identity, rest);
    this.start(next);
  }
}

function viewOf(run: Run): RunView {
  return {
    runId: run.runId,
    name: run.name,
    buttonId: run.buttonId,
    startedAt: run.startedAt,
    step: run.step,
    stepPath: run.stepPath,
    until: run.until,
    stopping: run.stopping !== null,
  };
}
