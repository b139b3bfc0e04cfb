import { searched } from '@umbek/core/programming';
import { useEffect, useMemo, useRef, useState } from 'react';
import {
  FlatList,
  type TextInput as NativeInput,
  Pressable,
  StyleSheet,
  Text,
  useWindowDimensions,
  View,
} from 'react-native';
import { Button, Modal, Portal } from 'react-native-paper';
import { Search } from './Search';
import { useLayer } from './useLayer';
import { colour, font, WIDE } from '../theme/tokens';

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
  const { width, height } = useWindowDimensions();
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
    const first = search === '' ? found.filter((one) => one.group === FIRST) : [];
    const late =
      search === '' ? recent.flatMap((key) => found.find((one) => one.key === key && one.group !== FIRST) ?? []) : [];
    const rest = found.filter((one) => !first.includes(one));
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
  useLayer(visible, onClose);
  const wide = width >= WIDE;
  // Gone at once: what fades out still lies over the caps, and takes the next touch.
  if (!visible) return null;
  return (
    <Portal>
      <Modal
        visible={visible}
        onDismiss={onClose}
        contentContainerStyle={[
          styles.sheet,
          wide
            ? { width: 560, alignSelf: 'center', height: height * 0.8 }
            : { height: height * 0.86, marginTop: height * 0.14 },
        ]}
      >
        <View style={styles.head}>
          <Text style={styles.title} role="heading">
            {title}
          </Text>
          <Button onPress={onClose} mode={several ? 'contained' : 'text'}>
            {several ? 'Done' : 'Close'}
          </Button>
        </View>
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
      </Modal>
    </Portal>
  );
}

/** Choices of this group come before the recent ones. */
const FIRST = 'Next in line';

const styles = StyleSheet.create({
  sheet: {
    backgroundColor: colour.plate,
    borderTopLeftRadius: 14,
    borderTopRightRadius: 14,
    padding: 12,
    gap: 8,
    borderTopWidth: 1,
    borderTopColor: colour.hairline,
  },
  head: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  title: { flex: 1, fontFamily: font.semibold, fontSize: 20, color: colour.text },
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
