import type { ProfileFile, ProfilePoint } from '@umbek/core/show';
import { StyleSheet, View } from 'react-native';
import { Button } from 'react-native-paper';
import { NumberField, TextField } from '../../common/fields';
import { Segments } from '../../common/Segments';
import { FOUND, fromOf, mapFrom, mapText } from './profileDraft';

interface PointFormProps {
  readonly profile: ProfileFile;
  readonly point: ProfilePoint;
  readonly onChange: (point: ProfilePoint) => void;
  readonly onRemove: () => void;
}

const AS_WORDS: Readonly<Record<ProfilePoint['from']['as'], string>> = {
  osc: 'OSC',
  json: 'JSON',
  text: 'Text',
  bytes: 'Bytes',
  midi: 'MIDI',
};

/** A state of a profile: what it is called, and where it is found in what the device says. */
export function PointForm({ profile, point, onChange, onRemove }: PointFormProps) {
  const found = FOUND[profile.transport.kind];
  return (
    <View style={styles.body}>
      <TextField
        label="Words"
        value={point.words}
        longest={120}
        fault={(text) => (text === '' ? 'Say what it tells.' : null)}
        onChange={(words) => onChange({ ...point, words })}
      />
      <Segments
        value={point.type}
        onChange={(type) => onChange({ ...point, type: type as 'number' })}
        options={[
          { value: 'number', label: 'Number' },
          { value: 'text', label: 'Text' },
          { value: 'switch', label: 'Yes/no' },
        ]}
      />
      {point.type === 'number' ? (
        <TextField label="Unit" value={point.unit} longest={20} onChange={(unit) => onChange({ ...point, unit })} />
      ) : null}
      {found.length > 1 ? (
        <Segments
          value={point.from.as}
          onChange={(as) => onChange({ ...point, from: fromOf(as as 'osc', point.key) })}
          options={found.map((as) => ({
            value: as,
            label: AS_WORDS[as],
            accessibilityLabel: `Found in ${AS_WORDS[as]}`,
          }))}
        />
      ) : null}
      <From point={point} onChange={onChange} />
      <TextField
        label="Its words and what they stand for, one a line: ON = true"
        value={mapText(point.map)}
        multiline
        onChange={(text) => onChange({ ...point, map: mapFrom(text) })}
      />
      <Button mode="text" icon="delete-outline" style={styles.left} onPress={onRemove}>
        {`Remove ${point.words}`}
      </Button>
    </View>
  );
}

function From({ point, onChange }: Pick<PointFormProps, 'point' | 'onChange'>) {
  const { from } = point;
  switch (from.as) {
    case 'osc':
      return (
        <>
          <TextField
            label="Address it comes from"
            value={from.address}
            longest={200}
            fault={(text) => (text.startsWith('/') ? null : 'An OSC address begins with a slash.')}
            onChange={(address) => onChange({ ...point, from: { ...from, address } })}
          />
          <NumberField
            label="Argument"
            value={from.argument}
            min={1}
            max={40}
            whole
            onChange={(argument) => onChange({ ...point, from: { ...from, argument } })}
          />
        </>
      );
    case 'json':
      return (
        <TextField
          label="JSON path"
          value={from.path}
          longest={400}
          fault={(text) => (text.startsWith('$') ? null : 'A JSON path begins with $, as $.state.level.')}
          onChange={(path) => onChange({ ...point, from: { ...from, path } })}
        />
      );
    case 'text':
    case 'bytes':
      return (
        <>
          <TextField
            label={from.as === 'bytes' ? 'Pattern over the bytes, written 02 4F 03' : 'Pattern'}
            value={from.pattern}
            longest={400}
            fault={(text) => (text === '' ? 'Give a regular expression.' : null)}
            onChange={(pattern) => onChange({ ...point, from: { ...from, pattern } })}
          />
          <NumberField
            label="Group of the pattern"
            value={from.group}
            min={0}
            max={20}
            whole
            onChange={(group) => onChange({ ...point, from: { ...from, group } })}
          />
        </>
      );
    case 'midi':
      return (
        <>
          <Segments
            value={from.message}
            onChange={(message) => onChange({ ...point, from: { ...from, message: message as 'note' } })}
            options={[
              { value: 'note', label: 'Note' },
              { value: 'control', label: 'Control' },
              { value: 'programChange', label: 'Program' },
            ]}
          />
          <NumberField
            label="Channel"
            value={from.channel}
            min={1}
            max={16}
            whole
            onChange={(channel) => onChange({ ...point, from: { ...from, channel } })}
          />
          <NumberField
            label="Number"
            value={from.number}
            min={0}
            max={127}
            whole
            onChange={(number) => onChange({ ...point, from: { ...from, number } })}
          />
        </>
      );
  }
}

const styles = StyleSheet.create({
  body: { gap: 10, paddingHorizontal: 14, paddingBottom: 14 },
  left: { alignSelf: 'flex-start' },
});
