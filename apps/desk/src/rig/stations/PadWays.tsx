import { useMutation, useQueryClient } from '@tanstack/react-query';
import { inOrder } from '@umbek/core/order';
import type { ShowDocument } from '@umbek/core/show';
import type { StationsReply } from '@umbek/protocol';
import { useRouter } from 'expo-router';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button } from 'react-native-paper';
import { Picker } from '../../common/Picker';
import { act } from '../../live/deeds';
import { replyWords } from '../../show/replyWords';
import { useEdits } from '../../show/ShowContext';
import { Which } from './Which';

export type PadOf = NonNullable<StationsReply[number]['pad']>;
export const padWords = ({ columns, rows }: PadOf): string => `A pad of ${columns} × ${rows} keys`;

/** Gives a pad its place, which it keeps when it is plugged in again. */
function usePlace() {
  const edits = useEdits();
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async ({ notice, ...body }: { serial: string; station: string | null; notice: string }) => {
      const response = await act('/api/pads/place', body);
      if (!response.ok) throw new Error(replyWords((await response.json()) as object));
      edits.tell(notice, false);
    },
    onError: (error: Error) => edits.tell(error.message, true),
    onSettled: () => queries.invalidateQueries({ queryKey: ['stations'] }),
  });
}

/** What can be done with a pad that has no place yet. */
export function PadWays({
  document,
  id,
  pad,
}: {
  readonly document: ShowDocument;
  readonly id: string;
  readonly pad: PadOf;
}) {
  const place = usePlace();
  const [choosing, setChoosing] = useState(false);
  return (
    <View style={styles.row}>
      <Button
        mode="contained"
        disabled={document.stations.length === 0}
        loading={place.isPending}
        onPress={() => setChoosing(true)}
      >
        Give it a place
      </Button>
      <Which id={id} />
      {choosing ? (
        <Picker
          title="As which station does it act?"
          visible
          memory="stations"
          choices={inOrder(document.stations).map((item) => ({ key: item.id, group: 'Stations', words: item.name }))}
          onChoose={({ key, words }) => {
            setChoosing(false);
            place.mutate({
              serial: pad.serial,
              station: key,
              notice: `The pad acts as ${words} now, also when it is plugged in again.`,
            });
          }}
          onClose={() => setChoosing(false)}
        />
      ) : null}
    </View>
  );
}

/** The keys of a pad as a likeness on this screen, which works. */
export function OnScreen({
  pad,
  panel,
  station,
  name,
}: {
  readonly pad: PadOf;
  readonly panel: string | null;
  readonly station: string;
  readonly name: string;
}) {
  const router = useRouter();
  if (panel === null) return null;
  return (
    <Button
      mode="outlined"
      accessibilityLabel={`Show the keys of ${name} on this screen`}
      onPress={() => router.navigate(`/?panel=${panel}&grid=${pad.columns}x${pad.rows}&as=${station}` as never)}
    >
      Its keys on this screen
    </Button>
  );
}

/** The pad of a station gives up its place. */
export function TakeOff({ pad, name }: { readonly pad: PadOf; readonly name: string }) {
  const place = usePlace();
  return (
    <Button
      mode="outlined"
      loading={place.isPending}
      onPress={() =>
        place.mutate({ serial: pad.serial, station: null, notice: `The pad does not act as ${name} any more.` })
      }
    >
      Take the pad from here
    </Button>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
});
