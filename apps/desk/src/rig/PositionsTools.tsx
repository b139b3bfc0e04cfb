import { changed } from '@umbek/core/changes';
import { useMutation } from '@tanstack/react-query';
import type { PtzSettings } from '@umbek/core/devices';
import type { Device, Position } from '@umbek/core/show';
import { useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { NumberField } from '../common/fields';
import { useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { headDiffers, memoriesFor, roundSteps, writeSteps } from './positionSteps';
import { runSteps } from './runSteps';

interface PositionsToolsProps {
  readonly device: Device;
  readonly settings: PtzSettings;
  readonly positions: readonly Position[];
  readonly onAir: boolean;
}

/** What is done with all positions of a camera: a round through them, and their copies in the head's own memory. */
export function PositionsTools({ device, settings, positions, onAir }: PositionsToolsProps) {
  const edits = useEdits();
  const [seconds, setSeconds] = useState(3);
  const round = useMutation({
    mutationFn: () =>
      runSteps(`Run through ${device.name}`, roundSteps(device.key, positions, settings, seconds * 1000), [device.key]),
    onSuccess: ({ why }) =>
      edits.tell(
        why === null ? `${device.name} ran through ${positions.length} positions.` : `The run-through ended: ${why}`,
        why !== null,
      ),
    onError: () => edits.tell('The engine cannot be reached; the run-through did not start.', true),
  });
  const write = useMutation({
    mutationFn: async (list: readonly Position[]) => {
      const memories = memoriesFor(positions);
      if (memories === null) return 'The head has no memory left: it holds 127 positions.';
      const ran = await runSteps(`Positions into ${device.name}`, writeSteps(device.key, list, memories), [device.key]);
      // What is in the head is in it, whatever became of the others.
      const written = list.filter((_, at) => ran.done.has(`store${at}`));
      if (written.length === 0) return ran.why;
      edits.edit(
        `Positions into ${device.name}`,
        written.flatMap((item) => {
          const number = memories.get(item.key) ?? null;
          return [
            ...(number === item.headNumber ? [] : [changed('positions', item, 'headNumber', number)]),
            changed('positions', item, 'inHead', { pan: item.pan, tilt: item.tilt, zoom: item.zoom }),
          ];
        }),
      );
      const missing = list.filter((candidate) => !written.includes(candidate)).map((item) => item.name);
      return missing.length === 0 ? null : `${missing.join(', ')}. ${ran.why ?? ''}`.trim();
    },
    onSuccess: (why) =>
      edits.tell(
        why === null ? 'The head holds these positions now.' : `These are not in the head: ${why}`,
        why !== null,
      ),
    onError: () => edits.tell('The engine cannot be reached; nothing was written.', true),
  });
  const behind = positions.filter((position) => headDiffers(position) !== false);
  if (positions.length === 0) return null;
  const busy = round.isPending || write.isPending;
  return (
    <View style={styles.all}>
      <View style={styles.row}>
        <View style={styles.number}>
          <NumberField label="Each for" unit="s" min={0} max={600} value={seconds} onChange={setSeconds} />
        </View>
        <Button
          mode="outlined"
          icon="play-circle-outline"
          loading={round.isPending}
          disabled={busy || onAir}
          onPress={() => round.mutate()}
        >
          {`Run through ${positions.length}`}
        </Button>
      </View>
      <Text style={styles.text} testID="head-copies">
        {behind.length === 0
          ? 'Every position is in the head as in the show.'
          : `Missing or different in the head: ${behind.map((item) => item.name).join(', ')}.`}
      </Text>
      <View style={styles.row}>
        {behind.length > 0 ? (
          <Button
            mode="outlined"
            icon="content-save-outline"
            loading={write.isPending}
            disabled={busy || onAir}
            onPress={() => write.mutate(behind)}
          >
            {`Write ${behind.length} into the head`}
          </Button>
        ) : null}
        <Button mode="text" disabled={busy || onAir} onPress={() => write.mutate(positions)}>
          Write all, into a new head
        </Button>
      </View>
      {onAir ? (
        <Text style={styles.warn}>
          It is on air: running through and writing would move it. Wait until it is off air.
        </Text>
      ) : null}
      {busy ? <Text style={styles.text}>It is running. Stop it on the Desk, or slide STOP.</Text> : null}
    </View>
  );
}

const styles = StyleSheet.create({
  all: { gap: 8, marginTop: 8 },
  row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
  number: { width: 190 },
  text: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
  warn: { fontFamily: font.medium, fontSize: 14, color: colour.warning },
});
