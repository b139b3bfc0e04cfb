import { ExpressionFault, type ReadKey, UNKNOWN } from '../expression/index';
import type { Argument, Macro, PlainValue, Step } from '../show/index';

/** Evaluates an expression's text; undefined or a fault where it cannot be. */
export type Evaluate = (cel: string, read: ReadKey) => PlainValue | typeof UNKNOWN | ExpressionFault | undefined;

/** One argument as it is now; undefined where that is not known. */
export function plainOf(argument: Argument | undefined, evaluate: Evaluate, read: ReadKey): PlainValue | undefined {
  if (typeof argument !== 'object') return argument;
  const value = evaluate(argument.cel, read);
  return value === UNKNOWN || value instanceof ExpressionFault ? undefined : value;
}

/** Reads as a macro does that this step runs: its own parameters first. */
export function callReader(
  step: Extract<Step, { kind: 'run' }>,
  macro: Macro,
  evaluate: Evaluate,
  read: ReadKey,
): { readonly read: ReadKey; readonly params: Readonly<Record<string, PlainValue>> } {
  const params: Record<string, PlainValue> = {};
  for (const { key, start } of macro.params) {
    const value = plainOf(step.params[key] ?? start, evaluate, read);
    if (value !== undefined) params[key] = value;
  }
  return {
    params,
    read: (key) => (key.startsWith('param.') ? (params[key.slice('param.'.length)] ?? UNKNOWN) : read(key)),
  };
}
