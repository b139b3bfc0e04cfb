import { searched } from '@umbek/core/programming';
import { useEffect, useMemo, useRef, useState } from 'react';
import { FlatList, type TextInput as NativeInput, Pressable, StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { Search } from './Search';
import { Sheet } from './Sheet';
import { colour, font } from '../theme/tokens';

export interface Choice {
  readonly key: string;
  readonly group: string;
  readonly words: string;
}

export interface PickerProps<T extends Choice> {
  readonly title: string;
  readonly visible: boolean;
  readonly choices: readonly T[];
  readonly onChoose: (choice: T) => void;
  readonly onClose: () => void;
  /** Under this name the last choices are remembered and stand first. */
  readonly memory: string;
  /** Stays open after a choice, for several one after the other. */
  readonly several?: boolean;
}

const RECENT_KEPT = 4;
const SHOWN = 400;

const recentOf = (memory: string): string[] => {
  try {
    return JSON.parse(window.localStorage.getItem(`umbek.recent.${memory}`) ?? '[]') as string[];
  } catch {
    return [];
  }
};

/** A searchable list, grouped, the recent ones first. Arrow keys and Enter choose; Escape closes. */
export function Picker<T extends Choice>({
  title,
  visible,
  choices,
  onChoose,
  onClose,
  memory,
  several = false,
}: PickerProps<T>) {
  const [search, setSearch] = useState('');
  const [at, setAt] = useState(0);
  const [recent, setRecent] = useState<string[]>([]);
  const input = useRef<NativeInput>(null);
  useEffect(() => {
    if (!visible) return undefined;
    setSearch('');
    setAt(0);
    setRecent(recentOf(memory));
    const timer = setTimeout(() => input.current?.focus(), 60);
    return () => clearTimeout(timer);
  }, [visible, memory]);
  const rows = useMemo(() => {
    const found = searched(choices, search);
    const first = search === '' ? found.filter((candidate) => candidate.group === FIRST) : [];
    const late =
      search === ''
        ? recent.flatMap((key) => found.find((candidate) => candidate.key === key && candidate.group !== FIRST) ?? [])
        : [];
    const rest = found.filter((candidate) => !first.includes(candidate));
    return [
      ...first.map((choice) => ({ id: `f${choice.key}`, group: choice.group, choice })),
      ...late.map((choice) => ({ id: `r${choice.key}`, group: 'Recent', choice })),
      ...rest.map((choice) => ({ id: choice.key, group: choice.group, choice })),
    ].slice(0, SHOWN);
  }, [choices, search, recent]);
  const choose = (choice: T): void => {
    const next = [choice.key, ...recent.filter((key) => key !== choice.key)].slice(0, RECENT_KEPT);
    try {
      window.localStorage.setItem(`umbek.recent.${memory}`, JSON.stringify(next));
    } catch {
      // Without a memory the list is only longer to look through.
    }
    onChoose(choice);
    if (!several) onClose();
    // What comes next is something else: the whole list again, with what suits it first.
    setSearch('');
    setAt(0);
  };
  const key = (name: string, prevent: () => void): void => {
    if (name === 'Enter') {
      const row = rows[at];
      if (row) choose(row.choice);
    } else if (name === 'ArrowDown') setAt(Math.min(rows.length - 1, at + 1));
    else if (name === 'ArrowUp') setAt(Math.max(0, at - 1));
    else return;
    prevent();
  };
  return (
    <Sheet
      title={title}
      visible={visible}
      onClose={onClose}
      actions={
        <Button onPress={onClose} mode={several ? 'contained' : 'text'}>
          {several ? 'Done' : 'Close'}
        </Button>
      }
    >
      <Search
        ref={input}
        placeholder="Search"
        value={search}
        onChangeText={(text) => {
          setSearch(text);
          setAt(0);
        }}
        onKeyPress={(event) => key(event.nativeEvent.key, () => event.preventDefault())}
        accessibilityLabel={`Search: ${title}`}
        style={styles.search}
        inputStyle={styles.searchInput}
      />
      <FlatList
        data={rows}
        keyExtractor={(row) => row.id}
        initialNumToRender={24}
        keyboardShouldPersistTaps="always"
        ListEmptyComponent={
          <Text style={styles.nothing}>Nothing found. Search for a device, a position or a word of the command.</Text>
        }
        renderItem={({ item, index }) => (
          <View>
            {item.group === rows[index - 1]?.group ? null : <Text style={styles.group}>{item.group}</Text>}
            <Pressable
              role="button"
              accessibilityLabel={item.choice.words}
              onPress={() => choose(item.choice)}
              style={[styles.row, index === at && styles.at]}
            >
              <Text style={styles.words}>{item.choice.words}</Text>
            </Pressable>
          </View>
        )}
      />
    </Sheet>
  );
}

/** Choices of this group come before the recent ones. */
const FIRST = 'Next in line';

const styles = StyleSheet.create({
  search: { backgroundColor: colour.ground, borderRadius: 6, height: 48 },
  searchInput: { fontFamily: font.regular, fontSize: 17, minHeight: 0 },
  group: {
    fontFamily: font.semibold,
    fontSize: 13,
    letterSpacing: 0.6,
    color: colour.muted,
    paddingTop: 12,
    paddingBottom: 4,
    paddingHorizontal: 4,
  },
  row: {
    minHeight: 46,
    justifyContent: 'center',
    paddingHorizontal: 12,
    paddingVertical: 8,
    backgroundColor: colour.raised,
    borderRadius: 5,
    marginBottom: 4,
  },
  at: { boxShadow: `inset 3px 0 0 ${colour.cap}` },
  words: { fontFamily: font.medium, fontSize: 17, color: colour.text },
  nothing: { fontFamily: font.regular, fontSize: 16, color: colour.muted, padding: 16 },
});
