import { useQuery } from '@tanstack/react-query';
import type { InvitationReply, JoiningReply } from '@umbek/protocol';
import { ask } from '../../show/ask';
import { deed, useListDeed } from '../../show/useListDeed';

const QUERY = ['joining'];
/** A device that asks is seen at once; otherwise the list is looked at now and then. */
const SOON_MS = 1000;
const USUAL_MS = 4000;

async function read(): Promise<JoiningReply> {
  const response = await ask('/api/joining');
  if (!response.ok) throw new Error(String(response.status));
  return (await response.json()) as JoiningReply;
}

/** How devices join, those that ask, and the stations that were let in. @param soon whether one is expected */
export const useJoining = (soon: boolean) =>
  useQuery({
    queryKey: QUERY,
    queryFn: read,
    staleTime: 0,
    refetchInterval: ({ state }) => (soon || (state.data?.asking.length ?? 0) > 0 ? SOON_MS : USUAL_MS),
  });

/** Something about joining is done now; the answer is the new list. */
export const useJoiningDeed = () => useListDeed<JoiningReply>(QUERY);

export const invite = (): Promise<InvitationReply> => deed<InvitationReply>('/api/invitations');
export const takeBackInvitation = (id: string): Promise<unknown> => deed(`/api/invitations/${id}`, {}, 'DELETE');
