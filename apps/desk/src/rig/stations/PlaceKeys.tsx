import { changed } from '@umbek/core/changes';
import { gridOf, gridPlaced, placedAt } from '@umbek/core/grid';
import { inOrder } from '@umbek/core/order';
import {
  type KeyAt,
  keyPut,
  keysSwapped,
  pageAdded,
  pageRemoved,
  placedFrom,
  placedWith,
} from '@umbek/core/programming';
import type { PlacedKeys, ShowDocument, Station } from '@umbek/core/show';
import { setOf, stripsOn } from '@umbek/core/shown';
import { useMemo, useState } from 'react';
import { Pressable, StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { AppDialog } from '../../common/AppDialog';
import { Picker } from '../../common/Picker';
import { useEdits } from '../../show/ShowContext';
import { colour, font } from '../../theme/tokens';
import type { PadOf } from './PadWays';

/** The keys of a station's pad, each with the button that a person puts on it. Touch one key and then another: they change places. */
export function PlaceKeys({
  document,
  station,
  panelId,
  pad: { columns, rows },
  onClose,
}: {
  readonly document: ShowDocument;
  readonly station: Station;
  readonly panelId: string;
  readonly pad: Pick<PadOf, 'columns' | 'rows'>;
  readonly onClose: () => void;
}) {
  const edits = useEdits();
  const [page, setPage] = useState(0);
  const [taken, setTaken] = useState<KeyAt | null>(null);
  const [choosing, setChoosing] = useState(false);
  const panel = document.panels.find(({ id }) => id === panelId);
  const buttons = useMemo(() => {
    const strips = inOrder(document.strips.filter((strip) => strip.panelId === panelId));
    return strips.flatMap((strip) =>
      inOrder(document.buttons.filter(({ stripId }) => stripId === strip.id)).map((button) => ({ button, strip })),
    );
  }, [document, panelId]);
  const known = new Map(buttons.map(({ button, strip }) => [button.id, { button, strip }]));
  const placed = placedAt(station, panelId, columns, rows);
  const byItself = useMemo(
    () =>
      placedFrom(
        panelId,
        columns,
        rows,
        gridOf(
          inOrder(stripsOn(document, panelId, null, station)).map((strip) =>
            setOf(inOrder(document.buttons.filter(({ stripId }) => stripId === strip.id)), false).map(({ id }) => id),
          ),
          columns,
          rows,
        ),
      ),
    [document, panelId, columns, rows, station],
  );
  const keys = placed ?? byItself;
  const pages = gridPlaced(keys, (id) => known.has(id));
  const shown = Math.min(page, pages.length - 1);
  const of = { panel: panelId, columns, rows };
  const place = (to: PlacedKeys | undefined, words: string): void => {
    setTaken(null);
    edits.edit(`${words} of ${station.name}`, [changed('stations', station, 'placed', placedWith(station, of, to))]);
  };
  const legendOf = (id: string): string => known.get(id)?.button.legend.replace(/\{\{.*?\}\}/g, '–') ?? '';
  const touch = (key: number): void => {
    const at = { page: shown, key };
    const same = taken !== null && taken.page === at.page && taken.key === at.key;
    if (taken === null || same) return setTaken(same ? null : at);
    place(keysSwapped(keys, taken, at), 'Keys');
  };
  const chosen = taken === null ? null : (pages[taken.page]?.[taken.key] ?? null);
  return (
    <AppDialog
      visible
      title={`Keys of ${station.name}, ${panel?.name ?? ''}`}
      onClose={onClose}
      actions={<Button onPress={onClose}>Close</Button>}
    >
      <Text style={styles.hint}>
        {taken === null
          ? 'Touch a key, then the key with which it changes places.'
          : 'Touch the key with which it changes places, or put another button on it.'}
      </Text>
      <View style={styles.grid}>
        {Array.from({ length: rows }, (_none, row) => (
          <View key={row} style={styles.line}>
            {(pages[shown] ?? []).slice(row * columns, (row + 1) * columns).map((key, column) => {
              const at = row * columns + column;
              const turn = key !== null && 'turn' in key;
              const legend = turn ? 'More' : key !== null && 'button' in key ? legendOf(key.button) : '';
              const on = taken?.page === shown && taken.key === at;
              return (
                <Pressable
                  key={column}
                  role="button"
                  aria-pressed={on}
                  disabled={turn}
                  accessibilityLabel={`Key ${column + 1} of row ${row + 1}: ${legend === '' ? 'empty' : legend}`}
                  onPress={() => touch(at)}
                  style={[styles.key, legend === '' && styles.empty, turn && styles.turn, on && styles.on]}
                >
                  <Text numberOfLines={2} style={[styles.legend, (turn || legend === '') && styles.muted]}>
                    {legend}
                  </Text>
                </Pressable>
              );
            })}
          </View>
        ))}
      </View>
      <View style={styles.row}>
        {taken === null ? null : (
          <Button mode="contained" onPress={() => setChoosing(true)}>
            Put a button on it
          </Button>
        )}
        {taken === null || chosen === null ? null : (
          <Button mode="outlined" onPress={() => place(keyPut(keys, taken, null), 'Keys')}>
            Leave it empty
          </Button>
        )}
        {pages.length > 1
          ? pages.map((_one, at) => (
              <Button
                key={at}
                mode={at === shown ? 'contained-tonal' : 'outlined'}
                accessibilityLabel={`Page ${at + 1} of the keys`}
                onPress={() => setPage(at)}
              >
                {`Page ${at + 1}`}
              </Button>
            ))
          : null}
        <Button
          mode="outlined"
          onPress={() => {
            place(pageAdded(keys), 'A page of keys');
            setPage(pages.length);
          }}
        >
          Add a page
        </Button>
        {pages.length > 1 ? (
          <Button mode="outlined" onPress={() => place(pageRemoved(keys, shown), 'A page of keys')}>
            Remove this page
          </Button>
        ) : null}
        {placed === undefined ? null : (
          <Button mode="outlined" onPress={() => place(undefined, 'Keys laid out by strips')}>
            Lay them out by strips
          </Button>
        )}
      </View>
      <Text style={styles.hint}>
        {placed === undefined
          ? 'The keys are laid out by strips now. Once you place one, all stay where they are, and a new button gets no key by itself.'
          : 'The keys stand where they were placed, for a pad of this size.'}
      </Text>
      <Picker
        title="Which button?"
        visible={choosing}
        memory="keyButtons"
        choices={buttons.map(({ button, strip }) => ({
          key: button.id,
          group: strip.name,
          words: legendOf(button.id) || 'no legend',
        }))}
        onChoose={({ key }) => {
          setChoosing(false);
          if (taken !== null) place(keyPut(keys, taken, key), 'Keys');
        }}
        onClose={() => setChoosing(false)}
      />
    </AppDialog>
  );
}

const styles = StyleSheet.create({
  hint: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
  grid: { gap: 6, overflowX: 'auto' } as object,
  line: { flexDirection: 'row', gap: 6 },
  row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
  key: {
    minWidth: 50,
    minHeight: 56,
    flexGrow: 1,
    flexBasis: 0,
    justifyContent: 'center',
    padding: 4,
    borderRadius: 5,
    borderWidth: 2,
    borderColor: colour.raised,
    backgroundColor: colour.cap,
  },
  empty: { backgroundColor: colour.plate },
  turn: { backgroundColor: colour.plate },
  on: { borderColor: colour.warning },
  legend: { fontFamily: font.medium, fontSize: 13, lineHeight: 16, color: colour.legend, textAlign: 'center' },
  muted: { color: colour.muted },
});
