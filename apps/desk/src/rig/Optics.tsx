import type { Device } from '@umbek/core/show';
import { StyleSheet, Text, View } from 'react-native';
import { Button, IconButton } from 'react-native-paper';
import { Heading } from '../common/fields';
import { useLive, usePoint } from '../live/LiveContext';
import { colour, font } from '../theme/tokens';
import { Segments } from '../common/Segments';

const BALANCES = [
  { value: 'auto', label: 'Auto' },
  { value: 'indoor', label: 'Indoor' },
  { value: 'outdoor', label: 'Outdoor' },
  { value: 'onePush', label: 'One push' },
  { value: 'manual', label: 'Manual' },
];

/** Focus, iris and white balance of the camera, home and power. What is shown is what the head says. */
export function Optics({ device }: { readonly device: Device }) {
  const live = useLive();
  const send = (command: string, params: Record<string, string | number | boolean> = {}): void =>
    live.sendCommand(device.key, command, params);
  const balance = usePoint(`${device.key}.whiteBalance`);
  const power = usePoint(`${device.key}.power`);
  const tally = usePoint(`${device.key}.tally`) === true;
  return (
    <View style={styles.all}>
      <Heading words="Camera" />
      <Dial device={device} name="Focus" mode="focusMode" point="focus" unit="%" step={2} max={100} />
      <Dial device={device} name="Iris" mode="irisMode" point="iris" unit="" step={1} max={20} />
      <Text style={styles.label}>White balance</Text>
      <Segments
        most={4}
        value={typeof balance === 'string' ? balance : ''}
        onChange={(mode) => send('whiteBalance', { mode })}
        options={BALANCES}
      />
      <View style={styles.row}>
        <Button mode="outlined" onPress={() => send('home')}>
          Home
        </Button>
        <Button mode="outlined" onPress={() => send('power', { on: power !== true })}>
          {power === undefined ? 'Power not known' : power === true ? 'To standby' : 'Switch on'}
        </Button>
        <Button mode="outlined" onPress={() => send('tally', { on: !tally })}>
          {tally ? 'Tally off' : 'Tally on'}
        </Button>
      </View>
    </View>
  );
}

function Dial({
  device,
  name,
  mode,
  point,
  unit,
  step,
  max,
}: {
  readonly device: Device;
  readonly name: string;
  readonly mode: string;
  readonly point: string;
  readonly unit: string;
  readonly step: number;
  readonly max: number;
}) {
  const live = useLive();
  const how = usePoint(`${device.key}.${mode}`);
  const value = usePoint(`${device.key}.${point}`);
  const known = typeof value === 'number';
  const set = (next: number): void =>
    live.sendCommand(device.key, point, { [point]: Math.min(max, Math.max(0, Math.round(next))) });
  return (
    <View style={styles.dial}>
      <Text style={styles.label}>{name}</Text>
      <View style={styles.mode}>
        <Segments
          value={typeof how === 'string' ? how : ''}
          onChange={(next) => live.sendCommand(device.key, mode, { mode: next })}
          options={[
            { value: 'auto', label: 'Auto', accessibilityLabel: `${name} auto` },
            { value: 'manual', label: 'Hand', accessibilityLabel: `${name} by hand` },
          ]}
        />
      </View>
      <IconButton
        icon="minus"
        size={20}
        accessibilityLabel={`${name} less`}
        disabled={!known}
        onPress={() => set(Number(value) - step)}
      />
      <Text style={styles.value}>{known ? `${Math.round(value)} ${unit}`.trim() : '–'}</Text>
      <IconButton
        icon="plus"
        size={20}
        accessibilityLabel={`${name} more`}
        disabled={!known}
        onPress={() => set(Number(value) + step)}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  all: { gap: 8 },
  dial: { flexDirection: 'row', alignItems: 'center', flexWrap: 'wrap' },
  label: { fontFamily: font.medium, fontSize: 16, color: colour.text, minWidth: 52 },
  mode: { flexGrow: 1, flexShrink: 1, flexBasis: 120, maxWidth: 190 },
  value: {
    fontFamily: font.semibold,
    fontSize: 16,
    color: colour.text,
    fontVariant: ['tabular-nums'],
    minWidth: 44,
    textAlign: 'center',
  },
  row: { flexDirection: 'row', gap: 8, flexWrap: 'wrap' },
});
