import { keptFor, keyOn, runsAt, shortcutOn } from '@umbek/core/shortcut';
import type { KeyOn, Shortcut } from '@umbek/core/show';
import { useEffect, useRef, useState } from 'react';
import { layerIsOpen } from '../common/useLayer';
import { listen } from '../live/listen';
import { useLive } from '../live/LiveContext';
import { takesText } from './keyboard';

/** What a key of this station pressed last. */
export interface KeyPress {
  readonly on: KeyOn;
  /** The button or macro that it runs. */
  readonly id: string;
  /** Counts presses: the same key again is another one. */
  readonly count: number;
}

/**
 * Presses what the shortcuts of the show say while a key is down, and lets go with it. Nothing while somebody types or while a dialog or menu lies
 * over the place; a key that goes on repeating is the same press. What takes the keys away (another window, another place) lets go as well.
 */
export function useShortcutKeys(shortcuts: readonly Shortcut[]): KeyPress | null {
  const live = useLive();
  const latest = useRef(shortcuts);
  latest.current = shortcuts;
  const [last, setLast] = useState<KeyPress | null>(null);
  useEffect(() => {
    /** By place: the letter that a place gives changes with what is held beside it. */
    const held = new Map<string, string>();
    const letGo = (): void => {
      for (const pressId of held.values()) live.up(pressId);
      held.clear();
    };
    const down = (event: KeyboardEvent): void => {
      const before = held.get(event.code);
      if (before !== undefined && event.repeat) return event.preventDefault();
      // It went up and nobody told: some systems keep that to themselves.
      if (before !== undefined) {
        held.delete(event.code);
        live.up(before);
      }
      if (event.repeat || event.isComposing || event.defaultPrevented) return;
      if (takesText(event.target) || layerIsOpen()) return;
      const on = keyOn(event);
      const shortcut = on === null || keptFor(on) !== null ? undefined : shortcutOn(latest.current, on);
      if (on === null || shortcut === undefined) return;
      event.preventDefault();
      event.stopPropagation();
      const { id } = runsAt(shortcut.runs);
      held.set(event.code, live.down(id, shortcut.id));
      setLast((one) => ({ on, id, count: (one?.count ?? 0) + 1 }));
    };
    const up = (event: KeyboardEvent): void => {
      const pressId = held.get(event.code);
      if (pressId === undefined) return;
      event.preventDefault();
      held.delete(event.code);
      live.up(pressId);
    };
    const stop = listen(window, { keydown: down, keyup: up, blur: letGo });
    return () => {
      letGo();
      stop();
    };
  }, [live]);
  return last;
}
