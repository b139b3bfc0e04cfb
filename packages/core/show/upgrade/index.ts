/** Shows of earlier versions made into today's: pure steps from each version to the next, each held by golden files. */
import type { Change } from '../edits';
import type { Raw } from './raw';
import { contentToVersion2, showToVersion2 } from './toVersion2';

/** Version that shows are stored in today: in files, rows, versions, the local copy and the edit log. */
export const SHOW_VERSION = 2;

interface Upgrade {
  show(show: Raw): Raw;
  /** One side of a change in the edit log. @param show the show as it was stored with it */
  content(entity: string, field: string, content: unknown, show: Raw): unknown;
}

/** From version n + 1 to n + 2. */
const UPGRADES: readonly Upgrade[] = [{ show: showToVersion2, content: contentToVersion2 }];

/** Brings a stored show up to today's version. What is no show stays what it is: its schema says so then. @param from its version, 1 and up */
export function upgradeShow(stored: unknown, from: number): unknown {
  if (typeof stored !== 'object' || stored === null) return stored;
  return UPGRADES.slice(Math.max(0, from - 1)).reduce<Raw>((show, upgrade) => upgrade.show(show), stored as Raw);
}

/** Brings the changes of a stored edit up to today's version. @param show the show of today: it says which source has which number */
export function upgradeChanges(changes: readonly Change[], from: number, show: object): Change[] {
  return UPGRADES.slice(Math.max(0, from - 1)).reduce<Change[]>(
    (list, upgrade) =>
      list.map((change) => ({
        ...change,
        from: upgrade.content(change.entity, change.field, change.from, show as Raw),
        to: upgrade.content(change.entity, change.field, change.to, show as Raw),
      })),
    [...changes],
  );
}
