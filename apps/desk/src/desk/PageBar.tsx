import type { Page } from '@umbek/core/show';
import { useEffect, useRef } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Segments } from '../common/Segments';
import { listen } from '../live/listen';
import { useHeld } from '../live/useHeld';
import { useLive } from '../live/LiveContext';
import { colour, font } from '../theme/tokens';

/** A touch shorter than this latches Shift for the next press. */
const TAP_MS = 250;
/** The key alone for so long: with another one it is that key's Shift. */
const KEY_ALONE_MS = 120;
/** A cap that is held stays under its finger: the other set comes when it is let go. */
const LOOK_MS = 50;

export interface Shift {
  readonly on: boolean;
  /** On until the next press. */
  readonly latched: boolean;
}
export const NO_SHIFT: Shift = { on: false, latched: false };

/** The pages of a panel, and Shift: both within the reach of a thumb. */
export function PageBar({
  pages,
  page,
  onPage,
  shift,
  onShift,
}: {
  readonly pages: readonly Page[];
  readonly page: string;
  readonly onPage: (page: string) => void;
  /** Null where nothing of the panel has a second set. */
  readonly shift: Shift | null;
  readonly onShift: (shift: Shift) => void;
}) {
  const live = useLive();
  const set = useRef(onShift);
  set.current = onShift;
  const off = useRef((): void => undefined);
  off.current = (): void => {
    // What a finger is on must not go from under it.
    if (live.holding) setTimeout(() => off.current(), LOOK_MS);
    else set.current(NO_SHIFT);
  };
  const latest = useRef(shift);
  latest.current = shift;
  const ref = useHeld(() => {
    const wasOn = latest.current?.on === true;
    const since = performance.now();
    if (!wasOn) set.current({ on: true, latched: false });
    return () => {
      if (!wasOn && performance.now() - since < TAP_MS) set.current({ on: true, latched: true });
      else off.current();
    };
  });
  const has = shift !== null;
  const latched = shift?.latched === true;
  useEffect(() => {
    if (!has) return undefined;
    let timer: ReturnType<typeof setTimeout> | undefined;
    let down = false;
    return listen(window, {
      keydown: (event: KeyboardEvent) => {
        clearTimeout(timer);
        if (event.key !== 'Shift' || event.repeat || inField(event)) return;
        timer = setTimeout(() => {
          down = true;
          set.current({ on: true, latched: false });
        }, KEY_ALONE_MS);
      },
      keyup: (event: KeyboardEvent) => {
        if (event.key !== 'Shift') return;
        clearTimeout(timer);
        if (down) off.current();
        down = false;
      },
      blur: () => {
        clearTimeout(timer);
        if (down) off.current();
        down = false;
      },
    });
  }, [has]);
  // Latched, it is over with the next press of a cap.
  useEffect(() => {
    if (!latched) return undefined;
    return listen(window, {
      pointerup: (event: PointerEvent) => {
        if (event.target instanceof Element && event.target.closest('[data-testid^="cap-"]') !== null)
          setTimeout(() => off.current(), 0);
      },
    });
  }, [latched]);
  return (
    <View style={styles.bar}>
      <View style={styles.pages}>
        {pages.length === 0 ? null : (
          <Segments
            value={page}
            onChange={onPage}
            options={pages.map(({ id, name }) => ({ value: id, label: name, accessibilityLabel: `Page ${name}` }))}
            most={4}
          />
        )}
      </View>
      {shift === null ? null : (
        <View
          ref={ref}
          role="button"
          tabIndex={0}
          aria-pressed={shift.on}
          accessibilityLabel={
            shift.latched ? 'Shift, on for the next press' : 'Shift: hold it, or tap it for the next press'
          }
          testID="shift"
          style={[styles.shift, shift.on && styles.shiftOn]}
        >
          <Text style={styles.shiftWord}>Shift</Text>
          {shift.latched ? <Text style={styles.shiftSmall}>next press</Text> : null}
        </View>
      )}
    </View>
  );
}

const inField = (event: Event): boolean =>
  event.target instanceof HTMLElement && event.target.closest('input, textarea, [contenteditable="true"]') !== null;

const styles = StyleSheet.create({
  bar: { flexDirection: 'row', alignItems: 'center', gap: 8, minHeight: 44 },
  pages: { flex: 1, minWidth: 0 },
  shift: {
    minHeight: 46,
    minWidth: 76,
    paddingHorizontal: 14,
    borderRadius: 5,
    backgroundColor: colour.raised,
    borderWidth: 2,
    borderColor: colour.hairline,
    alignItems: 'center',
    justifyContent: 'center',
    cursor: 'pointer',
    userSelect: 'none',
    touchAction: 'none',
  } as object,
  shiftOn: { borderColor: colour.cap, borderStyle: 'dashed' },
  shiftWord: { fontFamily: font.semibold, fontSize: 16, color: colour.text },
  shiftSmall: { fontFamily: font.regular, fontSize: 12, color: colour.text },
});
