import { type CommandDefinition, kindOf, ptzHead } from '../devices/index';
import { type Macro, type ShowDocument, type Step, stepsWithin } from '../show/index';

/** Where a macro gives a parameter on to a device as it is: the command's parameter of that name says what it means. */
export interface ParamUse {
  readonly device: string;
  /** What is given says which device it is as well: `device` is the one that the macro was written with. */
  readonly anyDevice: boolean;
  readonly definition: CommandDefinition;
  readonly param: string;
}

/** Finds a macro by its id; undefined when there is none. */
export type MacroOf = (id: string) => Macro | undefined;

/** Finds the macros of a show. */
export const macrosOf =
  ({ macros }: Pick<ShowDocument, 'macros'>): MacroOf =>
  (id) =>
    macros.find((macro) => macro.id === id);

/** What of a macro can hand a parameter on. */
type MacroSteps = Pick<Macro, 'steps' | 'stopSteps'>;

const allSteps = ({ steps, stopSteps }: MacroSteps): Iterable<Step> => stepsWithin([...steps, ...stopSteps]);

/** The macros that get this parameter as it is, this one first, each with what it is called there; a circle ends where it closes. */
function* handedOn(
  macro: MacroSteps,
  key: string,
  macroOf: MacroOf,
  met = new Set<string>(),
): Generator<readonly [MacroSteps, string]> {
  yield [macro, key];
  const cel = `param.${key}`;
  for (const step of allSteps(macro)) {
    if (step.kind !== 'run') continue;
    for (const [inner, argument] of Object.entries(step.params)) {
      if (typeof argument !== 'object' || argument.cel.trim() !== cel) continue;
      const mark = `${step.macro}/${inner}`;
      if (met.has(mark)) continue;
      met.add(mark);
      const called = macroOf(step.macro);
      if (called !== undefined) yield* handedOn(called, inner, macroOf, met);
    }
  }
}

/** The first command that is given this parameter as it is, in this macro or in those that it hands it on to; null when none is. */
export function useOfParam(
  macro: MacroSteps,
  key: string,
  { devices, profiles }: Pick<ShowDocument, 'devices' | 'profiles'>,
  macroOf: MacroOf,
): ParamUse | null {
  for (const [holder, name] of handedOn(macro, key, macroOf)) {
    const cel = `param.${name}`;
    for (const step of allSteps(holder)) {
      if (step.kind !== 'command') continue;
      for (const [param, argument] of Object.entries(step.params)) {
        if (typeof argument !== 'object' || argument.cel.trim() !== cel) continue;
        const kind = step.device.startsWith('chosen.')
          ? ptzHead
          : kindOf(
              devices.find((device) => device.key === step.device),
              { profiles },
            );
        const definition = kind?.commands[step.command];
        if (definition !== undefined)
          return { device: step.device, anyDevice: step.deviceFrom !== undefined, definition, param };
      }
    }
  }
  return null;
}

/** The first command whose device this parameter names, in this macro or in those that it hands it on to; null when it names none. */
export function deviceOfParam(
  macro: MacroSteps,
  key: string,
  macroOf: MacroOf,
): Extract<Step, { kind: 'command' }> | null {
  for (const [holder, name] of handedOn(macro, key, macroOf))
    for (const step of allSteps(holder)) if (step.kind === 'command' && step.deviceFrom === name) return step;
  return null;
}
