import { onWords } from '../shortcut/on';
import type { ShowDocument } from './entities';
import type { Reference } from './reference';

/** What people call an entry, with what it stands in: "Main · Sources · Desk cam". */
export function entryWords(document: ShowDocument, { entity, id }: Pick<Reference, 'entity' | 'id'>): string {
  const named = (list: readonly { readonly id: string; readonly name: string }[], of: string | undefined): string =>
    list.find((one) => one.id === of)?.name ?? '';
  const join = (...parts: readonly string[]): string => parts.filter(Boolean).join(' · ');
  switch (entity) {
    case 'buttons': {
      const button = document.buttons.find((one) => one.id === id);
      const strip = document.strips.find((one) => one.id === button?.stripId);
      return join(named(document.panels, strip?.panelId), strip?.name ?? '', button?.legend ?? '');
    }
    case 'strips': {
      const strip = document.strips.find((one) => one.id === id);
      return join(named(document.panels, strip?.panelId), strip?.name ?? '');
    }
    case 'macros': {
      const macro = document.macros.find((one) => one.id === id);
      return macro === undefined ? '' : `Macro ${macro.number} · ${macro.name}`;
    }
    case 'show':
      return document.show.name;
    case 'setUps': {
      const device = document.setUps.find((one) => one.id === id)?.device;
      return join('Set-up', document.devices.find((one) => one.key === device)?.name ?? '');
    }
    case 'shortcuts': {
      const on = document.shortcuts.find((one) => one.id === id)?.on;
      return join('Shortcut', on === undefined ? '' : onWords(on));
    }
    case 'profiles':
      return join('Profile', document.profiles.find((one) => one.id === id)?.content.name ?? '');
    default:
      return join(KINDS[entity], named(document[entity], id));
  }
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
