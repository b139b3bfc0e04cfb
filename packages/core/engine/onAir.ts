import { type DeviceCommand, PtzSettings } from '../devices/index';
import type { ReadKey } from '../expression/index';
import { type Source, type Step, unreachable } from '../show/index';
import type { Program } from './program';

/** Commands of a switcher after which another picture is on air. */
export const CHANGES_PROGRAM: ReadonlySet<string> = new Set(['program', 'cut', 'mix', 'wipe']);

/** Input that a switcher of this show has on program; undefined when none is known. */
export function inputOnAir(program: Program, read: ReadKey): number | undefined {
  const device = program.document.devices.find((one) => one.kind === 'switcher');
  const input = device === undefined ? undefined : read(`${device.key}.program`);
  return typeof input === 'number' ? input : undefined;
}

function sourceOnAir(program: Program, read: ReadKey, wanted: (source: Source) => boolean): Source | undefined {
  const input = inputOnAir(program, read);
  return input === undefined
    ? undefined
    : program.document.sources.find((source) => source.input === input && wanted(source));
}

/** Whether the picture of a camera is on program. */
export const cameraOnAir = (camera: string, program: Program, read: ReadKey): boolean =>
  sourceOnAir(program, read, (source) => source.camera === camera) !== undefined;

/** A move of a camera that is on air, made slow where its head is set so; any other command as it is. */
export function slowOnAir(device: string, command: DeviceCommand, program: Program, read: ReadKey): DeviceCommand {
  const head = program.devices.get(device);
  if (head?.settings.onAirMoves !== 'slow' || command.params.seconds !== undefined) return command;
  const definition = program.kindOf(device)?.commands[command.command];
  if (definition?.movesPicture !== true || definition.long !== true || !cameraOnAir(device, program, read))
    return command;
  const settings = PtzSettings.safeParse(head.settings);
  if (!settings.success) return command;
  const { onAirSeconds: seconds } = settings.data;
  // Home is a place like any other, and only a way to a place can be made slow.
  return command.command === 'home'
    ? { command: 'goTo', params: { pan: 0, tilt: 0, seconds } }
    : { ...command, params: { ...command.params, seconds } };
}

/**
 * What speaks against these steps while something is on air, in words: a camera whose head asks for a second touch would move, or the guest on a
 * line would change. Null when nothing does. Steps after the first one that changes the program are left out: by then another picture is on air.
 */
export function seenOnAir(steps: readonly Step[], program: Program, read: ReadKey): string | null {
  const found = look(steps, program, read, new Set());
  return found === true ? null : found;
}

/** @returns what speaks against it, true when the program changes here, null to look on */
function look(steps: readonly Step[], program: Program, read: ReadKey, visited: Set<string>): string | true | null {
  for (const step of steps) {
    const found = lookAt(step, program, read, visited);
    if (found !== null) return found;
  }
  return null;
}

function lookAt(step: Step, program: Program, read: ReadKey, visited: Set<string>): string | true | null {
  switch (step.kind) {
    case 'command': {
      const chosen = step.device.includes('.') ? read(step.device) : step.device;
      const device = typeof chosen === 'string' ? program.devices.get(chosen) : undefined;
      const command = program.kindOf(device?.key ?? '')?.commands[step.command];
      if (device === undefined || command === undefined) return null;
      if (device.kind === 'switcher') return CHANGES_PROGRAM.has(step.command) ? true : null;
      if (command.changesLine === true) {
        const told = step.params.line ?? 1;
        // What cannot be worked out is no line, and the step itself will say so.
        const line = typeof told === 'object' ? program.expression(told.cel)?.evaluate(read) : told;
        const source = sourceOnAir(program, read, (one) => one.line === line);
        return source === undefined ? null : `${source.name} is on air: the change would be seen.`;
      }
      if (command.movesPicture !== true || !cameraOnAir(device.key, program, read)) return null;
      const settings = PtzSettings.safeParse(device.settings);
      return settings.success && settings.data.onAirMoves === 'secondTouch'
        ? `${device.name} is on air: the move would be seen.`
        : null;
    }
    case 'run': {
      if (visited.has(step.macro)) return null;
      visited.add(step.macro);
      return look(program.macros.get(step.macro)?.steps ?? [], program, read, visited);
    }
    case 'together':
      return look(step.steps, program, read, visited);
    case 'pause':
    case 'wait':
    case 'set':
      return null;
    default:
      return unreachable(step);
  }
}
