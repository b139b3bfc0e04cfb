import type { StopAheadReply } from '@umbek/protocol';
import { useMutation } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { readIdentity } from '../live/identity';
import { listen } from '../live/listen';
import { useLiveState } from '../live/LiveContext';
import { colour, font } from '../theme/tokens';
import { act } from '../live/deeds';
import { ask } from '../show/ask';

const KNOB = 48;
/** So many things that would be stopped are named. */
const MOST_LINES = 5;
/** From the keyboard the key is held for so long instead of sliding. */
const HOLD_MS = 800;

async function stopAll(): Promise<{ runs: number; holds: number }> {
  const response = await act('/api/stop-all', { station: readIdentity().station });
  if (!response.ok) throw new Error('Not stopped: the engine refused.');
  return response.json() as Promise<{ runs: number; holds: number }>;
}

/** What a slide would do now, line by line, as the engine tells it. */
async function stopAhead(): Promise<string[]> {
  const response = await ask('/api/stop-all');
  if (!response.ok) return [];
  const { runs, holds, moving, triggers } = (await response.json()) as StopAheadReply;
  const then = (steps: readonly string[]): string => (steps.length === 0 ? '' : `, then: ${steps.join('; ')}`);
  return [
    ...runs.map(({ name, steps }) => `ends ${name}${then(steps)}`),
    ...holds.map(({ legend, steps }) => `lets go ${legend}${then(steps)}`),
    ...(moving.length === 0 ? [] : [`stops ${moving.join(', ')}`]),
    ...(triggers.length === 0
      ? []
      : [triggers.length > 3 ? `disarms ${triggers.length} triggers` : `disarms ${triggers.join(', ')}`]),
  ];
}

/** Stops runs, held presses and moving heads: a slide to the end, or a held key. Program, captions and recordings stay. */
export function StopHandle({ upright = false }: { readonly upright?: boolean }) {
  const { runs } = useLiveState();
  const stop = useMutation({ mutationFn: stopAll });
  const track = useRef<View | null>(null);
  const [offset, setOffset] = useState(0);
  /** While the handle is under a finger or has the focus: what it would do. */
  const [ahead, setAhead] = useState<readonly string[] | null>(null);
  const { mutate } = stop;
  useEffect(() => {
    const element = track.current as unknown as HTMLElement | null;
    if (!element) return undefined;
    let start: number | null = null;
    let timer: ReturnType<typeof setTimeout> | null = null;
    const room = (): number => (upright ? element.clientHeight : element.clientWidth) - KNOB - 8;
    const along = (event: PointerEvent): number => (upright ? event.clientY : event.clientX);
    const look = (): void => {
      stopAhead().then(setAhead, () => setAhead(null));
    };
    const down = (event: PointerEvent): void => {
      look();
      start = along(event);
      element.setPointerCapture(event.pointerId);
    };
    const move = (event: PointerEvent): void => {
      if (start !== null) setOffset(Math.min(room(), Math.max(0, along(event) - start)));
    };
    const up = (event: PointerEvent): void => {
      if (start !== null && event.type === 'pointerup' && along(event) - start >= room() * 0.9) mutate();
      start = null;
      setOffset(0);
      setAhead(null);
    };
    const keyDown = (event: KeyboardEvent): void => {
      if ((event.key !== ' ' && event.key !== 'Enter') || event.repeat) return;
      event.preventDefault();
      look();
      timer = setTimeout(() => mutate(), HOLD_MS);
    };
    const keyUp = (): void => {
      if (timer) clearTimeout(timer);
      setAhead(null);
    };
    return listen(element, {
      pointerdown: down,
      pointermove: move,
      pointerup: up,
      pointercancel: up,
      keydown: keyDown,
      keyup: keyUp,
      blur: keyUp,
    });
  }, [mutate, upright]);
  const what = stop.isError
    ? 'not stopped: no answer'
    : runs.length === 0
      ? 'moves, holds'
      : runs.length === 1
        ? '1 run, moves'
        : `${runs.length} runs, moves`;
  return (
    <View
      ref={track}
      role="button"
      tabIndex={0}
      testID="stop-all"
      accessibilityLabel={`Stop everything: ${what}. Slide to the end, or hold the key.`}
      style={upright ? styles.upright : styles.track}
    >
      {ahead === null ? null : (
        <View style={[styles.ahead, upright ? styles.aheadUpright : null]} testID="stop-ahead" role="status">
          {(ahead.length === 0 ? ['nothing runs, is held or moves'] : ahead.slice(0, MOST_LINES)).map((line) => (
            <Text key={line} numberOfLines={2} style={styles.aheadLine}>
              {line}
            </Text>
          ))}
          {ahead.length > MOST_LINES ? (
            <Text style={styles.aheadLine}>{`and ${ahead.length - MOST_LINES} more`}</Text>
          ) : null}
          <Text style={styles.aheadStays}>Program, captions and recordings stay.</Text>
        </View>
      )}
      <Text numberOfLines={upright ? 4 : 2} style={upright ? styles.whatUpright : styles.what}>
        slide to stop{'\n'}
        <Text style={styles.count}>{what}</Text>
      </Text>
      <View
        style={[
          styles.knob,
          upright ? styles.knobUpright : null,
          { transform: upright ? [{ translateY: offset }] : [{ translateX: offset }] },
        ]}
      >
        <Text style={styles.word}>STOP</Text>
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  // Above the finger, over whatever stands there, and never in its way.
  ahead: {
    position: 'absolute',
    bottom: KNOB + 16,
    left: 0,
    width: 300,
    gap: 4,
    padding: 10,
    borderRadius: 6,
    borderLeftWidth: 4,
    borderLeftColor: colour.warning,
    backgroundColor: colour.raised,
    pointerEvents: 'none',
    zIndex: 10,
  },
  aheadUpright: { left: KNOB + 20, bottom: 0 },
  aheadLine: { fontFamily: font.medium, fontSize: 14, lineHeight: 18, color: colour.text },
  aheadStays: { fontFamily: font.regular, fontSize: 13, color: colour.muted },
  track: {
    width: 152,
    height: KNOB + 8,
    borderRadius: 32,
    borderWidth: 2,
    borderColor: colour.warning,
    justifyContent: 'center',
    cursor: 'pointer',
    userSelect: 'none',
    touchAction: 'none',
  } as object,
  upright: {
    width: KNOB + 8,
    height: 148,
    alignSelf: 'center',
    borderRadius: 32,
    borderWidth: 2,
    borderColor: colour.warning,
    cursor: 'pointer',
    userSelect: 'none',
    touchAction: 'none',
  } as object,
  whatUpright: {
    marginTop: KNOB + 10,
    fontFamily: font.medium,
    fontSize: 12,
    lineHeight: 15,
    color: colour.warning,
    textAlign: 'center',
  },
  knobUpright: { top: 2, left: 2 },
  knob: {
    position: 'absolute',
    left: 2,
    width: KNOB,
    height: KNOB,
    borderRadius: KNOB / 2,
    backgroundColor: colour.warning,
    alignItems: 'center',
    justifyContent: 'center',
  },
  word: { fontFamily: font.bold, fontSize: 14, color: colour.legend },
  what: { marginLeft: KNOB + 10, fontFamily: font.medium, fontSize: 12, lineHeight: 16, color: colour.warning },
  count: { fontFamily: font.regular, color: colour.muted },
});
