import { useSyncExternalStore } from 'react';
import { readIdentity, writeIdentity } from '../live/identity';

const listeners = new Set<() => void>();
let present: number | null = null;

const read = (): number => (present ??= readIdentity().brightness);

/** Brightness of the caps on this screen, 0.3 to 1. */
export const useBrightness = (): number =>
  useSyncExternalStore((listener) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  }, read);

export function setBrightness(value: number): void {
  present = Math.round(Math.min(1, Math.max(0.3, value)) * 100) / 100;
  writeIdentity({ ...readIdentity(), brightness: present });
  for (const listener of listeners) listener();
}
