import { PtzSettings } from '@umbek/core/devices';
import type { ShowDocument, Source } from '@umbek/core/show';
import { memo, useMemo } from 'react';
import { StyleSheet, View } from 'react-native';
import { usePoint } from '../live/LiveContext';
import { FixedScene } from './FixedScene';
import { type CameraPlace, LiveScene } from './Scene';

/** How a camera is set up in the drawn place; null when the show has no such head. */
export function cameraPlace(document: ShowDocument, key: string | null): CameraPlace | null {
  const device = key === null ? undefined : document.devices.find((one) => one.key === key);
  const settings = PtzSettings.safeParse(device?.settings);
  return device && settings.success ? { key: device.key, heading: settings.data.heading, wideAngle: settings.data.wideAngle } : null;
}

/** What a source shows: drawn from where its head says that it looks, or its fixed picture. */
export const SourcePicture = memo(function SourcePicture({ source, document }: { readonly source: Source; readonly document: ShowDocument }) {
  const camera = useMemo(() => cameraPlace(document, source.camera), [document, source.camera]);
  const known = usePoint(`${source.camera ?? 'none'}.pan`) !== undefined;
  return (
    <View style={styles.fill} aria-hidden>
      {camera && known ? <LiveScene camera={camera} /> : <FixedScene picture={camera ? 'none' : source.picture} name={camera ? `${source.name}: no picture known` : source.name} />}
    </View>
  );
});

const styles = StyleSheet.create({ fill: { flex: 1 } });
