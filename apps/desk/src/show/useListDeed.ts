import { type QueryKey, useMutation, useQueryClient } from '@tanstack/react-query';
import { act } from '../live/deeds';
import { replyWords } from './replyWords';
import { useEdits } from './ShowContext';

/** Something to be done about a list: its answer is the new list. */
export interface ListDeed {
  readonly path: string;
  readonly body?: object;
  readonly method?: 'POST' | 'DELETE';
}

/** Asks the engine to do something now. @throws in words */
export async function deed<T>(path: string, body: object = {}, method: 'POST' | 'DELETE' = 'POST'): Promise<T> {
  const response = await act(path, body, { method });
  const reply = (await response.json()) as object;
  if (!response.ok) throw new Error(replyWords(reply));
  return reply as T;
}

/** Does something about a list that is asked under this key; what was refused is told. */
export function useListDeed<T>(queryKey: QueryKey) {
  const edits = useEdits();
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ path, body, method }: ListDeed) => deed<T>(path, body, method),
    onSuccess: (reply) => queries.setQueryData(queryKey, reply),
    onError: (error: Error) => edits.tell(error.message, true),
    onSettled: () => queries.invalidateQueries({ queryKey }),
  });
}
