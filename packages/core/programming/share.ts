import { changed, made } from './changes';
import { fieldsOf } from './fields';
import { keyFrom } from './keys';
import { deviceWord } from './macroParams';
import { nextNumber } from './newEntries';
import { kindOf, ptzHead } from '../devices/index';
import {
  type Argument,
  type Button,
  type Change,
  type Macro,
  type PlainValue,
  type ShowDocument,
  type Step,
  stepsWithin,
} from '../show/index';

/** More differences than these are no longer one thing with parameters. */
const MOST_PARAMS = 3;

/** Whether a button does nothing beside the steps of its press. */
const doesNoMore = ({ releaseSteps, sets, additions }: Button): boolean =>
  releaseSteps.length === 0 && sets.length === 0 && additions.length === 0;

/** Buttons whose steps are the run of this macro and nothing else. */
export const sharersOf = ({ buttons }: ShowDocument, macroId: string): Button[] =>
  buttons.filter((button) => {
    const [only, ...more] = button.steps.filter((step) => step.kind !== 'note');
    return only?.kind === 'run' && only.macro === macroId && more.length === 0 && doesNoMore(button);
  });

/** What several buttons do, as one macro with what they differ in as its parameters. */
export interface Share {
  readonly steps: readonly Step[];
  readonly params: readonly { readonly key: string; readonly title: string; readonly values: readonly PlainValue[] }[];
}

/**
 * What these buttons do, as one macro. @returns in words why they cannot share: they do different things, or what they differ in is no
 * parameter of a command
 */
export function shareOf(document: ShowDocument, buttons: readonly Button[]): Share | { readonly words: string } {
  const [first] = buttons;
  if (first === undefined || buttons.length < 2) return { words: 'Choose two buttons or more.' };
  if (buttons.some(({ mode }) => mode === 'hold'))
    return { words: 'Buttons that are held keep their own steps: what they begin, they end themselves.' };
  if (!buttons.every(doesNoMore))
    return { words: 'Buttons that alternate, or do more at release, held or pressed again, keep their own steps.' };
  if (first.steps.length === 0) return { words: 'These buttons do nothing yet.' };
  const [only] = first.steps;
  if (
    only?.kind === 'run' &&
    sharersOf(document, only.macro).filter((candidate) => buttons.includes(candidate)).length === buttons.length
  )
    return { words: 'These buttons share a macro already.' };
  const lists = buttons.map(({ steps }) => [...stepsWithin(steps)]);
  const own = lists[0] ?? [];
  if (lists.some((list) => list.length !== own.length || list.some((step, at) => step.kind !== own[at]?.kind)))
    return { words: DIFFERENT };
  const params: { key: string; title: string; values: readonly PlainValue[] }[] = [];
  const keys = new Set<string>();
  /** Parameters by the place of the argument that they stand for: the step's number, counted through inner lists, and the argument's key. */
  const places = new Map<string, string>();
  /** Parameters that name a device. */
  const devices = new Set<string>();
  for (const [at, step] of own.entries())
    for (const key of Object.keys(argumentsOf(step))) {
      const values = lists.map((list) => argumentsOf(list[at])[key]);
      if (values.some((candidate) => candidate === undefined)) return { words: DIFFERENT };
      if (
        values.some((candidate) => typeof candidate === 'object') ||
        values.every((candidate) => candidate === values[0])
      )
        continue;
      if (key === DEVICE && !alike(document, values)) return { words: OTHER_KINDS };
      const text = JSON.stringify(values);
      let param = params.find((candidate) => JSON.stringify(candidate.values) === text);
      if (param === undefined) {
        const title = titleOf(document, step, key);
        param = {
          key: keyFrom(key === DEVICE ? title : key, keys, 'choice'),
          title,
          values: values as PlainValue[],
        };
        keys.add(param.key);
        params.push(param);
      }
      if (key === DEVICE) devices.add(param.key);
      places.set(`${at}/${key}`, param.key);
    }
  if (params.length > MOST_PARAMS)
    return { words: `They differ in ${params.length} things; ${MOST_PARAMS} at most can be shared.` };
  const shared = buttons.map(({ steps }, button) => {
    const numbers = new Map((lists[button] ?? []).map((step, at) => [step, at]));
    const values = params.flatMap(({ key, values: all }): Given[] => {
      const value = all[button];
      if (typeof value !== 'string') return [];
      return [{ value, key, example: devices.has(key) ? String(all[0]) : null }];
    });
    return withParams(steps, (step, key) => places.get(`${numbers.get(step)}/${key}`), values);
  });
  const [text, ...others] = shared.map((steps) => JSON.stringify(withoutIds(steps)));
  if (others.some((other) => other !== text)) return { words: DIFFERENT };
  return { steps: shared[0] ?? [], params };
}

const DIFFERENT =
  'These buttons do different things. Choose buttons that differ in a source, a position, a device or a number only.';
const OTHER_KINDS = 'These buttons go to devices of different kinds. Choose buttons of one kind of device.';

/** Whether these are devices of one kind. */
function alike({ devices }: ShowDocument, keys: readonly (Argument | undefined)[]): boolean {
  const kinds = new Set(keys.map((key) => devices.find((device) => device.key === key)?.kind));
  return kinds.size === 1 && !kinds.has(undefined);
}

/** Everything of a step that can be a parameter. */
const argumentsOf = (step: Step | undefined): Readonly<Record<string, Argument>> =>
  step?.kind === 'command'
    ? { ...step.params, ...(step.deviceFrom === undefined ? { [DEVICE]: step.device } : {}) }
    : step?.kind === 'run'
      ? step.params
      : step?.kind === 'set'
        ? { to: step.to }
        : {};

/** Stands for the device of a command beside its parameters, none of which is called so. */
const DEVICE = '.device';

function titleOf(document: ShowDocument, step: Step, key: string): string {
  if (step.kind !== 'command') return key;
  const device = document.devices.find((candidate) => candidate.key === step.device);
  if (key === DEVICE) return deviceWord(document, step.device);
  const definition = (step.device.startsWith('chosen.') ? ptzHead : kindOf(device, document))?.commands[step.command];
  return (definition && fieldsOf(definition).find((field) => field.key === key)?.title) ?? key;
}

const withoutIds = (steps: readonly Step[]): unknown =>
  JSON.parse(JSON.stringify(steps, (key, value: unknown) => (key === 'id' ? undefined : value)));

/** What conditions of a button name, and the parameter that stands for it. */
interface Given {
  readonly value: string;
  readonly key: string;
  /** Of a device: the one that the macro is written with. Null: it is no device. */
  readonly example: string | null;
}

/**
 * The steps of one of the buttons with parameters in place of what is its own.
 * @param paramAt the parameter that stands for an argument, where one does
 * @param named what conditions name in quotes, or as the device of a point
 */
function withParams(
  steps: readonly Step[],
  paramAt: (step: Step, key: string) => string | undefined,
  named: readonly Given[],
): Step[] {
  const expression = (cel: string): string =>
    named.reduce((text, { value, key, example }) => {
      const quoted = text.replaceAll(JSON.stringify(value), `param.${key}`);
      if (example === null) return quoted;
      // A point of a device becomes one of the device that is given, and its key inside a text is put together.
      return quoted
        .replace(new RegExp(`(?<![\\w."])${value}\\.(?=[A-Za-z])`, 'g'), `at(param.${key}).`)
        .replace(/"(?:[^"\\]|\\.)*"/g, (literal) => withKeyOut(literal, value, `param.${key}`));
    }, cel);
  const argument = (step: Step, key: string, value: Argument): Argument => {
    const param = paramAt(step, key);
    if (param !== undefined) return { cel: `param.${param}` };
    return typeof value === 'object' ? { cel: expression(value.cel) } : value;
  };
  const inner = (list: readonly Step[]): Step[] => withParams(list, paramAt, named);
  return steps.map((step): Step => {
    switch (step.kind) {
      case 'command': {
        const from = paramAt(step, DEVICE);
        const example = named.find(({ key }) => key === from)?.example;
        return {
          ...step,
          ...(from === undefined || example == null ? {} : { device: example, deviceFrom: from }),
          params: Object.fromEntries(
            Object.entries(step.params).map(([key, value]) => [key, argument(step, key, value)]),
          ),
        };
      }
      case 'run':
        return {
          ...step,
          params: Object.fromEntries(
            Object.entries(step.params).map(([key, value]) => [key, argument(step, key, value)]),
          ),
        };
      case 'set':
        return { ...step, to: argument(step, 'to', step.to) };
      case 'wait':
        return { ...step, until: expression(step.until) };
      case 'if':
        return { ...step, when: expression(step.when), steps: inner(step.steps), otherwise: inner(step.otherwise) };
      case 'repeat':
        return {
          ...step,
          over: 'while' in step.over ? { while: expression(step.over.while) } : step.over,
          steps: inner(step.steps),
        };
      case 'group':
      case 'together':
        return { ...step, steps: inner(step.steps) };
      case 'pause':
      case 'press':
      case 'show':
      case 'trigger':
      case 'restore':
      case 'ask':
      case 'note':
        return step;
    }
  });
}

/** A text in quotes with a device's key in it, as what stands before, the parameter, and what stands behind: `"take-" + param.recorder`. */
function withKeyOut(literal: string, key: string, param: string): string {
  const [first = '', ...others] = literal.slice(1, -1).split(new RegExp(`(?<![A-Za-z0-9])${key}(?![A-Za-z0-9])`));
  if (others.length === 0) return literal;
  return [first, ...others]
    .flatMap((part, at) => [...(at === 0 ? [] : [param]), ...(part === '' ? [] : [`"${part}"`])])
    .join(' + ');
}

/** The changes that give these buttons one macro with what they differ in as its parameters. */
export function sharedChanges(
  document: ShowDocument,
  buttons: readonly Button[],
  { steps, params }: Share,
  name: string,
  newId: () => string,
): { readonly changes: Change[]; readonly macro: Macro } {
  const macro: Macro = {
    id: newId(),
    number: nextNumber(document),
    name: name.slice(0, 120),
    folder: '',
    params: params.map(({ key, values }) => ({ key, start: values[0] ?? '' })),
    steps: [...steps],
    stopSteps: [],
    atStop: 'steps',
    again: 'startOver',
    owns: [],
  };
  const runs = buttons.map((button, at) => {
    const given = Object.fromEntries(params.map(({ key, values }) => [key, values[at] ?? '']));
    const run: Step = { id: 'run', onFail: 'stop', kind: 'run', macro: macro.id, params: given };
    return changed('buttons', button, 'steps', [run]);
  });
  return { changes: [made('macros', macro), ...runs], macro };
}
