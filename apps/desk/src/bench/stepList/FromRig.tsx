import { useQuery } from '@tanstack/react-query';
import { type NowStep, stepsAsNow } from '@umbek/core/programming';
import type { PlainValue, ShowDocument } from '@umbek/core/show';
import { useMemo, useState } from 'react';
import { Pressable, ScrollView, StyleSheet, Text, View } from 'react-native';
import { ActivityIndicator, Button, Icon } from 'react-native-paper';
import { Chip } from '../../common/Chip';
import { Segments } from '../../common/Segments';
import { Sheet } from '../../common/Sheet';
import { ask } from '../../show/ask';
import { colour, font } from '../../theme/tokens';

/** What chosen devices show now becomes steps: those that are chosen from a list, at first all that differ from devices just switched on. */
export function FromRig({
  document,
  visible,
  onClose,
  onAdd,
}: {
  readonly document: ShowDocument;
  readonly visible: boolean;
  readonly onClose: () => void;
  readonly onAdd: (steps: readonly NowStep[]) => void;
}) {
  const [devices, setDevices] = useState<readonly string[]>([]);
  const [all, setAll] = useState(false);
  /** Chosen against what is proposed. */
  const [turned, setTurned] = useState<ReadonlySet<string>>(new Set());
  const { data, isFetching, isError, refetch } = useQuery({
    queryKey: ['as-now', devices],
    queryFn: () => pointsOf(devices),
    enabled: visible && devices.length > 0,
    staleTime: 0,
    gcTime: 0,
  });
  const found = useMemo(
    () => (data === undefined || devices.length === 0 ? [] : stepsAsNow(document, devices, (key) => data[key])),
    [document, devices, data],
  );
  const shown = found.filter(({ differs }) => all || differs);
  const isChosen = ({ key, differs }: NowStep): boolean => differs !== turned.has(key);
  const chosen = shown.filter(isChosen);
  const toggle = (key: string): void => {
    const next = new Set(turned);
    if (!next.delete(key)) next.add(key);
    setTurned(next);
  };
  return (
    <Sheet
      title="As the rig is now"
      visible={visible}
      onClose={onClose}
      actions={
        <>
          <Button onPress={onClose}>Close</Button>
          <Button
            mode="contained"
            disabled={chosen.length === 0}
            onPress={() => {
              onAdd(chosen);
              onClose();
            }}
          >
            {chosen.length === 1 ? 'Add 1 step' : `Add ${chosen.length} steps`}
          </Button>
        </>
      }
    >
      <ScrollView contentContainerStyle={styles.body}>
        <View style={styles.row}>
          {document.devices.map(({ id, key, name }) => {
            const on = devices.includes(key);
            return (
              <Chip
                key={id}
                role="checkbox"
                on={on}
                words={name}
                label={`What ${name} shows`}
                onPress={() => setDevices(on ? devices.filter((device) => device !== key) : [...devices, key])}
              />
            );
          })}
        </View>
        <Segments
          value={all ? 'all' : 'differs'}
          onChange={(to) => setAll(to === 'all')}
          options={[
            { value: 'differs', label: 'Only what differs' },
            { value: 'all', label: 'All that is known' },
          ]}
        />
        {isError ? (
          <View style={styles.line}>
            <Text style={styles.hint}>The engine did not answer.</Text>
            <Button onPress={() => void refetch()}>Ask again</Button>
          </View>
        ) : null}
        {isFetching ? <ActivityIndicator accessibilityLabel="Asking the devices" /> : null}
        {devices.length === 0 ? (
          <Text style={styles.hint}>Choose devices: what they show now becomes steps.</Text>
        ) : null}
        {devices.length > 0 && !isFetching && !isError && shown.length === 0 ? (
          <Text style={styles.hint}>
            {found.length === 0
              ? 'Nothing is known of them, or nothing that a step could bring back.'
              : 'They show nothing else than when they are just switched on.'}
          </Text>
        ) : null}
        {shown.map((step) => {
          const on = isChosen(step);
          return (
            <Pressable
              key={step.key}
              role="checkbox"
              aria-checked={on}
              accessibilityLabel={`${step.group}: ${step.words}`}
              onPress={() => toggle(step.key)}
              style={styles.line}
            >
              <Icon source={on ? 'checkbox-marked' : 'checkbox-blank-outline'} size={24} color={colour.text} />
              <View style={styles.fill}>
                <Text style={styles.words}>{step.words}</Text>
                <Text style={styles.hint}>{step.group}</Text>
              </View>
            </Pressable>
          );
        })}
      </ScrollView>
    </Sheet>
  );
}

/** @throws when the engine does not answer */
async function pointsOf(devices: readonly string[]): Promise<Record<string, PlainValue>> {
  const found: Record<string, PlainValue> = {};
  await Promise.all(
    devices.map(async (key) => {
      const response = await ask(`/api/devices/${key}/points`);
      if (!response.ok) throw new Error(String(response.status));
      const { points } = (await response.json()) as { points: Readonly<Record<string, PlainValue>> };
      for (const [name, value] of Object.entries(points)) found[`${key}.${name}`] = value;
    }),
  );
  return found;
}

const styles = StyleSheet.create({
  body: { gap: 10, paddingBottom: 24 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  line: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 10,
    minHeight: 48,
    paddingHorizontal: 12,
    paddingVertical: 6,
    borderRadius: 6,
    backgroundColor: colour.raised,
  },
  fill: { flex: 1 },
  words: { fontFamily: font.medium, fontSize: 17, color: colour.text },
  hint: { fontFamily: font.regular, fontSize: 14, color: colour.muted },
});
