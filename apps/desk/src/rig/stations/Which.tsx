import { useMutation } from '@tanstack/react-query';
import { Button } from 'react-native-paper';
import { act } from '../../live/deeds';
import { replyWords } from '../../show/replyWords';
import { useEdits } from '../../show/ShowContext';

/** Has a page or pad show its name for a moment. */
export function Which({ id }: { readonly id: string }) {
  const edits = useEdits();
  const flash = useMutation({
    mutationFn: () => toStation(id, 'flash', {}),
    onError: (error: Error) => edits.tell(error.message, true),
  });
  return (
    <Button mode="outlined" onPress={() => flash.mutate()}>
      Which is it?
    </Button>
  );
}

/** @throws in words when it is not there */
export async function toStation(id: string, what: 'show' | 'flash' | 'hand-over', body: object): Promise<void> {
  const response = await act(`/api/stations/${encodeURIComponent(id)}/${what}`, body);
  if (!response.ok) throw new Error(replyWords((await response.json()) as object));
}
