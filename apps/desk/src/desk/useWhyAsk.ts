import { useCallback, useEffect, useRef, useState } from 'react';
import { listen } from '../live/listen';

/** A question that nobody puts is over after so long: the next touch presses again, milliseconds. */
const ASKS_FOR_MS = 10_000;
/** What can be asked on the Desk: caps that are pressed or dragged, and the pictures of program and preview. */
const ASKED = '[data-testid^="cap-"],[data-testid^="dial-"],[data-testid="on-air"],[data-testid="on-preview"]';
const NAMED = /^(?:(?:cap|dial)-([0-9A-Z]{26})|(on-air|on-preview))$/i;
/** What stands in here presses whatever is asked: a cut waits for nobody's question. */
export const ALWAYS_PRESSES = 'always-presses';

export interface WhyAsk {
  /** The next cap that is touched tells why it is as it is, and is not pressed. */
  readonly asking: boolean;
  /** What was asked about: id of a button, `on-air` or `on-preview`; null: nothing. */
  readonly of: string | null;
  readonly begin: () => void;
  readonly end: () => void;
}

const capOf = (event: Event): { readonly id: string; readonly always: boolean } | null => {
  const cap = event.target instanceof Element ? event.target.closest(ASKED) : null;
  const [, button, picture] = NAMED.exec(cap?.getAttribute('data-testid') ?? '') ?? [];
  const id = button ?? picture;
  return cap === null || id === undefined
    ? null
    : { id, always: cap.closest(`[data-testid="${ALWAYS_PRESSES}"]`) !== null };
};

/**
 * Asks a cap why it is as it is: by touch, pointer or key once it was said that the next touch asks, by the secondary button of a mouse at any time.
 * It stands before the caps themselves, so that none of them can take a question for a press.
 */
export function useWhyAsk(): WhyAsk {
  const [asking, setShown] = useState(false);
  // Touches come before what is drawn: the next one goes by this.
  const asks = useRef(false);
  const setAsking = useCallback((to: boolean): void => {
    asks.current = to;
    setShown(to);
  }, []);
  const [of, setOf] = useState<string | null>(null);
  // A touch that asked goes on to be a click, wherever that lands.
  const touched = useRef(false);
  useEffect(() => {
    const ask = (event: Event, id: string): void => {
      event.preventDefault();
      event.stopImmediatePropagation();
      touched.current = event.type === 'pointerdown' && (event as PointerEvent).button === 0;
      setAsking(false);
      setOf(id);
    };
    const may = (event: Event): void => {
      // Nearly every touch is a press: it is not looked at any further.
      if (!asks.current) return;
      const cap = capOf(event);
      if (cap !== null && !cap.always) ask(event, cap.id);
    };
    return listen(
      window,
      {
        pointerdown: (event: PointerEvent) => {
          touched.current = false;
          if (event.button === 0) return may(event);
          // The secondary button asks at once: it presses nothing.
          const cap = event.button === 2 && event.pointerType === 'mouse' ? capOf(event) : null;
          if (cap !== null) ask(event, cap.id);
        },
        pointercancel: () => void (touched.current = false),
        click: (event: MouseEvent) => {
          // The click of the touch that asked is that touch, and may meet the answer that lies over the cap by now. A screen reader only clicks.
          if (!touched.current) return may(event);
          touched.current = false;
          event.preventDefault();
          event.stopImmediatePropagation();
        },
        keydown: (event: KeyboardEvent) => {
          const cap = event.key === 'ContextMenu' || (event.key === 'F10' && event.shiftKey) ? capOf(event) : null;
          if (cap !== null) return ask(event, cap.id);
          if (event.key === 'Enter' || event.key === ' ') may(event);
          if (event.key === 'Escape' && asks.current) setAsking(false);
        },
      },
      true,
    );
  }, [setAsking]);
  useEffect(() => {
    if (!asking) return undefined;
    const timer = setTimeout(() => setAsking(false), ASKS_FOR_MS);
    return () => clearTimeout(timer);
  }, [asking, setAsking]);
  const begin = useCallback(() => setAsking(!asks.current), [setAsking]);
  const end = useCallback(() => {
    setAsking(false);
    setOf(null);
  }, [setAsking]);
  return { asking, of, begin, end };
}
