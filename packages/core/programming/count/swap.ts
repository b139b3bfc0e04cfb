import { kindOf, pointsOf, type Points } from '../../devices/index';
import { type Argument, type Button, type ShowDocument, type Step } from '../../show/index';
import { fieldsOf, startOf } from '../fields';
import type { ButtonPlan } from '../strips/plan';
import { outsideLive, type Slot, type ThingKind } from './slots';

/** One thing in the place of another, through everything that a button does, says and lights for. */
export interface Swap {
  argument(value: Argument, param: string, step: Step): Argument;
  device(key: string): string;
  /** Another macro in the place of one; left out: the same. */
  macro?(id: string): string;
  /** What a step sets; left out: the same. */
  target?(target: string): string;
  /** Expressions: conditions, live text, lamps. */
  cel(text: string): string;
  plain(text: string): string;
}

/** Everything that a command sets going has settled by then, milliseconds of the model's clock. */
const LONG_AFTER_MS = 60_000;

const escaped = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
/** Exchanges whole words, whatever stands beside them. */
const worded = (text: string, from: string, to: string): string =>
  from === '' ? text : text.replace(new RegExp(`(?<![\\p{L}\\d])${escaped(from)}(?![\\p{L}\\d])`, 'gu'), () => to);

const namesOf = (kind: ThingKind, key: string, document: ShowDocument): string[] => {
  switch (kind) {
    case 'source': {
      const source = document.sources.find((candidate) => candidate.key === key);
      return source ? [source.name, source.shortName] : [];
    }
    case 'position':
      return document.positions.filter((position) => position.key === key).map(({ name }) => name);
    case 'reframe':
      return document.reframes.filter((reframe) => reframe.key === key).map(({ name }) => name);
    case 'person':
      return document.people.filter((person) => person.key === key).flatMap(({ name, title }) => [name, title]);
    case 'device':
      return document.devices.filter((device) => device.key === key).map(({ name }) => name);
  }
};

/** @returns a text with the names of one thing in the place of the other's, whole names only */
function renamed(text: string, pairs: readonly (readonly [string, string])[]): string {
  const [found] = pairs.filter(([from]) => worded(text, from, '') !== text).sort(([a], [b]) => b.length - a.length);
  return found ? worded(text, found[0], found[1]) : text;
}

/** What a parameter of a command names; null when it is no name of a thing. */
function referenceOf(
  step: Extract<Step, { kind: 'command' }>,
  param: string,
  document: ShowDocument,
): ThingKind | null {
  const device = document.devices.find((candidate) => candidate.key === step.device);
  const definition = kindOf(device, document)?.commands[step.command];
  return (definition && fieldsOf(definition).find(({ key }) => key === param)?.reference) ?? null;
}

function thingSwap(kind: ThingKind, from: string, to: string, document: ShowDocument): Swap {
  const pairs = namesOf(kind, from, document).flatMap((name, at): [string, string][] => {
    const next = namesOf(kind, to, document)[at];
    return next === undefined || next === '' ? [] : [[name, next]];
  });
  const quoted = new RegExp(`"${escaped(from)}"`, 'g');
  const member = new RegExp(`(?<![\\w."])${escaped(from)}\\.`, 'g');
  return {
    argument: (value, param, step) =>
      value === from && (step.kind !== 'command' || referenceOf(step, param, document) === kind) ? to : value,
    device: (key) => (kind === 'device' && key === from ? to : key),
    cel: (text) => {
      const named = text.replace(quoted, () => `"${to}"`);
      return kind === 'device' ? named.replace(member, () => `${to}.`) : named;
    },
    plain: (text) => renamed(text, pairs),
  };
}

/** The number of a point that is meant where a parameter counts: `ch1Mute` for channel 1, `aux1` for output 1. */
function pointCounted(point: string, param: string, from: number, to: number): string {
  const parts = [...point.matchAll(/([A-Za-z]+)(\d+)/g)].filter(([, , digits]) => Number(digits) === from);
  const meant =
    parts.length < 2
      ? parts[0]
      : parts.find(([, letters = '']) => {
          const [a, b] = [letters.toLowerCase(), param.toLowerCase()];
          return a.startsWith(b) || b.startsWith(a);
        });
  if (meant === undefined) return point;
  const [whole, letters = ''] = meant;
  return point.slice(0, meant.index) + letters + String(to) + point.slice(meant.index + whole.length);
}

/** A number in words: the only one of the text, or the one behind the word for it. */
function numberWorded(text: string, from: number, to: number, word: string): string {
  const found = [...text.matchAll(/(?<![\d.,])\d+(?![\d.,])/g)];
  const meant =
    found.length === 1
      ? found[0]
      : found.find((candidate) => text.slice(0, candidate.index).trimEnd().toLowerCase().endsWith(word.toLowerCase()));
  if (meant === undefined || Number(meant[0]) !== from) return text;
  const next = String(to).padStart(meant[0].startsWith('0') ? meant[0].length : 0, '0');
  return text.slice(0, meant.index) + next + text.slice(meant.index + meant[0].length);
}

/**
 * Points that hold the number itself once the device has done it, such as the source that a destination shows: found by doing it in the device's
 * own model. Of other points the number is part of the name.
 */
function pointsThatShow(
  { value, of }: Extract<Slot, { kind: 'number' }>,
  to: number,
  document: ShowDocument,
): ReadonlySet<string> {
  const device = document.devices.find((candidate) => candidate.key === of.device);
  const kind = kindOf(device, document);
  const definition = kind?.commands[of.command];
  if (!device || !kind || !definition || !kind.settings.safeParse(device.settings).success) return new Set();
  const own = Object.fromEntries(
    // Devices are told what a thing is by its number.
    fieldsOf(definition).flatMap((field) =>
      field.optional ? [] : [[field.key, field.reference === null ? startOf(field) : 1] as const],
    ),
  );
  const model = kind.startModel(device.settings, 0);
  const after = (number: number, now: number): Points => {
    model.step({
      type: 'command',
      id: String(now),
      command: { command: of.command, params: { ...own, [of.param]: number } },
      now,
    });
    return model.step({ type: 'read', now: now + LONG_AFTER_MS }).points;
  };
  try {
    const [then, last] = [after(to, 0), after(value, 2 * LONG_AFTER_MS)];
    return new Set(Object.keys(last).filter((point) => last[point] === value && then[point] === to));
  } catch {
    // What the model does not take cannot be tried: the number is then part of the point's name.
    return new Set();
  }
}

const isOf = ({ of }: Extract<Slot, { kind: 'number' }>, step: Step, param: string): boolean =>
  step.kind === 'command'
    ? of.run === undefined && step.device === of.device && param === of.param
    : step.kind === 'run' && step.macro === of.run?.macro && param === of.run.key;

function numberSwap(slot: Extract<Slot, { kind: 'number' }>, to: number, document: ShowDocument): Swap {
  const { device: key, param } = slot.of;
  const device = document.devices.find((candidate) => candidate.key === key);
  const points = device ? pointsOf(device, document) : {};
  const names = Object.entries(device?.settings ?? {}).find(
    ([setting, list]) => Array.isArray(list) && (setting === 'names' || setting.startsWith(param)),
  )?.[1] as unknown[] | undefined;
  const name = (number: number): string => {
    const text = names?.[number - 1];
    return typeof text === 'string' ? text : '';
  };
  const [ownName, nextName] = [name(slot.value), name(to)];
  const shows = pointsThatShow(slot, to, document);
  return {
    argument: (value, given, step) => (value === slot.value && isOf(slot, step, given) ? to : value),
    device: (item) => item,
    cel: (text) =>
      text.replace(
        new RegExp(`(?<![\\w."])${escaped(key)}\\.(\\w+)(\\s*[!=]=\\s*)?(\\d+)?`, 'g'),
        (whole, point: string, is = '', number = '') => {
          if (shows.has(point)) return number === String(slot.value) ? `${key}.${point}${is}${to}` : whole;
          const next = pointCounted(point, param, slot.value, to);
          // A point that the device does not have would never be true: the rule stays as it is, to be seen.
          return next in points ? `${key}.${next}${is}${number}` : whole;
        },
      ),
    plain: (text) => {
      const named = ownName !== '' && nextName !== '' ? worded(text, ownName, nextName) : text;
      return named === text ? numberWorded(text, slot.value, to, slot.words) : named;
    },
  };
}

const textSwap = (from: number, to: number): Swap => ({
  argument: (value, param, step) =>
    typeof value === 'string' && step.kind === 'command' ? numberWorded(value, from, to, param) : value,
  device: (key) => key,
  cel: (text) => text,
  plain: (text) => numberWorded(text, from, to, ''),
});

const swapOf = (slot: Slot, to: string | number, document: ShowDocument): Swap =>
  slot.kind === 'number'
    ? numberSwap(slot, Number(to), document)
    : slot.kind === 'text'
      ? textSwap(slot.value, Number(to))
      : thingSwap(slot.kind, slot.value, String(to), document);

function swappedStep(step: Step, swap: Swap): Step {
  const argument = (value: Argument, param: string): Argument =>
    typeof value === 'object' ? { cel: swap.cel(value.cel) } : swap.argument(value, param, step);
  const params = (given: Readonly<Record<string, Argument>>): Record<string, Argument> =>
    Object.fromEntries(Object.entries(given).map(([key, value]) => [key, argument(value, key)]));
  const list = (steps: readonly Step[]): Step[] => steps.map((item) => swappedStep(item, swap));
  switch (step.kind) {
    case 'command':
      return { ...step, device: swap.device(step.device), params: params(step.params) };
    case 'run':
      return { ...step, macro: swap.macro?.(step.macro) ?? step.macro, params: params(step.params) };
    case 'set':
      return { ...step, target: swap.target?.(step.target) ?? step.target, to: argument(step.to, 'to') };
    case 'wait':
      return { ...step, until: swap.cel(step.until) };
    case 'restore':
      return { ...step, devices: step.devices.map((key) => swap.device(key)) };
    case 'group':
    case 'together':
      return { ...step, steps: list(step.steps) };
    case 'if':
      return { ...step, when: swap.cel(step.when), steps: list(step.steps), otherwise: list(step.otherwise) };
    case 'repeat':
      return {
        ...step,
        over: 'while' in step.over ? { while: swap.cel(step.over.while) } : step.over,
        steps: list(step.steps),
      };
    case 'pause':
    case 'press':
    case 'show':
    case 'trigger':
    case 'ask':
    case 'note':
      return step;
  }
}

const swappedText = (text: string, swap: Swap): string =>
  outsideLive(text, (plain) => swap.plain(plain)).replace(/\{\{.*?\}\}/gs, (live) => swap.cel(live));

/** Steps in which one thing stands in the place of another. */
export const swappedSteps = (steps: readonly Step[], swap: Swap): Step[] =>
  steps.map((step) => swappedStep(step, swap));

/** A button that does, says and lights for another thing. Texts that grow too long are cut as a cap would cut them. */
export const swapped = (button: ButtonPlan, slot: Slot, to: string | number, document: ShowDocument): ButtonPlan =>
  swappedBy(button, swapOf(slot, to, document));

/** A picture of the other thing: it is named as in a condition. */
function swappedPicture(picture: string, swap: Swap): string {
  const [kind = '', key = ''] = picture.split(':');
  return key === '' ? '' : `${kind}:${swap.cel(`"${key}"`).slice(1, -1)}`;
}

/** The same for any exchange. */
export function swappedBy(button: ButtonPlan, swap: Swap): ButtonPlan {
  const steps = (list: Button['steps']): Step[] => swappedSteps(list, swap);
  return {
    ...button,
    legend: swappedText(button.legend, swap).slice(0, 120),
    note: swappedText(button.note, swap).slice(0, 120),
    steps: steps(button.steps),
    releaseSteps: steps(button.releaseSteps),
    sets: button.sets.map((set) => ({
      ...set,
      legend: swappedText(set.legend, swap).slice(0, 120),
      steps: steps(set.steps),
      so: swap.cel(set.so),
    })),
    dial: button.dial === null ? null : { ...button.dial, reads: swap.cel(button.dial.reads) },
    additions: button.additions.map((addition) => ({ ...addition, steps: steps(addition.steps) })),
    picture: swappedPicture(button.picture, swap),
    there: swap.cel(button.there),
    lamps: button.lamps.map((lamp) => ({ ...lamp, when: swap.cel(lamp.when) })),
  };
}

/** The text of a strip's name, as the buttons in it. */
export const swappedName = (name: string, slot: Slot, to: string | number, document: ShowDocument): string =>
  swapOf(slot, to, document).plain(name).slice(0, 120);
