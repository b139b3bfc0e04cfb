import { z } from 'zod';
import { kindOf, ptzHead } from '../../devices/index';
import { deviceOfParam, useOfParam } from '../../engine/paramUse';
import { compiledExpression, compiledLiveText } from '../../expression/index';
import {
  type Argument,
  type Button,
  Device,
  listsOf,
  Macro,
  Person,
  Position,
  Reframe,
  Role,
  type ShowDocument,
  ShowValue,
  Source,
  type Step,
  stepsWithin,
} from '../../show/index';
import { fieldsOf } from '../fields';

/** What buttons name, as far as another show has to have it: who it is, and enough to make what can be brought along. */
export const Needs = z.strictObject({
  devices: z
    .array(Device.pick({ key: true, name: true, kind: true }))
    .max(500)
    .default([]),
  sources: z
    .array(Source.pick({ key: true, name: true }))
    .max(5000)
    .default([]),
  roles: z
    .array(Role.omit({ id: true, order: true }))
    .max(1000)
    .default([]),
  positions: z
    .array(Position.omit({ id: true, order: true }))
    .max(10_000)
    .default([]),
  reframes: z
    .array(Reframe.omit({ id: true, order: true }))
    .max(2000)
    .default([]),
  values: z
    .array(ShowValue.omit({ id: true, order: true }))
    .max(5000)
    .default([]),
  people: z
    .array(Person.omit({ id: true, order: true }))
    .max(10_000)
    .default([]),
  macros: z.array(Macro).max(5000).default([]),
});
export type Needs = z.infer<typeof Needs>;
export type NeedTable = keyof Needs;

/** What a selection is set to, as parameters refer to it. */
const CHOSEN_REFERENCE: ReadonlyMap<string, string> = new Map([
  ['chosen.person', 'person'],
  ['chosen.source', 'source'],
]);

/** What texts name, by table; macros by id, all others by key. */
class Names {
  private readonly found = new Map<NeedTable, Set<string>>();

  add(table: NeedTable, key: string): void {
    this.found.set(table, (this.found.get(table) ?? new Set()).add(key));
  }

  has(table: NeedTable, key: string): boolean {
    return this.found.get(table)?.has(key) === true;
  }
}

/** Everything that these buttons name, with the macros that they run and what those name. */
export function needsOf(document: ShowDocument, buttons: readonly Omit<Button, 'id' | 'stripId' | 'order'>[]): Needs {
  const names = new Names();
  const macros = new Map(document.macros.map((macro) => [macro.id, macro]));
  const quotable: readonly NeedTable[] = ['positions', 'people', 'sources', 'roles', 'devices'];
  const has = (table: Exclude<NeedTable, 'macros'>, key: string): boolean =>
    (document[table] as readonly { readonly key: string }[]).some((candidate) => candidate.key === key);
  const sourceOrRole = (key: string): void => names.add(has('roles', key) ? 'roles' : 'sources', key);
  const refer = (reference: string | null | undefined, key: string): void => {
    if (reference === 'source') sourceOrRole(key);
    if (reference === 'position') names.add('positions', key);
    if (reference === 'reframe') names.add('reframes', key);
    if (reference === 'person') names.add('people', key);
  };
  const keysIn = (reads: readonly string[], text: string): void => {
    for (const key of reads) {
      if (key.includes('@')) sourceOrRole(key.slice(key.indexOf('@') + 1));
      else if (key.startsWith('value.')) names.add('values', key.slice('value.'.length));
      else names.add('devices', key.slice(0, key.indexOf('.')));
    }
    for (const [, key = ''] of text.matchAll(/"([a-z][A-Za-z0-9]*)"/g)) {
      const table = quotable.find((candidate) => candidate !== 'macros' && has(candidate, key));
      if (table !== undefined) names.add(table, key);
    }
  };
  const cel = (text: string): void => {
    const read = text === '' ? undefined : compiledExpression(text);
    if (read?.ok === true) keysIn(read.value.reads, text);
  };
  const live = (text: string): void => {
    const read = text.includes('{{') ? compiledLiveText(text) : undefined;
    if (read?.ok === true) keysIn(read.value.reads, (text.match(/\{\{.*?\}\}/gs) ?? []).join(' '));
  };
  const argument = (value: Argument, reference: string | null | undefined): void => {
    if (typeof value === 'object') cel(value.cel);
    else if (typeof value === 'string') refer(reference, value);
  };
  const steps = (list: readonly Step[]): void => {
    for (const step of stepsWithin(list)) item(step);
  };
  /** What a macro is given, or begins with: its steps say what it names. */
  const given = (macro: Macro | undefined, key: string, value: Argument): void => {
    if (macro !== undefined && typeof value === 'string' && deviceOfParam(macro, key, (id) => macros.get(id)) !== null)
      return names.add('devices', value);
    const use = macro === undefined ? null : useOfParam(macro, key, document, (id) => macros.get(id));
    argument(
      value,
      use === null ? undefined : fieldsOf(use.definition).find((field) => field.key === use.param)?.reference,
    );
  };
  const run = (id: string): void => {
    const macro = macros.get(id);
    if (macro === undefined || names.has('macros', id)) return;
    names.add('macros', id);
    steps([...macro.steps, ...macro.stopSteps]);
    for (const { key, start } of macro.params) given(macro, key, start);
    for (const key of macro.owns) names.add('devices', key);
  };
  const item = (step: Step): void => {
    switch (step.kind) {
      case 'command': {
        const device = document.devices.find(({ key }) => key === step.device);
        if (device !== undefined) names.add('devices', device.key);
        const kind = step.device.startsWith('chosen.') ? ptzHead : kindOf(device, document);
        const definition = kind?.commands[step.command];
        const fields = definition === undefined ? [] : fieldsOf(definition);
        for (const [key, value] of Object.entries(step.params))
          argument(value, fields.find((field) => field.key === key)?.reference);
        break;
      }
      case 'run': {
        const macro = macros.get(step.macro);
        for (const [key, value] of Object.entries(step.params)) given(macro, key, value);
        run(step.macro);
        break;
      }
      case 'set':
        if (step.target.startsWith('value.')) names.add('values', step.target.slice('value.'.length));
        if (step.target === 'chosen.camera' && typeof step.to === 'string')
          names.add(document.devices.some(({ key }) => key === step.to) ? 'devices' : 'sources', step.to);
        else argument(step.to, step.by === undefined ? CHOSEN_REFERENCE.get(step.target) : undefined);
        break;
      case 'wait':
        cel(step.until);
        break;
      case 'if':
        cel(step.when);
        break;
      case 'repeat':
        if ('while' in step.over) cel(step.over.while);
        break;
      case 'restore':
        for (const key of step.devices) names.add('devices', key);
        break;
      case 'pause':
      case 'press':
      case 'ask':
      case 'show':
      case 'trigger':
      case 'note':
      case 'group':
      case 'together':
        break;
    }
  };
  for (const button of buttons) {
    for (const [, list] of listsOf(button)) steps(list);
    for (const { so, legend } of button.sets) {
      cel(so);
      live(legend);
    }
    for (const { when } of button.lamps) cel(when);
    cel(button.there);
    const [kind, key = ''] = button.picture.split(':');
    if (kind === 'source') sourceOrRole(key);
    if (kind === 'position') names.add('positions', key);
    if (button.dial !== null) cel(button.dial.reads);
    live(button.legend);
    live(button.note);
  }
  // What is brought along names something itself.
  for (const { key, source } of document.roles)
    if (names.has('roles', key) && source !== null) names.add('sources', source);
  for (const { key, camera } of document.positions) if (names.has('positions', key)) names.add('devices', camera);
  for (const { key, source } of document.reframes) if (names.has('reframes', key)) names.add('sources', source);
  const bare = <T extends { readonly id: string; readonly order: string; readonly key: string }>(
    table: NeedTable,
    list: readonly T[],
  ): Omit<T, 'id' | 'order'>[] =>
    list.flatMap(({ id: _id, order: _order, ...rest }) =>
      names.has(table, rest.key) ? [rest as Omit<T, 'id' | 'order'>] : [],
    );
  return {
    devices: document.devices.flatMap(({ key, name, kind }) =>
      names.has('devices', key) ? [{ key, name, kind }] : [],
    ),
    sources: document.sources.flatMap(({ key, name }) => (names.has('sources', key) ? [{ key, name }] : [])),
    roles: bare('roles', document.roles),
    positions: bare('positions', document.positions),
    reframes: bare('reframes', document.reframes),
    values: bare('values', document.values),
    people: bare('people', document.people),
    macros: document.macros.filter(({ id }) => names.has('macros', id)),
  };
}
