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

/** The first command of a macro that is given this parameter as it is; null when none is. */
export function useOfParam(macro: Macro, key: string, { devices, profiles }: ShowDocument): ParamUse | null {
  const cel = `param.${key}`;
  for (const step of stepsWithin([...macro.steps, ...macro.stopSteps])) {
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
  return null;
}

/** The first command of a macro whose device this parameter names; null when it names none. */
export function deviceOfParam(
  { steps, stopSteps }: Pick<Macro, 'steps' | 'stopSteps'>,
  key: string,
): Extract<Step, { kind: 'command' }> | null {
  for (const step of stepsWithin([...steps, ...stopSteps]))
    if (step.kind === 'command' && step.deviceFrom === key) return step;
  return null;
}
