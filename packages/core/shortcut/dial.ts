import { inOrder } from '../programming/order';
import type { Macro, Shortcut, ShowDocument } from '../show/entities';
import { shortcutOn } from './find';

/** What a code runs. */
export interface Dialled {
  readonly runs: Shortcut['runs'];
  /** Left out: it is a macro's own number. */
  readonly shortcut?: string;
}

type Show = Pick<ShowDocument, 'shortcuts' | 'macros'>;

/** Macros that were given a code are not dialled by their number any more. */
const byNumber = ({ shortcuts, macros }: Show): Macro[] => {
  const given = new Set(
    shortcuts.flatMap(({ on, runs }) => (on.kind === 'code' && 'macro' in runs ? [runs.macro] : [])),
  );
  return macros.filter(({ id }) => !given.has(id));
};

/** What a code runs at a station; null: nothing has it. A code that was given comes before a macro's number. */
export function dialled(show: Show, code: string, station: string | null): Dialled | null {
  const shortcut = shortcutOn(show.shortcuts, { kind: 'code', code }, station);
  if (shortcut !== undefined) return { runs: shortcut.runs, shortcut: shortcut.id };
  const macro = byNumber(show).find(({ number }) => String(number) === code);
  return macro === undefined ? null : { runs: { macro: macro.id } };
}

/** How many longer codes begin with these digits. */
export function longerCodes(show: Show, digits: string, station: string | null): number {
  const codes = new Set([
    ...inOrder(show.shortcuts).flatMap((item) =>
      item.on.kind === 'code' && (item.station === null || item.station === station) ? [item.on.code] : [],
    ),
    ...byNumber(show).map(({ number }) => String(number)),
  ]);
  return [...codes].filter((code) => code.length > digits.length && code.startsWith(digits)).length;
}
