import type { Reference, ShowDocument } from '@umbek/core/show';

const address = (path: string, query: Readonly<Record<string, string | undefined>>): string => {
  const given = Object.entries(query).flatMap(([key, value]) => (value === undefined ? [] : [[key, value]]));
  return given.length === 0 ? path : `${path}?${new URLSearchParams(given).toString()}`;
};

/** The address of the page where a place of the show is programmed; null where none is yet, or the show has no such place. */
export function hrefOf(
  document: ShowDocument,
  { entity, id, path = [] }: Pick<Reference, 'entity' | 'id'> & Partial<Pick<Reference, 'path'>>,
): string | null {
  const panelOf = (stripId: string | undefined): string | undefined =>
    document.strips.find((strip) => strip.id === stripId)?.panelId;
  switch (entity) {
    case 'panels':
      return document.panels.some((panel) => panel.id === id) ? address('/bench', { p: id }) : null;
    case 'strips': {
      const panel = panelOf(id);
      return panel === undefined ? null : address('/bench', { p: panel, s: id });
    }
    case 'buttons': {
      const button = document.buttons.find((candidate) => candidate.id === id);
      return button === undefined ? null : address('/bench', { p: panelOf(button.stripId), b: id });
    }
    case 'devices': {
      const device = document.devices.find((candidate) => candidate.id === id);
      return device === undefined ? null : address(`/rig/${device.key}`, { part: 'setUp' });
    }
    case 'positions': {
      const camera = document.positions.find((position) => position.id === id)?.camera;
      return camera === undefined ? null : address(`/rig/${camera}`, { part: 'camera' });
    }
    case 'sources':
      return document.sources.some((source) => source.id === id)
        ? address('/rig', { part: 'sources', source: id })
        : null;
    case 'roles':
    case 'reframes':
      return document[entity].some((candidate) => candidate.id === id) ? address('/rig', { part: 'sources' }) : null;
    case 'setUps':
      return document.setUps.some((setUp) => setUp.id === id) ? address('/rig', { part: 'saved' }) : null;
    case 'profiles': {
      const profile = document.profiles.find((candidate) => candidate.id === id);
      return profile === undefined ? null : `/rig/profiles/${profile.key}`;
    }
    case 'show':
      return path[0] === 'stick'
        ? address('/bench', { list: 'shortcuts', v: 'stick' })
        : address('/rig', { part: 'show' });
    case 'macros':
      return document.macros.some((macro) => macro.id === id) ? address('/bench', { list: 'macros', m: id }) : null;
    case 'triggers':
      return document.triggers.some((trigger) => trigger.id === id)
        ? address('/bench', { list: 'triggers', v: id })
        : null;
    case 'people':
      return document.people.some((person) => person.id === id) ? address('/bench', { list: 'people', v: id }) : null;
    case 'stations':
      return document.stations.some((station) => station.id === id) ? address('/rig', { part: 'stations' }) : null;
    case 'shortcuts':
      return document.shortcuts.some((shortcut) => shortcut.id === id)
        ? address('/bench', { list: 'shortcuts', v: id })
        : null;
    case 'values':
      return document.values.some((candidate) => candidate.id === id)
        ? address('/bench', { list: 'values', v: id })
        : null;
  }
}
