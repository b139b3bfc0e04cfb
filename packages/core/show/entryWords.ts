import { runsAt } from '../shortcut/find';
import { onWords } from '../shortcut/on';
import type { Runs, ShowDocument } from './entities';
import type { Reference } from './reference';

/** What people call an entry, with what it stands in: "Main · Sources · Desk cam". */
export function entryWords(document: ShowDocument, { entity, id }: Pick<Reference, 'entity' | 'id'>): string {
  const named = (list: readonly { readonly id: string; readonly name: string }[], of: string | undefined): string =>
    list.find((candidate) => candidate.id === of)?.name ?? '';
  const join = (...parts: readonly string[]): string => parts.filter(Boolean).join(' · ');
  switch (entity) {
    case 'buttons': {
      const button = document.buttons.find((candidate) => candidate.id === id);
      const strip = document.strips.find((candidate) => candidate.id === button?.stripId);
      return join(named(document.panels, strip?.panelId), strip?.name ?? '', button?.legend ?? '');
    }
    case 'strips': {
      const strip = document.strips.find((candidate) => candidate.id === id);
      return join(named(document.panels, strip?.panelId), strip?.name ?? '');
    }
    case 'macros': {
      const macro = document.macros.find((candidate) => candidate.id === id);
      return macro === undefined ? '' : `Macro ${macro.number} · ${macro.name}`;
    }
    case 'show':
      return document.show.name;
    case 'setUps': {
      const device = document.setUps.find((setUp) => setUp.id === id)?.device;
      return join('Set-up', document.devices.find((candidate) => candidate.key === device)?.name ?? '');
    }
    case 'shortcuts': {
      const on = document.shortcuts.find((shortcut) => shortcut.id === id)?.on;
      return join('Shortcut', on === undefined ? '' : onWords(on));
    }
    case 'profiles':
      return join('Profile', document.profiles.find((profile) => profile.id === id)?.content.name ?? '');
    default:
      return join(KINDS[entity], named(document[entity], id));
  }
}

/** What runs, as lists tell it: "Main · Sources · Desk cam", "Fire trigger The film ends"; empty where it is gone. */
export function runsWords(document: ShowDocument, runs: Runs): string {
  const at = runsAt(runs);
  if (!('trigger' in runs)) return entryWords(document, at);
  const name = document.triggers.find(({ id }) => id === at.id)?.name;
  return name === undefined ? '' : `${runs.does[0]?.toUpperCase()}${runs.does.slice(1)} trigger ${name}`;
}

/** The same as the end of a sentence: "presses Main · Sources · Desk cam", "fires trigger The film ends". @param will behind "will" */
export function runsDeed(document: ShowDocument, runs: Runs, will = false): string {
  const verb = 'trigger' in runs ? runs.does : 'press';
  const words = runsWords(document, runs);
  const what = 'trigger' in runs ? words.slice(words.indexOf(' ') + 1) : words;
  return `${verb}${will ? '' : verb === 'press' ? 'es' : 's'} ${what}`;
}

const KINDS = {
  devices: 'Device',
  sources: 'Source',
  positions: 'Position',
  values: 'Show value',
  panels: 'Panel',
  roles: 'Role',
  reframes: 'Reframe',
  people: 'Person',
  stations: 'Station',
  triggers: 'Trigger',
} as const;
