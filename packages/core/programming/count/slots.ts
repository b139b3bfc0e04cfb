import { kindOf } from '../../devices/index';
import { type Button, listsOf, type ShowDocument, type Step, stepsWithin } from '../../show/index';
import { macrosOf, useOfParam } from '../../engine/paramUse';
import { fieldsOf } from '../fields';

/** What a thing of the show is, where a step names one. */
export type ThingKind = 'source' | 'position' | 'reframe' | 'person' | 'device';

/** Something of a button that can count: a thing that its steps name, a whole number that they give, or a number in what the cap says. */
export type Slot =
  | { readonly kind: ThingKind; readonly words: string; readonly value: string }
  | {
      readonly kind: 'number';
      readonly words: string;
      readonly value: number;
      /** Which parameter of which command it is. */
      readonly of: {
        readonly device: string;
        readonly command: string;
        readonly param: string;
        /** Where a macro is given it: which macro, and which of its parameters. */
        readonly run?: { readonly macro: string; readonly key: string };
      };
      /** Highest that the device takes; null for no bound. */
      readonly max: number | null;
    }
  | { readonly kind: 'text'; readonly words: string; readonly value: number };

const NUMBER_IN_TEXT = /(?<![\d.,])\d{1,6}(?![\d.,])/;

/** The plain parts of a text, without what stands in double braces. */
export const outsideLive = (text: string, each: (plain: string) => string): string =>
  text
    .split(/(\{\{.*?\}\})/s)
    .map((part) => (part.startsWith('{{') ? part : each(part)))
    .join('');

/** A number that a macro is given and gives on to a command. */
function numberGiven(id: string, key: string, value: number, document: ShowDocument): Slot[] {
  const macro = document.macros.find((candidate) => candidate.id === id);
  const use = macro && useOfParam(macro, key, document, macrosOf(document));
  const field = use && fieldsOf(use.definition).find((candidate) => candidate.key === use.param);
  if (!use || !field || !field.whole || field.unit !== '') return [];
  const command = Object.entries(
    kindOf(
      document.devices.find((device) => device.key === use.device),
      document,
    )?.commands ?? {},
  );
  const [name] = command.find(([, definition]) => definition === use.definition) ?? [];
  if (name === undefined) return [];
  const of = { device: use.device, command: name, param: use.param, run: { macro: id, key } };
  return [{ kind: 'number', words: field.title, value, of, max: field.max }];
}

function stepSlots(step: Step, document: ShowDocument): Slot[] {
  const deviceOf = (key: string) => document.devices.find((candidate) => candidate.key === key);
  if (step.kind === 'set') {
    const chosen = typeof step.to === 'string' ? deviceOf(step.to) : undefined;
    if (step.target === 'chosen.person' && step.by === undefined && typeof step.to === 'string')
      return [{ kind: 'person', words: 'Person', value: step.to }];
    return chosen ? [{ kind: 'device', words: 'Camera', value: chosen.key }] : [];
  }
  if (step.kind === 'run')
    return Object.entries(step.params).flatMap(([key, value]): Slot[] => {
      if (typeof value === 'number') return numberGiven(step.macro, key, value, document);
      if (typeof value !== 'string') return [];
      if (document.sources.some(({ key }) => key === value)) return [{ kind: 'source', words: 'Source', value }];
      if (document.positions.some(({ key }) => key === value)) return [{ kind: 'position', words: 'Position', value }];
      return deviceOf(value) ? [{ kind: 'device', words: 'Device', value }] : [];
    });
  if (step.kind !== 'command') return [];
  const device = deviceOf(step.device);
  const kind = kindOf(device, document);
  const definition = kind?.commands[step.command];
  if (!device || !kind || !definition) return [];
  const named: Slot = { kind: 'device', words: kind.words, value: device.key };
  const counted = fieldsOf(definition).flatMap((field): Slot[] => {
    const value = step.params[field.key];
    if (field.reference !== null && typeof value === 'string')
      return [{ kind: field.reference, words: field.title, value }];
    // Frames, seconds and levels are amounts; what has no unit is a number of something.
    if (field.type !== 'number' || !field.whole || field.unit !== '' || typeof value !== 'number') return [];
    const of = { device: device.key, command: step.command, param: field.key };
    return [{ kind: 'number', words: field.title, value, of, max: field.max }];
  });
  return [...counted, named];
}

const same = (a: Slot, b: Slot): boolean =>
  a.kind === b.kind && a.value === b.value && (a.kind !== 'number' || b.kind !== 'number' || a.words === b.words);

/** Everything of a button that can count, each thing once. */
export function slotsOf(
  button: Pick<Button, 'legend' | 'note' | 'steps' | 'releaseSteps' | 'sets' | 'additions'>,
  document: ShowDocument,
): Slot[] {
  const all = listsOf(button)
    .flatMap(([, steps]) => [...stepsWithin(steps)])
    .flatMap((step) => stepSlots(step, document));
  const slots = all.filter((slot, at) => all.findIndex((other) => same(other, slot)) === at);
  let inLegend: number | null = null;
  outsideLive(button.legend, (plain) => {
    const found = NUMBER_IN_TEXT.exec(plain);
    if (found && inLegend === null) inLegend = Number(found[0]);
    return plain;
  });
  if (inLegend !== null && !slots.some((slot) => slot.value === inLegend))
    slots.push({ kind: 'text', words: 'Number in the legend', value: inLegend });
  return slots;
}
