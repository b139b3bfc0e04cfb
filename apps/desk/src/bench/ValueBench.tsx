import { made } from '@umbek/core/changes';
import { inOrder, newValue, typeOfValue, VALUE_TYPES, valueWords } from '@umbek/core/programming';
import type { ShowDocument, ShowValue } from '@umbek/core/show';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useCallback, useState } from 'react';
import { StyleSheet, Text } from 'react-native';
import { ulid } from 'ulid';
import { Segments } from '../common/Segments';
import { usePoint } from '../live/LiveContext';
import { useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { BenchList } from './BenchList';
import { ListRow } from './ListRow';
import { NewName } from './NewName';
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
      draw={(item) => <ValueRow document={document} value={item} chosen={item.id === v} onOpen={open} />}
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
  const type = VALUE_TYPES.find((candidate) => candidate.value === typeOfValue(value))?.label ?? '';
  return (
    <ListRow
      id={value.id}
      what="Value"
      name={value.name}
      detail={`${valueWords(document, value, content)} · ${type.toLowerCase()}`}
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
  const [type, setType] = useState<ShowValue['type']>('text');
  const make = (name: string): void => {
    const value = newValue(document, ulid(), name, type);
    edits.edit(`New value ${value.name}`, [made('values', value)]);
    onDone(value.id);
  };
  return (
    <NewName label="Name of the new value" make="Make the value" onMake={make} onCancel={() => onDone(undefined)}>
      <Text style={styles.label}>It holds</Text>
      <Segments value={type} onChange={(to) => setType(to as ShowValue['type'])} options={VALUE_TYPES} most={3} />
    </NewName>
  );
}

const styles = StyleSheet.create({
  label: { fontFamily: font.regular, fontSize: 15, color: colour.muted },
});
