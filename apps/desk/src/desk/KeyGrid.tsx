import { gridOf, gridPlaced, placedAt } from '@umbek/core/grid';
import type { Button as ButtonData, ShowDocument, Station, Strip } from '@umbek/core/show';
import { useMemo, useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { useStripShown } from '../live/LiveContext';
import { useStrips } from '../show/useStrips';
import { colour, font } from '../theme/tokens';
import { CapOf } from './Strip';

export interface GridSize {
  readonly columns: number;
  readonly rows: number;
}

/** The size in an address, such as `8x4`; null: none, or none that a pad has. */
export function gridSizeOf(text: string | undefined): GridSize | null {
  const [, columns = 0, rows = 0] = /^(\d{1,2})x(\d{1,2})$/.exec(text ?? '')?.map(Number) ?? [];
  return columns < 1 || rows < 1 || columns > 32 || rows > 32 ? null : { columns, rows };
}

/** Below this a cap cannot be read; a wider grid scrolls. */
const LEAST_WIDTH = 64;
const GAP = 6;

/** The buttons of a panel by id, whatever page or set they stand in. */
function buttonsOf(
  { strips, buttons }: Pick<ShowDocument, 'strips' | 'buttons'>,
  panelId: string | undefined,
): Map<string, { readonly strip: Strip; readonly button: ButtonData }> {
  const own = new Map(strips.flatMap((strip) => (strip.panelId === panelId ? [[strip.id, strip] as const] : [])));
  return new Map(
    buttons.flatMap((button) => {
      const strip = own.get(button.stripId);
      return strip === undefined ? [] : [[button.id, { strip, button }] as const];
    }),
  );
}

/** A panel as the keys of a pad show it: the same places and pages, and it works. */
export function KeyGrid({
  document,
  panelId,
  page,
  shift,
  size: { columns, rows },
  station,
  width,
  onClose,
}: {
  readonly document: ShowDocument;
  readonly panelId: string | undefined;
  readonly page: string | null;
  readonly shift: boolean;
  readonly size: GridSize;
  /** Station whose pad it is; undefined: of no station. */
  readonly station: Station | undefined;
  /** Room for it, CSS pixels. */
  readonly width: number;
  readonly onClose: () => void;
}) {
  const strips = useStrips(document, panelId, page, shift, station);
  const placed = placedAt(station, panelId, columns, rows);
  const [at, setAt] = useState(0);
  const all = useMemo(() => (placed === undefined ? null : buttonsOf(document, panelId)), [placed, document, panelId]);
  const pages = useMemo(
    () =>
      placed !== undefined && all !== null
        ? gridPlaced(placed, (id) => all.has(id))
        : gridOf(
            strips.map(({ buttons }) => buttons.map(({ id }) => id)),
            columns,
            rows,
          ),
    [strips, placed, all, columns, rows],
  );
  const shown = Math.min(at, pages.length - 1);
  const keys = pages[shown] ?? [];
  const of =
    all ?? new Map(strips.flatMap(({ strip, buttons }) => buttons.map((button) => [button.id, { strip, button }])));
  const stripIds = [...new Set([...of.values()].map(({ strip }) => strip.id))];
  const cap = Math.max(LEAST_WIDTH, Math.floor((width - GAP * (columns - 1)) / columns));
  return (
    <View style={styles.all} testID="key-grid">
      {stripIds.map((id) => (
        <StripShown key={id} id={id} />
      ))}
      <View style={styles.head}>
        <Text style={styles.words}>
          {`As a pad of ${columns} × ${rows} keys shows it${pages.length > 1 ? `, page ${shown + 1} of ${pages.length}` : ''}`}
        </Text>
        <Button compact onPress={onClose}>
          Close
        </Button>
      </View>
      {Array.from({ length: rows }, (_none, row) => (
        <View key={row} style={styles.row}>
          {keys.slice(row * columns, (row + 1) * columns).map((key, column) => {
            const found = key !== null && 'button' in key ? of.get(key.button) : undefined;
            return (
              <View key={column} style={[styles.key, { width: cap }]}>
                {found !== undefined ? (
                  <CapOf button={found.button} family={found.strip.family} width={cap} document={document} />
                ) : key !== null && 'turn' in key ? (
                  <Button mode="outlined" style={styles.more} compact onPress={() => setAt((shown + 1) % pages.length)}>
                    More
                  </Button>
                ) : null}
              </View>
            );
          })}
        </View>
      ))}
    </View>
  );
}

function StripShown({ id }: { readonly id: string }) {
  useStripShown(id);
  return null;
}

const styles = StyleSheet.create({
  all: { gap: GAP, paddingBottom: 10, overflowX: 'auto' } as object,
  head: { flexDirection: 'row', alignItems: 'center', gap: 10 },
  words: { flex: 1, fontFamily: font.medium, fontSize: 15, color: colour.muted },
  row: { flexDirection: 'row', gap: GAP },
  key: { minHeight: 70, flexDirection: 'row', borderRadius: 5, backgroundColor: colour.plate },
  more: { flex: 1, justifyContent: 'center', borderRadius: 5 },
});
