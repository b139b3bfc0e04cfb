import type { Right } from '@umbek/protocol';
import { useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button, TextInput } from 'react-native-paper';
import { Chip } from '../../common/Chip';
import { GIVEN } from '../../live/rightsWords';
import { colour, font } from '../../theme/tokens';

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
      <View style={styles.row} role="group" accessibilityLabel="What it may do">
        <Text style={styles.may}>May look, and</Text>
        {GIVEN.map(({ right, words }) => (
          <Chip
            key={right}
            role="checkbox"
            on={rights.includes(right)}
            words={words}
            onPress={() =>
              setRights(rights.includes(right) ? rights.filter((one) => one !== right) : [...rights, right])
            }
          />
        ))}
      </View>
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
  may: { fontFamily: font.medium, fontSize: 15, color: colour.text },
});
