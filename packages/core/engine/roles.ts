import type { ReadKey } from '../expression/index';
import type { Role, ShowDocument, Source } from '../show/index';

/** Where a role is to be found now. */
export interface Seat {
  readonly source: Source | undefined;
  /** Line of a guest gateway that its person sits on, with the gateway's key; undefined while they sit on none. */
  readonly line: { readonly gateway: string; readonly number: number } | undefined;
}

/** Lines of one gateway at most. */
export const MOST_LINES = 12;

/**
 * The source that a role means now: of the line that its person sits on, as the gateway itself tells it; otherwise the one that it names.
 * A person who sits on a line that no source carries is found nowhere: another picture would be the wrong one.
 */
export function seatOf(role: Role, document: Pick<ShowDocument, 'devices' | 'sources'>, read: ReadKey): Seat {
  if (role.person !== '') {
    for (const { kind, key } of document.devices) {
      if (kind !== 'guestGateway') continue;
      for (let number = 1; number <= MOST_LINES; number += 1) {
        if (read(`${key}.line${number}Guest`) !== role.person) continue;
        return { source: document.sources.find((source) => source.line === number), line: { gateway: key, number } };
      }
    }
  }
  return { source: document.sources.find((source) => source.key === role.source), line: undefined };
}
