import type { Layout } from '@umbek/core/shortcut';
import { useEffect, useMemo, useState } from 'react';

/** What some browsers tell of the keyboard (WICG Keyboard Map); others tell nothing, and the places' own names are shown. */
interface KeyboardMap {
  readonly keyboard?: { getLayoutMap?(): Promise<ReadonlyMap<string, string>> };
}

let asked: Promise<ReadonlyMap<string, string>> | null = null;

function layoutMap(): Promise<ReadonlyMap<string, string>> {
  asked ??= ((navigator as KeyboardMap).keyboard?.getLayoutMap?.() ?? Promise.resolve(new Map<string, string>())).catch(
    () => new Map<string, string>(),
  );
  return asked;
}

/** What this keyboard has printed at a place, as soon as the browser has told. */
export function useLayout(): Layout | undefined {
  const [map, setMap] = useState<ReadonlyMap<string, string> | null>(null);
  useEffect(() => {
    let there = true;
    void layoutMap().then((found) => {
      if (there && found.size > 0) setMap(found);
    });
    return () => {
      there = false;
    };
  }, []);
  return useMemo(() => (map === null ? undefined : (code: string) => map.get(code)), [map]);
}

/** Inputs that letters do nothing to. */
const NO_TEXT = new Set(['checkbox', 'radio', 'range', 'button', 'color', 'file']);

/** Whether what has the focus takes what is typed. */
export function takesText(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  if (target instanceof HTMLInputElement) return !NO_TEXT.has(target.type);
  return target.isContentEditable || target instanceof HTMLTextAreaElement || target instanceof HTMLSelectElement;
}
