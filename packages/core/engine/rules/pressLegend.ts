import type { Program } from '../program';

/** What was pressed, as people call it: a button or macro, or a command to a device without one. */
export function pressLegend(id: string, program: Program): string {
  const known = program.buttons.get(id)?.legend ?? program.macros.get(id)?.name;
  if (known !== undefined) return known;
  const dot = id.indexOf('.');
  const [device, command] = [id.slice(0, Math.max(0, dot)), id.slice(dot + 1)];
  const called = program.devices.get(device)?.name;
  if (called === undefined) return 'a button that is gone';
  const words = program.kindOf(device)?.commands[command]?.words.toLowerCase();
  return words === undefined ? called : `${called}: ${words}`;
}
