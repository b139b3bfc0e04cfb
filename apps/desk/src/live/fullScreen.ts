import { useEffect, useState } from 'react';
import { listen } from './listen';

/** Whether this browser shows a page without its own bars when asked to (WHATWG Fullscreen). */
export const canFillScreen = (): boolean => document.fullscreenEnabled === true;

/** Whether the page runs by itself, from the home screen: without the bars of a browser. */
export const runsByItself = (): boolean =>
  window.matchMedia('(display-mode: standalone), (display-mode: fullscreen)').matches;

/** Whether the page fills the screen, and what changes it. A browser may refuse: then it stays as it is. */
export function useFullScreen(): readonly [boolean, (on: boolean) => void] {
  const [on, setOn] = useState(() => document.fullscreenElement !== null);
  useEffect(() => listen(document, { fullscreenchange: () => setOn(document.fullscreenElement !== null) }), []);
  const change = (to: boolean): void =>
    void (to ? document.documentElement.requestFullscreen() : document.exitFullscreen()).catch(() => undefined);
  return [on, change];
}
