import type { Runs, Shortcut, ShortcutOn } from '../show/entities';
import { inOrder } from '../programming/order';
import { sameOn } from './on';

/** Where what a shortcut runs is programmed. */
export const runsAt = (runs: Runs): { readonly entity: 'buttons' | 'macros' | 'triggers'; readonly id: string } =>
  'button' in runs
    ? { entity: 'buttons', id: runs.button }
    : 'macro' in runs
      ? { entity: 'macros', id: runs.macro }
      : { entity: 'triggers', id: runs.trigger };

/** The id that a press of it carries: of a button or macro its own, of a trigger with what is done to it, such as `{id}.arm`. */
export const pressedId = (runs: Runs): string => {
  const { id } = runsAt(runs);
  return 'trigger' in runs ? `${id}.${runs.does}` : id;
};

/** The one that counts at a station: its own before those that count everywhere, and of several the first. */
export function shortcutOn(
  shortcuts: readonly Shortcut[],
  on: ShortcutOn,
  station: string | null = null,
): Shortcut | undefined {
  const same = inOrder(shortcuts.filter((shortcut) => sameOn(shortcut.on, on)));
  const own = station === null ? undefined : same.find((candidate) => candidate.station === station);
  return own ?? same.find((candidate) => candidate.station === null);
}
