import { keptFor, onWords, pressedId, shortcutOn } from '@umbek/core/shortcut';
import { inOrder } from '@umbek/core/order';
import type { Shortcut } from '@umbek/core/show';
import { createContext, useMemo } from 'react';
import { useLayout } from './keyboard';

/** The first key of each button and macro, in words. */
export type Hints = ReadonlyMap<string, string>;

const NONE: Hints = new Map();

/** What caps say of the keys that press them. */
export const KeyHints = createContext<Hints>(NONE);

/** A hand that points finely sits at a machine with a keyboard; a phone's caps keep their room. */
const hasKeyboard = (): boolean => window.matchMedia('(hover: hover) and (pointer: fine)').matches;

/** The keys that work here, by what they press. */
export function useKeyHints(shortcuts: readonly Shortcut[], station: string | null): Hints {
  const layout = useLayout();
  return useMemo(() => {
    if (shortcuts.length === 0 || !hasKeyboard()) return NONE;
    const hints = new Map<string, string>();
    for (const shortcut of inOrder(shortcuts)) {
      const { on, runs } = shortcut;
      if (on.kind !== 'key' || keptFor(on) !== null || shortcutOn(shortcuts, on, station) !== shortcut) continue;
      const id = pressedId(runs);
      if (!hints.has(id)) hints.set(id, onWords(on, layout));
    }
    return hints;
  }, [shortcuts, station, layout]);
}
