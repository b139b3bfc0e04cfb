import type { KeyOn, Shortcut } from '../show/entities';
import { inOrder } from '../programming/order';
import { sameKey } from './key';

/** Where what a shortcut runs is programmed. */
export const runsAt = (runs: Shortcut['runs']): { readonly entity: 'buttons' | 'macros'; readonly id: string } =>
  'button' in runs ? { entity: 'buttons', id: runs.button } : { entity: 'macros', id: runs.macro };

/** The one that a key presses: of several the first. */
export const shortcutOn = (shortcuts: readonly Shortcut[], on: KeyOn): Shortcut | undefined =>
  inOrder(shortcuts.filter((one) => sameKey(one.on, on)))[0];
