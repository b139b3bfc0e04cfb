import { SoundSettings } from '@umbek/core/devices/soundMixer';
import type { ShowDocument } from '@umbek/core/show';
import { memo, useMemo } from 'react';
import { StyleSheet, Text } from 'react-native';
import { usePoints } from '../live/LiveContext';
import { colour, font } from '../theme/tokens';

/** A channel below this fader is closed. */
const CLOSED_DB = -60;
const POINTS = ['Name', 'Mute', 'Fader', 'Open'] as const;

/** Who is open, in one line that is always there: channels that are neither muted nor faded out, those on which somebody speaks marked. */
export const OpenSound = memo(function OpenSound({ document }: { readonly document: ShowDocument }) {
  const mixer = document.devices.find((one) => one.kind === 'soundMixer');
  const count = useMemo(() => {
    const settings = SoundSettings.safeParse(mixer?.settings);
    return settings.success ? settings.data.channels : 0;
  }, [mixer]);
  const values = usePoints(
    mixer
      ? Array.from({ length: count }, (_, at) => POINTS.map((point) => `${mixer.key}.ch${at + 1}${point}`)).flat()
      : [],
  );
  if (!mixer) return null;
  const channels = Array.from({ length: count }, (_, at) => {
    const [name, muted, fader, speaks] = values.slice(at * POINTS.length, (at + 1) * POINTS.length);
    return {
      name: String(name || `Channel ${at + 1}`),
      known: muted !== undefined,
      open: muted === false && Number(fader) > CLOSED_DB,
      speaks: speaks === true,
    };
  });
  const open = channels.filter((one) => one.open);
  const known = channels.some((one) => one.known);
  return (
    <Text numberOfLines={1} testID="open-sound" style={styles.line}>
      {!known ? `${mixer.name}: who is open is not known` : open.length === 0 ? 'nobody is open' : 'Open: '}
      {known
        ? open.map((one, at) => (
            <Text key={at} style={one.speaks ? styles.speaks : null}>
              {`${at === 0 ? '' : ' · '}${one.speaks ? '●\u00a0' : ''}${one.name.replace(/ /g, '\u00a0')}`}
            </Text>
          ))
        : null}
    </Text>
  );
});

const styles = StyleSheet.create({
  line: { fontFamily: font.regular, fontSize: 14, lineHeight: 18, minHeight: 18, color: colour.muted },
  speaks: { fontFamily: font.semibold, color: colour.text },
});
