import { made } from '@umbek/core/changes';
import { callersOf, type MacroFile, macrosListed, newMacro, readMacroFile } from '@umbek/core/programming';
import type { Macro, ShowDocument } from '@umbek/core/show';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useCallback, useMemo, useState } from 'react';
import { Linking, StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { ulid } from 'ulid';
import { chooseFile } from '../common/chooseFile';
import { useLiveState } from '../live/LiveContext';
import { useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { BenchList } from './BenchList';
import { ListRow } from './ListRow';
import { MacroEditor } from './MacroEditor';
import { MacrosFromFile } from './MacrosFromFile';

type Row =
  | { readonly kind: 'folder'; readonly name: string }
  | { readonly kind: 'macro'; readonly macro: Macro; readonly callers: number };

/** More than these are saved with the whole show: their ids would be too long for an address. */
const MOST_SAVED = 600;

/** The macros of the show: numbered, in folders, searched; a tap opens what one does. */
export function MacroBench({ document }: { readonly document: ShowDocument }) {
  const router = useRouter();
  const edits = useEdits();
  const { m } = useLocalSearchParams<{ m?: string }>();
  const [search, setSearch] = useState('');
  /** Macros from elsewhere that are being looked at before they are made. */
  const [file, setFile] = useState<MacroFile | null>(null);
  // A macro that is just made asks at once what it is to do.
  const [madeNow, setMade] = useState<string | null>(null);
  const { runs } = useLiveState();
  const macro = document.macros.find(({ id }) => id === m);
  const callers = useMemo(() => callersOf(document), [document]);
  const rows = useMemo(
    () =>
      macrosListed(document, search).flatMap(({ folder, macros }): Row[] => [
        ...(folder === '' ? [] : [{ kind: 'folder', name: folder } as const]),
        ...macros.map((item): Row => ({ kind: 'macro', macro: item, callers: callers.get(item.id) ?? 0 })),
      ]),
    [document, search, callers],
  );
  const open = useCallback(
    (id: string | undefined): void => router.setParams({ m: id, tab: undefined } as never),
    [router],
  );
  const add = (): void => {
    const fresh = newMacro(document, ulid());
    edits.edit(`New macro ${fresh.number}`, [made('macros', fresh)]);
    setMade(fresh.id);
    router.setParams({ m: fresh.id, tab: undefined } as never);
  };
  const listed = rows.flatMap((row) => (row.kind === 'macro' ? [row.macro.id] : []));
  const running = new Set(runs.flatMap((run) => (run.buttonId === undefined ? [] : [run.buttonId])));
  return (
    <BenchList
      part="macros"
      rows={rows}
      keyOf={(row) => (row.kind === 'folder' ? `folder ${row.name}` : row.macro.id)}
      draw={(row) =>
        row.kind === 'folder' ? (
          <Text style={styles.folder} role="heading">
            {row.name}
          </Text>
        ) : (
          <ListRow
            id={row.macro.id}
            what="Macro"
            number={row.macro.number}
            name={row.macro.name}
            detail={toldOf(row.macro, row.callers, running.has(row.macro.id))}
            chosen={row.macro.id === m}
            onOpen={open}
          />
        )
      }
      search={search}
      onSearch={setSearch}
      searched="Number, name or folder"
      empty={
        document.macros.length === 0
          ? 'A macro is a list of steps that several buttons can run. Make one here, or choose buttons that do nearly the same in Panels and touch Share one macro.'
          : `No macro has “${search.trim()}” in its number, name or folder.`
      }
      add="New macro"
      onAdd={add}
      children={
        <View style={styles.row}>
          <Button
            compact
            icon="upload"
            onPress={() => {
              void chooseFile('.json,application/json', (words) => edits.tell(words, true)).then((text) => {
                const read = text === null ? null : readMacroFile(text);
                if (read === null) return;
                if ('words' in read) edits.tell(read.words, true);
                else setFile(read.file);
              });
            }}
          >
            From a file
          </Button>
          {listed.length === 0 || listed.length > MOST_SAVED ? null : (
            <Button
              compact
              icon="download"
              onPress={() => void Linking.openURL(`/api/macros/file?ids=${listed.join(',')}`)}
            >
              {listed.length === document.macros.length ? 'Save all as a file' : 'Save these as a file'}
            </Button>
          )}
          {file === null ? null : (
            <MacrosFromFile
              document={document}
              file={file}
              onClose={() => setFile(null)}
              onMade={(first) => {
                setFile(null);
                if (first !== null) open(first);
              }}
            />
          )}
        </View>
      }
      editor={
        macro === undefined ? null : (
          <MacroEditor
            key={macro.id}
            document={document}
            macro={macro}
            fresh={madeNow === macro.id}
            onClose={() => open(undefined)}
            onOpen={open}
          />
        )
      }
      beside="Choose a macro to see what it does, what it is given and who runs it."
      onClose={() => open(undefined)}
    />
  );
}

const count = (number: number, item: string, many: string): string => `${number} ${number === 1 ? item : many}`;

const toldOf = (macro: Macro, callers: number, running: boolean): string =>
  [
    ...(running ? ['running'] : []),
    count(macro.steps.length, 'step', 'steps'),
    ...(macro.params.length === 0 ? [] : [count(macro.params.length, 'parameter', 'parameters')]),
    callers === 0 ? 'nothing runs it' : `run from ${count(callers, 'place', 'places')}`,
  ].join(' · ');

const styles = StyleSheet.create({
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 4 },
  folder: { fontFamily: font.semibold, fontSize: 14, color: colour.muted, paddingTop: 10, paddingLeft: 4 },
});
