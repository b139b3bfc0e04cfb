import { inOrder } from '@umbek/core/order';
import type { Panel, ShowDocument } from '@umbek/core/show';
import { panelsFor, stationOf } from '@umbek/core/shown';
import { useState } from 'react';
import { readIdentity } from '../live/identity';
import { useDeskShow } from '../show/ShowContext';

const NONE: readonly Panel[] = [];

/**
 * The panel that is shown here, and those that may be: a page that acts as a station of the show opens on that one's panel and offers its panels.
 * @param asked the one in the address
 */
export function useMyPanel(asked: string | null): {
  readonly document: ShowDocument | null;
  /** Panels whose buttons are there. */
  readonly held: ReadonlySet<string>;
  readonly allowed: readonly Panel[];
  readonly chosen: string | null;
  /** Station of the show that this page acts as. */
  readonly station: string | null;
} {
  const [wanted, setWanted] = useState(asked);
  const { document, panels: held } = useDeskShow(wanted);
  const station = document === null ? undefined : stationOf(document, readIdentity().claims ?? null);
  const allowed = document === null ? NONE : panelsFor(inOrder(document.panels), station);
  const opens = allowed.find(({ id }) => id === station?.opensOn) ?? allowed[0];
  const chosen = station === undefined || allowed.some(({ id }) => id === asked) ? asked : (opens?.id ?? null);
  if (chosen !== wanted) setWanted(chosen);
  return { document, held, allowed, chosen, station: station?.id ?? null };
}
