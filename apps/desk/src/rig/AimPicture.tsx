import type { PtzSettings } from '@umbek/core/devices';
import { aimAt, directionAt, viewAngleOf } from '@umbek/core/picture';
import type { Device } from '@umbek/core/show';
import { useEffect, useMemo, useRef, useState } from 'react';
import { StyleSheet, Text, useWindowDimensions, View } from 'react-native';
import { listen } from '../live/listen';
import { useLive, useLiveState, usePoint } from '../live/LiveContext';
import { LiveScene } from '../picture/Scene';
import { colour, font } from '../theme/tokens';

/** A finger must move so far, in points, before it is a drag. */
const SLOP = 6;
const clamp = (value: number, low: number, high: number): number =>
  Math.round(Math.min(high, Math.max(low, value)) * 100) / 100;

/** In a window lower than this the picture leaves room beside itself: a finger on it aims, and one beside it scrolls. */
const LOW = 560;
const LOW_SHARE = 0.55;

/**
 * The picture of a head, to aim in: what is grabbed comes under the finger. The picture follows the finger at once; the head is sent there
 * when it is let go, and the picture then shows where it really looks.
 */
export function AimPicture({
  device,
  settings,
  onAir,
}: {
  readonly device: Device;
  readonly settings: PtzSettings;
  readonly onAir: boolean;
}) {
  const live = useLive();
  const { connection } = useLiveState();
  const frame = useRef<View | null>(null);
  const { height } = useWindowDimensions();
  const [offset, setOffset] = useState<{ x: number; y: number } | null>(null);
  /** How much larger two fingers have drawn the picture. */
  const [pinched, setPinched] = useState(1);
  const [pan, tilt, zoom] = [
    usePoint(`${device.key}.pan`),
    usePoint(`${device.key}.tilt`),
    usePoint(`${device.key}.zoom`),
  ];
  const camera = useMemo(
    () => ({ key: device.key, heading: settings.heading, wideAngle: settings.wideAngle }),
    [device.key, settings.heading, settings.wideAngle],
  );
  useEffect(() => {
    const element = frame.current as unknown as HTMLElement | null;
    if (!element) return undefined;
    let start: { x: number; y: number; pan: number; tilt: number; width: number } | null = null;
    const fingers = new Map<number, { x: number; y: number }>();
    let pinch: { readonly apart: number; readonly zoom: number; by: number } | null = null;
    const apart = (): number => {
      const [item, other] = [...fingers.values()];
      return item && other ? Math.max(1, Math.hypot(item.x - other.x, item.y - other.y)) : 1;
    };
    const share = (event: PointerEvent): { x: number; y: number } => {
      const box = element.getBoundingClientRect();
      return { x: (event.clientX - box.left) / box.width, y: (event.clientY - box.top) / box.height };
    };
    const number = (point: string): number | null => {
      const value = live.point(`${device.key}.${point}`);
      return typeof value === 'number' ? value : null;
    };
    const down = (event: PointerEvent): void => {
      const [nowPan, nowTilt, nowZoom] = [number('pan'), number('tilt'), number('zoom')];
      if (event.button !== 0 || nowPan === null || nowTilt === null || nowZoom === null) return;
      element.setPointerCapture(event.pointerId);
      fingers.set(event.pointerId, { x: event.clientX, y: event.clientY });
      if (fingers.size === 2) {
        // Two fingers zoom: what the first one had begun to aim is left.
        pinch = { apart: apart(), zoom: nowZoom, by: 1 };
        start = null;
        setOffset(null);
        return;
      }
      if (fingers.size > 2) return;
      start = { ...share(event), pan: nowPan, tilt: nowTilt, width: viewAngleOf(nowZoom, settings) };
    };
    const move = (event: PointerEvent): void => {
      if (fingers.has(event.pointerId)) fingers.set(event.pointerId, { x: event.clientX, y: event.clientY });
      if (pinch) {
        // No further than the lens goes.
        pinch.by = clamp(apart() / pinch.apart, 1 / pinch.zoom, settings.zoomRatio / pinch.zoom);
        setPinched(pinch.by);
        return;
      }
      if (!start) return;
      const now = share(event);
      setOffset({ x: now.x - start.x, y: now.y - start.y });
    };
    const up = (event: PointerEvent): void => {
      fingers.delete(event.pointerId);
      if (pinch) {
        const zoom = clamp(pinch.zoom * pinch.by, 1, settings.zoomRatio);
        if (event.type === 'pointerup' && Math.abs(pinch.by - 1) > 0.03) live.sendCommand(device.key, 'goTo', { zoom });
        pinch = null;
        setPinched(1);
        return;
      }
      if (!start) return;
      const now = share(event);
      const box = element.getBoundingClientRect();
      const far = Math.hypot((now.x - start.x) * box.width, (now.y - start.y) * box.height) > SLOP;
      if (far && event.type === 'pointerup') {
        const grabbed = directionAt(start.x, start.y, { pan: start.pan, tilt: start.tilt, width: start.width });
        const aimed = aimAt(grabbed, now.x, now.y, start.width);
        live.sendCommand(device.key, 'goTo', { pan: clamp(aimed.pan, -170, 170), tilt: clamp(aimed.tilt, -30, 90) });
      }
      start = null;
      setOffset(null);
    };
    return listen(element, { pointerdown: down, pointermove: move, pointerup: up, pointercancel: up });
  }, [device.key, live, settings]);
  const known = typeof pan === 'number' && typeof tilt === 'number' && typeof zoom === 'number';
  return (
    <View
      ref={frame}
      style={[styles.frame, height < LOW && { maxWidth: (height * LOW_SHARE * 16) / 9 }, onAir && styles.onAir]}
      testID="aim"
      accessibilityLabel={
        known
          ? `Picture of ${device.name}: pan ${pan}°, tilt ${tilt}°, zoom ${zoom} times. Drag to aim, pinch to zoom; the nudge keys do the same.`
          : `No picture of ${device.name}`
      }
      role="img"
    >
      {known ? (
        <View
          style={[
            styles.fill,
            offset || pinched !== 1
              ? {
                  transform: [
                    { translateX: `${(offset?.x ?? 0) * 100}%` as never },
                    { translateY: `${(offset?.y ?? 0) * 100}%` as never },
                    { scale: pinched },
                  ],
                }
              : null,
          ]}
        >
          <LiveScene camera={camera} />
        </View>
      ) : (
        <Text style={styles.unknown}>
          {connection === 'live'
            ? 'Where it looks is not known: it does not answer.'
            : 'Where it looks is not known: no contact with the engine.'}
        </Text>
      )}
      {known ? <View style={styles.ring} pointerEvents="none" /> : null}
      {known ? (
        <Text style={styles.place} pointerEvents="none">
          pan {pan.toFixed(1)}° · tilt {tilt.toFixed(1)}° · {zoom.toFixed(1)}×
        </Text>
      ) : null}
      {onAir ? <View style={styles.bar} pointerEvents="none" /> : null}
      {onAir ? (
        <Text style={styles.badge} pointerEvents="none">
          ON AIR
        </Text>
      ) : null}
    </View>
  );
}

const styles = StyleSheet.create({
  frame: {
    width: '100%',
    aspectRatio: 16 / 9,
    borderRadius: 5,
    overflow: 'hidden',
    backgroundColor: colour.raised,
    cursor: 'grab',
    touchAction: 'none',
    userSelect: 'none',
  } as object,
  onAir: { boxShadow: `0 0 0 2px ${colour.onAir}` },
  fill: { flex: 1 },
  ring: {
    position: 'absolute',
    left: '50%',
    top: '50%',
    width: 40,
    height: 40,
    marginLeft: -20,
    marginTop: -20,
    borderRadius: 20,
    borderWidth: 2,
    borderColor: 'rgba(233,228,214,0.75)',
  },
  place: {
    position: 'absolute',
    left: 10,
    top: 12,
    fontFamily: font.medium,
    fontSize: 14,
    color: colour.text,
    backgroundColor: 'rgba(16,31,32,0.75)',
    paddingHorizontal: 8,
    paddingVertical: 2,
    borderRadius: 4,
    fontVariant: ['tabular-nums'],
  },
  bar: { position: 'absolute', top: 0, left: 0, right: 0, height: 6, backgroundColor: colour.onAir },
  badge: {
    position: 'absolute',
    right: 10,
    top: 12,
    fontFamily: font.bold,
    fontSize: 13,
    color: '#FFFFFF',
    backgroundColor: '#C32A22',
    paddingHorizontal: 8,
    paddingVertical: 2,
    borderRadius: 4,
  },
  unknown: { margin: 'auto', fontFamily: font.medium, fontSize: 16, color: colour.muted },
});
