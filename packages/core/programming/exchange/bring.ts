import { selectionOf } from '../../engine/selections';
import type { Argument, Change, ShowDocument, Step } from '../../show/index';
import { made } from '../changes';
import { type Swap, swappedBy, swappedSteps } from '../count/swap';
import { keyFrom } from '../keys';
import { nextNumber } from '../newEntries';
import { inOrder, orderBetween } from '../order';
import type { ButtonPlan } from '../strips/plan';
import type { Match } from './match';
import type { Needs, NeedTable } from './needs';

/** What comes along with buttons, and the buttons as they name things here. */
export interface Brought {
  readonly changes: Change[];
  readonly swap: Swap;
}

const QUOTED = /("[^"\\]*")/;
/** What a quoted key is asked with, and what it then names. */
const ASKED: readonly (readonly [before: RegExp, tables: readonly NeedTable[]])[] = [
  [/(onAir|onPreview|input)\(\s*$/, ['sources', 'roles']],
  [/chosen\.camera\s*[!=]=\s*$/, ['devices']],
  [/chosen\.person\s*[!=]=\s*$/, ['people']],
  [/\.arrived\s*[!=]=\s*$/, ['positions']],
];
const ANY: readonly NeedTable[] = ['positions', 'people', 'sources', 'roles', 'devices'];

/** Names as they are here in the place of those there; each text is gone through once, so that two that change places do not meet. */
function swapFor(names: ReadonlyMap<string, string>, needs: Needs): Swap {
  const to = (table: NeedTable, key: string): string | undefined => names.get(`${table}/${key}`);
  const first = (tables: readonly NeedTable[], key: string): string => {
    for (const table of tables) {
      const found = to(table, key);
      if (found !== undefined) return found;
    }
    return key;
  };
  const members = (text: string): string =>
    text.replace(/(?<![\w.])([a-z][A-Za-z0-9]*)\.([A-Za-z0-9]+)/g, (whole, scope: string, field: string) =>
      scope === 'value' ? `value.${to('values', field) ?? field}` : `${to('devices', scope) ?? scope}.${field}`,
    );
  const cel = (text: string): string => {
    let before = '';
    return text
      .split(QUOTED)
      .map((part) => {
        const now = part.startsWith('"')
          ? `"${first(ASKED.find(([asks]) => asks.test(before))?.[1] ?? ANY, part.slice(1, -1))}"`
          : members(part);
        before = part;
        return now;
      })
      .join('');
  };
  const kindOf = new Map(needs.devices.map(({ key, kind }) => [key, kind]));
  return {
    argument: (value: Argument, param: string, step: Step): Argument => {
      if (typeof value !== 'string') return value;
      if (step.kind === 'set') return first(selectionOf(step.target)?.tables ?? [], value);
      return first(tablesOf(param, step, kindOf), value);
    },
    device: (key) => to('devices', key) ?? key,
    macro: (id) => to('macros', id) ?? id,
    target: (target) =>
      target.startsWith('value.') ? `value.${to('values', target.slice(6)) ?? target.slice(6)}` : target,
    cel,
    plain: (text) => text,
  };
}

/** What a parameter may name: its own name says it, and what a macro is given may be any of them. */
/** Kinds whose positions are the show's: heads, and what may be one by its profile. */
const POSITIONED: ReadonlySet<string> = new Set(['ptzHead', 'generic']);

function tablesOf(param: string, step: Step, kinds: ReadonlyMap<string, string>): readonly NeedTable[] {
  if (step.kind === 'run') return ['positions', 'sources', 'roles', 'reframes', 'people', 'devices'];
  if (step.kind !== 'command') return [];
  if (param === 'source') return ['sources', 'roles'];
  if (param === 'position' && (step.device.startsWith('chosen.') || POSITIONED.has(kinds.get(step.device) ?? '')))
    return ['positions'];
  if (param === 'reframe') return ['reframes'];
  if (param === 'person') return ['people'];
  return [];
}

/** What a parameter begins with may name anything, as what a step that runs the macro gives. */
const ITS_RUN: Step = { id: 'run', onFail: 'stop', kind: 'run', macro: '', params: {} };

/** What has to be made for these matches, and how buttons then name it. @param newId gives each new entry its id */
export function broughtAlong(
  show: ShowDocument,
  needs: Needs,
  matches: readonly Match[],
  newId: () => string,
): Brought {
  const names = new Map<string, string>();
  for (const { table, key, to } of matches) if (typeof to === 'object') names.set(`${table}/${key}`, to.here);
  const coming = (table: NeedTable): ReadonlySet<string> =>
    new Set(matches.flatMap((match) => (match.table === table && match.to === 'bring' ? [match.key] : [])));
  const changes: Change[] = [];
  /** A key that is free, and the next place in the list. */
  const entry = <T extends { readonly key: string; readonly name: string }>(
    table: 'roles' | 'positions' | 'reframes' | 'values' | 'people',
    list: readonly T[],
    make: (item: T) => T,
  ): void => {
    const wanted = coming(table);
    const taken = new Set(
      [...show[table], ...(table === 'roles' ? show.sources : [])].map((item: { readonly key: string }) => item.key),
    );
    let order = inOrder<{ readonly order: string }>(show[table]).at(-1)?.order ?? null;
    for (const item of list) {
      if (!wanted.has(item.key)) continue;
      const key = taken.has(item.key) ? keyFrom(item.name, taken, table.slice(0, -1)) : item.key;
      taken.add(key);
      names.set(`${table}/${item.key}`, key);
      order = orderBetween(order, null);
      changes.push(made(table, { ...make(item), id: newId(), key, order }));
    }
  };
  const at = (table: NeedTable, key: string): string => names.get(`${table}/${key}`) ?? key;
  entry('values', needs.values, (item) => item);
  entry('people', needs.people, (item) => item);
  // A head elsewhere does not hold it under that number.
  entry('positions', needs.positions, (item) => ({
    ...item,
    camera: at('devices', item.camera),
    headNumber: null,
    inHead: null,
  }));
  entry('reframes', needs.reframes, (item) => ({ ...item, source: at('sources', item.source) }));
  entry('roles', needs.roles, (item) => ({
    ...item,
    source: item.source === null ? null : at('sources', item.source),
  }));
  const macros = needs.macros.filter(({ id }) => coming('macros').has(id));
  const ids = new Set(show.macros.map(({ id }) => id));
  for (const { id } of macros) names.set(`macros/${id}`, ids.has(id) ? newId() : id);
  const swap = swapFor(names, needs);
  const numbers = new Set(show.macros.map(({ number }) => number));
  let next = nextNumber(show);
  for (const macro of macros) {
    const number = numbers.has(macro.number) ? (next += 1) - 1 : macro.number;
    numbers.add(number);
    if (number >= next) next = number + 1;
    changes.push(
      made('macros', {
        ...macro,
        id: at('macros', macro.id),
        number,
        params: macro.params.map((param) => ({ ...param, start: swap.argument(param.start, param.key, ITS_RUN) })),
        steps: swappedSteps(macro.steps, swap),
        stopSteps: swappedSteps(macro.stopSteps, swap),
        owns: macro.owns.map((key) => at('devices', key)),
      }),
    );
  }
  return { changes, swap };
}

/** A button as it names things here. */
export const namedHere = (button: ButtonPlan, { swap }: Brought): ButtonPlan => swappedBy(button, swap);

/** Buttons that name something that nothing stands for here. */
export const leftOpen = (matches: readonly Match[]): readonly Match[] => matches.filter(({ to }) => to === 'open');
