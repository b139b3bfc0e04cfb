import { type Expression, ExpressionFault, UNKNOWN } from '../expression/index';
import { frameMs, type Step } from '../show/index';
import { saidOf } from './conditions';
import type { Scope } from './scope';
import { selectionOf } from './selections';
import { bad, MOST_STEPS_AN_INSTANT, type StepKit } from './stepKit';
import { type Finish, FINE, type Task } from './task';

/** A selection that a condition goes by, and that nobody has made. */
const unmade = (key: string, task: Task): boolean => selectionOf(key) !== undefined && task.read(key) === UNKNOWN;

/** @returns what the condition says, or why it says nothing */
function condition(expression: Expression | undefined, text: string, task: Task): boolean | string {
  if (expression === undefined) return `The condition "${text}" cannot be read.`;
  const verdict = expression.evaluate(task.read);
  if (typeof verdict === 'boolean') return verdict;
  const said = saidOf(text, task.run.request.program.document);
  if (verdict instanceof ExpressionFault) return `“${said}” cannot be worked out: ${verdict.message}`;
  const missing = verdict === UNKNOWN ? expression.reads.find((key) => unmade(key, task)) : undefined;
  if (missing !== undefined) {
    const words = selectionOf(missing)?.words ?? missing;
    return `Nothing is chosen as ${words}. Choose the ${words} first, then press again.`;
  }
  return verdict === UNKNOWN ? `It is not known at present whether ${said}.` : `“${said}” is neither yes nor no.`;
}

/** A list that stands in a step and shares the scope. */
export function sublist(
  kit: StepKit,
  task: Task,
  steps: readonly Step[],
  path: string,
  end: Finish,
  tolerant: boolean,
  scope?: Scope,
): void {
  const inner = kit.inner(task, path, scope);
  inner.tolerant = tolerant;
  kit.list(inner, steps, (result) => {
    task.due = inner.due;
    if (result.ok) inner.end();
    else kit.close(inner);
    end(result);
  });
}

/** One of two lists, by a condition. */
export function branchStep(
  kit: StepKit,
  task: Task,
  step: Extract<Step, { kind: 'if' }>,
  path: string,
  end: Finish,
): void {
  const verdict = condition(task.run.request.program.expression(step.when), step.when, task);
  if (typeof verdict === 'string') return end(bad(verdict));
  sublist(
    kit,
    task,
    verdict ? step.steps : step.otherwise,
    `${path}.${verdict ? 'steps' : 'otherwise'}`,
    end,
    step.onFail === 'goOn',
  );
}

/** A list so many times, for each of a list of values, or while a condition holds. */
export function repeatStep(
  kit: StepKit,
  task: Task,
  step: Extract<Step, { kind: 'repeat' }>,
  path: string,
  end: Finish,
): void {
  const { over } = step;
  const { run } = task;
  const { clock } = kit.deps;
  const aFrame = frameMs(run.request.program.document.show.frameRate);
  let round = 0;
  let began = -Infinity;
  let inLoop = false;
  let again = false;
  const another = (): boolean | string => {
    if ('times' in over) return round < over.times;
    if ('each' in over) return round < over.each.length;
    // Nothing is to wait any more, and a condition might hold for ever.
    return run.hurried ? false : condition(run.request.program.expression(over.while), over.while, task);
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
      if (kit.exhausted(run)) {
        inLoop = false;
        return end(bad(`It went round more than ${MOST_STEPS_AN_INSTANT} times at one moment. Give it a pause.`));
      }
      began = clock.now();
      sublist(
        kit,
        task,
        step.steps,
        `${path}.${round}`,
        (result) => {
          if (!result.ok && !task.eachTried) return end(result);
          round += 1;
          const next = 'while' in over && !run.hurried ? began + aFrame : began;
          if (next > clock.now()) kit.later(task, next, go);
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
