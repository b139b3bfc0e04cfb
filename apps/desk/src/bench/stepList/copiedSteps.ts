import type { Step } from '@umbek/core/show';
import { useSyncExternalStore } from 'react';

const KEY = 'umbek.copiedSteps';
const listeners = new Set<() => void>();
const NONE: readonly Step[] = [];
let now: readonly Step[] | null = null;

/** Copied steps of this page: they come along from one button, macro or trigger to another, also after the page was loaded again. */
function read(): readonly Step[] {
  if (now !== null) return now;
  try {
    const kept: unknown = JSON.parse(window.sessionStorage.getItem(KEY) ?? '[]');
    now = Array.isArray(kept) ? (kept as Step[]) : NONE;
  } catch {
    now = NONE;
  }
  return now;
}

export function copySteps(steps: readonly Step[]): void {
  now = steps;
  try {
    window.sessionStorage.setItem(KEY, JSON.stringify(steps));
  } catch {
    // Too much to be kept: it is there until the page is loaded again.
  }
  for (const listener of listeners) listener();
}

export const useCopiedSteps = (): readonly Step[] =>
  useSyncExternalStore((listener) => {
    listeners.add(listener);
    return () => void listeners.delete(listener);
  }, read);
