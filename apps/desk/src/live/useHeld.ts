import { useEffect, useRef } from 'react';
import type { View } from 'react-native';
import { listen } from './listen';

/** A click this soon after a touch belongs to it. */
const CLICK_OF_TOUCH_MS = 700;
/** Set while something is held, without waiting for React: a cap looks pressed in the very next frame. */
export const TOUCHED = 'data-touched';
/** For so long an activation without a finger holds what it presses: a nudge moves a little, and stops. */
const ACTIVATION_MS = 150;

/**
 * The one life of whatever is held: it begins at pointer-down or key-down, not at the click, and lasts as long as pointer or key is held. The
 * pointer is captured, so that a finger that slides off still ends it; whatever ends it early (cancel, lost focus, unmount) ends it too. A screen
 * reader's or a switch's activation holds it for a moment.
 * @param begin what begins @returns what ends it again, called once
 */
export function useHeld(begin: () => () => void): React.RefObject<View | null> {
  const ref = useRef<View | null>(null);
  const latest = useRef(begin);
  latest.current = begin;
  useEffect(() => {
    // On the web a View is its DOM element.
    const element = ref.current as unknown as HTMLElement | null;
    if (!element) return undefined;
    let end: (() => void) | null = null;
    let touchedAt = -Infinity;
    const down = (): void => {
      touchedAt = performance.now();
      element.setAttribute(TOUCHED, '');
      end ??= latest.current();
    };
    const up = (): void => {
      touchedAt = end === null ? touchedAt : performance.now();
      element.removeAttribute(TOUCHED);
      end?.();
      end = null;
    };
    // A screen reader or a switch has no finger: it clicks. The click after a touch of our own is that touch.
    const click = (): void => {
      if (end !== null || performance.now() - touchedAt < CLICK_OF_TOUCH_MS) return;
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
    const stop = listen(element, {
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
      stop();
    };
  }, []);
  return ref;
}
