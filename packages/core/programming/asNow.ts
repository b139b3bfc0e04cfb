import { kindOf, pointsOf } from '../devices/index';
import { referenceOf } from '../engine/program';
import { sentenceOf } from '../engine/sentence';
import type { CommandDefinition, DeviceCommand, DeviceKind } from '../devices/kind';
import { isHead } from '../show/part';
import type { Device, PlainValue, ShowDocument, Step } from '../show/index';
import { type Field, fieldsOf, startOf } from './fields';
import type { StepChoice } from './stepChoices';

/** What a device shows now, as a step that brings it there. */
export interface NowStep extends StepChoice {
  readonly device: string;
  /** It shows something else than when it is just switched on. */
  readonly differs: boolean;
}

/** Of a whole number or a choice of up to so many, each is looked at: channels, layers, outputs, destinations. */
const MOST_EACH = 1024;
/** So many combinations of a command are looked at. */
const MOST_TRIES = 4096;

type Read = (point: string) => PlainValue | undefined;

/**
 * Steps that bring devices to what they show now: program and preview, captions that are up, crosspoints, levels, positions.
 *
 * No kind says so itself. What brings back a state is known from what takes a press back: each command is asked what would bring back what stands
 * now, and what it answers counts only if its device would then show just that.
 * @param point what is known now, by key
 */
export function stepsAsNow(
  document: ShowDocument,
  devices: readonly string[],
  point: (key: string) => PlainValue | undefined,
): NowStep[] {
  return devices.flatMap((key) => {
    const device = document.devices.find((candidate) => candidate.key === key);
    const kind = kindOf(device, document);
    if (device === undefined || kind === undefined) return [];
    return stepsOfDevice(document, device, kind, (name) => point(`${key}.${name}`));
  });
}

function stepsOfDevice(document: ShowDocument, device: Device, kind: DeviceKind, read: Read): NowStep[] {
  const first = switchedOn(kind, device);
  const found = new Map<string, NowStep>();
  const head = isHead(device, document);
  const arrived = head ? read('arrived') : undefined;
  const points = Object.entries(pointsOf(device, document)).flatMap(([name, { restore }]) => {
    const value = read(name);
    return restore === undefined || value === undefined ? [] : [{ name, value, command: restore(value) }];
  });
  /** How a device is set up (names of inputs, kinds of keyers) is seldom what a press is to bring back. */
  const setUp = new Set(
    points.flatMap(({ command: { command } }) => (kind.commands[command]?.seenOnAir === false ? [command] : [])),
  );
  const add = (command: DeviceCommand): void => {
    const definition = Object.hasOwn(kind.commands, command.command) ? kind.commands[command.command] : undefined;
    if (definition === undefined) return;
    const made = Object.entries(definition.effect?.makes(command.params, read) ?? {});
    const so = made.every(([name, value]) => read(name) === value);
    if (!so || (made.length === 0 && !head)) return;
    const step: StepChoice['step'] = {
      onFail: 'stop',
      kind: 'command',
      device: device.key,
      command: command.command,
      params: Object.fromEntries(
        Object.entries(command.params).map(([key, value]) => [key, named(document, definition, key, value)]),
      ),
    };
    // The same state is told once, whatever it was asked by.
    const key = `now/${device.key}/${command.command}/${JSON.stringify(made.length === 0 ? step : made)}`;
    if (found.has(key)) return;
    found.set(key, {
      key,
      group: device.name,
      device: device.key,
      words: sentenceOf({ id: 'now', ...step } as Step, document),
      step,
      differs:
        !setUp.has(command.command) && (made.length === 0 || made.some(([name, value]) => first[name] !== value)),
    });
  };
  // Where a head has arrived it is brought by that position, whatever becomes of its place; else by where it looks.
  if (typeof arrived === 'string' && arrived !== '') add({ command: 'recall', params: { position: arrived } });
  for (const definition of Object.values(kind.commands)) {
    const { effect } = definition;
    if (effect === undefined || effect.relative === true) continue;
    if (head && found.size > 0 && definition.movesPicture === true) continue;
    for (const params of tries(definition)) for (const back of effect.undo(params, read) ?? []) add(back);
  }
  for (const { name, value, command } of points) if (value !== first[name]) add(command);
  return [...found.values()];
}

/** What a device of this kind shows when it is just switched on; of one whose settings do not fit, nothing. */
function switchedOn(kind: DeviceKind, device: Device): Readonly<Record<string, PlainValue>> {
  try {
    return kind.startModel(device.settings, 0, {}).step({ type: 'read', now: 0 }).points;
  } catch {
    return {};
  }
}

/** Parameters to ask a command with: those that it begins with, and of each that says which one, every one. */
function tries(definition: CommandDefinition): Record<string, PlainValue>[] {
  let all: Record<string, PlainValue>[] = [{}];
  for (const field of fieldsOf(definition)) {
    const each = valuesOf(field);
    const values = all.length * each.length > MOST_TRIES ? [startOf(field)] : each;
    all = all.flatMap((params) => values.map((value) => ({ ...params, [field.key]: value })));
  }
  return all;
}

function valuesOf(field: Field): PlainValue[] {
  // A source is a number for the device; which one does not matter for what stands there now.
  if (field.reference === 'source') return [1];
  const { type, whole, min, max, choices } = field;
  if (type === 'number' && whole && min !== null && max !== null && max - min < MOST_EACH)
    return Array.from({ length: max - min + 1 }, (_one, at) => min + at);
  if (type === 'choice') return choices.slice(0, MOST_EACH);
  return [startOf(field)];
}

/** Devices count sources by number; a step names one by its key, or by what the device told. */
function named(document: ShowDocument, definition: CommandDefinition, key: string, value: PlainValue): PlainValue {
  if (referenceOf(definition, key) !== 'source' || typeof value !== 'number') return value;
  return document.sources.find(({ input }) => input === value)?.key ?? `input:${value}`;
}
