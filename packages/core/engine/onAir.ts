import { type DeviceCommand, GENERIC, PtzSettings } from '../devices/index';
import type { ReadKey } from '../expression/index';
import { childrenOf, type Device, deviceNamed, type Step } from '../show/index';
import { callReader, type Evaluate, plainOf } from './callReader';
import { callIdentity } from './run';
import { type Air, airOf, cameraSeen, seenOf } from './air';
import type { Program } from './program';
import { DEEPEST } from './deepest';
import { type Motorless, motorlessOf } from './motorless';

/** Commands of a switcher after which another picture is on air. */
export const CHANGES_PROGRAM: ReadonlySet<string> = new Set(['program', 'cut', 'mix', 'wipe']);

/** What a hand has allowed: a camera or line by its name here, or everything in a rehearsal, which has no hands. */
export type Sure = ReadonlySet<string> | 'all' | null;

/** Something that would be seen to move or to change. */
export interface AirTouch {
  /** Names the camera or the line, for what a second touch allows. */
  readonly what: string;
  readonly words: string;
}

type CommandStep = Extract<Step, { kind: 'command' }>;

const guardOf = new WeakMap<object, PtzSettings | null>();

/** Settings of a head; once for each settings object. Null when they do not fit. */
function headSettings(device: Device): PtzSettings | null {
  let known = guardOf.get(device.settings);
  if (known === undefined) {
    const read = PtzSettings.safeParse(device.settings);
    guardOf.set(device.settings, (known = read.success ? read.data : null));
  }
  return known;
}

/** What a move on air asks for; a device by profile whose set-up says nothing asks for a second touch. */
const onAirMovesOf = (device: Device): PtzSettings['onAirMoves'] | undefined =>
  device.kind === GENERIC
    ? device.settings.onAirMoves === 'allow'
      ? 'allow'
      : 'secondTouch'
    : headSettings(device)?.onAirMoves;

/** A move of a camera that is on air, made slow where its head is set so; any other command as it is. */
export function slowOnAir(device: string, command: DeviceCommand, program: Program, read: ReadKey): DeviceCommand {
  const head = program.devices.get(device);
  if (head?.settings.onAirMoves !== 'slow' || command.params.seconds !== undefined) return command;
  const definition = program.kindOf(device)?.commands[command.command];
  if (definition?.movesPicture !== true || definition.long !== true) return command;
  if (cameraSeen(device, program, airOf(program, read)).seen === 'unseen') return command;
  const settings = headSettings(head);
  if (settings === null) return command;
  const { onAirSeconds: seconds } = settings;
  // Home is a place like any other, and only a way to a place can be made slow.
  return command.command === 'home'
    ? { command: 'goTo', params: { pan: 0, tilt: 0, seconds } }
    : { ...command, params: { ...command.params, seconds } };
}

const evaluateIn =
  (program: Program): Evaluate =>
  (cel, read) =>
    program.expression(cel)?.evaluate(read);

/** A window on air is seen to move like a head. */
function windowTouch(step: CommandStep, { source, input }: Motorless, air: () => Air): AirTouch | null {
  if (step.moveOnAir === true || (step.command !== 'nudge' && step.command !== 'home')) return null;
  const seen = seenOf(input, air());
  if (seen === 'unseen') return null;
  return {
    what: source.key,
    words:
      seen === 'seen'
        ? `${source.name} is on air: the move would be seen.`
        : `Whether ${source.name} is on air is not known at present: the move may be seen.`,
  };
}

/** What one command would be seen to do, where its device asks for a hand; null when nothing speaks against it. */
function touchOf(step: CommandStep, program: Program, read: ReadKey, air: () => Air): AirTouch | null {
  const reference = deviceNamed(step);
  const window = motorlessOf(reference, program, read);
  if (window !== null) return 'code' in window ? null : windowTouch(step, window, air);
  const chosen = reference.includes('.') ? read(reference) : reference;
  const device = typeof chosen === 'string' ? program.devices.get(chosen) : undefined;
  const command = device === undefined ? undefined : program.kindOf(device.key)?.commands[step.command];
  if (device === undefined || command === undefined || step.moveOnAir === true) return null;
  if (command.changesLine === true) {
    // What cannot be worked out is no line, and the step itself will say so.
    const line = plainOf(step.params.line ?? 1, evaluateIn(program), read);
    const source = program.document.sources.find((candidate) => candidate.line !== null && candidate.line === line);
    if (source === undefined) return null;
    const seen = seenOf(source.input, air());
    if (seen === 'unseen') return null;
    return {
      what: `line ${String(line)}`,
      words:
        seen === 'seen'
          ? `${source.name} is on air: the change would be seen.`
          : `Whether ${source.name} is on air is not known at present: the change may be seen.`,
    };
  }
  if (command.movesPicture !== true || onAirMovesOf(device) !== 'secondTouch') return null;
  const { seen, how } = cameraSeen(device.key, program, air());
  if (seen === 'unseen') return null;
  // Where it stands already, nothing is seen to move.
  const to = step.command === 'recall' ? plainOf(step.params.position, evaluateIn(program), read) : undefined;
  if (typeof to === 'string' && read(`${device.key}.arrived`) === to && read(`${device.key}.travelling`) === false)
    return null;
  const where = how === '' || how === 'on program' ? 'on air' : `on air (${how})`;
  return {
    what: device.key,
    words:
      seen === 'seen'
        ? `${device.name} is ${where}: the move would be seen.`
        : `Whether ${device.name} is on air is not known at present: the move may be seen.`,
  };
}

/**
 * Everything that these steps would be seen to move or change as things stand: a camera whose head asks for a second touch, the guest on a line.
 * Steps after the first one that changes the program are left out: by then another picture is on air, and each step asks again.
 */
export function airTouches(steps: readonly Step[], program: Program, read: ReadKey): AirTouch[] {
  const found = new Map<string, AirTouch>();
  const visited = new Set<string>();
  let known: Air | undefined;
  const air = (): Air => (known ??= airOf(program, read));
  /** @returns true when the program changes here: what follows is another picture's matter */
  const look = (list: readonly Step[], reader: ReadKey, depth: number): boolean =>
    list.some((step) => lookAt(step, reader, depth));
  const elsewhere = (id: string, list: readonly Step[] | undefined, reader: ReadKey, depth: number): boolean => {
    if (list === undefined || visited.has(id) || depth >= DEEPEST) return false;
    visited.add(id);
    return look(list, reader, depth + 1);
  };
  const lookAt = (step: Step, reader: ReadKey, depth: number): boolean => {
    if (step.kind === 'command') {
      const device = program.devices.get(step.device);
      if (device !== undefined && program.kindOf(device.key)?.airOf !== undefined)
        return CHANGES_PROGRAM.has(step.command);
      const touch = touchOf(step, program, reader, air);
      if (touch !== null && !found.has(touch.what)) found.set(touch.what, touch);
      return false;
    }
    if (step.kind === 'run') {
      const macro = program.macros.get(step.macro);
      if (macro === undefined) return false;
      // The same macro with another line or position is another matter.
      const call = callReader(step, macro, evaluateIn(program), reader);
      return elsewhere(callIdentity(macro.id, call.params), macro.steps, call.read, depth);
    }
    if (step.kind === 'press') return elsewhere(step.button, program.buttons.get(step.button)?.steps, reader, depth);
    const inside = childrenOf(step).map((list) => look(list, reader, depth));
    // Which of two ways is gone is not known beforehand, nor whether a repeat goes round at all.
    return (step.kind === 'together' || step.kind === 'group') && inside.some(Boolean);
  };
  look(steps, read, 0);
  return [...found.values()];
}

/** Why one step may not go now; null when it may. @param sure what a hand has allowed with a second touch */
export function guardedOnAir(step: CommandStep, program: Program, read: ReadKey, sure: Sure): string | null {
  if (sure === 'all') return null;
  const touch = touchOf(step, program, read, () => airOf(program, read));
  if (touch === null || sure?.has(touch.what) === true) return null;
  return `${touch.words} Nobody allowed it with a second touch.`;
}
