import type { ShowDocument, Step } from '@umbek/core/show';
import { useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { Segments } from '../../common/Segments';
import { Sheet } from '../../common/Sheet';
import { readIdentity } from '../../live/identity';
import { useEdits } from '../../show/ShowContext';
import { colour, font } from '../../theme/tokens';
import { beginRecording, cancelRecording, endRecording, type Recording } from './recording';

/** The bar of a list whose steps are being recorded: whose touches they are, and the end of it. */
export function RecordingBar({
  document,
  recording,
  onAdd,
}: {
  readonly document: ShowDocument;
  readonly recording: Recording;
  readonly onAdd: (steps: readonly Step[]) => void;
}) {
  const edits = useEdits();
  const [pauses, setPauses] = useState(true);
  const end = async (): Promise<void> => {
    try {
      const steps = await endRecording(recording, document, pauses);
      if (steps.length > 0) onAdd(steps);
      else edits.tell(`${recording.station} touched nothing meanwhile.`, false);
    } catch (error) {
      edits.tell(error instanceof Error ? error.message : 'It goes on. Try again.', true);
    }
  };
  return (
    <View style={styles.bar} testID="recording-steps">
      <Text style={styles.head} role="status">{`Recording what ${recording.station} touches`}</Text>
      <Text style={styles.hint}>Go to the Desk or the Rig and do it. Come back here to end it.</Text>
      <Segments
        value={pauses ? 'pauses' : 'none'}
        onChange={(to) => setPauses(to === 'pauses')}
        options={[
          { value: 'pauses', label: 'With the real pauses' },
          { value: 'none', label: 'Without pauses' },
        ]}
      />
      <View style={styles.row}>
        <Button mode="contained" onPress={() => void end()}>
          End and add the steps
        </Button>
        <Button mode="outlined" onPress={cancelRecording}>
          Cancel
        </Button>
      </View>
    </View>
  );
}

/** Whose touches are to be recorded. */
export function RecordSheet({
  document,
  visible,
  owner,
  list,
  onClose,
}: {
  readonly document: ShowDocument;
  readonly visible: boolean;
  readonly owner: string;
  readonly list: string;
  readonly onClose: () => void;
}) {
  const edits = useEdits();
  const here = readIdentity().station;
  const [station, setStation] = useState<string | null>(null);
  const whose = station ?? here;
  const begin = async (): Promise<void> => {
    try {
      await beginRecording(owner, list, whose);
      onClose();
    } catch (error) {
      edits.tell(error instanceof Error ? error.message : 'It did not begin. Try again.', true);
    }
  };
  return (
    <Sheet
      title="Record touches as steps"
      visible={visible}
      onClose={onClose}
      actions={
        <>
          <Button onPress={onClose}>Close</Button>
          <Button mode="contained" onPress={() => void begin()}>
            Record
          </Button>
        </>
      }
    >
      <Text style={styles.hint}>
        Buttons, macros and commands that a station touches become steps here. They are really sent while you record.
      </Text>
      <Segments
        value={whose}
        onChange={setStation}
        options={[...new Set([here, ...document.stations.map(({ name }) => name)])].map((name) => ({
          value: name,
          label: name === here ? `${name} (this one)` : name,
        }))}
        most={0}
      />
    </Sheet>
  );
}

const styles = StyleSheet.create({
  bar: { gap: 10, padding: 12, borderRadius: 6, backgroundColor: colour.raised },
  head: { fontFamily: font.semibold, fontSize: 17, color: colour.text },
  hint: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
});
