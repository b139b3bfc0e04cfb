import { useEffect, useRef } from 'react';
import type { View } from 'react-native';
import { listen } from './listen';
import { useLive } from './LiveContext';
import type { LiveStore } from './liveStore';

/** A click this soon after a touch belongs to it. */
const CLICK_OF_TOUCH_MS = 700;
/** For so long an activation without a finger holds what it presses: a nudge moves a little, and stops. */
const ACTIVATION_MS = 150;

/**
 * Makes a view press a button or a command (`begin` starts the press and gives its id): at pointer-down, not at the click, and for as long as pointer or key is held. The pointer is captured, so
 * that a finger that slides off still releases; whatever ends it early (cancel, lost focus, unmount) releases too.
 */
export function usePressTarget(begin: (live: LiveStore) => string): React.RefObject<View | null> {
  const ref = useRef<View | null>(null);
  const live = useLive();
  const latest = useRef(begin);
  latest.current = begin;
  useEffect(() => {
    // On the web a View is its DOM element.
    const element = ref.current as unknown as HTMLElement | null;
    if (!element) return undefined;
    let pressId: string | null = null;
    let touchedAt = -Infinity;
    const down = (): void => {
      touchedAt = performance.now();
      pressId ??= latest.current(live);
    };
    const up = (): void => {
      touchedAt = pressId === null ? touchedAt : performance.now();
      if (pressId !== null) live.up(pressId);
      pressId = null;
    };
    // A screen reader or a switch has no finger: it clicks. The click after a touch of our own is that touch.
    const click = (): void => {
      if (pressId !== null || performance.now() - touchedAt < CLICK_OF_TOUCH_MS) return;
      down();
      setTimeout(up, ACTIVATION_MS);
    };
    const pointerDown = (event: PointerEvent): void => {
      if (event.button !== 0) return;
      element.setPointerCapture(event.pointerId);
      down();
    };
    const keyDown = (event: KeyboardEvent): void => {
      if (event.key !== ' ' && event.key !== 'Enter') return;
      event.preventDefault();
      if (!event.repeat) down();
    };
    const keyUp = (event: KeyboardEvent): void => {
      if (event.key === ' ' || event.key === 'Enter') up();
    };
    const menu = (event: Event): void => event.preventDefault();
    const end = listen(element, {
      pointerdown: pointerDown,
      pointerup: up,
      pointercancel: up,
      lostpointercapture: up,
      blur: up,
      keydown: keyDown,
      keyup: keyUp,
      contextmenu: menu,
      click,
    });
    return () => {
      up();
      end();
    };
  }, [live]);
  return ref;
}
