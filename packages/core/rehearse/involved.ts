import type { Program } from '../engine/index';
import type { Argument, Step } from '../show/index';

/**
 * Devices that a rehearsal of these steps has to model: those it commands, and those whose points its conditions and values read. The others
 * stand still: nothing of theirs is looked at, and starting their models would cost more than many a rehearsal itself.
 * @returns null when that cannot be said beforehand: a selection, a role or an indirect name decides it on the way
 */
export function devicesInvolved(steps: readonly Step[], program: Program): ReadonlySet<string> | null {
  const found = new Set<string>();
  const visited = new Set<string>();
  let open = false;
  const read = (text: string): void => {
    const expression = program.expression(text);
    if (expression === undefined || expression.indirect) open = true;
    else for (const key of expression.reads) found.add(key.slice(0, key.indexOf('.')));
  };
  const argument = (value: Argument): void => {
    if (typeof value === 'object') read(value.cel);
    else if (typeof value === 'string' && program.roles.has(value)) open = true;
  };
  const visit = (list: readonly Step[]): void => {
    for (const step of list) {
      switch (step.kind) {
        case 'command':
          if (step.device.includes('.')) open = true;
          found.add(step.device);
          Object.values(step.params).forEach(argument);
          break;
        case 'wait':
          read(step.until);
          break;
        case 'set':
          argument(step.to);
          break;
        case 'run': {
          if (visited.has(step.macro)) break;
          visited.add(step.macro);
          const macro = program.macros.get(step.macro);
          Object.values(step.params).forEach(argument);
          macro?.params.forEach((param) => argument(param.start));
          visit(macro?.steps ?? []);
          visit(macro?.stopSteps ?? []);
          break;
        }
        case 'together':
          visit(step.steps);
          break;
        case 'pause':
          break;
      }
    }
  };
  visit(steps);
  if (open) return null;
  // Whether a camera is on air is asked of the switcher before it moves.
  for (const key of [...found])
    if (program.devices.get(key)?.kind === 'ptzHead')
      for (const device of program.document.devices) if (device.kind === 'switcher') found.add(device.key);
  return found;
}
