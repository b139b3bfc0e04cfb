import { type Step, unreachable } from '../show/index';
import { callStep, pressStep, togetherStep } from './callSteps';
import { branchStep, repeatStep, sublist } from './choiceSteps';
import { commandStep } from './commandStep';
import type { Run } from './run';
import { readerOf, type Scope } from './scope';
import { gateStep, waitsForTouch } from './gate';
import { restoreStep } from './restoreStep';
import { setStep } from './setStep';
import { triggerStep } from './rules/triggerStep';
import { bad, MOST_STEPS_AN_INSTANT, type StepKit, type StepRunnerDependencies } from './stepKit';
import { type Finish, FINE, type Hold, Task } from './task';
import { askStep, pauseStep, waitStep } from './timedSteps';

/** Carries steps out: the one interpreter, live and in rehearsal. Each kind of step has its function; lists inside steps are tasks of their own. */
export class StepRunner implements StepKit {
  constructor(readonly deps: StepRunnerDependencies) {}

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
        this.step(task, step, index, next);
      } while (again && !task.over);
      inLoop = false;
    };
    go();
  }

  step(task: Task, step: Step, index: number, next: Finish): void {
    const path = `${task.path}.${index}`;
    if (waitsForTouch(task, step)) gateStep(this, task, step, path, () => this.begin(task, step, path, next));
    else this.begin(task, step, path, next);
  }

  private begin(task: Task, step: Step, path: string, next: Finish): void {
    const { clock, journal } = this.deps;
    const { run } = task;
    run.step = run.request.program.sentence(step);
    run.stepPath = path;
    journal.append({ kind: 'step', t: clock.now(), runId: run.runId, stepId: step.id, path, words: run.step });
    let ended = false;
    const end: Finish = (result) => {
      if (ended || task.over || run.ended) return;
      ended = true;
      run.until = null;
      const record = { kind: 'stepEnd', t: clock.now(), runId: run.runId, stepId: step.id, path } as const;
      if (result.ok) journal.append({ ...record, ok: true });
      else journal.append({ ...record, ok: false, why: result.why });
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
        return commandStep(this, task, step, path, end);
      case 'pause':
        return pauseStep(this, task, step, end);
      case 'wait':
        return waitStep(this, task, step, end);
      case 'set':
        return setStep(this, task, step, end);
      case 'run':
        return callStep(this, task, step, path, end);
      case 'press':
        return pressStep(this, task, step, path, end);
      case 'together':
        return togetherStep(this, task, step, path, end);
      case 'if':
        return branchStep(this, task, step, path, end);
      case 'repeat':
        return repeatStep(this, task, step, path, end);
      case 'ask':
        return askStep(this, task, step, path, end);
      case 'show':
        if (task.scope.station !== undefined) this.deps.onShow?.(task.scope.station, step.panel, step.page);
        return end(FINE);
      case 'trigger':
        return triggerStep(this, task, step, end);
      case 'restore':
        return restoreStep(this, task, step, path, end);
      case 'group':
        return sublist(this, task, step.steps, `${path}.steps`, end, step.onFail === 'goOn');
      case 'note':
        return end(FINE);
      default:
        return unreachable(step);
    }
  }

  exhausted(run: Run): boolean {
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
  inner(
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
  close(task: Task): void {
    const closings = task.cancel();
    if (closings.length > 0) this.deps.close(task.run, closings);
  }

  /** A move that fails after its acceptance still ends the innermost list that runs, wherever that has got to. */
  failedLate(task: Task, step: Step, why: string): void {
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

  /** Goes on at a time, or at once when nothing is to wait any more. */
  later(task: Task, due: number, work: () => void): void {
    const { run } = task;
    const { clock, board } = this.deps;
    run.until = due;
    const cancel = clock.at(due, () => {
      task.letGo(hold);
      board.turn(work);
    });
    const hold: Hold = { cancel, hurry: work };
    task.hold(hold);
    this.deps.onChange(run);
  }
}
