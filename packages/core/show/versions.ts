import { entriesOf, sameContent } from './apply';
import type { Change } from './edits';
import { ENTITIES, type EntityName, type ShowDocument } from './entities';

type Entry = { readonly id: string } & Readonly<Record<string, unknown>>;

/** The changes that make one show into another, field by field where an entry is in both: so that bringing a version back is an edit like any other. */
export function changesBetween(from: ShowDocument, to: ShowDocument): Change[] {
  const head = (Object.keys(from.show) as (keyof ShowDocument['show'])[]).flatMap((field): Change[] =>
    field === 'id' || sameContent(from.show[field], to.show[field])
      ? []
      : [{ entity: 'show', id: from.show.id, field, from: from.show[field], to: to.show[field] }],
  );
  const lists = (Object.keys(ENTITIES) as EntityName[]).flatMap((entity) => {
    const [before, after] = [from[entity] as readonly Entry[], to[entity] as readonly Entry[]];
    const [old, next] = [
      new Map(before.map((entry) => [entry.id, entry])),
      new Map(after.map((entry) => [entry.id, entry])),
    ];
    const gone = before
      .filter((entry) => !next.has(entry.id))
      .map((entry): Change => ({ entity, id: entry.id, field: '*', from: entry, to: null }));
    const others = after.flatMap((entry): Change[] => {
      const was = old.get(entry.id);
      if (was === undefined) return [{ entity, id: entry.id, field: '*', from: null, to: entry }];
      // A key never changes: an entry that has another one now is another entry.
      if (was.key !== entry.key) return [{ entity, id: entry.id, field: '*', from: was, to: entry }];
      return [...new Set([...Object.keys(was), ...Object.keys(entry)])]
        .filter((field) => !sameContent(was[field], entry[field]))
        .map((field) => ({ entity, id: entry.id, field, from: was[field] ?? null, to: entry[field] ?? null }));
    });
    return [...gone, ...others];
  });
  return [...head, ...lists];
}

const WORDS: Readonly<Record<Change['entity'], string>> = {
  show: 'Show',
  devices: 'Device',
  sources: 'Source',
  positions: 'Position',
  values: 'Value',
  panels: 'Panel',
  strips: 'Strip',
  buttons: 'Button',
  macros: 'Macro',
  profiles: 'Profile',
  roles: 'Role',
  reframes: 'Reframe',
  setUps: 'Saved set-up',
  people: 'Person',
  shortcuts: 'Shortcut',
  stations: 'Station',
  triggers: 'Trigger',
};
/** Fields as people call them, where that differs. */
const FIELDS: Readonly<Record<string, string>> = {
  releaseSteps: 'steps at release',
  atRelease: 'what ends the hold',
  sets: 'sets that alternate',
  shift: 'shown with Shift',
  there: 'when it is there',
  dial: 'value in the hand',
  short: 'short legend',
  icon: 'sign',
  picture: 'picture',
  additions: 'what it does at release, held or pressed again',
  headNumber: 'memory in the head',
  inHead: 'what the head holds',
  shortName: 'short name',
  stripId: 'strip',
  panelId: 'panel',
  order: 'place',
  on: 'what makes it fire',
  onlyIf: 'only if',
  delayMs: 'delay',
  minGapMs: 'shortest time between',
  atStart: 'armed at the start',
  timeZone: 'time zone',
};

/** What changes come to, one line an entry: what would be made, removed, or changed in which fields. */
export function changeWords(changes: readonly Change[], from: ShowDocument): string[] {
  const entries = new Map<string, { what: string; fields: string[] }>();
  for (const { entity, id, field, from: before, to } of changes) {
    const entry = ((before ?? to) as Entry | null) ?? undefined;
    const known = field === '*' ? entry : entriesOf(from, entity).find((candidate) => candidate.id === id);
    const name = String(known?.name ?? known?.legend ?? known?.device ?? known?.key ?? id);
    const line = entries.get(id) ?? { what: `${WORDS[entity]} ${name}`, fields: [] };
    line.fields.push(
      field !== '*'
        ? (FIELDS[field] ?? field)
        : to === null
          ? 'goes'
          : before === null
            ? 'comes back'
            : 'becomes another',
    );
    entries.set(id, line);
  }
  return [...entries.values()].map(({ what, fields }) => `${what}: ${fields.join(', ')}`);
}
