import { useQuery } from '@tanstack/react-query';
import type { Health } from '@umbek/protocol';
import { useLiveState } from '../live/LiveContext';
import { ask } from '../show/ask';

const load = async (): Promise<Health> => (await ask('/api/health')).json() as Promise<Health>;

/** State of the devices with the age of their last replies, asked for each second while somebody looks. */
export function useHealth(): Health | undefined {
  const { revision } = useLiveState();
  return useQuery({
    queryKey: ['health', revision],
    queryFn: load,
    refetchInterval: 1000,
    placeholderData: (old) => old,
    staleTime: 0,
  }).data;
}

export const ageWords = (ms: number | null): string =>
  ms === null ? 'no reply yet' : ms < 1000 ? `${ms} ms` : `${Math.round(ms / 1000)} s ago`;
