import {
  type Askable,
  askables,
  celOf,
  choiceOf,
  type Comparison,
  conditionOf,
  type Field,
  fieldOfChoice,
  type SimpleCondition,
  textField,
} from '@umbek/core/programming';
import { linesOf } from '@umbek/core/expression';
import { type PlainValue, type ShowDocument, timecodeSeconds, timecodeText } from '@umbek/core/show';
import { useMemo, useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { ChooseLine } from '../common/ChooseLine';
import { TextField } from '../common/fields';
import { Picker } from '../common/Picker';
import { Segments } from '../common/Segments';
import { useLive } from '../live/LiveContext';
import { ParamField } from '../steps/ParamField';
import { colour, font } from '../theme/tokens';
import { isHead } from '@umbek/core/part';

/** What a new step asks until somebody chooses what. */
const NO_CONDITION = 'true';

/** 10:00:00:00 at whole frame rates, seconds: what a timecode is compared with where it is not known. */
const TIMECODE_FIRST = 36_000;

const keyOf = ({ scope, point }: Pick<Askable, 'scope' | 'point'>): string => `${scope}.${point}`;

/** Asks of this point whether it is as it is now: where nothing is known, whether it is on, none or empty. */
export function firstCondition(
  asked: Askable,
  now: PlainValue | undefined,
  sources: ShowDocument['sources'],
): SimpleCondition {
  const { scope, point, type } = asked;
  if (asked.timecode) return { scope, point, is: 'reaches', value: typeof now === 'number' ? now : TIMECODE_FIRST };
  if (asked.list) return { scope, point, is: 'has', value: linesOf(String(now ?? ''))[0] ?? '' };
  // By its name: the source that stands there may come to another input.
  const source = asked.input ? sources.find(({ input }) => input !== null && input === now) : undefined;
  if (source !== undefined) return { scope, point, is: 'is', value: { source: source.key } };
  const start: Readonly<Record<Askable['type'], PlainValue>> = { switch: true, number: 0, text: '' };
  const fits = asked.type === 'switch' ? false : typeof now === (type === 'number' ? 'number' : 'string');
  return { scope, point, is: 'is', value: fits && now !== undefined ? now : start[type] };
}

/** A point of a device, or a show value, out of all of them. */
export function AskablePicker({
  document,
  visible,
  onClose,
  onChoose,
}: {
  readonly document: ShowDocument;
  readonly visible: boolean;
  readonly onClose: () => void;
  readonly onChoose: (condition: SimpleCondition) => void;
}) {
  const live = useLive();
  const choices = useMemo(
    () => (visible ? askables(document).map((askable) => ({ ...askable, key: keyOf(askable) })) : []),
    [document, visible],
  );
  return (
    <Picker
      title="Which state?"
      memory="askables"
      visible={visible}
      onClose={onClose}
      choices={choices}
      onChoose={(asked) => {
        const [first] = asked.scope === 'chosen' ? (fieldOfChoice(document, asked.key)?.things ?? []) : [];
        onChoose(
          first === undefined
            ? firstCondition(asked, live.point(asked.key), document.sources)
            : { scope: asked.scope, point: asked.point, is: 'is', value: choiceOf(asked.key, first.key) },
        );
      }}
    />
  );
}

/** A condition from lists: device, point, is, value. What says more than that stands as text, for those who write it. */
export function ConditionForm({
  document,
  cel,
  onChange,
}: {
  readonly document: ShowDocument;
  readonly cel: string;
  readonly onChange: (cel: string) => void;
}) {
  const [picking, setPicking] = useState(false);
  const [asText, setAsText] = useState(false);
  const condition = useMemo(() => conditionOf(cel, document), [cel, document]);
  const asked =
    condition === null ? undefined : askables(document).find((askable) => keyOf(askable) === keyOf(condition));
  const change = (next: SimpleCondition): void => onChange(celOf(next));
  return (
    <View style={styles.form}>
      {condition === null || asked === undefined ? (
        <Text style={styles.hint}>
          {cel === NO_CONDITION
            ? 'No condition yet: it always holds.'
            : 'This condition says more than the lists can show.'}
        </Text>
      ) : (
        <>
          <ChooseLine
            title={asked.group}
            value={asked.words}
            label={`State: ${asked.group}, ${asked.words}. Choose another.`}
            onPress={() => setPicking(true)}
          />
          <Content document={document} asked={asked} condition={condition} onChange={change} />
        </>
      )}
      <View style={styles.row}>
        {condition === null ? (
          <Button compact mode="outlined" onPress={() => setPicking(true)}>
            {cel === NO_CONDITION ? 'Choose a condition' : 'From the lists'}
          </Button>
        ) : null}
        <Button compact onPress={() => setAsText(!asText)}>
          {asText ? 'Hide the text' : 'As text (CEL)'}
        </Button>
      </View>
      {asText || (condition === null && cel !== NO_CONDITION) ? (
        <TextField
          label="Condition (CEL)"
          value={cel}
          longest={2000}
          fault={(text) => (text.trim() === '' ? 'Give a condition.' : null)}
          onChange={onChange}
        />
      ) : null}
      <AskablePicker document={document} visible={picking} onClose={() => setPicking(false)} onChoose={change} />
    </View>
  );
}

const COMPARISONS: readonly { readonly value: Comparison; readonly label: string }[] = [
  { value: 'is', label: 'is' },
  { value: 'isNot', label: 'is not' },
  { value: 'over', label: 'over' },
  { value: 'under', label: 'under' },
];

const TIMES: readonly { readonly value: Comparison; readonly label: string }[] = [
  { value: 'reaches', label: 'reaches' },
  { value: 'under', label: 'is before' },
];

const ENTRY: readonly { readonly value: Comparison; readonly label: string }[] = [
  { value: 'has', label: 'has' },
  { value: 'hasNot', label: 'does not have' },
];

/** What the point is compared with, as its type wants it. */
function Content({
  document,
  asked,
  condition,
  onChange,
}: {
  readonly document: ShowDocument;
  readonly asked: Askable;
  readonly condition: SimpleCondition;
  readonly onChange: (condition: SimpleCondition) => void;
}) {
  const { value, is } = condition;
  if (asked.type === 'switch')
    return (
      <Segments
        value={value === false ? 'off' : 'on'}
        onChange={(to) => onChange({ ...condition, is: 'is', value: to === 'on' })}
        options={[
          { value: 'on', label: 'is so' },
          { value: 'off', label: 'is not so' },
        ]}
      />
    );
  if (asked.timecode) return <Timecode document={document} condition={condition} onChange={onChange} />;
  const choice = asked.scope === 'chosen' ? fieldOfChoice(document, `chosen.${asked.point}`) : null;
  const counts = asked.type === 'number' && !asked.input && choice === null;
  const field: Field =
    choice !== null
      ? choice
      : asked.input
        ? { ...textField('value', 'Source', ''), reference: 'source' }
        : counts
          ? { ...textField('value', 'Value', 0), type: 'number', unit: asked.unit, min: null, max: null }
          : thingField(asked, document);
  const shown =
    typeof value === 'object'
      ? value.source
      : asked.input
        ? (document.sources.find(({ input }) => input === value)?.key ?? '')
        : value;
  return (
    <>
      <Segments
        value={is}
        onChange={(to) => onChange({ ...condition, is: to as Comparison })}
        options={asked.list ? ENTRY : counts ? COMPARISONS : COMPARISONS.slice(0, 2)}
      />
      <ParamField
        document={document}
        device=""
        field={field}
        value={choice === null ? shown : String(shown)}
        onChange={(to) => {
          if (to === undefined || typeof to === 'object') return;
          onChange({
            ...condition,
            value:
              choice !== null
                ? choiceOf(`chosen.${asked.point}`, String(to))
                : asked.input
                  ? { source: String(to) }
                  : to,
          });
        }}
      />
    </>
  );
}

/** A timecode that is reached, or not yet. */
function Timecode({
  document,
  condition,
  onChange,
}: {
  readonly document: ShowDocument;
  readonly condition: SimpleCondition;
  readonly onChange: (condition: SimpleCondition) => void;
}) {
  const { frameRate } = document.show;
  const { value, is } = condition;
  return (
    <>
      <Segments
        value={is === 'under' ? 'under' : 'reaches'}
        onChange={(to) => onChange({ ...condition, is: to as Comparison })}
        options={TIMES}
      />
      <TextField
        label="Timecode (hh:mm:ss:ff)"
        value={typeof value === 'number' ? timecodeText(value, frameRate) : ''}
        fault={(text) =>
          timecodeSeconds(text, frameRate) === null
            ? `Write it as ${timecodeText(TIMECODE_FIRST, frameRate)}; the show has ${frameRate} frames a second.`
            : null
        }
        onChange={(text) => onChange({ ...condition, value: timecodeSeconds(text, frameRate) ?? TIMECODE_FIRST })}
      />
    </>
  );
}

/** A text that stands for a thing of the show is chosen by its name. */
function thingField({ scope, point }: Askable, document: ShowDocument): Field {
  const plain = textField('value', 'Text', '');
  if (point === 'arrived') return { ...plain, things: document.positions.filter(({ camera }) => camera === scope) };
  const value = scope === 'value' ? document.values.find(({ key }) => key === point) : undefined;
  switch (value?.type) {
    case 'source':
      return { ...plain, things: document.sources };
    case 'role':
      return { ...plain, things: document.roles };
    case 'camera':
      return { ...plain, things: document.devices.filter((device) => isHead(device, document)) };
    case 'choice':
      return { ...plain, things: value.choices.map((key) => ({ key, name: key })) };
    default:
      return plain;
  }
}

const styles = StyleSheet.create({
  form: { gap: 8 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  hint: { fontFamily: font.regular, fontSize: 14, lineHeight: 19, color: colour.muted },
});
