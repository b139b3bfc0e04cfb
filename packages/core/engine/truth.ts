import { UNKNOWN, type ReadKey } from '../expression/index';
import { type Button, childrenOf, type PlainValue, type Step } from '../show/index';
import { callReader, type Evaluate } from './callReader';
import type { Program } from './program';
import { resolveArgument, resolveCommand } from './resolve';
import { DEEPEST } from './deepest';

const evaluateIn =
  (program: Program): Evaluate =>
  (cel, read) =>
    program.expression(cel)?.evaluate(read);

/** What steps make of points, values and selections, by the keys that expressions use; what comes later wins. */
function madeBy(
  steps: readonly Step[],
  program: Program,
  read: ReadKey,
  made: Map<string, PlainValue>,
  depth: number,
): void {
  if (depth > DEEPEST) return;
  for (const step of steps) {
    if (step.kind === 'command') {
      const resolved = resolveCommand(step, program, read);
      if (!resolved.ok) continue;
      const { device, definition, command } = resolved.value;
      if (definition.effect === undefined || definition.effect.relative === true) continue;
      const point = (name: string): PlainValue | undefined => {
        const value = read(`${device}.${name}`);
        return value === UNKNOWN ? undefined : value;
      };
      for (const [name, value] of Object.entries(definition.effect.makes(command.params, point)))
        made.set(`${device}.${name}`, value);
    } else if (step.kind === 'set') {
      // Who follows in a list is another one each time.
      if (step.by !== undefined) continue;
      const value = resolveArgument(step.to, program, read);
      if (value.ok) made.set(step.target, value.value);
    } else if (step.kind === 'trigger') {
      if (step.does !== 'fire') made.set(`armed@${step.trigger}`, step.does === 'arm');
    } else if (step.kind === 'run') {
      const macro = program.macros.get(step.macro);
      if (macro !== undefined)
        madeBy(macro.steps, program, callReader(step, macro, evaluateIn(program), read).read, made, depth + 1);
    } else if (step.kind === 'press')
      madeBy(program.buttons.get(step.button)?.steps ?? [], program, read, made, depth + 1);
    else if (step.kind === 'together' || step.kind === 'group')
      for (const list of childrenOf(step)) madeBy(list, program, read, made, depth);
    // What an "if" or a repeat does is another matter each time: it says nothing.
  }
}

/**
 * Whether what these steps do is so already: every point, value and selection stands where they would put it.
 * @returns undefined when that cannot be told: their devices tell nothing of it, or do not answer
 */
export function isSo(steps: readonly Step[], program: Program, read: ReadKey): boolean | undefined {
  const made = new Map<string, PlainValue>();
  madeBy(steps, program, read, made, 0);
  if (made.size === 0) return undefined;
  let known = true;
  for (const [key, value] of made) {
    const now = read(key);
    if (now === UNKNOWN) known = false;
    else if (now !== value) return false;
  }
  return known ? true : undefined;
}

/** Which set of an alternating button a press does. */
export interface NextSet {
  /** 0: the button's own steps; from 1 on its further sets. */
  readonly index: number;
  /** Devices tell nothing of it: it goes by what was sent last. */
  readonly asSent: boolean;
}

/** Board key under which it is kept which set was sent last. */
export const sentKey = (buttonId: string): string => `sent@${buttonId}`;

/**
 * The set that follows the one that is so. Where none is, the first; where the devices tell of all but one that they are not so, that one
 * counts as so; where they tell too little, the one behind what was sent last.
 */
export function nextSet(button: Button, program: Program, read: ReadKey): NextSet {
  const count = button.sets.length + 1;
  const truths = [
    isSo(button.steps, program, read),
    ...button.sets.map(({ so, steps }) => {
      if (so === '') return isSo(steps, program, read);
      const verdict = program.expression(so)?.evaluate(read);
      return typeof verdict === 'boolean' ? verdict : undefined;
    }),
  ];
  const after = (index: number, asSent = false): NextSet => ({ index: (index + 1) % count, asSent });
  const so = truths.indexOf(true);
  if (so >= 0) return after(so);
  const open = truths.flatMap((truth, at) => (truth === undefined ? [at] : []));
  if (open.length === 0) return { index: 0, asSent: false };
  if (open.length === 1) return after(open[0] ?? 0);
  const sent = read(sentKey(button.id));
  return typeof sent === 'number' ? after(sent, true) : { index: 0, asSent: true };
}

/** The button as its next press does it. */
export function asNext(button: Button, { index }: NextSet): Button {
  const set = button.sets[index - 1];
  return set === undefined ? button : { ...button, legend: set.legend || button.legend, steps: set.steps };
}
