import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { useLive } from '../live/LiveContext';
import { ask } from '../show/ask';
import type { LogEntry } from './entryWords';

export interface LogFilter {
  readonly device: string;
  readonly kind: string;
  readonly person: string;
}

const FRESH_MS = 300;

/** Counts up when something happens in the engine, at most every 300 ms. */
function useHappenings(): number {
  const live = useLive();
  const [count, setCount] = useState(0);
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | null = null;
    const end = live.subscribe('state', () => {
      timer ??= setTimeout(() => {
        timer = null;
        setCount((now) => now + 1);
      }, FRESH_MS);
    });
    return () => {
      end();
      if (timer) clearTimeout(timer);
    };
  }, [live]);
  return count;
}

/** The newest entries that fit, newest first, kept fresh while something happens. */
export function useLog(
  filter: LogFilter,
  limit: number,
): { readonly entries: readonly LogEntry[]; readonly failed: boolean; readonly loaded: boolean } {
  const happenings = useHappenings();
  const query = new URLSearchParams({
    limit: String(limit),
    ...(filter.device === '' ? {} : { device: filter.device }),
    ...(filter.kind === '' ? {} : { kind: filter.kind }),
    ...(filter.person === '' ? {} : { person: filter.person }),
  });
  const { data, isError, refetch } = useQuery({
    queryKey: ['log', query.toString()],
    queryFn: async () => {
      const response = await ask(`/api/log?${query}`);
      if (!response.ok) throw new Error(String(response.status));
      return ((await response.json()) as { entries: LogEntry[] }).entries;
    },
    placeholderData: keepPreviousData,
    staleTime: 0,
    retry: 1,
  });
  useEffect(() => {
    if (happenings > 0) void refetch();
  }, [happenings, refetch]);
  return { entries: data ?? [], failed: isError, loaded: data !== undefined };
}
