import { kindOf } from '../devices/index';
import { deviceOfParam, macrosOf, useOfParam } from '../engine/paramUse';
import { isHead } from '../show/part';
import { changed } from './changes';
import { type Field, fieldsOf, textField } from './fields';
import { keyFrom } from './keys';
import {
  type Argument,
  type Change,
  expressionsOf,
  listsOf,
  type Macro,
  type ShowDocument,
  type Step,
  childrenOf,
  stepsWithin,
  withChildren,
} from '../show/index';

/** A parameter of a macro as a form shows it: the field of the command that it is given on to; a plain text or number where it is not. */
export function fieldOfParam(
  document: ShowDocument,
  macro: Macro,
  key: string,
): { readonly field: Field; readonly device: string } {
  const inPlace = deviceOfParam(macro, key, macrosOf(document));
  if (inPlace !== null)
    return { field: { ...deviceField(document, inPlace, key), title: wordsOfKey(key) }, device: '' };
  const use = useOfParam(macro, key, document, macrosOf(document));
  const given = use && fieldsOf(use.definition).find((field) => field.key === use.param);
  // Which camera is given decides which of all positions fit.
  const device = use?.anyDevice === true ? 'param.device' : (use?.device ?? '');
  if (use && given) return { field: { ...given, key, title: wordsOfKey(key) }, device };
  const start = macro.params.find((param) => param.key === key)?.start;
  const type = typeof start === 'number' ? 'number' : typeof start === 'boolean' ? 'switch' : 'text';
  return {
    device: '',
    field: { ...textField(key, wordsOfKey(key), typeof start === 'object' ? null : (start ?? null)), type },
  };
}

/** Devices that take the command of a step, in the order of the rig. */
const devicesLike = (
  document: ShowDocument,
  { device, command }: Extract<Step, { kind: 'command' }>,
): ShowDocument['devices'] => {
  const example = document.devices.find((candidate) => candidate.key === device);
  return document.devices.filter((candidate) => {
    const commands = kindOf(candidate, document)?.commands;
    // Of one kind, or by profiles that have the command: a mixer has no use for what is meant for a recorder.
    return candidate.kind === example?.kind && commands !== undefined && Object.hasOwn(commands, command);
  });
};

/** The device of a command as a form shows it: one of those like it, called by its kind. */
export function deviceField(document: ShowDocument, step: Extract<Step, { kind: 'command' }>, key: string): Field {
  const things = devicesLike(document, step).map((item) => ({
    key: item.key,
    name: item.room === '' || item.name.includes(item.room) ? item.name : `${item.name}, ${item.room}`,
  }));
  return { ...textField(key, deviceWord(document, step.device), step.device), things };
}

/** What a device is called as the parameter of a macro: "Recorder", "Camera". */
export function deviceWord(document: ShowDocument, key: string): string {
  const device = document.devices.find((candidate) => candidate.key === key);
  if (device !== undefined && isHead(device, document)) return 'Camera';
  return kindOf(device, document)?.words ?? 'Device';
}

/** `slowSource2` in people's words: "Slow source 2". */
export function wordsOfKey(key: string): string {
  const words = key.replace(/([a-z])([A-Z\d])/g, '$1 $2').toLowerCase();
  return words.charAt(0).toUpperCase() + words.slice(1);
}

type StepField = 'steps' | 'stopSteps';

const withArgument = (steps: readonly Step[], id: string, key: string, to: Argument): Step[] =>
  steps.map((step) =>
    step.id === id && (step.kind === 'command' || step.kind === 'run')
      ? { ...step, params: { ...step.params, [key]: to } }
      : withChildren(
          step,
          childrenOf(step).map((list) => withArgument(list, id, key, to)),
        ),
  );

/**
 * The changes that make what a step of a macro gives a parameter of the macro, which begins with what stood there.
 * @param list the list that the step is in
 * @param key of the command's parameter
 */
export function madeParam(macro: Macro, list: StepField, step: Step, key: string): Change[] {
  const now = step.kind === 'command' || step.kind === 'run' ? step.params[key] : undefined;
  if (now === undefined || typeof now === 'object') return [];
  const name = keyFrom(key, new Set(macro.params.map((param) => param.key)), 'choice');
  return [
    changed('macros', macro, 'params', [...macro.params, { key: name, start: now }]),
    changed('macros', macro, list, withArgument(macro[list], step.id, key, { cel: `param.${name}` })),
  ];
}

const withDevice = (steps: readonly Step[], id: string, from: string | undefined): Step[] =>
  steps.map((step) => {
    if (step.id !== id || step.kind !== 'command')
      return withChildren(
        step,
        childrenOf(step).map((list) => withDevice(list, id, from)),
      );
    const { deviceFrom: _gone, ...rest } = step;
    return from === undefined ? rest : { ...rest, deviceFrom: from };
  });

/** The changes that make the device of a command of a macro a parameter, which begins with that device; one that begins with it already serves. */
export function madeDeviceParam(
  document: ShowDocument,
  macro: Macro,
  list: StepField,
  step: Extract<Step, { kind: 'command' }>,
): Change[] {
  if (step.device.includes('.') || step.deviceFrom !== undefined) return [];
  const known = macro.params.find(
    ({ key, start }) => start === step.device && deviceOfParam(macro, key, macrosOf(document))?.device === step.device,
  );
  const word = deviceWord(document, step.device);
  const name = known?.key ?? keyFrom(word, new Set(macro.params.map(({ key }) => key)), 'device');
  return [
    ...(known ? [] : [changed('macros', macro, 'params', [...macro.params, { key: name, start: step.device }])]),
    changed('macros', macro, list, withDevice(macro[list], step.id, name)),
  ];
}

/** The changes that give a command of a macro its own device again; a parameter that nothing else reads goes. */
export function fixedDevice(macro: Macro, list: StepField, step: Extract<Step, { kind: 'command' }>): Change[] {
  const name = step.deviceFrom;
  if (name === undefined) return [];
  const steps = withDevice(macro[list], step.id, undefined);
  const params = macro.params.filter(({ key }) => key !== name);
  return [
    changed('macros', macro, list, steps),
    ...(params.length === macro.params.length || readsParam({ ...macro, [list]: steps }, name)
      ? []
      : [changed('macros', macro, 'params', params)]),
  ];
}

/** The changes that put what a parameter begins with in its place in a step; a parameter that nothing else reads goes. */
export function fixedParam(macro: Macro, list: StepField, step: Step, key: string): Change[] {
  const now = step.kind === 'command' || step.kind === 'run' ? step.params[key] : undefined;
  const name = typeof now === 'object' ? paramNamed(now.cel) : null;
  const param = macro.params.find((candidate) => candidate.key === name);
  if (param === undefined) return [];
  const steps = withArgument(macro[list], step.id, key, param.start);
  const next = { ...macro, [list]: steps };
  return [
    changed('macros', macro, list, steps),
    ...(readsParam(next, param.key)
      ? []
      : [
          changed(
            'macros',
            macro,
            'params',
            macro.params.filter((candidate) => candidate !== param),
          ),
        ]),
  ];
}

/** The parameter that an expression is and nothing else; null for any other. */
export const paramNamed = (cel: string): string | null => /^\s*param\.([A-Za-z0-9]+)\s*$/.exec(cel)?.[1] ?? null;

/** Whether any step of a macro reads a parameter. */
export function readsParam({ steps, stopSteps }: Pick<Macro, 'steps' | 'stopSteps'>, key: string): boolean {
  const named = new RegExp(`\\bparam\\.${key}\\b`);
  return [...stepsWithin([...steps, ...stopSteps])].some((step) => expressionsOf(step).some((cel) => named.test(cel)));
}

/** How many buttons and macros run each macro, by its id; each counts once. */
export function callersOf({ buttons, macros }: ShowDocument): ReadonlyMap<string, number> {
  const counts = new Map<string, number>();
  const count = (steps: readonly Step[]): void => {
    const called = new Set([...stepsWithin(steps)].flatMap((step) => (step.kind === 'run' ? [step.macro] : [])));
    for (const id of called) counts.set(id, (counts.get(id) ?? 0) + 1);
  };
  for (const button of buttons) count(listsOf(button).flatMap(([, steps]) => steps));
  for (const macro of macros) count([...macro.steps, ...macro.stopSteps]);
  return counts;
}

/** Macros by folder, those without one first; in each by their numbers. @param search every word must be in number, name or folder */
export function macrosListed(
  { macros }: ShowDocument,
  search: string,
): { readonly folder: string; readonly macros: readonly Macro[] }[] {
  const wanted = search.toLowerCase().split(/\s+/).filter(Boolean);
  const found = macros.filter(({ number, name, folder }) => {
    const text = `${number} ${name} ${folder}`.toLowerCase();
    return wanted.every((word) => text.includes(word));
  });
  const folders = [...new Set(found.map(({ folder }) => folder))].sort((a, b) => a.localeCompare(b));
  return folders.map((folder) => ({
    folder,
    macros: found.filter((candidate) => candidate.folder === folder).sort((a, b) => a.number - b.number),
  }));
}
