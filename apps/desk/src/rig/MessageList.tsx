import { useQuery } from '@tanstack/react-query';
import type { MessagesReply } from '@umbek/protocol';
import type { Device } from '@umbek/core/show';
import { useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Chip } from 'react-native-paper';
import type { z } from 'zod';
import { Search } from '../common/Search';
import { timeOfDay } from '../common/timeWords';
import { ask } from '../show/ask';
import { colour, font } from '../theme/tokens';

type Messages = z.infer<typeof MessagesReply>;

/** The last messages from and to a device, in words and in bytes. */
export function MessageList({ device }: { readonly device: Device }) {
  const [beats, setBeats] = useState(false);
  const [paused, setPaused] = useState(false);
  const [filter, setFilter] = useState('');
  const { data } = useQuery({
    queryKey: ['messages', device.key, beats],
    queryFn: async () =>
      (await ask(`/api/devices/${device.key}/messages?heartbeats=${beats}`)).json() as Promise<Messages>,
    refetchInterval: paused ? false : 1000,
    staleTime: 0,
  });
  const wanted = filter.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = (data?.messages ?? []).filter((message) =>
    wanted.every((word) =>
      `${message.direction === 'out' ? 'to' : 'from'} ${message.words} ${message.bytes}`.toLowerCase().includes(word),
    ),
  );
  return (
    <View style={styles.list}>
      <View style={styles.row}>
        <Chip selected={beats} showSelectedCheck mode={beats ? 'flat' : 'outlined'} onPress={() => setBeats(!beats)}>
          With heartbeats
        </Chip>
        <Chip
          selected={paused}
          showSelectedCheck
          mode={paused ? 'flat' : 'outlined'}
          onPress={() => setPaused(!paused)}
        >
          Paused
        </Chip>
      </View>
      <Search
        placeholder="Only messages with"
        value={filter}
        onChangeText={setFilter}
        accessibilityLabel="Only messages with"
        style={styles.search}
        inputStyle={styles.searchInput}
      />
      {data && data.messages.length > 0 && shown.length === 0 ? (
        <Text style={styles.bytes}>None of the last {data.messages.length} messages has that in it.</Text>
      ) : null}
      {data?.messages.length === 0 ? <Text style={styles.bytes}>No message yet.</Text> : null}
      {shown.map((message, at) => (
        <View key={`${message.at}${at}`} style={styles.message}>
          <Text style={styles.time}>{timeOfDay(message.at)}</Text>
          <View style={styles.fill}>
            <Text style={styles.words}>
              {message.direction === 'out' ? '› ' : '‹ '}
              {message.words}
            </Text>
            <Text numberOfLines={2} style={styles.bytes}>
              {message.bytes}
            </Text>
          </View>
        </View>
      ))}
    </View>
  );
}

const styles = StyleSheet.create({
  list: { gap: 4 },
  search: { backgroundColor: colour.plate, borderRadius: 6, height: 46 },
  searchInput: { fontFamily: font.regular, fontSize: 16, minHeight: 0 },
  row: { flexDirection: 'row', gap: 8, marginBottom: 6 },
  message: {
    flexDirection: 'row',
    gap: 10,
    paddingVertical: 5,
    borderBottomWidth: 1,
    borderBottomColor: colour.hairline,
  },
  time: { fontFamily: font.regular, fontSize: 14, color: colour.muted, fontVariant: ['tabular-nums'], minWidth: 88 },
  fill: { flex: 1 },
  words: { fontFamily: font.medium, fontSize: 15, color: colour.text },
  bytes: { fontFamily: font.regular, fontSize: 12, color: colour.muted },
});
