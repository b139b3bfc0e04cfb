import { numberOf, USUAL } from '@umbek/core/devices/drawn';
import type { ShowDocument, Source } from '@umbek/core/show';
import { memo, useMemo } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { usePoint } from '../live/LiveContext';
import { colour, font } from '../theme/tokens';
import { FixedScene } from './FixedScene';
import { LayoutScene, layoutOf } from './LayoutScene';
import { type CameraPlace, LiveScene } from './Scene';

/** How a camera is set up in the drawn place; null when the show has no such head. */
export function cameraPlace(document: ShowDocument, key: string | null): CameraPlace | null {
  const device = key === null ? undefined : document.devices.find((candidate) => candidate.key === key);
  if (device === undefined) return null;
  const number = (name: 'heading' | 'wideAngle'): number => numberOf(device.settings, name, USUAL.ptzHead[name]);
  return { key: device.key, heading: number('heading'), wideAngle: number('wideAngle') };
}

/** So deep a layout in a layout is drawn: one may hold itself. */
const DEEPEST = 2;

/** What a source shows: drawn from where its head says that it looks, the boxes of a layout, or its fixed picture. */
export const SourcePicture = memo(function SourcePicture({
  source,
  document,
  depth = 0,
}: {
  readonly source: Source;
  readonly document: ShowDocument;
  readonly depth?: number;
}) {
  const camera = useMemo(() => cameraPlace(document, source.camera), [document, source.camera]);
  const known = usePoint(`${source.camera ?? 'none'}.pan`) !== undefined;
  const switcher = useMemo(
    () => document.devices.find((device) => device.kind === 'switcher')?.key ?? 'switcher',
    [document.devices],
  );
  const window = windowOf(usePoint(`${switcher}.input${source.input ?? 0}Window`));
  const state = usePoint(`${switcher}.input${source.input ?? 0}Picture`);
  const meteors = usePoint(source.picture === 'sky' ? `${switcher}.meteors` : 'none.pan');
  const lost = state === 'none' || state === 'black';
  const layout = useMemo(() => (depth < DEEPEST ? layoutOf(source, document) : null), [source, document, depth]);
  if (layout !== null)
    return (
      <View style={styles.fill} aria-hidden>
        <LayoutScene
          switcher={switcher}
          layout={layout}
          document={document}
          draw={(occupant) => <SourcePicture source={occupant} document={document} depth={depth + 1} />}
        />
      </View>
    );
  return (
    <View style={styles.fill} aria-hidden>
      <View
        style={
          window === null
            ? styles.fill
            : [
                styles.fill,
                {
                  transform: [
                    { scale: window.scale },
                    { translateX: `${(0.5 - window.x) * 100}%` as never },
                    { translateY: `${(0.5 - window.y) * 100}%` as never },
                  ],
                },
              ]
        }
      >
        {lost ? (
          <FixedScene picture={state === 'black' ? 'black' : 'none'} name={`${source.name}: no picture`} />
        ) : camera && known ? (
          <LiveScene camera={camera} />
        ) : (
          <FixedScene
            picture={camera ? 'none' : source.picture}
            meteors={Number(meteors ?? 0)}
            name={camera ? `${source.name}: no picture known` : source.name}
          />
        )}
      </View>
      {state === 'black' || state === 'frozen' ? (
        <Text style={styles.state}>{state === 'black' ? 'picture is black' : 'picture is frozen'}</Text>
      ) : null}
    </View>
  );
});

/** The part of a source that is shown: null for all of it. */
export function windowOf(point: unknown): { readonly x: number; readonly y: number; readonly scale: number } | null {
  const [x, y, scale] = typeof point === 'string' ? point.split(' ').map(Number) : [];
  return x === undefined || y === undefined || scale === undefined || !(scale > 1) ? null : { x, y, scale };
}

const styles = StyleSheet.create({
  fill: { flex: 1 },
  state: {
    position: 'absolute',
    left: 0,
    right: 0,
    bottom: 4,
    textAlign: 'center',
    fontFamily: font.semibold,
    fontSize: 14,
    color: colour.warning,
  },
});
