import { saidOf } from './conditions';
import { chosenName, selectionOf } from './selections';
import { toldInput } from './toldInput';
import { byWords, CHOSEN_PERSON } from './people';
import { z } from 'zod';
import { type CommandDefinition, kindOf, ptzHead } from '../devices/index';
import { type Argument, PEOPLE_LIST, type Repetition, type ShowDocument, type Step, unreachable } from '../show/index';

const plain = (argument: Argument | undefined): string =>
  argument === undefined ? '' : typeof argument === 'object' ? celWords(argument.cel) : String(argument);

/** A selection by itself is told as what it is; of what is counted its noun stands before it: "destination as chosen". */
function celWords(cel: string): string {
  const [target] = /^chosen\.\w+$/.exec(cel.trim()) ?? [];
  if (target === undefined) return cel;
  const selection = selectionOf(target);
  return selection?.type === 'text' ? `the chosen ${selection.words}` : 'as chosen';
}

const seconds = (ms: number): string => `${Number((ms / 1000).toFixed(2))} s`;

/** A command as its kind declares it; whatever camera is chosen is a head. */
function definitionOf(device: string, command: string, document: ShowDocument): CommandDefinition | undefined {
  const kind =
    device === 'chosen.camera'
      ? ptzHead
      : kindOf(
          document.devices.find((candidate) => candidate.key === device),
          document,
        );
  return kind?.commands[command];
}

const chosenWords = (device: string): string => (device === 'chosen.camera' ? 'the chosen camera' : device);

/** `slowSource2` is "the slow source 2 given". */
const givenWords = (param: string): string => `the ${keyWords(param)} given`;
const keyWords = (key: string): string => key.replace(/([a-z])([A-Z\d])/g, '$1 $2').toLowerCase();

/** The device of a command in words: its name, the chosen camera, or what its macro is given. */
const deviceWords = (
  { device, deviceFrom }: Pick<Extract<Step, { kind: 'command' }>, 'device' | 'deviceFrom'>,
  { devices }: ShowDocument,
): string =>
  deviceFrom === undefined
    ? (devices.find(({ key }) => key === device)?.name ?? chosenWords(device))
    : givenWords(deviceFrom);

/** What a command does in words, with the names of today; its device only where the words of its kind speak of it. */
export function commandWords(
  {
    device: key,
    deviceFrom,
    command,
    params,
  }: Pick<Extract<Step, { kind: 'command' }>, 'device' | 'deviceFrom' | 'command' | 'params'>,
  document: ShowDocument,
): string {
  const definition = definitionOf(key, command, document);
  if (definition?.phrase !== undefined) {
    const phrase =
      params.on === false && definition.phraseOff !== undefined
        ? definition.phraseOff
        : params.on === true && definition.phraseOff !== undefined
          ? definition.phrase.replace(/: \{on\}$/, '')
          : definition.phrase;
    const words = phrase.replace(/\{(\w+)\}/g, (_all, name: string) => {
      const argument = params[name] ?? '…';
      const spoken = definition.spoken;
      if (name === 'device') return deviceWords({ device: key, deviceFrom }, document);
      return typeof argument === 'number' && spoken !== undefined && Object.hasOwn(spoken, name)
        ? (spoken[name]?.(argument) ?? '')
        : nameOf(argument, document);
    });
    // What may be left out is told where it is not.
    const more = Object.entries(params).flatMap(([name, argument]) => {
      const schema = definition.params.shape[name];
      const meta = schema instanceof z.ZodOptional ? schema.unwrap() : undefined;
      const { title, unit } = (meta instanceof z.ZodType ? meta.meta() : undefined) ?? {};
      return typeof title === 'string'
        ? [`, ${title.toLowerCase()} ${nameOf(argument, document)} ${typeof unit === 'string' ? unit : ''}`.trimEnd()]
        : [];
    });
    return words + more.join('');
  }
  const named = Object.values(params)
    .map((argument) => nameOf(argument, document))
    .filter(Boolean);
  return `${definition?.words ?? command}${named.length > 0 ? `: ${named.join(', ')}` : ''}`;
}

/** A step as a sentence, with the names of today: "Recall Ines close on Desk cam". */
export function sentenceOf(step: Step, document: ShowDocument): string {
  switch (step.kind) {
    case 'command': {
      const phrased = definitionOf(step.device, step.command, document)?.phrase !== undefined;
      return phrased
        ? commandWords(step, document)
        : `${commandWords(step, document)} · ${deviceWords(step, document)}`;
    }
    case 'pause':
      return 'ms' in step.length ? `Pause ${seconds(step.length.ms)}` : `Pause ${step.length.frames} f`;
    case 'wait':
      return `${waitWords(step.until, document)}, at most ${seconds(step.timeoutMs)}`;
    case 'set':
      return step.by === undefined ? setWords(step.target, step.to, document) : byWords(step.by);
    case 'run':
      return runWords(step, document);
    case 'press':
      return `Press ${document.buttons.find((button) => button.id === step.button)?.legend ?? 'a button'}`;
    case 'show': {
      if (step.panel === PEOPLE_LIST) return 'Show the people list';
      const panel = document.panels.find((candidate) => candidate.id === step.panel);
      const page = panel?.pages.find((candidate) => candidate.id === step.page);
      return `Show ${panel?.name ?? 'a panel that is gone'}${page === undefined ? '' : `, ${page.name}`}`;
    }
    case 'trigger': {
      const name = document.triggers.find(({ id }) => id === step.trigger)?.name ?? 'a trigger that is gone';
      return `${step.does === 'arm' ? 'Arm' : step.does === 'disarm' ? 'Disarm' : 'Fire'} ${name}`;
    }
    case 'ask':
      return `Ask: ${step.question}`;
    case 'restore': {
      const names = step.devices.map(
        (key) => document.devices.find((device) => device.key === key)?.name ?? 'a device that is gone',
      );
      return `Restore what was there before${names.length === 0 ? '' : ` on ${names.join(', ')}`}`;
    }
    case 'note':
      return step.text === '' ? 'Note' : step.text;
    case 'group':
      return `${step.name}: ${counted(step.steps)}`;
    case 'if':
      return `If ${saidOf(step.when, document)}: ${counted(step.steps)}${step.otherwise.length > 0 ? `, otherwise ${step.otherwise.length}` : ''}`;
    case 'repeat':
      return `${repeatWords(step.over, document)}: ${counted(step.steps)}`;
    case 'together':
      return `At once: ${step.steps.map((item) => sentenceOf(item, document)).join(' + ')}`;
    default:
      return unreachable(step);
  }
}

/** A step that others stand in, without them: they are read below it. */
export function blockWords(step: Step, document: ShowDocument): string {
  switch (step.kind) {
    case 'group':
      return step.name;
    case 'together':
      return 'Together';
    case 'if':
      return step.when === 'true' ? 'If … (no condition yet)' : `If ${saidOf(step.when, document)}`;
    case 'repeat':
      return repeatWords(step.over, document);
    default:
      return sentenceOf(step, document);
  }
}

const counted = (steps: readonly Step[]): string => `${steps.length} ${steps.length === 1 ? 'step' : 'steps'}`;

/** "Run Close up with Ines close": what it is given stands behind its name. */
function runWords({ macro: id, params }: Extract<Step, { kind: 'run' }>, document: ShowDocument): string {
  const given = Object.values(params)
    .map((argument) => nameOf(argument, document))
    .filter(Boolean);
  const name = document.macros.find((macro) => macro.id === id)?.name ?? 'a macro';
  return given.length === 0 ? `Run ${name}` : `Run ${name} with ${given.join(', ')}`;
}

/** "Repeat 3 times", "Repeat while Roof cam is on air", "For each of Mars, Venus". */
export function repeatWords(over: Repetition, document: ShowDocument): string {
  if ('times' in over) return `Repeat ${over.times} times`;
  if ('while' in over) return `Repeat while ${saidOf(over.while, document)}`;
  const names = over.each.map((item) => nameOf(item, document));
  return `For each of ${names.length > MOST_NAMED ? `${names.slice(0, MOST_NAMED).join(', ')} and ${names.length - MOST_NAMED} more` : names.join(', ') || 'nothing'}`;
}

/** Of a list that is gone through, so many are named. */
const MOST_NAMED = 4;

/** Texts, values and parameters that are put together with `+`: `"night-" + string(value.night)` is "night-[Night]". Null for anything else. */
function putTogether(cel: string, { values }: ShowDocument): string | null {
  const part = /^\s*(?:"([^"\\]*)"|(?:string\(\s*)?(value|param)\.([A-Za-z0-9]+)(?:\s*\))?)\s*(\+|$)/;
  let words = '';
  // Without a text it may be a sum.
  if (!cel.includes('"')) return null;
  for (let rest = cel, more = true; more;) {
    const found = part.exec(rest);
    if (found === null) return null;
    const [whole, literal, scope, key = '', end] = found;
    words +=
      literal ??
      `[${(scope === 'value' ? values.find((candidate) => candidate.key === key)?.name : undefined) ?? keyWords(key)}]`;
    rest = rest.slice(whole.length);
    more = end === '+';
  }
  return words;
}

function nameOf(argument: Argument, document: ShowDocument): string {
  if (typeof argument === 'boolean') return argument ? 'yes' : 'no';
  const together =
    typeof argument === 'object' && argument.cel.includes('+') ? putTogether(argument.cel, document) : null;
  if (together !== null) return together;
  const text = plain(argument);
  const param = typeof argument === 'object' ? /^param\.([A-Za-z0-9]+)$/.exec(text.trim())?.[1] : undefined;
  if (param !== undefined) return givenWords(param);
  const value = typeof argument === 'object' ? /^value\.([A-Za-z0-9]+)$/.exec(text.trim())?.[1] : undefined;
  const held = value === undefined ? undefined : document.values.find((candidate) => candidate.key === value);
  if (held) return `the ${held.name}`;
  // What a device told stands by its number: it is called by the source that comes in there.
  const input = toldInput(text);
  if (input !== undefined) return document.sources.find((source) => source.input === input)?.name ?? `input ${input}`;
  const thing =
    document.positions.find((position) => position.key === text) ??
    document.sources.find((source) => source.key === text) ??
    document.roles.find((role) => role.key === text) ??
    document.reframes.find((reframe) => reframe.key === text) ??
    document.people.find((person) => person.key === text) ??
    document.devices.find((device) => device.key === text);
  return thing?.name ?? text;
}

/** A value or a selection by its name. */
function setWords(target: string, to: Argument, document: ShowDocument): string {
  const [scope = '', key = ''] = target.split('.');
  if (target === CHOSEN_PERSON)
    return `Choose ${document.people.find((person) => person.key === to)?.name ?? plain(to)}`;
  if (scope === 'chosen')
    return `Choose ${chosenName(target, to, document) ?? plain(to)} as the ${selectionOf(target)?.words ?? key}`;
  const name = document.values.find((candidate) => candidate.key === key)?.name ?? target;
  const by = countedBy(target, to);
  if (by !== null) return `Count ${name} ${by < 0 ? 'down' : 'up'} by ${Math.abs(by)}`;
  return `Set ${name} to ${plain(to)}`;
}

/** By how much a step counts the value that it sets; null where it does something else. */
export function countedBy(target: string, to: Argument): number | null {
  if (typeof to !== 'object') return null;
  const [, value, sign, number] = /^(value\.[A-Za-z0-9]+) ([+-]) (\d+(?:\.\d+)?)$/.exec(to.cel) ?? [];
  return value === target ? Number(`${sign}${number}`) : null;
}

/** What a step sets a value to that counts on from what it was. @param by below zero: down */
export const countTo = (target: string, by: number): Argument => ({
  cel: `${target} ${by < 0 ? '-' : '+'} ${Math.abs(by)}`,
});

/** The usual wait in people's words; other conditions stand as they are written. */
export function waitWords(until: string, document: ShowDocument): string {
  return `Wait until ${saidOf(until, document)}`;
}
