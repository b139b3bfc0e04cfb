import { useCallback, useLayoutEffect, useRef, useSyncExternalStore } from 'react';
import type { View } from 'react-native';
import type { LiveFace } from '@umbek/protocol';
import { useLive } from '../live/LiveContext';
import type { CapWords } from './capWords';

const sameButWords = (a: LiveFace, b: LiveFace): boolean =>
  a.sign === b.sign &&
  a.lost === b.lost &&
  a.asSent === b.asSent &&
  a.value === b.value &&
  a.away === b.away &&
  a.picture === b.picture;

/** The face of a cap that is drawn anew when anything but its words changes; those `useLiveWords` keeps. */
export function useFaceButWords(id: string): LiveFace | undefined {
  const live = useLive();
  const drawn = useRef<LiveFace | undefined>(undefined);
  const subscribe = useCallback((listener: () => void) => live.subscribe(`face:${id}`, listener), [live, id]);
  useSyncExternalStore(subscribe, () => {
    const now = live.face(id);
    if (now === undefined || drawn.current === undefined || !sameButWords(now, drawn.current)) drawn.current = now;
    return drawn.current;
  });
  return live.face(id);
}

/**
 * Words of a cap that change by themselves, a level five times a second, go straight into the page: React would go through the whole panel for each of
 * them, and a finger that comes meanwhile waits for that. What React draws says the same, since both are worked out from the same.
 * @param words what it says as things are at the moment of the call
 */
export function useLiveWords(ref: React.RefObject<View | null>, id: string, words: () => CapWords): void {
  const live = useLive();
  const latest = useRef(words);
  latest.current = words;
  const write = useCallback(() => {
    // On the web a View is its DOM element.
    const element = ref.current as unknown as HTMLElement | null;
    if (element === null) return;
    const { legend, second, label } = latest.current();
    say(element.querySelector('[data-words="legend"]'), legend);
    say(element.querySelector('[data-words="second"]'), second);
    if (element.getAttribute('aria-label') !== label) element.setAttribute('aria-label', label);
  }, [ref]);
  // What was written since React last drew this stays as it is.
  useLayoutEffect(write);
  useLayoutEffect(() => live.subscribe(`face:${id}`, write), [live, id, write]);
}

function say(element: Element | null, text: string): void {
  if (element === null || element.textContent === text) return;
  // As React does it: the text in its place, so that a search that stands on it stays.
  if (element.firstChild?.nodeType === Node.TEXT_NODE && element.childNodes.length === 1)
    element.firstChild.nodeValue = text;
  else element.textContent = text;
}
