import type { Program } from '../engine/index';
import { DEEPEST } from '../engine/deepest';
import { type Argument, childrenOf, deviceNamed, expressionsOf, listsOf, type Step } from '../show/index';
import { isHead } from '../show/part';

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
    if (expression === undefined || expression.indirect || expression.reads.some((key) => key.includes('@')))
      open = true;
    else for (const key of expression.reads) found.add(key.slice(0, key.indexOf('.')));
  };
  const argument = (value: Argument): void => {
    if (typeof value === 'string' && program.roles.has(value)) open = true;
  };
  const once = (id: string, depth: number, lists: () => readonly (readonly Step[])[]): void => {
    if (visited.has(id) || depth >= DEEPEST) return;
    visited.add(id);
    lists().forEach((list) => visit(list, depth + 1));
  };
  const visit = (list: readonly Step[], depth: number): void => {
    for (const step of list) {
      expressionsOf(step).forEach(read);
      childrenOf(step).forEach((inner) => visit(inner, depth));
      if (step.kind === 'command') {
        // Which one a selection or a parameter names is found on the way.
        if (deviceNamed(step).includes('.')) open = true;
        found.add(step.device);
      }
      if (step.kind === 'command' || step.kind === 'run') Object.values(step.params).forEach(argument);
      if (step.kind === 'run')
        once(step.macro, depth, () => {
          const macro = program.macros.get(step.macro);
          macro?.params.forEach(({ start }) => (typeof start === 'object' ? read(start.cel) : argument(start)));
          return [macro?.steps ?? [], macro?.stopSteps ?? []];
        });
      if (step.kind === 'press')
        once(step.button, depth, () => {
          const button = program.buttons.get(step.button);
          return button === undefined ? [] : listsOf(button).map(([, steps]) => steps);
        });
    }
  };
  visit(steps, 0);
  if (open) return null;
  // Whether a camera is on air is asked of the switcher before it moves.
  for (const key of [...found]) {
    const head = program.devices.get(key);
    if (head !== undefined && isHead(head, program.document))
      for (const device of program.document.devices)
        if (program.kindOf(device.key)?.airOf !== undefined) found.add(device.key);
  }
  return found;
}
