import type { ReactElement, ReactNode } from 'react';
import { FlatList, StyleSheet, Text, useWindowDimensions, View } from 'react-native';
import { Button } from 'react-native-paper';
import { Search } from '../common/Search';
import { useLayer } from '../common/useLayer';
import { colour, font, WIDE } from '../theme/tokens';
import { BenchHead, type BenchPart } from './BenchHead';

/** A searched list of the Bench beside the editor of what is chosen: side by side where there is room, one over the other where there is not. */
export function BenchList<Row>({
  part,
  rows,
  keyOf,
  draw,
  search,
  onSearch,
  searched,
  empty,
  add,
  onAdd,
  children,
  editor,
  beside,
  onClose,
}: {
  readonly part: BenchPart;
  readonly rows: readonly Row[];
  readonly keyOf: (row: Row) => string;
  readonly draw: (row: Row) => ReactElement;
  readonly search: string;
  readonly onSearch: (text: string) => void;
  /** What is searched, as the field says it. */
  readonly searched: string;
  /** What stands in place of an empty list. */
  readonly empty: string;
  /** What the button for a new one says. */
  readonly add: string;
  readonly onAdd: () => void;
  /** More of the head, below the search. */
  readonly children?: ReactNode;
  readonly editor: ReactElement | null;
  /** What stands beside the list while nothing is chosen. */
  readonly beside: string;
  readonly onClose: () => void;
}) {
  const { width } = useWindowDimensions();
  const wide = width >= WIDE;
  const covered = !wide && editor !== null;
  useLayer(covered, onClose);
  return (
    <View style={[styles.all, wide && styles.wide]}>
      <View style={[styles.fill, covered && styles.behind]}>
        <FlatList
          data={rows}
          keyExtractor={keyOf}
          contentContainerStyle={styles.list}
          initialNumToRender={20}
          ListHeaderComponent={
            <View style={styles.head}>
              <BenchHead part={part} />
              <View style={styles.tools}>
                <View style={styles.search}>
                  <Search
                    placeholder={searched}
                    accessibilityLabel={`Search: ${searched.toLowerCase()}`}
                    value={search}
                    onChangeText={onSearch}
                  />
                </View>
                <Button mode="outlined" icon="plus" onPress={onAdd}>
                  {add}
                </Button>
              </View>
              {children}
            </View>
          }
          ListEmptyComponent={<Text style={styles.hint}>{empty}</Text>}
          renderItem={({ item }) => draw(item)}
        />
      </View>
      {wide ? (
        <View style={styles.side}>{editor ?? <Text style={styles.hint}>{beside}</Text>}</View>
      ) : editor ? (
        <View style={styles.sheet}>{editor}</View>
      ) : null}
    </View>
  );
}

const styles = StyleSheet.create({
  all: { flex: 1, backgroundColor: colour.ground },
  wide: { flexDirection: 'row' },
  fill: { flex: 1, minWidth: 0 },
  behind: { display: 'none' },
  list: { padding: 12, gap: 8, paddingBottom: 40 },
  head: { gap: 10, paddingBottom: 4 },
  tools: { flexDirection: 'row', flexWrap: 'wrap', gap: 8, alignItems: 'center' },
  search: { flexGrow: 1, flexBasis: 200 },
  hint: { fontFamily: font.regular, fontSize: 16, lineHeight: 22, color: colour.muted, padding: 12 },
  side: { width: 470, borderLeftWidth: 1, borderLeftColor: colour.hairline, backgroundColor: colour.plate },
  sheet: {
    flex: 1,
    backgroundColor: colour.plate,
    borderTopLeftRadius: 14,
    borderTopRightRadius: 14,
    borderTopWidth: 1,
    borderTopColor: colour.hairline,
    overflow: 'hidden',
  },
});
