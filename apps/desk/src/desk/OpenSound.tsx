import { numberOf, USUAL } from '@umbek/core/devices/drawn';
import type { ShowDocument } from '@umbek/core/show';
import { memo } from 'react';
import { StyleSheet, Text } from 'react-native';
import { Ago } from '../live/Ago';
import { useConnection, useLive, usePoints } from '../live/LiveContext';
import { colour, font } from '../theme/tokens';

/** A channel below this fader is closed. */
const CLOSED_DB = -60;
const POINTS = ['Name', 'Mute', 'Fader', 'Open'] as const;

/** Who is open, in one line that is always there: channels that are neither muted nor faded out, those on which somebody speaks marked. */
export const OpenSound = memo(function OpenSound({ document }: { readonly document: ShowDocument }) {
  const mixer = document.devices.find((device) => device.kind === 'soundMixer');
  const count = mixer ? numberOf(mixer.settings, 'channels', USUAL.soundMixer.channels) : 0;
  const keys = mixer
    ? Array.from({ length: count }, (_, at) => POINTS.map((point) => `${mixer.key}.ch${at + 1}${point}`)).flat()
    : [];
  const points = usePoints(keys);
  const live = useLive();
  const away = useConnection() === 'lost';
  if (!mixer) return null;
  // A silent mixer's last state stays in sight, as what it is.
  const old = away || points.every((value) => value === undefined) ? keys.map((key) => live.lastKnown(key)) : [];
  const since = old.find((lastKnown) => lastKnown !== undefined)?.since;
  const values = since === undefined ? points : old.map((lastKnown) => lastKnown?.value);
  const channels = Array.from({ length: count }, (_, at) => {
    const [name, muted, fader, speaks] = values.slice(at * POINTS.length, (at + 1) * POINTS.length);
    return {
      name: String(name || `Channel ${at + 1}`),
      known: muted !== undefined,
      open: muted === false && Number(fader) > CLOSED_DB,
      speaks: speaks === true,
    };
  });
  const open = channels.filter((channel) => channel.open);
  const known = channels.some((channel) => channel.known);
  return (
    <Text numberOfLines={1} testID="open-sound" style={styles.line}>
      {since === undefined ? null : 'Last known '}
      {since === undefined ? null : <Ago since={since} />}
      {since === undefined ? null : ' ago · '}
      {!known ? `${mixer.name}: open microphones not known` : open.length === 0 ? 'no microphone open' : 'Open: '}
      {known
        ? open.map((item, at) => (
            <Text key={at} style={item.speaks ? styles.speaks : null}>
              {`${at === 0 ? '' : ' · '}${item.speaks ? '•\u00a0' : ''}${item.name.replace(/ /g, '\u00a0')}`}
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
