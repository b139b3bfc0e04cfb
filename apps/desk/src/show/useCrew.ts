import { useQuery } from '@tanstack/react-query';
import type { CrewReply } from '@umbek/protocol';
import { ask } from './ask';
import { useListDeed } from './useListDeed';

const QUERY = ['crew'];

async function read(): Promise<CrewReply> {
  const response = await ask('/api/crew');
  if (!response.ok) throw new Error(String(response.status));
  return (await response.json()) as CrewReply;
}

/** People who work at this installation. @param asked whether they are needed now */
export const useCrew = (asked = true) => useQuery({ queryKey: QUERY, queryFn: read, staleTime: 0, enabled: asked });

/** Something about the crew is done now; the answer is the new list. */
export const useCrewDeed = () => useListDeed<CrewReply>(QUERY);
