import { useEffect, useState } from 'react';

const EVERY_MS = 100;
/** Later than rehearsed by less than this is not worth words. */
const ON_TIME_MS = 150;

/** Time left in words, counted down from what the engine said was left: `2.4 s`, then `over by 0.3 s`; null when nothing is known. */
export function useTimeLeft(leftMs: number | null | undefined): string | null {
  const [spent, setSpent] = useState(0);
  useEffect(() => {
    setSpent(0);
    if (typeof leftMs !== 'number') return undefined;
    const began = Date.now();
    const timer = setInterval(() => setSpent(Date.now() - began), EVERY_MS);
    return () => clearInterval(timer);
  }, [leftMs]);
  return typeof leftMs === 'number' ? timeLeftWords(leftMs - spent) : null;
}

/** @param leftMs milliseconds left; below zero when it takes longer than rehearsed */
export function timeLeftWords(leftMs: number): string {
  if (leftMs < -ON_TIME_MS) return `over by ${(-leftMs / 1000).toFixed(1)} s`;
  return `${(Math.max(0, leftMs) / 1000).toFixed(1)} s`;
}
