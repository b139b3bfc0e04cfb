import { made } from '@umbek/core/changes';
import { callersOf, macrosListed, newMacro } from '@umbek/core/programming';
import type { Macro, ShowDocument } from '@umbek/core/show';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useCallback, useMemo, useState } from 'react';
import { StyleSheet, Text } from 'react-native';
import { ulid } from 'ulid';
import { useLiveState } from '../live/LiveContext';
import { useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { BenchList } from './BenchList';
import { ListRow } from './ListRow';
import { MacroEditor } from './MacroEditor';

type Row =
  | { readonly kind: 'folder'; readonly name: string }
  | { readonly kind: 'macro'; readonly macro: Macro; readonly callers: number };

/** The macros of the show: numbered, in folders, searched; a tap opens what one does. */
export function MacroBench({ document }: { readonly document: ShowDocument }) {
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
  const open = useCallback(
    (id: string | undefined): void => router.setParams({ m: id, tab: undefined } as never),
    [router],
  );
  const add = (): void => {
    const fresh = newMacro(document, ulid());
    edits.edit(`New macro ${fresh.number}`, [made('macros', fresh)]);
    router.setParams({ m: fresh.id, tab: 'settings' } as never);
  };
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
            told={toldOf(row.macro, row.callers, running.has(row.macro.id))}
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
      editor={
        macro === undefined ? null : (
          <MacroEditor key={macro.id} document={document} macro={macro} onClose={() => open(undefined)} onOpen={open} />
        )
      }
      beside="Choose a macro to see what it does, what it is given and who runs it."
      onClose={() => open(undefined)}
    />
  );
}

const count = (number: number, one: string, many: string): string => `${number} ${number === 1 ? one : many}`;

const toldOf = (macro: Macro, callers: number, running: boolean): string =>
  [
    ...(running ? ['running'] : []),
    count(macro.steps.length, 'step', 'steps'),
    ...(macro.params.length === 0 ? [] : [count(macro.params.length, 'parameter', 'parameters')]),
    callers === 0 ? 'nothing runs it' : `run from ${count(callers, 'place', 'places')}`,
  ].join(' · ');

const styles = StyleSheet.create({
  folder: { fontFamily: font.semibold, fontSize: 14, color: colour.muted, paddingTop: 10, paddingLeft: 4 },
});
