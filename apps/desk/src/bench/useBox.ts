import { useEffect, useRef, useState } from 'react';
import { listen } from '../live/listen';

/** So far the mouse goes before it is a box and no click, CSS pixels. */
const BOX_PX = 6;

export interface Box {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
}

const boxOf = (from: { x: number; y: number }, to: { x: number; y: number }): Box => ({
  left: Math.min(from.x, to.x),
  top: Math.min(from.y, to.y),
  width: Math.abs(to.x - from.x),
  height: Math.abs(to.y - from.y),
});

/** Whether two boxes share a point. */
export const meets = (a: Box, b: Box): boolean =>
  a.left <= b.left + b.width && b.left <= a.left + a.width && a.top <= b.top + b.height && b.top <= a.top + a.height;

/**
 * A box that a mouse draws from empty ground: the caps that it meets are chosen. Fingers scroll there.
 * @param within selector of the ground @param onTake ids of the caps
 */
export function useBox(within: string, onTake: (ids: readonly string[]) => void): Box | null {
  const [box, setBox] = useState<Box | null>(null);
  const latest = useRef(onTake);
  latest.current = onTake;
  useEffect(() => {
    let from: { x: number; y: number } | null = null;
    let drawn: Box | null = null;
    const draw = (next: Box | null): void => {
      drawn = next;
      setBox(next);
    };
    const end = (): void => {
      if (drawn !== null) {
        const whole = drawn;
        const caps = [...document.querySelectorAll<HTMLElement>('[data-testid^="edit-"]')];
        const met = caps.filter((cap) => meets(whole, cap.getBoundingClientRect()));
        if (met.length > 0) latest.current(met.map((cap) => cap.dataset.testid?.slice('edit-'.length) ?? ''));
      }
      from = null;
      draw(null);
    };
    return listen(window, {
      pointerdown: (event: PointerEvent) => {
        if (event.pointerType !== 'mouse' || event.button !== 0 || !(event.target instanceof Element)) return;
        const ground = event.target.closest(within) !== null;
        // A cap, a control or a field is no ground.
        if (!ground || event.target.closest('[role="button"], button, input, textarea, a, [role="radio"]') !== null)
          return;
        from = { x: event.clientX, y: event.clientY };
        event.preventDefault();
      },
      pointermove: (event: PointerEvent) => {
        if (from === null) return;
        if (event.buttons === 0) return end();
        const next = boxOf(from, { x: event.clientX, y: event.clientY });
        if (drawn !== null || Math.max(next.width, next.height) >= BOX_PX) draw(next);
      },
      pointerup: end,
      pointercancel: end,
      blur: end,
    });
  }, [within]);
  return box;
}
