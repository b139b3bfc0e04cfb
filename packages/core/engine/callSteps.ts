import type { PlainValue, Step } from '../show/index';
import { DeedLedger, wayBack } from './deeds';
import { DriveLedger } from './driveLedger';
import { resolveArgument, resolveDevice } from './resolve';
import { callIdentity } from './run';
import { closingOf, restores } from './restoreStep';
import { DEEPEST } from './deepest';
import { bad, type StepKit } from './stepKit';
import { type Finish, FINE, type Hold, type Task } from './task';

/** A macro that a step runs: with its own parameters, stop steps, devices and rule for a second press. */
export function callStep(
  kit: StepKit,
  task: Task,
  step: Extract<Step, { kind: 'run' }>,
  path: string,
  end: Finish,
): void {
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
    const inner = kit.inner(task, `${path}.macro`, { ...task.scope, params });
    inner.tolerant = step.onFail === 'goOn';
    const back = macro.atStop === 'asBefore';
    if (back || restores(macro.steps)) inner.deeds = new DeedLedger(task.deeds);
    inner.closing = closingOf(inner, `${path}.stopSteps`, back ? 'asBefore' : macro.stopSteps, kit.deps.board);
    kit.deps.second.began(identity, inner);
    for (const device of macro.owns) kit.deps.owners.claim(device, inner, macro.name);
    if (inner.over) return end(bad(`${macro.name} lost its device before it began.`));
    kit.list(inner, macro.steps, (result) => {
      task.due = Math.max(task.due, inner.due);
      if (result.ok) {
        inner.closing = null;
        inner.end();
      } else kit.close(inner);
      end(result);
      kit.deps.second.over(identity, inner);
    });
  };
  let wanted = true;
  const hold: Hold = { cancel: () => (wanted = false), hurry: () => end(FINE) };
  const verdict = kit.deps.second.meet(identity, macro.again, task, () => {
    if (!wanted || task.over) return false;
    task.letGo(hold);
    task.due = kit.deps.clock.now();
    begin();
    return true;
  });
  if (verdict.kind === 'begin') return begin();
  // Another run has it: this step is over, or waits for its turn.
  if (verdict.waits) task.hold(hold);
  else end(FINE);
}

/** A button of the show, pressed by a step; one that is held is let go after its time. */
export function pressStep(
  kit: StepKit,
  task: Task,
  step: Extract<Step, { kind: 'press' }>,
  path: string,
  end: Finish,
): void {
  const { program } = task.run.request;
  const button = program.buttons.get(step.button);
  if (button === undefined) return end(bad('The button is gone.'));
  const fault = program.faultOf(button.id);
  if (fault !== undefined) return end(bad(`${button.legend}: ${fault.message}`));
  if (task.depth >= DEEPEST) return end(bad(`${button.legend}: buttons are nested deeper than ${DEEPEST}.`));
  const held = button.mode === 'hold';
  const inner = kit.inner(task, `${path}.button`, task.scope, task.eachTried, held ? new DriveLedger() : task.drives);
  inner.tolerant = step.onFail === 'goOn';
  if (held) {
    const deeds = (inner.deeds = new DeedLedger(task.deeds));
    const steps =
      button.atRelease === 'asBefore'
        ? (): readonly Step[] => wayBack(deeds, kit.deps.board, 'release').steps
        : button.releaseSteps;
    inner.closing = { owner: inner, path: `${path}.release`, steps };
  } else if (restores(button.steps)) inner.deeds = new DeedLedger(task.deeds);
  kit.list(inner, button.steps, (result) => {
    const over = (): void => {
      task.due = Math.max(task.due, inner.due);
      // The release of a held button is what closes it, also when all went well.
      kit.close(inner);
      end(result);
    };
    if (!held || !result.ok) over();
    else kit.later(inner, kit.deps.clock.now() + (task.run.hurried ? 0 : step.holdMs), over);
  });
}

/** Several steps at once: it is over with the last of them, or with the first that fails. */
export function togetherStep(
  kit: StepKit,
  task: Task,
  step: Extract<Step, { kind: 'together' }>,
  path: string,
  end: Finish,
): void {
  let open = step.steps.length;
  if (open === 0) return end(FINE);
  let latest = task.due;
  let over = false;
  const branches: Task[] = [];
  const devices = new Set<string>();
  step.steps.forEach((item, index) => {
    if (over) return;
    const branch = kit.inner(task, path);
    branch.tolerant = step.onFail === 'goOn';
    // What starts in one instant is one touch of whoever steps through.
    branch.ungated = true;
    branch.together = item.kind === 'command';
    const named = item.kind === 'command' ? resolveDevice(item, task.run.request.program, task.read) : null;
    if (named?.ok === true) devices.add(named.value);
    branches.push(branch);
    branch.fail = (why) => ended({ ok: false, why });
    const ended: Finish = (result) => {
      if (branch.over) return;
      branch.end();
      latest = Math.max(latest, branch.due);
      open -= 1;
      if (!result.ok && task.eachTried) task.run.trouble ??= result.why;
      if (!result.ok && item.onFail === 'stop' && !task.eachTried) {
        over = true;
        for (const other of branches) kit.close(other);
        return end(result);
      }
      if (open === 0) {
        task.due = latest;
        end(FINE);
      }
    };
    kit.step(branch, item, index, ended);
  });
  // All devices at once, and each with all that is meant for it.
  for (const device of devices) kit.deps.portOf(device)?.leave?.();
}
