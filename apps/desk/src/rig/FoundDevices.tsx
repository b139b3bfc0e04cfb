import { useQuery } from '@tanstack/react-query';
import { DEVICE_KINDS } from '@umbek/core/devices';
import type { FoundReply } from '@umbek/protocol';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { Heading } from '../common/fields';
import { ask } from '../show/ask';
import { colour, font } from '../theme/tokens';

export type Found = FoundReply['found'][number];
const LOOK_MS = 3000;
/** So many are shown; those behind them follow as these are added. */
const SHOWN = 20;

async function read(): Promise<FoundReply> {
  const response = await ask('/api/found');
  if (!response.ok) throw new Error(String(response.status));
  return (await response.json()) as FoundReply;
}

/** Devices that announce themselves on the network and are not in the show yet. Nothing is spoken to before it is added. */
export function FoundDevices({ onAdd }: { readonly onAdd: (item: Found) => void }) {
  const { data } = useQuery({ queryKey: ['found'], queryFn: read, staleTime: 0, refetchInterval: LOOK_MS });
  const fresh = (data?.found ?? []).filter(({ device }) => device === null);
  if (fresh.length === 0) return null;
  return (
    <View style={styles.all} testID="found">
      <Heading words="Found on the network" />
      {fresh.slice(0, SHOWN).map((item) => (
        <View key={`${item.kind} ${item.host}:${item.port} ${item.name}`} style={styles.row}>
          <Text style={styles.words}>
            <Text style={styles.name}>{item.name}</Text>
            {`  ${DEVICE_KINDS[item.kind]?.words ?? item.kind} · ${item.host}:${item.port}`}
          </Text>
          <Button mode="outlined" accessibilityLabel={`Add ${item.name}`} onPress={() => onAdd(item)}>
            Add
          </Button>
        </View>
      ))}
      {fresh.length > SHOWN ? <Text style={styles.words}>{`and ${fresh.length - SHOWN} more`}</Text> : null}
    </View>
  );
}

const styles = StyleSheet.create({
  all: { gap: 8, backgroundColor: colour.plate, borderRadius: 6, padding: 14 },
  row: { flexDirection: 'row', alignItems: 'center', gap: 10 },
  name: { fontFamily: font.semibold, fontSize: 17, color: colour.text },
  words: { flex: 1, fontFamily: font.regular, fontSize: 15, lineHeight: 21, color: colour.muted },
});
