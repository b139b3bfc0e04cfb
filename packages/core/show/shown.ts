import type { Button, Page, Panel, ShowDocument, Station, Strip } from './entities';

/** In place of a panel: the people list, to find somebody in and choose them. */
export const PEOPLE_LIST = 'people';

/** The station of the show that a page acts as; undefined where it acts as none, or as one that is gone. */
export const stationOf = ({ stations }: Pick<ShowDocument, 'stations'>, claims: string | null): Station | undefined =>
  claims === null ? undefined : stations.find(({ id }) => id === claims);

/** The panels that a station may show: those of its list that are there, or all where it has no list, or nothing of it is left. */
export function panelsFor(panels: readonly Panel[], station: Station | undefined): readonly Panel[] {
  const allowed = new Set(station?.panels);
  const some = panels.filter(({ id }) => allowed.has(id));
  return some.length === 0 ? panels : some;
}

/** The page of a panel that is shown: the one asked for, or its first. Undefined where it has none. */
export const pageOf = (panel: Panel | undefined, asked: string | null): Page | undefined =>
  panel?.pages.find(({ id }) => id === asked) ?? panel?.pages[0];

/** The strips of a panel that a station shows of it; null: all of them, also where nothing of its part is left. */
function partOf({ strips }: Pick<ShowDocument, 'strips'>, panelId: string, station: Station | undefined) {
  const part = new Set(station?.parts.find(({ panel }) => panel === panelId)?.strips);
  return strips.some(({ id, panelId: of }) => of === panelId && part.has(id)) ? part : null;
}

/** By which link group a station counts on a panel: its own, or one of the two alone where the panel is cut loose. */
export const linkGroupOn = ({ id, linkGroup, loose }: Station, panelId: string | null): string =>
  // The ends of two ids tell them apart: both whole would be longer than a link group's name.
  panelId !== null && loose.includes(panelId) ? `${id.slice(-14)}-${panelId.slice(-14)}` : linkGroup;

/**
 * The strips of a panel that one of its pages shows, in no order of their own: those of the page, and those that stay and are not covered.
 * @param station that shows it: of some panels it shows a part
 */
export function stripsOn(
  document: Pick<ShowDocument, 'strips' | 'panels'>,
  panelId: string,
  asked: string | null,
  station?: Station,
): Strip[] {
  const part = partOf(document, panelId, station);
  const panel = document.panels.find(({ id }) => id === panelId);
  const page = pageOf(panel, asked);
  const pages = new Set(panel?.pages.map(({ id }) => id));
  return document.strips.filter((strip) => {
    if (strip.panelId !== panelId || part?.has(strip.id) === false) return false;
    // A strip whose page is gone stays, so that nothing is lost from sight.
    if (strip.page === '' || !pages.has(strip.page)) return page?.covers.includes(strip.id) !== true;
    return strip.page === page?.id;
  });
}

/** The buttons of a strip that are shown: while Shift is held its second set, where it has one. */
export function setOf<T extends Pick<Button, 'shift'>>(buttons: readonly T[], shift: boolean): T[] {
  const second = shift && buttons.some((button) => button.shift);
  return buttons.filter((button) => button.shift === second);
}
