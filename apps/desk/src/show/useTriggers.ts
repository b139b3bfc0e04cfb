import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { TriggerReply, TriggersReply, WhyReply } from '@umbek/protocol';
import { useMemo } from 'react';
import { usePoints, useScopes } from '../live/LiveContext';
import { readIdentity } from '../live/identity';
import { ask } from './ask';
import { deed } from './useListDeed';
import { useEdits } from './ShowContext';

const SCOPES = ['armed', 'rule'];
const LIST = ['triggers'];

/** Nobody answered: what was asked may well be known. */
export class NoAnswer extends Error {}

async function read<T>(path: string): Promise<T> {
  const response = await ask(path).catch(() => {
    throw new NoAnswer();
  });
  if (response.status >= 500) throw new NoAnswer();
  if (!response.ok) throw new Error(String(response.status));
  return (await response.json()) as T;
}

/** Changes whenever the engine tells something new of one of these triggers. */
function useTold(ids: readonly string[]): string {
  useScopes(SCOPES);
  const keys = useMemo(() => ids.flatMap((id) => [`armed@${id}`, `rule@${id}`]), [ids]);
  return usePoints(keys).map(String).join(' ');
}

/** What every trigger does now, by id; asked anew whenever one of them tells something. */
export function useTriggers(ids: readonly string[]): ReadonlyMap<string, TriggersReply[number]> {
  const views = useTold(ids);
  const { data } = useQuery({
    queryKey: [...LIST, views],
    queryFn: () => read<TriggersReply>('/api/triggers'),
    placeholderData: (before) => before,
    staleTime: 0,
    enabled: ids.length > 0,
  });
  return useMemo(() => new Map(data?.map((item) => [item.id, item])), [data]);
}

/** What every trigger does now, asked anew each second: where the show is operated, the triggers themselves are not loaded. */
export const useTriggerRows = () =>
  useQuery({
    queryKey: [...LIST, 'operated'],
    queryFn: () => read<TriggersReply>('/api/triggers'),
    refetchInterval: 1000,
    staleTime: 0,
    retry: false,
  });

/** One trigger with its last events. */
export function useTrigger(id: string): TriggerReply | undefined {
  const ids = useMemo(() => [id], [id]);
  const views = useTold(ids);
  return useQuery({
    queryKey: ['trigger', id, views],
    queryFn: () => read<TriggerReply>(`/api/triggers/${id}`),
    placeholderData: (before) => before,
    staleTime: 0,
  }).data;
}

/** Why something is as it is. @param key left out: nothing is asked @param as what it is now: asked again when that changes */
export const useWhy = (key: string | undefined, as = '') =>
  useQuery({
    queryKey: ['why', key, as],
    queryFn: () => read<WhyReply>(`/api/why?key=${encodeURIComponent(key ?? '')}`),
    staleTime: 0,
    gcTime: 0,
    retry: false,
    enabled: key !== undefined,
  });

/** Arms, disarms and fires; what was refused is told. */
export function useTriggerDeed() {
  const edits = useEdits();
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ path, body }: { readonly path: string; readonly body: object }) => {
      const { station, person } = readIdentity();
      return deed(`/api/triggers/${path}`, { ...body, station, ...(person === '' ? {} : { person }) });
    },
    onError: (error: Error) => edits.tell(error.message, true),
    onSettled: () => queries.invalidateQueries({ queryKey: LIST }),
  });
}
