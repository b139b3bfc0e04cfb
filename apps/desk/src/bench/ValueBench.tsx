import { made } from '@umbek/core/changes';
import { inOrder, newValue, typeOfValue, VALUE_TYPES, valueWords } from '@umbek/core/programming';
import type { ShowDocument, ShowValue } from '@umbek/core/show';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useCallback, useState } from 'react';
import { StyleSheet, Text, TextInput, View } from 'react-native';
import { Button } from 'react-native-paper';
import { ulid } from 'ulid';
import { Segments } from '../common/Segments';
import { usePoint } from '../live/LiveContext';
import { useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { BenchList } from './BenchList';
import { ListRow } from './ListRow';
import { ValueEditor } from './ValueEditor';

/** The values of the show: what each holds now and begins with; a tap opens one. */
export function ValueBench({ document }: { readonly document: ShowDocument }) {
  const router = useRouter();
  const { v } = useLocalSearchParams<{ v?: string }>();
  const [search, setSearch] = useState('');
  const [adding, setAdding] = useState(false);
  const value = document.values.find(({ id }) => id === v);
  const wanted = search.toLowerCase().split(/\s+/).filter(Boolean);
  const rows = inOrder(document.values).filter(({ name, key }) =>
    wanted.every((word) => `${name} ${key}`.toLowerCase().includes(word)),
  );
  const open = useCallback((id: string | undefined): void => router.setParams({ v: id } as never), [router]);
  return (
    <BenchList
      part="values"
      rows={rows}
      keyOf={({ id }) => id}
      draw={(one) => <ValueRow document={document} value={one} chosen={one.id === v} onOpen={open} />}
      search={search}
      onSearch={setSearch}
      searched="Name of a value"
      empty={
        document.values.length === 0
          ? 'A value is set once and used by many buttons: a name on captions, a count, the source that is meant today. Make one here.'
          : `No value has “${search.trim()}” in its name.`
      }
      add="New value"
      onAdd={() => setAdding(true)}
      editor={
        value === undefined ? null : (
          <ValueEditor key={value.id} document={document} value={value} onClose={() => open(undefined)} />
        )
      }
      beside="Choose a value to see what it holds, what it begins with and what uses it."
      onClose={() => open(undefined)}
    >
      {adding ? (
        <NewValue
          document={document}
          onDone={(id) => {
            setAdding(false);
            if (id !== undefined) open(id);
          }}
        />
      ) : null}
    </BenchList>
  );
}

/** What a value holds now, as the engine tells it. */
function ValueRow({
  document,
  value,
  chosen,
  onOpen,
}: {
  readonly document: ShowDocument;
  readonly value: ShowValue;
  readonly chosen: boolean;
  readonly onOpen: (id: string) => void;
}) {
  const content = usePoint(`value.${value.key}`);
  const type = VALUE_TYPES.find((one) => one.value === typeOfValue(value))?.label ?? '';
  return (
    <ListRow
      id={value.id}
      what="Value"
      name={value.name}
      told={`${valueWords(document, value, content)} · ${type.toLowerCase()}`}
      chosen={chosen}
      onOpen={onOpen}
    />
  );
}

/** A name and a type come first: its key in conditions is made from the name, and stays. */
function NewValue({
  document,
  onDone,
}: {
  readonly document: ShowDocument;
  readonly onDone: (id: string | undefined) => void;
}) {
  const edits = useEdits();
  const [name, setName] = useState('');
  const [type, setType] = useState<ShowValue['type']>('text');
  const make = (): void => {
    const value = newValue(document, ulid(), name.trim(), type);
    edits.edit(`New value ${value.name}`, [made('values', value)]);
    onDone(value.id);
  };
  return (
    <View style={styles.box}>
      <TextInput
        autoFocus
        value={name}
        onChangeText={setName}
        maxLength={120}
        placeholder="Name of the new value"
        placeholderTextColor={colour.muted}
        accessibilityLabel="Name of the new value"
        onSubmitEditing={() => {
          if (name.trim() !== '') make();
        }}
        style={styles.name}
      />
      <Text style={styles.label}>It holds</Text>
      <Segments value={type} onChange={(to) => setType(to as ShowValue['type'])} options={VALUE_TYPES} most={3} />
      <View style={styles.row}>
        <Button mode="contained" disabled={name.trim() === ''} onPress={make}>
          Make the value
        </Button>
        <Button onPress={() => onDone(undefined)}>Cancel</Button>
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  box: { gap: 10, padding: 12, borderRadius: 6, backgroundColor: colour.plate },
  name: {
    minHeight: 48,
    paddingHorizontal: 12,
    borderRadius: 5,
    borderWidth: 1,
    borderColor: colour.hairline,
    color: colour.text,
    fontFamily: font.medium,
    fontSize: 17,
  },
  label: { fontFamily: font.regular, fontSize: 15, color: colour.muted },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
});
