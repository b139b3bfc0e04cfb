import { pressedId, runsAt } from '../shortcut/find';
import type { Layout } from '../shortcut/key';
import { keptFor, onWords, sameOn } from '../shortcut/on';
import {
  type Runs,
  runsDeed,
  runsWords,
  type Shortcut,
  type ShortcutOn,
  type ShowDocument,
  type Trigger,
} from '../show/index';
import { inOrder, orderBetween } from './order';
import { csvOf, escaped, printedPage, tableOf } from './sheet';

const sameRuns = (item: Runs, other: Runs): boolean => pressedId(item) === pressedId(other);

/** Those of a button, of a macro, or of one thing that is done to a trigger, in their order. */
export const shortcutsTo = ({ shortcuts }: Pick<ShowDocument, 'shortcuts'>, runs: Runs): Shortcut[] =>
  inOrder(shortcuts.filter((shortcut) => sameRuns(shortcut.runs, runs)));

/** Behind the last one. */
export const newShortcut = (
  { shortcuts }: Pick<ShowDocument, 'shortcuts'>,
  id: string,
  on: ShortcutOn,
  runs: Runs,
): Shortcut => ({ id, on, runs, station: null, order: orderBetween(inOrder(shortcuts).at(-1)?.order ?? null, null) });

/** A shortcut as lists tell it. */
export interface ShortcutRow {
  readonly shortcut: Shortcut;
  /** What is pressed, in words. */
  readonly words: string;
  /** Name of the station where it counts; empty: everywhere. */
  readonly station: string;
  /** What it runs, with what that stands in; empty where it is gone. */
  readonly runs: string;
  /** Ids of the others on the same key. */
  readonly clashes: readonly string[];
  /** Why it does nothing, and what mends it; empty where it works. */
  readonly fault: string;
}

/** Every shortcut of a show by what is pressed. @param layout what this keyboard has printed, for whoever looks at it */
export function shortcutRows(document: ShowDocument, layout?: Layout): ShortcutRow[] {
  const sorted = inOrder(document.shortcuts);
  return sorted
    .map((shortcut): ShortcutRow => {
      const at = runsAt(shortcut.runs);
      const there = document[at.entity].some(({ id }) => id === at.id);
      const runs = there ? runsWords(document, shortcut.runs) : '';
      const words = onWords(shortcut.on, layout);
      const same = sorted.filter(
        (candidate) => sameOn(candidate.on, shortcut.on) && candidate.station === shortcut.station,
      );
      const station = document.stations.find(({ id }) => id === shortcut.station);
      const kept = keptFor(shortcut.on);
      const first = same[0] ?? shortcut;
      const fault = !there
        ? 'What it ran is gone. Remove the shortcut, or undo the removal.'
        : shortcut.station !== null && station === undefined
          ? 'The station where it counts is gone. Choose another one, or everywhere.'
          : kept !== null
            ? `${words} ${kept}. Choose another one.`
            : first !== shortcut
              ? `${words} ${runsDeed(document, first.runs)} already. Choose another one.`
              : misfit(document, shortcut);
      return {
        shortcut,
        words,
        runs,
        station: station?.name ?? '',
        clashes: same.filter((candidate) => candidate !== shortcut).map(({ id }) => id),
        fault,
      };
    })
    .sort((shortcutRow, other) => shortcutRow.words.localeCompare(other.words, 'en', { numeric: true }));
}

/** Whether it is a value that is dragged, which a key cannot turn: a controller or a lever can. */
export const turns = ({ buttons }: Pick<ShowDocument, 'buttons'>, runs: Runs): boolean =>
  'button' in runs && buttons.find(({ id }) => id === runs.button)?.dial?.by === 0;

/** Whether a hand can fire it: a *when* rule. The others go by what is so. */
export const canFire = (trigger: Pick<Trigger, 'kind'> | undefined): boolean => trigger?.kind === 'when';

/** Whether something outside the panels can turn a value. */
export const canTurn = (on: ShortcutOn): boolean =>
  on.kind === 'axis' || (on.kind === 'midi' && on.message === 'control');

function misfit(document: Pick<ShowDocument, 'buttons' | 'triggers'>, { on, runs }: Shortcut): string {
  if ('trigger' in runs && runs.does === 'fire' && !canFire(document.triggers.find(({ id }) => id === runs.trigger)))
    return 'This trigger goes by its condition or by who talks, and nobody fires it. Let the shortcut arm or disarm it.';
  if (turns(document, runs))
    return canTurn(on)
      ? ''
      : 'This value is dragged, and a key cannot drag. Use a MIDI controller or a lever, or choose another button.';
  return on.kind === 'axis'
    ? 'A lever can only turn a value that is dragged. Choose such a value, or press this button with something else.'
    : '';
}

/** Rows in which every word of a search is found. */
export function shortcutsFound(rows: readonly ShortcutRow[], search: string): ShortcutRow[] {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  return rows.filter((row) => {
    const text = `${row.words} ${row.runs} ${row.station}`.toLowerCase();
    return words.every((word) => text.includes(word));
  });
}

const HEAD = ['Pressed', 'Runs', 'Station', 'Note'];
const EVERYWHERE = 'everywhere';

/** The list as CSV with a head line. */
export const shortcutCsv = (document: ShowDocument): string =>
  csvOf([
    HEAD,
    ...shortcutRows(document).map(({ words, runs, station, fault }) => [words, runs, station || EVERYWHERE, fault]),
  ]);

/** The list as a page to be printed. */
export const shortcutSheet = (document: ShowDocument): string =>
  printedPage(
    document.show.name,
    'shortcuts',
    `<h2>Shortcuts</h2>${tableOf(
      HEAD,
      shortcutRows(document).map(({ words, runs, station, fault }) => [
        `<b>${escaped(words)}</b>`,
        escaped(runs),
        escaped(station || EVERYWHERE),
        escaped(fault),
      ]),
    )}`,
  );
