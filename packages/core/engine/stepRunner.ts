import { type Expression, ExpressionFault, UNKNOWN } from '../expression/index';
import { type PlainValue, type Step, unreachable } from '../show/index';
import { guardedOnAir, slowOnAir } from './onAir';
import type { CommandEvent } from './devicePort';
import { DriveLedger } from './driveLedger';
import type { Owners } from './owners';
import { resolveArgument, resolveCommand } from './resolve';
import { callIdentity, type Run } from './run';
import type { RunnerDependencies } from './macroRunner';
import { boardKey, reachedKey, readerOf, type Scope } from './scope';
import type { SecondPresses } from './secondPress';
import type { Reader } from './stateBoard';
import { type Closing, type Finish, FINE, type Hold, type StepResult, Task } from './task';

/** Steps of one run in one instant; a list that goes round without end meets it. */
export const MOST_STEPS_AN_INSTANT = 10_000;
/** Lists in lists, macros in macros, buttons in buttons. */
const DEEPEST = 60;
/** In a list whose steps are each tried, a device that does not answer holds the next step up no longer than this. */
const PATIENCE_MS = 150;

const bad = (why: string): StepResult => ({ ok: false, why });
const nameOf = (device: string, run: Run): string => run.request.program.devices.get(device)?.name ?? device;
const tenths = (ms: number): string => `${Math.round(ms / 100) / 10} s`;

/** Longest path that stands in a command's id as it is: devices take ids of a bounded length. */
const LONGEST_PATH = 100;

/** Names a command by its run and the place of its step, so that the same step of the same run is the same command. Long paths end in a hash (FNV-1a). */
function commandIdOf(runId: string, path: string): string {
  if (path.length <= LONGEST_PATH) return `${runId}/${path}`;
  let hash = 0x811c9dc5;
  for (let at = 0; at < path.length; at += 1) hash = Math.imul(hash ^ path.charCodeAt(at), 0x01000193) >>> 0;
  return `${runId}/${path.slice(0, LONGEST_PATH - 20)}~${path.length}.${hash.toString(36)}`;
}

interface StepRunnerDependencies extends RunnerDependencies {
  readonly owners: Owners;
  readonly second: SecondPresses;
  readonly fail: (run: Run, why: string) => void;
  readonly stop: (run: Run, why: string) => void;
  readonly close: (run: Run, closings: readonly Closing[]) => void;
  readonly maybeEnd: (run: Run) => void;
  readonly told: (run: Run) => void;
}

/** Carries steps out: the one interpreter, live and in rehearsal. Each kind of step has its method; lists inside steps are tasks of their own. */
export class StepRunner {
  constructor(private readonly deps: StepRunnerDependencies) {}

  /** Steps one after the other. A loop as long as steps end at once, so that a long macro does not grow the stack. */
  list(task: Task, steps: readonly Step[], finish: Finish): void {
    let index = 0;
    let inLoop = false;
    let again = false;
    let trouble: string | null = null;
    const done: Finish = (result) => {
      if (task.over) return;
      finish(result);
    };
    task.fail = (why) => {
      if (task.over) return;
      if (task.eachTried) {
        task.run.trouble ??= why;
        return;
      }
      this.close(task);
      finish(bad(why));
    };
    // A step ends once, before the next one begins: one way on serves them all.
    const next: Finish = (result) => {
      if (task.over) return;
      if (!result.ok) {
        if (task.eachTried) trouble ??= result.why;
        else if (steps[index]?.onFail === 'stop') return done(result);
      }
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
          if (trouble !== null) task.run.trouble ??= trouble;
          done(trouble === null || task.parent === null ? FINE : bad(trouble));
          return;
        }
        this.one(task, step, index, next);
      } while (again && !task.over);
      inLoop = false;
    };
    go();
  }

  private one(task: Task, step: Step, index: number, next: Finish): void {
    const { clock, journal } = this.deps;
    const { run } = task;
    const path = `${task.path}.${index}`;
    run.step = run.request.program.sentence(step);
    run.stepPath = path;
    journal.append({ kind: 'step', t: clock.now(), runId: run.runId, stepId: step.id, path, words: run.step });
    let ended = false;
    const end: Finish = (result) => {
      if (ended || task.over || run.ended) return;
      ended = true;
      run.until = null;
      const told = { kind: 'stepEnd', t: clock.now(), runId: run.runId, stepId: step.id, path } as const;
      if (result.ok) journal.append({ ...told, ok: true });
      else journal.append({ ...told, ok: false, why: result.why });
      next(result);
    };
    if (this.exhausted(run)) {
      return end(
        bad(
          `It did more than ${MOST_STEPS_AN_INSTANT} steps at one moment: a list goes round without a pause. Give it one.`,
        ),
      );
    }
    try {
      this.carryOut(task, step, path, end);
    } catch (error) {
      // A driver or an expression that throws fails this step, in words; the run and the engine go on.
      this.deps.onTrouble?.(`the step "${run.step}"`, error);
      end(bad('It failed inside the engine; the log tells where.'));
    }
  }

  private carryOut(task: Task, step: Step, path: string, end: Finish): void {
    switch (step.kind) {
      case 'command':
        return this.command(task, step, path, end);
      case 'pause':
        return this.pause(task, step, end);
      case 'wait':
        return this.wait(task, step, end);
      case 'set':
        return this.set(task, step, end);
      case 'run':
        return this.call(task, step, path, end);
      case 'press':
        return this.press(task, step, path, end);
      case 'together':
        return this.together(task, step, path, end);
      case 'if':
        return this.branch(task, step, path, end);
      case 'repeat':
        return this.repeat(task, step, path, end);
      case 'ask':
        return this.ask(task, step, path, end);
      case 'note':
        return end(FINE);
      default:
        return unreachable(step);
    }
  }

  private exhausted(run: Run): boolean {
    const { clock, board } = this.deps;
    const now = clock.now();
    // One turn of a real clock takes time, and on a virtual one many turns take none: only both together make another instant.
    if (run.instant !== now && run.turn !== board.turns) {
      run.instant = now;
      run.turn = board.turns;
      run.stepsInInstant = 0;
    }
    return (run.stepsInInstant += 1) > MOST_STEPS_AN_INSTANT;
  }

  /** A list inside a step. */
  private inner(
    parent: Task,
    path: string,
    scope: Scope = parent.scope,
    eachTried = parent.eachTried,
    drives = parent.drives,
  ): Task {
    const read = scope === parent.scope ? parent.read : readerOf(this.deps.board, scope);
    return new Task(parent.run, parent, scope, read, path, parent.due, parent.depth + 1, eachTried, drives);
  }

  /** Ends a list early, with what has to follow. */
  private close(task: Task): void {
    const closings = task.cancel();
    if (closings.length > 0) this.deps.close(task.run, closings);
  }

  private command(task: Task, step: Extract<Step, { kind: 'command' }>, path: string, end: Finish): void {
    const { board, clock, journal } = this.deps;
    const { run } = task;
    const { program } = run.request;
    const resolved = resolveCommand(step, program, task.read);
    if (!resolved.ok) return end(bad(resolved.error.message));
    const { device, unsettles, definition } = resolved.value;
    if (step.moveOnAir !== true && (definition.movesPicture === true || definition.changesLine === true)) {
      const seen = guardedOnAir(step, program, task.read, task.scope.sure);
      if (seen !== null) return end(bad(seen));
    }
    const command = slowOnAir(device, resolved.value.command, program, board.read);
    const port = this.deps.portOf(device);
    if (port === undefined || board.read(reachedKey(device)) !== true)
      return end(bad(`${nameOf(device, run)} does not answer.`));
    const commandId = commandIdOf(run.runId, path);
    const { runId } = run;
    journal.append({ kind: 'command', t: clock.now(), runId, commandId, device, command });
    for (const key of unsettles) board.forget(key);
    if (definition.endedBy !== undefined && command.params.forSeconds === undefined)
      task.drives.began(device, definition.endedBy);
    else task.drives.sent(device, command.command);
    let hold: Hold | null = null;
    let stepOver = false;
    const ended: Finish = (result) => {
      if (hold !== null) task.letGo(hold);
      hold = null;
      stepOver = true;
      end(result);
    };
    const onEvent = (event: CommandEvent): void => {
      board.enter();
      try {
        const t = clock.now();
        if (event.type === 'accepted') {
          journal.append({ kind: 'accepted', t, runId, commandId, device });
          ended(FINE);
        } else if (event.type === 'settled') {
          journal.append({ kind: 'settled', t, runId, commandId, device, words: event.words });
        } else {
          const { outcome, why } = event;
          journal.append({
            kind: 'outcome',
            t,
            runId,
            commandId,
            device,
            outcome,
            ...(why === undefined ? {} : { why }),
          });
          run.pending.delete(commandId);
          if (outcome === 'done' || outcome === 'sent') ended(FINE);
          else {
            const words = why ?? `${nameOf(device, run)}: ${outcome}.`;
            if (stepOver) this.failedLate(task, step, words);
            else ended(bad(words));
          }
          this.deps.maybeEnd(run);
        }
      } finally {
        board.leave();
      }
    };
    // A port never calls back from inside `send`, so the outcome finds this.
    run.pending.set(commandId, port.send(commandId, command, onEvent));
    if (task.eachTried) {
      const cancel = clock.at(clock.now() + PATIENCE_MS, () => board.turn(() => ended(FINE)));
      hold = { cancel, hurry: () => ended(FINE) };
      task.hold(hold);
    }
  }

  /** A move that fails after its acceptance still ends the innermost list that runs, wherever that has got to. */
  private failedLate(task: Task, step: Step, why: string): void {
    const { run } = task;
    if (task.eachTried) {
      run.trouble ??= why;
      return;
    }
    if (step.onFail !== 'stop' || run.ended || run.stopping !== null) return;
    for (let list: Task | null = task; list !== null; list = list.parent) {
      if (!list.over) return list.fail(why);
      // What stands around it said that a failure in here is no matter.
      if (list.tolerant) return;
    }
  }

  private pause(task: Task, step: Extract<Step, { kind: 'pause' }>, end: Finish): void {
    const { run } = task;
    if (run.hurried) return end(FINE);
    const { frameRate } = run.request.program.document.show;
    task.due += 'ms' in step.length ? step.length.ms : (step.length.frames * 1000) / frameRate;
    this.later(task, task.due, () => end(FINE));
  }

  /** Goes on at a time, or at once when nothing is to wait any more. */
  private later(task: Task, due: number, work: () => void): void {
    const { run } = task;
    const { clock, board } = this.deps;
    run.until = due;
    const cancel = clock.at(due, () => {
      task.letGo(hold);
      board.turn(work);
    });
    const hold: Hold = { cancel, hurry: work };
    task.hold(hold);
    this.deps.told(run);
  }

  private wait(task: Task, step: Extract<Step, { kind: 'wait' }>, end: Finish): void {
    const { board, clock } = this.deps;
    const { run } = task;
    if (run.hurried) return end(FINE);
    const expression = run.request.program.expression(step.until);
    if (expression === undefined) return end(bad(`The condition "${step.until}" cannot be read.`));
    let keys: string[] = [];
    const giveUp = (): void => {
      board.unsubscribe(keys, reader);
      cancelTimer();
    };
    const leave = (result: StepResult): void => {
      giveUp();
      task.letGo(hold);
      task.due = clock.now();
      end(result);
    };
    const look = (): boolean => {
      const verdict = expression.evaluate(task.read);
      if (verdict instanceof ExpressionFault) {
        leave(bad(`The condition "${step.until}" cannot be worked out: ${verdict.message}`));
        return true;
      }
      if (verdict === true) leave(FINE);
      return verdict === true;
    };
    const reader: Reader = {
      wake: () => {
        if (task.over || look() || !expression.indirect) return;
        board.unsubscribe(keys, reader);
        listen();
      },
    };
    const listen = (): void => {
      keys = expression.readsNow(task.read).map((key) => boardKey(key, task.scope.linkGroup));
      board.subscribe(keys, reader);
    };
    let cancelTimer = (): void => undefined;
    const hold: Hold = { cancel: giveUp, hurry: () => end(FINE) };
    if (look()) return;
    listen();
    task.hold(hold);
    run.until = clock.now() + step.timeoutMs;
    cancelTimer = clock.at(run.until, () =>
      board.turn(() => leave(bad(`Timed out after ${tenths(step.timeoutMs)}: ${step.until}`))),
    );
    this.deps.told(run);
  }

  private set(task: Task, step: Extract<Step, { kind: 'set' }>, end: Finish): void {
    const { board, clock, journal } = this.deps;
    const value = resolveArgument(step.to, task.run.request.program, task.read);
    if (!value.ok) return end(bad(value.error.message));
    const key = boardKey(step.target, task.scope.linkGroup);
    board.set(key, value.value);
    journal.append({ kind: 'set', t: clock.now(), runId: task.run.runId, key, value: value.value });
    end(FINE);
  }

  private call(task: Task, step: Extract<Step, { kind: 'run' }>, path: string, end: Finish): void {
    const { run } = task;
    const { program } = run.request;
    const macro = program.macros.get(step.macro);
    if (macro === undefined) return end(bad('The macro is gone.'));
    if (task.depth >= DEEPEST) return end(bad(`${macro.name}: macros are nested deeper than ${DEEPEST}.`));
    const params: Record<string, PlainValue> = {};
    for (const param of macro.params) {
      const value = resolveArgument(step.params[param.key] ?? param.start, program, task.read);
      if (!value.ok) return end(bad(value.error.message));
      params[param.key] = value.value;
    }
    const identity = callIdentity(macro.id, params);
    const begin = (): void => {
      const inner = this.inner(task, `${path}.macro`, { ...task.scope, params });
      inner.tolerant = step.onFail === 'goOn';
      if (macro.stopSteps.length > 0)
        inner.closing = { owner: inner, path: `${path}.stopSteps`, steps: macro.stopSteps };
      this.deps.second.began(identity, inner);
      for (const device of macro.owns) this.deps.owners.take(device, inner, macro.name);
      if (inner.over) return end(bad(`${macro.name} lost its device before it began.`));
      this.list(inner, macro.steps, (result) => {
        task.due = Math.max(task.due, inner.due);
        if (result.ok) {
          inner.closing = null;
          inner.end();
        } else this.close(inner);
        end(result);
        this.deps.second.over(identity, inner);
      });
    };
    let wanted = true;
    const hold: Hold = { cancel: () => (wanted = false), hurry: () => end(FINE) };
    const verdict = this.deps.second.meet(identity, macro.again, task, () => {
      if (!wanted || task.over) return false;
      task.letGo(hold);
      task.due = this.deps.clock.now();
      begin();
      return true;
    });
    if (verdict.kind === 'begin') return begin();
    // Another run has it: this step is over, or waits for its turn.
    if (verdict.waits) task.hold(hold);
    else end(FINE);
  }

  private press(task: Task, step: Extract<Step, { kind: 'press' }>, path: string, end: Finish): void {
    const { program } = task.run.request;
    const button = program.buttons.get(step.button);
    if (button === undefined) return end(bad('The button is gone.'));
    const fault = program.faultOf(button.id);
    if (fault !== undefined) return end(bad(`${button.legend}: ${fault.message}`));
    if (task.depth >= DEEPEST) return end(bad(`${button.legend}: buttons are nested deeper than ${DEEPEST}.`));
    const held = button.mode === 'hold';
    const inner = this.inner(
      task,
      `${path}.button`,
      task.scope,
      task.eachTried,
      held ? new DriveLedger() : task.drives,
    );
    inner.tolerant = step.onFail === 'goOn';
    if (held) inner.closing = { owner: inner, path: `${path}.release`, steps: button.releaseSteps };
    this.list(inner, button.steps, (result) => {
      const over = (): void => {
        task.due = Math.max(task.due, inner.due);
        // The release of a held button is what closes it, also when all went well.
        this.close(inner);
        end(result);
      };
      if (!held || !result.ok) over();
      else this.later(inner, this.deps.clock.now() + (task.run.hurried ? 0 : step.holdMs), over);
    });
  }

  private together(task: Task, step: Extract<Step, { kind: 'together' }>, path: string, end: Finish): void {
    let open = step.steps.length;
    if (open === 0) return end(FINE);
    let latest = task.due;
    let over = false;
    const branches: Task[] = [];
    step.steps.forEach((one, index) => {
      if (over) return;
      const branch = this.inner(task, path);
      branch.tolerant = step.onFail === 'goOn';
      branches.push(branch);
      branch.fail = (why) => ended({ ok: false, why });
      const ended: Finish = (result) => {
        if (branch.over) return;
        branch.end();
        latest = Math.max(latest, branch.due);
        open -= 1;
        if (!result.ok && task.eachTried) task.run.trouble ??= result.why;
        if (!result.ok && one.onFail === 'stop' && !task.eachTried) {
          over = true;
          for (const other of branches) this.close(other);
          return end(result);
        }
        if (open === 0) {
          task.due = latest;
          end(FINE);
        }
      };
      this.one(branch, one, index, ended);
    });
  }

  /** @returns what the condition says, or why it says nothing */
  private condition(expression: Expression | undefined, text: string, task: Task): boolean | string {
    if (expression === undefined) return `The condition "${text}" cannot be read.`;
    const verdict = expression.evaluate(task.read);
    if (verdict instanceof ExpressionFault) return `The condition "${text}" cannot be worked out: ${verdict.message}`;
    if (verdict === UNKNOWN) return `"${text}" is not known at present.`;
    return typeof verdict === 'boolean' ? verdict : `"${text}" is neither yes nor no.`;
  }

  private branch(task: Task, step: Extract<Step, { kind: 'if' }>, path: string, end: Finish): void {
    const verdict = this.condition(task.run.request.program.expression(step.when), step.when, task);
    if (typeof verdict === 'string') return end(bad(verdict));
    this.sublist(
      task,
      verdict ? step.steps : step.otherwise,
      `${path}.${verdict ? 'steps' : 'otherwise'}`,
      end,
      step.onFail === 'goOn',
    );
  }

  /** A list that stands in a step and shares the scope. */
  private sublist(
    task: Task,
    steps: readonly Step[],
    path: string,
    end: Finish,
    tolerant: boolean,
    scope?: Scope,
  ): void {
    const inner = this.inner(task, path, scope);
    inner.tolerant = tolerant;
    this.list(inner, steps, (result) => {
      task.due = inner.due;
      if (result.ok) inner.end();
      else this.close(inner);
      end(result);
    });
  }

  private repeat(task: Task, step: Extract<Step, { kind: 'repeat' }>, path: string, end: Finish): void {
    const { over } = step;
    const { run } = task;
    const { clock } = this.deps;
    const frameMs = 1000 / run.request.program.document.show.frameRate;
    let round = 0;
    let began = -Infinity;
    let inLoop = false;
    let again = false;
    const another = (): boolean | string => {
      if ('times' in over) return round < over.times;
      if ('each' in over) return round < over.each.length;
      // Nothing is to wait any more, and a condition might hold for ever.
      return run.hurried ? false : this.condition(run.request.program.expression(over.while), over.while, task);
    };
    const scopeOf = (): Scope | undefined => {
      const value = 'each' in over ? over.each[round] : undefined;
      return 'each' in over && value !== undefined
        ? { ...task.scope, params: { ...task.scope.params, [over.as]: value } }
        : undefined;
    };
    const go = (): void => {
      if (inLoop) {
        again = true;
        return;
      }
      inLoop = true;
      do {
        again = false;
        const more = another();
        if (more !== true) {
          inLoop = false;
          return end(more === false ? FINE : bad(more));
        }
        if (this.exhausted(run)) {
          inLoop = false;
          return end(bad(`It went round more than ${MOST_STEPS_AN_INSTANT} times at one moment. Give it a pause.`));
        }
        began = clock.now();
        this.sublist(
          task,
          step.steps,
          `${path}.${round}`,
          (result) => {
            if (!result.ok && !task.eachTried) return end(result);
            round += 1;
            const next = 'while' in over && !run.hurried ? began + frameMs : began;
            if (next > clock.now()) this.later(task, next, go);
            else go();
          },
          step.onFail === 'goOn',
          scopeOf(),
        );
      } while (again && !task.over);
      inLoop = false;
    };
    go();
  }

  private ask(task: Task, step: Extract<Step, { kind: 'ask' }>, path: string, end: Finish): void {
    const { run } = task;
    const { board, clock } = this.deps;
    if (run.hurried || this.deps.answerAsks === true) return end(FINE);
    const askId = path;
    const leave = (): void => {
      cancel();
      run.questions.delete(askId);
      task.letGo(hold);
      task.due = clock.now();
    };
    const stop = (why: string): void => {
      leave();
      if (task.eachTried) end(bad(why));
      else this.deps.stop(run, why);
    };
    run.until = clock.now() + step.timeoutMs;
    const cancel = clock.at(run.until, () =>
      board.turn(() => {
        if (step.onTimeout === 'stop')
          return stop(`Nobody answered within ${tenths(step.timeoutMs)}: ${step.question}`);
        leave();
        end(FINE);
      }),
    );
    const hold: Hold = {
      cancel: () => {
        cancel();
        run.questions.delete(askId);
      },
      hurry: () => end(FINE),
    };
    task.hold(hold);
    run.questions.set(askId, {
      askId,
      question: step.question,
      answer: (what) =>
        board.turn(() => {
          if (what === 'stop') return stop('The operator stopped it.');
          leave();
          end(FINE);
        }),
    });
    this.deps.told(run);
  }
}
