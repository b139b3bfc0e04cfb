import type { Shortcut, ShortcutOn } from '../show/entities';
import { inOrder } from '../programming/order';
import { sameOn } from './on';

/** Where what a shortcut runs is programmed. */
export const runsAt = (runs: Shortcut['runs']): { readonly entity: 'buttons' | 'macros'; readonly id: string } =>
  'button' in runs ? { entity: 'buttons', id: runs.button } : { entity: 'macros', id: runs.macro };

/** The one that counts at a station: its own before those that count everywhere, and of several the first. */
export function shortcutOn(
  shortcuts: readonly Shortcut[],
  on: ShortcutOn,
  station: string | null = null,
): Shortcut | undefined {
  const same = inOrder(shortcuts.filter((one) => sameOn(one.on, on)));
  const own = station === null ? undefined : same.find((one) => one.station === station);
  return own ?? same.find((one) => one.station === null);
}
