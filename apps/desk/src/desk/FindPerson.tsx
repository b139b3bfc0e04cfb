import type { PeopleReply } from '@umbek/protocol';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { FlatList, Pressable, StyleSheet, Text, type TextInput as NativeInput } from 'react-native';
import { Button } from 'react-native-paper';
import { Search } from '../common/Search';
import { Sheet } from '../common/Sheet';
import { useLinkGroup, useLive, usePoint } from '../live/LiveContext';
import { ask } from '../show/ask';
import { colour, font } from '../theme/tokens';

/** The people list on a station: who is found in it is chosen by a touch. Arrow keys and Enter choose as well. */
export function FindPerson({ visible, onClose }: { readonly visible: boolean; readonly onClose: () => void }) {
  const live = useLive();
  const [search, setSearch] = useState('');
  const [at, setAt] = useState(0);
  const input = useRef<NativeInput>(null);
  const chosen = usePoint(`chosen@${useLinkGroup() ?? 'main'}.person`);
  useEffect(() => {
    if (!visible) return undefined;
    setSearch('');
    setAt(0);
    const timer = setTimeout(() => input.current?.focus(), 60);
    return () => clearTimeout(timer);
  }, [visible]);
  const { data, error, refetch } = useQuery({
    queryKey: ['people', search],
    enabled: visible,
    placeholderData: keepPreviousData,
    staleTime: 0,
    queryFn: async (): Promise<PeopleReply> => {
      const response = await ask(`/api/people?search=${encodeURIComponent(search.slice(0, 200))}`);
      if (!response.ok) throw new Error('The people list cannot be read.');
      return (await response.json()) as PeopleReply;
    },
  });
  const people = data?.people ?? [];
  const choose = (key: string): void => {
    live.sendCommand('chosen', 'person', { to: key });
    onClose();
  };
  const pressed = (name: string, prevent: () => void): void => {
    const person = people[at];
    if (name === 'Enter' && person !== undefined) choose(person.key);
    else if (name === 'ArrowDown') setAt(Math.min(people.length - 1, at + 1));
    else if (name === 'ArrowUp') setAt(Math.max(0, at - 1));
    else return;
    prevent();
  };
  return (
    <Sheet title="People list" visible={visible} onClose={onClose} actions={<Button onPress={onClose}>Close</Button>}>
      <Search
        ref={input}
        placeholder="Name, title or place"
        accessibilityLabel="Search: people list"
        value={search}
        onChangeText={(text) => {
          setSearch(text);
          setAt(0);
        }}
        onKeyPress={(event) => pressed(event.nativeEvent.key, () => event.preventDefault())}
      />
      {error ? (
        <Text style={styles.notice} role="alert">
          The people list does not answer.
          <Button compact onPress={() => void refetch()}>
            Try again
          </Button>
        </Text>
      ) : data === undefined ? null : (
        <Text style={styles.notice} role="status">
          {data.all === 0
            ? 'Nobody is in the people list yet. Add people in the Bench.'
            : data.found === 0
              ? `Nobody of ${data.all} has “${search.trim()}” in name, title or place.`
              : data.found > people.length
                ? `The first ${people.length} of ${data.found}. Type more to find somebody.`
                : `${data.found} of ${data.all}`}
        </Text>
      )}
      <FlatList
        data={people}
        keyExtractor={({ id }) => id}
        keyboardShouldPersistTaps="always"
        renderItem={({ item, index }) => (
          <Pressable
            role="button"
            aria-pressed={item.key === chosen}
            accessibilityLabel={`Choose ${item.name}${item.title === '' ? '' : `, ${item.title}`}`}
            onPress={() => choose(item.key)}
            style={[styles.row, index === at && styles.at]}
          >
            <Text style={styles.name} numberOfLines={1}>
              {item.name}
            </Text>
            <Text style={styles.small} numberOfLines={1}>
              {[item.title, item.place].filter(Boolean).join(' · ')}
              {item.key === chosen ? ' · chosen' : ''}
            </Text>
          </Pressable>
        )}
      />
    </Sheet>
  );
}

const styles = StyleSheet.create({
  notice: { fontFamily: font.regular, fontSize: 15, color: colour.muted, paddingHorizontal: 4 },
  row: {
    minHeight: 54,
    justifyContent: 'center',
    paddingHorizontal: 12,
    paddingVertical: 6,
    backgroundColor: colour.raised,
    borderRadius: 5,
    marginBottom: 4,
  },
  at: { boxShadow: `inset 3px 0 0 ${colour.cap}` },
  name: { fontFamily: font.semibold, fontSize: 17, color: colour.text },
  small: { fontFamily: font.regular, fontSize: 14, color: colour.muted },
});
