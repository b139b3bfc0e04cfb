import { type Field, faultOf, selectionFor, startOf, valueNamed, valuesFor } from '@umbek/core/programming';
import type { Argument, ShowDocument } from '@umbek/core/show';
import { useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button, Switch } from 'react-native-paper';
import { ChooseLine, chooseStyles } from '../common/ChooseLine';
import { NumberField, TextField } from '../common/fields';
import { Picker } from '../common/Picker';
import { usePoint } from '../live/LiveContext';
import { colour, font } from '../theme/tokens';

interface ParamFieldProps {
  readonly document: ShowDocument;
  readonly device: string;
  readonly field: Field;
  readonly value: Argument | undefined;
  /** Also a show value can be given in its place. */
  readonly fromValues?: boolean;
  /** Undefined takes an optional parameter away. */
  readonly onChange: (value: Argument | undefined) => void;
}

/** One parameter of a command, as its declaration wants it. One that may be left out has a switch for that. */
export function ParamField(props: ParamFieldProps) {
  const { field, value, onChange } = props;
  if (!field.optional) return <Given {...props} />;
  return (
    <View style={styles.optional}>
      <View style={styles.row}>
        <Text style={chooseStyles.title}>{value === undefined ? `${field.title}: left out` : field.title}</Text>
        <Switch
          value={value !== undefined}
          onValueChange={(on) => onChange(on ? startOf(field) : undefined)}
          accessibilityLabel={`Give ${field.title}`}
        />
      </View>
      {value === undefined ? null : <Given {...props} />}
    </View>
  );
}

/** What is given, with the way to take it from a show value: set once, used by many. */
function Given(props: ParamFieldProps) {
  const { document, field, value, fromValues = false, onChange } = props;
  const [picking, setPicking] = useState(false);
  const given = typeof value === 'object';
  const values = fromValues && !given ? valuesFor(document, field) : [];
  const chosen = fromValues && !given ? selectionFor(document, field) : null;
  if (values.length === 0 && chosen === null) return <Content {...props} />;
  return (
    <View>
      <Content {...props} />
      <View style={styles.ways}>
        {chosen === null ? null : (
          <Button
            compact
            accessibilityLabel={`${field.title}: ${chosen.words}`}
            onPress={() => onChange({ cel: chosen.cel })}
          >
            {chosen.words.replace(/^t/, 'T')}
          </Button>
        )}
        {values.length === 0 ? null : (
          <Button compact accessibilityLabel={`${field.title} from a show value`} onPress={() => setPicking(true)}>
            From a show value
          </Button>
        )}
      </View>
      <Picker
        title={`${field.title} from a show value`}
        memory="values"
        visible={picking}
        onClose={() => setPicking(false)}
        choices={values.map(({ key, name }) => ({ key, group: 'Values', words: name }))}
        onChoose={(choice) => onChange({ cel: `value.${choice.key}` })}
      />
    </View>
  );
}

/** A number with unit and steppers, a switch, a text, or a thing from a list. */
function Content({ document, device, field, value, onChange }: ParamFieldProps) {
  const [picking, setPicking] = useState(false);
  const given = typeof value === 'object' ? valueNamed(value.cel) : null;
  if (typeof value === 'object' && given !== null && document.values.some(({ key }) => key === given))
    return (
      <View style={[chooseStyles.line, styles.given]}>
        <Text style={[chooseStyles.title, styles.fill]}>
          {`${field.title}: the show value `}
          <Text style={chooseStyles.value}>{document.values.find(({ key }) => key === given)?.name}</Text>
        </Text>
        <Button
          compact
          onPress={() => onChange(document.values.find(({ key }) => key === given)?.start ?? startOf(field))}
        >
          Set it here
        </Button>
      </View>
    );
  const chosen = selectionFor(document, field);
  if (typeof value === 'object' && chosen !== null && value.cel === chosen.cel)
    return (
      <View style={[chooseStyles.line, styles.given]}>
        <Text style={[chooseStyles.title, styles.fill]}>
          {`${field.title}: `}
          <Text style={chooseStyles.value}>{chosen.words}</Text>
        </Text>
        <Button compact onPress={() => onChange(firstOf(document, field))}>
          Always the same one
        </Button>
      </View>
    );
  if (typeof value === 'object')
    return (
      <TextField
        label={`${field.title} (CEL)`}
        value={value.cel}
        longest={2000}
        fault={(text) => (text.trim() === '' ? 'Give an expression.' : null)}
        onChange={(cel) => onChange({ cel })}
      />
    );
  if (field.reference !== null || field.type === 'choice' || field.things !== undefined) {
    const things =
      field.things ??
      (field.type === 'choice'
        ? field.choices.map((key) => ({ key, name: key }))
        : field.reference === 'person'
          ? document.people
          : field.reference === 'reframe'
            ? document.reframes
            : field.reference === 'position'
              ? document.positions.filter((position) => device.includes('.') || position.camera === device)
              : [...document.sources, ...document.roles]);
    return (
      <View>
        <ChooseLine
          title={field.title}
          value={
            things.find((candidate) => candidate.key === value)?.name ??
            (value === undefined || value === '' ? 'choose…' : `${String(value)} is gone`)
          }
          label={`${field.title}: ${things.find((candidate) => candidate.key === value)?.name ?? 'choose'}`}
          onPress={() => setPicking(true)}
        />
        <Picker
          title={field.title}
          memory={field.reference ?? field.key}
          visible={picking}
          onClose={() => setPicking(false)}
          choices={things.map((item) => ({ key: item.key, group: field.title, words: item.name }))}
          onChoose={(choice) => onChange(choice.key)}
        />
      </View>
    );
  }
  const now = value ?? field.start;
  switch (field.type) {
    case 'switch':
      return (
        <View style={styles.row}>
          <Text style={chooseStyles.title}>{field.title}</Text>
          <Switch value={now === true} onValueChange={onChange} accessibilityLabel={field.title} />
        </View>
      );
    case 'number': {
      const span = (field.max ?? 100) - (field.min ?? 0);
      return (
        <NumberField
          label={field.title}
          unit={field.unit}
          step={field.whole || span > 20 ? 1 : span > 2 ? 0.5 : 0.1}
          min={field.min}
          max={field.max}
          whole={field.whole}
          value={Number(now ?? field.min ?? 0)}
          onChange={onChange}
        />
      );
    }
    case 'text':
      if (field.listedIn !== null)
        return <ListedField device={device} field={field} value={String(now ?? '')} onChange={onChange} />;
      return (
        <TextField
          label={field.title}
          value={String(now ?? '')}
          {...(field.longest === null ? {} : { longest: field.longest })}
          fault={(text) => faultOf(field, text)}
          onChange={onChange}
        />
      );
  }
}

/** What stands there where what is chosen no longer does. */
const firstOf = (document: ShowDocument, field: Field): Argument =>
  field.reference === 'person'
    ? (document.people[0]?.key ?? '')
    : field.reference === 'source'
      ? (document.sources[0]?.key ?? '')
      : startOf(field);

/** A text that the device itself lists, such as a clip: chosen from what it has, or typed for what it will have. */
function ListedField({
  device,
  field,
  value,
  onChange,
}: {
  readonly device: string;
  readonly field: Field;
  readonly value: string;
  readonly onChange: (value: string) => void;
}) {
  const [picking, setPicking] = useState(false);
  const listed = usePoint(`${device}.${field.listedIn ?? ''}`);
  const names = typeof listed === 'string' ? listed.split('\n').filter(Boolean) : [];
  return (
    <View style={styles.listed}>
      <TextField
        label={field.title}
        value={value}
        {...(field.longest === null ? {} : { longest: field.longest })}
        fault={(text) => faultOf(field, text)}
        onChange={onChange}
      />
      {names.length > 0 ? (
        <Button mode="outlined" icon="format-list-bulleted" style={styles.left} onPress={() => setPicking(true)}>
          {`From the device: ${names.length}`}
        </Button>
      ) : null}
      {names.length > 0 && value !== '' && !names.includes(value) ? (
        <Text style={styles.missing}>The device has nothing of this name now.</Text>
      ) : null}
      <Picker
        title={field.title}
        memory={`${device}.${field.key}`}
        visible={picking}
        onClose={() => setPicking(false)}
        choices={names.map((name) => ({ key: name, group: field.title, words: name }))}
        onChoose={(choice) => onChange(choice.key)}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  optional: { gap: 4 },
  listed: { gap: 6 },
  left: { alignSelf: 'flex-start' },
  ways: { flexDirection: 'row', flexWrap: 'wrap', gap: 4 },
  missing: { fontFamily: font.medium, fontSize: 13, color: colour.warning },
  row: { flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between', minHeight: 44 },
  given: { paddingRight: 4 },
  fill: { flex: 1 },
});
