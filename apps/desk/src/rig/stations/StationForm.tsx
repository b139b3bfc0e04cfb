import type { Right } from '@umbek/protocol';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, TextInput } from 'react-native-paper';
import { RightsChoice } from './RightsChoice';

export interface StationSetting {
  readonly name: string;
  readonly person: string;
  readonly rights: readonly Right[];
}

/** Under which name a station is let in, who works at it, and what it may do. */
export function StationForm({
  first,
  go,
  keep,
  busy,
  onGo,
  onKeep,
}: {
  readonly first: StationSetting;
  readonly go: string;
  readonly keep: string;
  readonly busy: boolean;
  readonly onGo: (to: StationSetting) => void;
  readonly onKeep: () => void;
}) {
  const [name, setName] = useState(first.name);
  const [person, setPerson] = useState(first.person);
  const [rights, setRights] = useState(first.rights);
  const done = (): void => onGo({ name: name.trim(), person: person.trim(), rights });
  return (
    <View style={styles.form}>
      <TextInput
        mode="outlined"
        dense
        label="Name of the station"
        accessibilityLabel="Name of the station"
        value={name}
        onChangeText={setName}
        maxLength={60}
      />
      <TextInput
        mode="outlined"
        dense
        label="Who works at it (can be left empty)"
        accessibilityLabel="Who works at it"
        value={person}
        onChangeText={setPerson}
        maxLength={60}
      />
      <RightsChoice label="What it may do" rights={rights} onChange={setRights} />
      <View style={styles.row}>
        <Button mode="contained" disabled={name.trim() === ''} loading={busy} onPress={done}>
          {go}
        </Button>
        <Button mode="outlined" onPress={onKeep}>
          {keep}
        </Button>
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  form: { gap: 10, maxWidth: 620 },
  row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
});
