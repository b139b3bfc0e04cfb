import { made } from '@umbek/core/changes';
import { callersOf, macrosListed, newMacro } from '@umbek/core/programming';
import type { Macro, ShowDocument } from '@umbek/core/show';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { memo, useMemo, useState } from 'react';
import { FlatList, Pressable, StyleSheet, Text, useWindowDimensions, View } from 'react-native';
import { Button } from 'react-native-paper';
import { ulid } from 'ulid';
import { Search } from '../common/Search';
import { useLayer } from '../common/useLayer';
import { useLiveState } from '../live/LiveContext';
import { useEdits } from '../show/ShowContext';
import { colour, font, WIDE } from '../theme/tokens';
import { BenchHead } from './BenchHead';
import { MacroEditor } from './MacroEditor';

type Row =
  | { readonly kind: 'folder'; readonly name: string }
  | { readonly kind: 'macro'; readonly macro: Macro; readonly callers: number };

/** The macros of the show: numbered, in folders, searched; a tap opens what one does. */
export function MacroBench({ document }: { readonly document: ShowDocument }) {
  const { width } = useWindowDimensions();
  const wide = width >= WIDE;
  const router = useRouter();
  const edits = useEdits();
  const { m } = useLocalSearchParams<{ m?: string }>();
  const [search, setSearch] = useState('');
  const { runs } = useLiveState();
  const macro = document.macros.find(({ id }) => id === m);
  const callers = useMemo(() => callersOf(document), [document]);
  const rows = useMemo(
    () =>
      macrosListed(document, search).flatMap(({ folder, macros }): Row[] => [
        ...(folder === '' ? [] : [{ kind: 'folder', name: folder } as const]),
        ...macros.map((one): Row => ({ kind: 'macro', macro: one, callers: callers.get(one.id) ?? 0 })),
      ]),
    [document, search, callers],
  );
  const open = (id: string | undefined): void => router.setParams({ m: id, tab: undefined } as never);
  const add = (): void => {
    const fresh = newMacro(document, ulid());
    edits.edit(`New macro ${fresh.number}`, [made('macros', fresh)]);
    router.setParams({ m: fresh.id, tab: 'settings' } as never);
  };
  const editor =
    macro === undefined ? null : (
      <MacroEditor key={macro.id} document={document} macro={macro} onClose={() => open(undefined)} onOpen={open} />
    );
  const covered = !wide && editor !== null;
  useLayer(covered, () => open(undefined));
  const running = new Set(runs.flatMap((run) => (run.buttonId === undefined ? [] : [run.buttonId])));
  return (
    <View style={[styles.all, wide && styles.wide]}>
      <View style={[styles.fill, covered && styles.behind]}>
        <FlatList
          data={rows}
          keyExtractor={(row) => (row.kind === 'folder' ? `folder ${row.name}` : row.macro.id)}
          contentContainerStyle={styles.list}
          initialNumToRender={20}
          ListHeaderComponent={
            <View style={styles.head}>
              <BenchHead part="macros" />
              <View style={styles.tools}>
                <View style={styles.search}>
                  <Search
                    placeholder="Number, name or folder"
                    accessibilityLabel="Search macros"
                    value={search}
                    onChangeText={setSearch}
                  />
                </View>
                <Button mode="outlined" icon="plus" onPress={add}>
                  New macro
                </Button>
              </View>
            </View>
          }
          ListEmptyComponent={
            <Text style={styles.hint}>
              {document.macros.length === 0
                ? 'A macro is a list of steps that several buttons can run. Make one here, or choose buttons that do nearly the same in Panels and touch Share one macro.'
                : `No macro has “${search.trim()}” in its number, name or folder.`}
            </Text>
          }
          renderItem={({ item }) =>
            item.kind === 'folder' ? (
              <Text style={styles.folder} role="heading">
                {item.name}
              </Text>
            ) : (
              <MacroRow
                macro={item.macro}
                callers={item.callers}
                chosen={item.macro.id === m}
                running={running.has(item.macro.id)}
                onOpen={open}
              />
            )
          }
        />
      </View>
      {wide ? (
        <View style={styles.side}>
          {editor ?? (
            <Text style={styles.hint}>Choose a macro to see what it does, what it is given and who runs it.</Text>
          )}
        </View>
      ) : editor ? (
        <View style={styles.sheet}>{editor}</View>
      ) : null}
    </View>
  );
}

const count = (number: number, one: string, many: string): string => `${number} ${number === 1 ? one : many}`;

const MacroRow = memo(function MacroRow({
  macro,
  callers,
  chosen,
  running,
  onOpen,
}: {
  readonly macro: Macro;
  readonly callers: number;
  readonly chosen: boolean;
  readonly running: boolean;
  readonly onOpen: (id: string) => void;
}) {
  const told = [
    count(macro.steps.length, 'step', 'steps'),
    ...(macro.params.length === 0 ? [] : [count(macro.params.length, 'parameter', 'parameters')]),
    callers === 0 ? 'nothing runs it' : `run from ${count(callers, 'place', 'places')}`,
  ].join(' · ');
  return (
    <Pressable
      role="button"
      aria-pressed={chosen}
      accessibilityLabel={`Macro ${macro.number} ${macro.name}, ${told}`}
      onPress={() => onOpen(macro.id)}
      style={[styles.row, chosen && styles.chosen]}
      testID={`macro-${macro.id}`}
    >
      <Text style={styles.number}>{macro.number}</Text>
      <View style={styles.fill}>
        <Text style={styles.name} numberOfLines={2} dir="auto">
          {macro.name}
        </Text>
        <Text style={styles.told}>{running ? `running · ${told}` : told}</Text>
      </View>
    </Pressable>
  );
});

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
  folder: { fontFamily: font.semibold, fontSize: 14, color: colour.muted, paddingTop: 10, paddingLeft: 4 },
  row: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 12,
    minHeight: 56,
    paddingHorizontal: 14,
    paddingVertical: 8,
    backgroundColor: colour.raised,
    borderRadius: 6,
  },
  chosen: { boxShadow: `0 0 0 2px ${colour.text}` },
  number: { fontFamily: font.bold, fontSize: 18, color: colour.text, minWidth: 36, fontVariant: ['tabular-nums'] },
  name: { fontFamily: font.semibold, fontSize: 17, lineHeight: 21, color: colour.text },
  told: { fontFamily: font.regular, fontSize: 14, color: colour.muted },
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
