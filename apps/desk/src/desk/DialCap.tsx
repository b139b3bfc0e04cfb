import type { Dial, Family } from '@umbek/core/show';
import { memo, useEffect, useMemo, useRef, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { CapFace } from '../caps/CapFace';
import { HeldValue } from '../live/heldValue';
import { listen } from '../live/listen';
import { useConnection, useFace, useLive, usePressState } from '../live/LiveContext';
import { useHeld } from '../live/useHeld';
import { colour } from '../theme/tokens';
import { lampOf } from './capWords';
import { dragged, keyed, onScale, placeOf, valueText } from './dial';

/** A step button repeats after the finger has stayed for so long, then so often. */
const REPEAT_AFTER_MS = 400;
const REPEAT_MS = 120;
/** What was set by key or wheel is let go after this rest. */
const REST_MS = 400;
/** Where the hand let go is shown for so long, until the device has said so: what it said before is older. */
const SETTLE_MS = 1000;

interface DialProps {
  readonly buttonId: string;
  readonly legend: string;
  readonly icon: string;
  readonly family: Family;
  readonly dial: Dial;
}

/** Sends a value that a hand turns. */
function useTurning(buttonId: string): HeldValue {
  const live = useLive();
  const held = useMemo(() => new HeldValue(live, buttonId), [live, buttonId]);
  useEffect(() => () => held.end(), [held]);
  return held;
}

/** What caps of both kinds tell: the lamp, and whether the value is known. */
function useDialFace(buttonId: string) {
  const face = useFace(buttonId);
  const press = usePressState(buttonId);
  const away = useConnection() === 'lost';
  const telling = press?.phase === 'failed' || press?.phase === 'asking';
  return {
    value: away ? undefined : face?.value,
    says: face?.legend,
    lost: face?.lost === true || away,
    lamp: away ? null : lampOf(telling ? press : undefined, face?.sign),
    telling: telling ? (press.short ?? press.why ?? '') : null,
    away,
  };
}

/** A value in the hand that is dragged, turned by keys, or by the wheel. What it shows is what the device says; a finger's own value beside it while it turns. */
export const DialCap = memo(function DialCap({ buttonId, legend, icon, family, dial }: DialProps) {
  const { value, says, lost, lamp, telling, away } = useDialFace(buttonId);
  const turning = useTurning(buttonId);
  const [hand, setHand] = useState<number | null>(null);
  const ref = useRef<View | null>(null);
  const latest = useRef({ value, hand, dial });
  latest.current = { value, hand, dial };
  /** Ends the wait for what the device says of the value that was let go; null while none is waited for. */
  const settled = useRef<(() => void) | null>(null);
  useEffect(() => {
    if (value === hand || telling !== null) settled.current?.();
  }, [value, hand, telling]);
  useEffect(() => {
    const element = ref.current as unknown as HTMLElement | null;
    if (!element) return undefined;
    let from: { x: number; start: number; width: number } | null = null;
    let rest: ReturnType<typeof setTimeout> | undefined;
    let settle: ReturnType<typeof setTimeout> | undefined;
    let turned = false;
    const rested = (): void => {
      clearTimeout(settle);
      settled.current = null;
      latest.current.hand = null;
      setHand(null);
    };
    const turn = (to: number): void => {
      clearTimeout(settle);
      settled.current = null;
      turned = true;
      latest.current.hand = to;
      setHand(to);
      turning.to(to);
    };
    const end = (): void => {
      from = null;
      clearTimeout(rest);
      turning.end();
      // A finger that lifts is told twice: by its end, and by the pointer that is no longer captured.
      if (!turned) return settled.current === null ? rested() : undefined;
      turned = false;
      clearTimeout(settle);
      settled.current = rested;
      settle = setTimeout(rested, SETTLE_MS);
    };
    /** By key or wheel there is no finger to lift: it is over after a rest. */
    const turnOnce = (to: number): void => {
      turn(to);
      clearTimeout(rest);
      rest = setTimeout(end, REST_MS);
    };
    const stop = listen(element, {
      pointerdown: (event: PointerEvent) => {
        const { value: reported, hand: own, dial: scale } = latest.current;
        const now = own ?? reported;
        if (event.button !== 0 || now === undefined) return;
        element.setPointerCapture(event.pointerId);
        from = { x: event.clientX, start: now, width: element.getBoundingClientRect().width };
        latest.current.hand = onScale(now, scale);
      },
      pointermove: (event: PointerEvent) => {
        if (from === null) return;
        const to = dragged(from.start, event.clientX - from.x, from.width, latest.current.dial);
        if (to !== latest.current.hand) turn(to);
      },
      pointerup: end,
      pointercancel: end,
      lostpointercapture: end,
      keydown: (event: KeyboardEvent) => {
        const { value: now, hand: own, dial: scale } = latest.current;
        const to = now === undefined ? null : keyed(event.key, own ?? now, scale);
        if (to === null || event.altKey || event.ctrlKey || event.metaKey) return;
        event.preventDefault();
        event.stopPropagation();
        turnOnce(to);
      },
      wheel: (event: WheelEvent) => {
        const { value: now, hand: own, dial: scale } = latest.current;
        // Only what has the focus is turned by the wheel: scrolling past it must set nothing.
        if (now === undefined || window.document.activeElement !== element) return;
        event.preventDefault();
        turnOnce(onScale((own ?? now) - Math.sign(event.deltaY) * scale.step, scale));
      },
      contextmenu: (event: Event) => event.preventDefault(),
    });
    return () => {
      end();
      clearTimeout(settle);
      settled.current = null;
      stop();
    };
  }, [turning]);
  const shown = hand ?? value;
  const words = shown === undefined ? (away ? 'no contact' : lost ? 'no answer' : 'not known') : valueText(shown, dial);
  return (
    <View
      ref={ref}
      role="slider"
      tabIndex={0}
      accessibilityLabel={`${says ?? legend}, ${telling ?? words}`}
      aria-valuemin={dial.min}
      aria-valuemax={dial.max}
      {...(shown === undefined ? {} : { 'aria-valuenow': shown, 'aria-valuetext': words })}
      testID={`dial-${buttonId}`}
      style={styles.dial}
    >
      <CapFace
        legend={says ?? legend}
        icon={icon}
        second={telling ?? words}
        telling={telling !== null}
        lamp={lamp}
        lost={lost}
        family={family}
        raised
      />
      {shown === undefined ? null : (
        <View style={styles.track} pointerEvents="none">
          <View style={[styles.filled, { width: `${placeOf(shown, dial) * 100}%` }]} />
          {hand === null || value === undefined ? null : (
            <View style={[styles.device, { left: `${placeOf(value, dial) * 100}%` }]} />
          )}
        </View>
      )}
    </View>
  );
});

/** One step up or down at each press, repeated while it is held, with the value and its limits in sight. */
export const StepCap = memo(function StepCap({ buttonId, legend, icon, family, dial }: DialProps) {
  const { value, says, lost, lamp, telling, away } = useDialFace(buttonId);
  const turning = useTurning(buttonId);
  const latest = useRef({ value, dial });
  latest.current = { value, dial };
  const ref = useHeld(() => {
    let now = latest.current.value;
    if (now === undefined) return () => undefined;
    const step = (): void => {
      now = onScale((now ?? 0) + latest.current.dial.by, latest.current.dial);
      turning.to(now);
    };
    step();
    let timer = setTimeout(function again() {
      step();
      timer = setTimeout(again, REPEAT_MS);
    }, REPEAT_AFTER_MS);
    return () => {
      clearTimeout(timer);
      turning.end();
    };
  });
  const limit =
    value === undefined
      ? ''
      : value >= dial.max && dial.by > 0
        ? ', highest'
        : value <= dial.min && dial.by < 0
          ? ', lowest'
          : '';
  const words =
    telling ??
    (value === undefined
      ? away
        ? 'no contact'
        : lost
          ? 'no answer'
          : 'not known'
      : `${valueText(value, dial)}${limit}`);
  return (
    <CapFace
      hostRef={ref}
      legend={says ?? legend}
      icon={icon}
      second={words}
      telling={telling !== null}
      lamp={lamp}
      lost={lost}
      family={family}
      label={[says ?? legend, words, 'hold'].join(', ')}
      testID={`cap-${buttonId}`}
    />
  );
});

const styles = StyleSheet.create({
  dial: {
    flex: 1,
    minWidth: 0,
    flexDirection: 'row',
    borderRadius: 5,
    cursor: 'ew-resize',
    touchAction: 'none',
    userSelect: 'none',
  } as object,
  track: {
    position: 'absolute',
    left: 7,
    right: 7,
    bottom: 9,
    height: 8,
    borderRadius: 4,
    backgroundColor: '#C9C0AC',
    overflow: 'hidden',
  },
  filled: { position: 'absolute', left: 0, top: 0, bottom: 0, backgroundColor: colour.legend },
  device: { position: 'absolute', top: 0, bottom: 0, width: 3, marginLeft: -1, backgroundColor: colour.onAir },
});
