import type { PlainValue, Step } from '../show/index';
import { UNKNOWN } from '../expression/index';
import { deedOfSet } from './deeds';
import { CHOSEN_PERSON, personBy, setTarget, withParts } from './people';
import { resolveArgument } from './resolve';
import { boardKey } from './scope';
import { mayBeChosen, notThere, selectionOf } from './selections';
import { bad, type StepKit } from './stepKit';
import { type Finish, FINE, type Task } from './task';

type SetStep = Extract<Step, { kind: 'set' }>;

/** What the step puts, or why it puts nothing. */
function contentOf(task: Task, step: SetStep): { readonly value: PlainValue } | { readonly words: string } {
  const { program } = task.run.request;
  if (step.by !== undefined) {
    const next = personBy(program, present(task.read(CHOSEN_PERSON)), step.by);
    return 'key' in next ? { value: next.key } : next;
  }
  const value = resolveArgument(step.to, program, task.read);
  if (!value.ok) return { words: value.error.message };
  if (step.target === CHOSEN_PERSON && !program.people.has(String(value.value)))
    return { words: `There is nobody called ${String(value.value)} in the people list.` };
  if (selectionOf(step.target) !== undefined && !mayBeChosen(step.target, value.value, program.document)) {
    const { message, mend } = notThere(step.target, value.value);
    return { words: `${message} ${mend}` };
  }
  return { value: value.value };
}

const present = (value: unknown): PlainValue | typeof UNKNOWN =>
  typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean' ? value : UNKNOWN;

/** A show value or a selection gets another content. */
export function setStep(kit: StepKit, task: Task, step: SetStep, end: Finish): void {
  const { board, clock, journal } = kit.deps;
  const { program } = task.run.request;
  const { linkGroup, pins } = task.scope;
  const content = contentOf(task, step);
  if ('words' in content) return end(bad(content.words));
  const { value } = content;
  const key = boardKey(step.target, linkGroup);
  const before = board.read(key);
  task.deeds?.add(
    deedOfSet(step.target, key, program.sentence(step), before === UNKNOWN ? undefined : before, value),
    clock.now(),
  );
  setTarget(board, program, linkGroup, step.target, value);
  // What a press chooses itself, its later steps and its release mean; what others choose meanwhile, they do not.
  for (const [target, part] of withParts(program, step.target, value)) pins.set(target, part);
  journal.append({ kind: 'set', t: clock.now(), runId: task.run.runId, key, value });
  end(FINE);
}
