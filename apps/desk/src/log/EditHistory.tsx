import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { HistoryReply } from '@umbek/protocol';
import { useState } from 'react';
import { FlatList, StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { UndoBar } from '../common/UndoBar';
import { editorName } from '../live/identity';
import { ask } from '../show/ask';
import { PlaceLink } from '../show/PlaceLink';
import { GoBack } from './GoBack';
import { TonightBar } from './TonightBar';
import { useEditState } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';

/** Who changed what, newest first, and what one's own undo would take back. */
export function EditHistory() {
  const { revision, document } = useEditState();
  const [back, setBack] = useState<string | null>(null);
  const { data, refetch } = useQuery({
    queryKey: ['edits', revision],
    queryFn: async () => {
      const response = await ask(`/api/edits?by=${encodeURIComponent(editorName())}`);
      if (!response.ok) throw new Error(String(response.status));
      return (await response.json()) as HistoryReply;
    },
    placeholderData: keepPreviousData,
    staleTime: 0,
  });
  return (
    <View style={styles.all}>
      <View style={styles.head}>
        <Text style={styles.hint}>
          {data?.undo == null ? 'You have nothing to undo.' : `Undo would revert: ${data.undo}`}
        </Text>
        <UndoBar />
      </View>
      {data && document ? (
        <TonightBar tonight={data.tonight} document={document} onChanged={() => void refetch()} />
      ) : null}
      <FlatList
        tabIndex={0}
        accessibilityLabel="Edits"
        data={data?.entries ?? []}
        keyExtractor={(entry) => entry.editId}
        ListEmptyComponent={<Text style={styles.hint}>Nothing was changed yet.</Text>}
        renderItem={({ item, index }) => (
          <View>
            <View style={styles.row}>
              <Text style={styles.time}>{new Date(item.at).toTimeString().slice(0, 8)}</Text>
              <View style={styles.fill}>
                {item.undone || item.first === null ? (
                  <Text style={[styles.words, item.undone && styles.undone]}>{item.label}</Text>
                ) : (
                  <PlaceLink at={item.first} words={item.label} />
                )}
                <Text style={styles.who}>
                  {item.by === '' ? 'no name given' : item.by}
                  {item.handedTo === undefined ? '' : ` · handed over to ${item.handedTo}`}
                  {item.undone ? ' · undone' : ''}
                </Text>
              </View>
              {index === 0 || back === item.editId ? null : (
                <Button
                  compact
                  accessibilityLabel={`Go back to after ${item.label}, ${new Date(item.at).toTimeString().slice(0, 8)}`}
                  onPress={() => setBack(item.editId)}
                >
                  Back to here
                </Button>
              )}
            </View>
            {back === item.editId && document ? (
              <GoBack
                editId={item.editId}
                document={document}
                words={(edits) =>
                  `Go back to where the show was after “${item.label}”? ${edits === 1 ? 'One edit' : `${edits} edits`} came after it.`
                }
                go="Go back"
                label={(to) => `Back to ${new Date(to.at).toTimeString().slice(0, 8)}, after ${to.label}`}
                onDone={() => setBack(null)}
              />
            ) : null}
          </View>
        )}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  all: { flex: 1, gap: 6 },
  head: { flexDirection: 'row', alignItems: 'center', flexWrap: 'wrap' },
  hint: { flex: 1, fontFamily: font.regular, fontSize: 15, color: colour.muted },
  row: { flexDirection: 'row', gap: 10, paddingVertical: 7, borderBottomWidth: 1, borderBottomColor: colour.hairline },
  time: { fontFamily: font.regular, fontSize: 14, color: colour.muted, fontVariant: ['tabular-nums'], minWidth: 64 },
  fill: { flex: 1 },
  words: { fontFamily: font.medium, fontSize: 16, color: colour.text },
  undone: { textDecorationLine: 'line-through', color: colour.muted },
  who: { fontFamily: font.regular, fontSize: 13, color: colour.muted },
});
