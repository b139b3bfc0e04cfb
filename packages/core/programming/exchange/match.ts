import { sameContent, type ShowDocument } from '../../show/index';
import { inOrder } from '../order';
import type { Needs, NeedTable } from './needs';

/** One thing that buttons from elsewhere name, and what stands for it here. */
export interface Match {
  readonly table: NeedTable;
  /** What they name it by: its key there; of a macro its id. */
  readonly key: string;
  readonly name: string;
  /** What it is, in words: a camera, a source. */
  readonly what: string;
  /** Key, or id, of what stands for it here. `bring`: it comes along. `open`: nothing does, and what names it refuses its press. */
  readonly to: { readonly here: string } | 'bring' | 'open';
  /** It is the same as there: nobody has to look. */
  readonly sure: boolean;
  /** What else can stand for it. */
  readonly choices: readonly { readonly key: string; readonly name: string }[];
}

interface Named {
  readonly key: string;
  readonly name: string;
}

const WORDS: Readonly<Record<NeedTable, string>> = {
  devices: 'device',
  sources: 'source',
  roles: 'role',
  positions: 'position',
  reframes: 'stored view',
  values: 'show value',
  people: 'person',
  macros: 'macro',
};

const folded = (text: string): string => text.toLowerCase().replace(/[^\p{L}\p{N}]/gu, '');

/** The likeliest of them: the same key, the same name, nearly the same name, or the only one there is. */
function guess(need: Named, among: readonly Named[], only: boolean): Named | undefined {
  return (
    among.find(({ key, name }) => key === need.key && name === need.name) ??
    among.find(({ name }) => name === need.name) ??
    among.find(({ name }) => folded(name) === folded(need.name)) ??
    among.find(({ key }) => key === need.key) ??
    (only && among.length === 1 ? among[0] : undefined)
  );
}

/** How what these buttons need is found in a show, as a first guess: devices and sources by name, key or as the only one of their kind. */
export function matchesOf(needs: Needs, show: ShowDocument): Match[] {
  const rig = (table: 'devices' | 'sources', need: Named, among: readonly Named[], only: boolean): Match => {
    const found = guess(need, among, only);
    return {
      table,
      key: need.key,
      name: need.name,
      what: WORDS[table],
      to: found === undefined ? 'open' : { here: found.key },
      sure: found?.key === need.key && found.name === need.name,
      choices: among.map(({ key, name }) => ({ key, name })),
    };
  };
  const brought = (
    table: 'roles' | 'positions' | 'reframes' | 'values' | 'people',
    need: Named,
    among: readonly Named[],
    same: (named: Named) => boolean,
  ): Match => {
    const found = among.find((named) => named.key === need.key && same(named)) ?? among.find(same);
    return {
      table,
      key: need.key,
      name: need.name,
      what: WORDS[table],
      to: found === undefined ? 'bring' : { here: found.key },
      sure: found !== undefined && found.key === need.key,
      choices: among.map(({ key, name }) => ({ key, name })),
    };
  };
  const devices = needs.devices.map((need) => {
    const alike = inOrder(show.devices).filter(({ kind }) => kind === need.kind);
    return rig('devices', need, alike, true);
  });
  const here = (key: string): string | undefined => {
    const to = devices.find((device) => device.key === key)?.to;
    return typeof to === 'object' ? to.here : undefined;
  };
  return [
    ...devices,
    ...needs.sources.map((need) => rig('sources', need, inOrder(show.sources), false)),
    ...needs.roles.map((need) => brought('roles', need, show.roles, ({ name }) => name === need.name)),
    ...needs.positions.map((need) => {
      const camera = here(need.camera);
      const alike = show.positions.filter((position) => position.camera === camera);
      return brought('positions', need, alike, ({ name }) => name === need.name);
    }),
    ...needs.reframes.map((need) => brought('reframes', need, show.reframes, ({ name }) => name === need.name)),
    ...needs.values.map((need) =>
      brought('values', need, show.values, ({ key, name }) => {
        const item = show.values.find((value) => value.key === key);
        return name === need.name && item?.type === need.type && typeof item.start === typeof need.start;
      }),
    ),
    ...needs.people.map((need) => brought('people', need, show.people, ({ name }) => name === need.name)),
    ...needs.macros.map((need): Match => {
      const same = show.macros.find((macro) =>
        sameContent({ ...macro, number: 0, id: '' }, { ...need, number: 0, id: '' }),
      );
      return {
        table: 'macros',
        key: need.id,
        name: need.name,
        what: WORDS.macros,
        to: same === undefined ? 'bring' : { here: same.id },
        sure: same?.id === need.id,
        choices: [],
      };
    }),
  ];
}

/** Whether nothing has to be looked at: all that they need is here as it was there. */
export const allSure = (matches: readonly Match[]): boolean => matches.every(({ sure }) => sure);

/** The same list with another choice for one of them. @param to null: nothing stands for it */
export const matchedTo = (matches: readonly Match[], of: Match, to: string | null): Match[] =>
  matches.map((match) => (match === of ? { ...match, to: to === null ? 'open' : { here: to }, sure: false } : match));
