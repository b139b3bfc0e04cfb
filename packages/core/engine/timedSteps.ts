import { ExpressionFault } from '../expression/index';
import { frameMs, type Step } from '../show/index';
import { saidOf } from './conditions';
import { boardKey } from './scope';
import type { Reader } from './stateBoard';
import { bad, type StepKit, tenths } from './stepKit';
import { type Finish, FINE, type Hold, type StepResult, type Task } from './task';

/** Waits for a stated time, counted from when the step was due: a list keeps its own time. */
export function pauseStep(kit: StepKit, task: Task, step: Extract<Step, { kind: 'pause' }>, end: Finish): void {
  const { run } = task;
  if (run.hurried) return end(FINE);
  const { frameRate } = run.request.program.document.show;
  task.due += 'ms' in step.length ? step.length.ms : step.length.frames * frameMs(frameRate);
  kit.later(task, task.due, () => end(FINE));
}

/** Waits until a condition holds, at most for its time. */
export function waitStep(kit: StepKit, task: Task, step: Extract<Step, { kind: 'wait' }>, end: Finish): void {
  const { board, clock, counting } = kit.deps;
  const { run } = task;
  if (run.hurried) return end(FINE);
  const said = (): string => saidOf(step.until, run.request.program.document);
  const expression = run.request.program.expression(step.until);
  if (expression === undefined) return end(bad(`The condition "${step.until}" cannot be read.`));
  let keys: string[] = [];
  const fine = counting?.concerns(expression) === true ? counting : null;
  const read = fine === null ? task.read : fine.reader(task.read);
  let cancelNext = (): void => undefined;
  const giveUp = (): void => {
    board.unsubscribe(keys, reader);
    cancelTimer();
    cancelNext();
  };
  const leave = (result: StepResult): void => {
    giveUp();
    task.letGo(hold);
    task.due = clock.now();
    end(result);
  };
  const look = (): boolean => {
    cancelNext();
    const verdict = expression.evaluate(read);
    if (verdict instanceof ExpressionFault) {
      leave(bad(`“${said()}” cannot be worked out: ${verdict.message}`));
      return true;
    }
    if (verdict === true) leave(FINE);
    else if (fine !== null) cancelNext = fine.wakeAtNext(expression, () => board.turn(() => reader.wake()));
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
    board.turn(() => leave(bad(`Timed out after ${tenths(step.timeoutMs)}: ${said()}`))),
  );
  kit.deps.onChange(run);
}

/** Asks the operator, and goes by the answer, or by what is set for none. */
export function askStep(
  kit: StepKit,
  task: Task,
  step: Extract<Step, { kind: 'ask' }>,
  path: string,
  end: Finish,
): void {
  const { run } = task;
  const { board, clock } = kit.deps;
  if (run.hurried || kit.deps.answerAsks === true) return end(FINE);
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
    else kit.deps.stop(run, why);
  };
  run.until = clock.now() + step.timeoutMs;
  const cancel = clock.at(run.until, () =>
    board.turn(() => {
      if (step.onTimeout === 'stop') return stop(`Nobody answered within ${tenths(step.timeoutMs)}: ${step.question}`);
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
  kit.deps.onChange(run);
}
