import { changed, made } from '@umbek/core/changes';
import { inOrder, newValue } from '@umbek/core/programming';
import type { ShowDocument } from '@umbek/core/show';
import { useState } from 'react';
import { ScrollView, StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { ulid } from 'ulid';
import { EditorHead } from '../common/EditorHead';
import { Heading, NumberField } from '../common/fields';
import { Picker } from '../common/Picker';
import { Segments } from '../common/Segments';
import { PlaceLink } from '../show/PlaceLink';
import { useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';

const CURVES = [
  { value: '1', label: 'Even', words: 'Half the way is half the speed.' },
  { value: '2', label: 'Fine', words: 'Half the way is a quarter of the speed.' },
  { value: '3', label: 'Finest', words: 'Half the way is an eighth of the speed.' },
] as const;

/** How a joystick that moves the chosen camera answers the hand, in this show. */
export function StickBench({ document, onClose }: { readonly document: ShowDocument; readonly onClose: () => void }) {
  const edits = useEdits();
  const [choosing, setChoosing] = useState(false);
  const { stick } = document.show;
  const set = (what: string, to: Partial<typeof stick>): void =>
    edits.edit(`${what} of the joystick`, [changed('show', document.show, 'stick', { ...stick, ...to })]);
  const curve = CURVES.find(({ value }) => Number(value) === stick.curve);
  const speed = document.values.find(({ key }) => key === stick.range);
  const numbers = inOrder(document.values).filter(({ start }) => typeof start === 'number');
  const makeValue = (): void => {
    const value = { ...newValue(document, ulid(), 'Joystick speed', 'number'), start: 1 };
    edits.edit('Value for the speed of the joystick', [
      made('values', value),
      changed('show', document.show, 'stick', { ...stick, range: value.key }),
    ]);
  };
  return (
    <ScrollView contentContainerStyle={styles.body}>
      <EditorHead title="Joystick" onClose={onClose} />
      <Text style={styles.hint}>
        Any joystick that the browser knows moves the chosen camera. One of its buttons, held, chooses a camera; a
        button or lever that is a shortcut does what that says and nothing else.
      </Text>
      <Heading words="Slow and fast" />
      <Segments
        value={String(stick.curve)}
        onChange={(to) => set('Curve', { curve: Number(to) })}
        options={CURVES.map(({ value, label }) => ({ value, label }))}
      />
      <Text style={styles.hint}>{curve?.words ?? `Its curve is ${stick.curve}.`}</Text>
      <NumberField
        label="It rests within"
        unit="% of its way"
        min={2}
        max={50}
        step={1}
        value={Math.round(stick.deadZone * 100)}
        onChange={(percent) => set('Rest', { deadZone: percent / 100 })}
      />
      <Heading words="Full speed" />
      <Text style={styles.hint}>
        {stick.range === ''
          ? 'All the way is the full speed of the head. A value of the show can make it less, and buttons can set that value.'
          : speed === undefined
            ? 'The value for the full speed is gone, so all the way is the full speed of the head. Choose another value.'
            : `All the way is as much of the head’s speed as ${speed.name} says: 1 is all of it, 0.2 a fifth.`}
      </Text>
      {speed === undefined ? null : <PlaceLink at={{ entity: 'values', id: speed.id, path: [] }} words={speed.name} />}
      <View style={styles.row}>
        {numbers.length === 0 ? null : (
          <Button mode="outlined" onPress={() => setChoosing(true)}>
            Choose a value
          </Button>
        )}
        {speed === undefined ? (
          <Button mode="outlined" icon="plus" onPress={makeValue}>
            Make a value for it
          </Button>
        ) : null}
        {stick.range === '' ? null : (
          <Button mode="outlined" onPress={() => set('Full speed', { range: '' })}>
            Always full speed
          </Button>
        )}
      </View>
      <Picker
        title="Which value is full speed?"
        visible={choosing}
        memory="values"
        choices={numbers.map(({ key, name }) => ({ key, group: 'Values', words: name }))}
        onChoose={({ key }) => {
          setChoosing(false);
          set('Full speed', { range: key });
        }}
        onClose={() => setChoosing(false)}
      />
    </ScrollView>
  );
}

const styles = StyleSheet.create({
  body: { padding: 14, gap: 10, paddingBottom: 48 },
  hint: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
  row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
});
