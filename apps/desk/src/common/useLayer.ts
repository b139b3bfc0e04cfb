import { useEffect, useRef } from 'react';

/** What lies over a place: a list, a dialog, a menu, a sheet. The last one opened closes first. */
interface Layer {
  readonly close: () => boolean;
  /** Its own entry in the browser's history is still there. */
  entry: string | null;
}

const layers: Layer[] = [];
/** Addresses to keep, one for each step back that we asked for ourselves to take away the entry of something closed by hand. */
const ownSteps: string[] = [];
/** Entries of what was closed by hand, each with the place that it lay over. */
const closed = new Map<string, string>();
let made = 0;
/** The router has told the browser of a change of place by then. */
const SETTLED_MS = 60;

interface Entry {
  readonly layer?: string;
}
const entryNow = (): string | undefined => (window.history.state as Entry | null)?.layer;

function addEntry(): string {
  const name = `layer ${(made += 1)}`;
  // The router goes by the id of its own in this state: both entries are the same place to it.
  window.history.pushState({ ...(window.history.state as object | null), layer: name }, '');
  return name;
}

/** The router gives the present entry another address when a parameter changes; that it belongs to a layer must stay with it. */
function listen(): void {
  // Listeners of the window are called in the order in which they came: this has to be there before the router's.
  window.addEventListener('popstate', wentBack);
  window.addEventListener('keydown', keyDown, true);
  const replace = window.history.replaceState.bind(window.history);
  window.history.replaceState = (state: object | null, title, url) => {
    const layer = entryNow();
    replace(layer === undefined ? state : { ...state, layer }, title, url);
  };
}

/** Back closes what lies on top, and nothing else: the router does not hear of it. */
function wentBack(event: PopStateEvent): void {
  const address = ownSteps.shift();
  if (address !== undefined) {
    event.stopImmediatePropagation();
    window.history.replaceState(window.history.state, '', address);
    return sweep();
  }
  const top = layers.at(-1);
  if (top === undefined) return;
  event.stopImmediatePropagation();
  top.entry = null;
  // A question that has to be answered stays, and Back finds it again.
  if (!top.close()) top.entry = addEntry();
}

/** Fields of Paper keep the key to themselves, so it is heard before them. */
function keyDown(event: KeyboardEvent): void {
  const top = layers.at(-1);
  if (event.key !== 'Escape' || top === undefined) return;
  if (top.close()) event.stopPropagation();
}

/** Takes away the entry that we stand on, while it belongs to something that is closed. */
function sweep(): void {
  const pathname = closed.get(entryNow() ?? '');
  if (pathname === undefined) return;
  closed.delete(entryNow() ?? '');
  // Left for another place meanwhile: its entry lies below and is stepped over.
  if (window.location.pathname !== pathname) return;
  ownSteps.push(window.location.href);
  window.history.back();
}

/** Whether something lies over the place: keys belong to that, then. */
export const layerIsOpen = (): boolean => layers.length > 0;

/**
 * Closes at Escape and at Back while something is open, wherever in it the focus is; of several, the last one opened.
 * @param onClose left out where the question has to be answered
 */
export function useLayer(open: boolean, onClose: (() => void) | undefined): void {
  const close = useRef(onClose);
  close.current = onClose;
  useEffect(() => {
    if (!open) return undefined;
    const layer: Layer = {
      entry: addEntry(),
      close: () => {
        if (close.current === undefined) return false;
        close.current();
        return true;
      },
    };
    layers.push(layer);
    const { pathname } = window.location;
    return () => {
      layers.splice(layers.indexOf(layer), 1);
      if (layer.entry === null) return;
      closed.set(layer.entry, pathname);
      setTimeout(sweep, SETTLED_MS);
    };
  }, [open]);
}

// Where pages are rendered beforehand there is no window.
if (typeof window !== 'undefined' && typeof window.addEventListener === 'function') listen();
