import { useEffect, useMemo } from 'react';
import { useLive, useOthersNow } from '../live/LiveContext';

/** A selection that goes on changing is told once it rests. */
const REST_MS = 150;

/** Tells other pages what is selected here. @returns who else is about to change what, by its id */
export function useOthers(selected: readonly string[]): ReadonlyMap<string, string> {
  const live = useLive();
  const others = useOthersNow();
  const selection = selected.join(' ');
  useEffect(() => {
    const timer = setTimeout(() => live.select(selection === '' ? [] : selection.split(' ')), REST_MS);
    return () => clearTimeout(timer);
  }, [live, selection]);
  // Who leaves the Bench selects nothing any more.
  useEffect(() => () => live.select([]), [live]);
  return useMemo(() => {
    const found = new Map<string, string>();
    for (const { station, person, ids } of others) {
      const who = person === '' ? station : person;
      for (const id of ids) found.set(id, found.has(id) ? `${found.get(id) ?? ''}, ${who}` : who);
    }
    return found;
  }, [others]);
}
