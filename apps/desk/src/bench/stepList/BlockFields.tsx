import { keyFrom } from '@umbek/core/programming';
import { linesOf } from '@umbek/core/expression';
import type { Repetition, ShowDocument, Step } from '@umbek/core/show';
import { useMemo, useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Chip } from '../../common/Chip';
import { ChooseLine } from '../../common/ChooseLine';
import { Heading, NumberField, TextField } from '../../common/fields';
import { Picker } from '../../common/Picker';
import { Segments } from '../../common/Segments';
import { colour, font } from '../../theme/tokens';
import { ConditionForm } from '../ConditionForm';
import type { StepOwner } from '../owner';

interface FieldsProps<S extends Step = Step> {
  readonly document: ShowDocument;
  readonly step: S;
  readonly onChange: (step: Step) => void;
}

const MOST_TIMES = 10_000;
/** So many values a repeat goes through at the most. */
const MOST_EACH = 1000;

/** What stands in a step that others stand in, that asks, that notes, that presses a button, or that brings back what was there. */
export function BlockFields({
  document,
  owner,
  step,
  onChange,
}: FieldsProps & {
  readonly owner: StepOwner;
}) {
  switch (step.kind) {
    case 'group':
      return (
        <TextField
          label="Name of the group"
          value={step.name}
          longest={120}
          fault={(text) => (text.trim() === '' ? 'Give the group a name.' : null)}
          onChange={(name) => onChange({ ...step, name })}
        />
      );
    case 'together':
      return <Text style={styles.small}>These start in the same instant. The step is over with the last of them.</Text>;
    case 'if':
      return <ConditionForm document={document} cel={step.when} onChange={(when) => onChange({ ...step, when })} />;
    case 'repeat':
      return <RepeatFields document={document} step={step} onChange={onChange} />;
    case 'ask':
      return (
        <>
          <TextField
            label="Question"
            value={step.question}
            longest={200}
            fault={(text) => (text.trim() === '' ? 'Ask something.' : null)}
            onChange={(question) => onChange({ ...step, question })}
          />
          <NumberField
            label="Wait for an answer"
            unit="s"
            step={5}
            min={0.1}
            max={86_400}
            value={step.timeoutMs / 1000}
            onChange={(value) => onChange({ ...step, timeoutMs: Math.round(value * 1000) })}
          />
          <Segments
            value={step.onTimeout}
            onChange={(onTimeout) => onChange({ ...step, onTimeout: onTimeout === 'goOn' ? 'goOn' : 'stop' })}
            options={[
              { value: 'stop', label: 'No answer: stop' },
              { value: 'goOn', label: 'No answer: continue' },
            ]}
          />
        </>
      );
    case 'note':
      return (
        <TextField
          label="Note"
          value={step.text}
          longest={500}
          multiline
          onChange={(text) => onChange({ ...step, text })}
        />
      );
    case 'press':
      return <PressFields document={document} owner={owner} step={step} onChange={onChange} />;
    case 'restore':
      return <RestoreFields document={document} step={step} onChange={onChange} />;
    default:
      return null;
  }
}

function RepeatFields({ document, step, onChange }: FieldsProps<Extract<Step, { kind: 'repeat' }>>) {
  const { over } = step;
  const change = (next: Repetition): void => onChange({ ...step, over: next });
  const way = 'times' in over ? 'times' : 'while' in over ? 'while' : 'each';
  return (
    <>
      <Segments
        value={way}
        onChange={(to) => {
          if (to === way) return;
          change(to === 'times' ? { times: 2 } : to === 'while' ? { while: 'true' } : { each: [], as: 'item' });
        }}
        options={[
          { value: 'times', label: 'A number of times' },
          { value: 'while', label: 'While' },
          { value: 'each', label: 'For each' },
        ]}
      />
      {'times' in over ? (
        <NumberField
          label="Times"
          whole
          min={0}
          max={MOST_TIMES}
          value={over.times}
          onChange={(times) => change({ times })}
        />
      ) : 'while' in over ? (
        <>
          <ConditionForm document={document} cel={over.while} onChange={(to) => change({ while: to })} />
          <Text style={styles.small}>Asked before each round, at most once a frame.</Text>
        </>
      ) : (
        <>
          <TextField
            label="One a line"
            value={over.each.join('\n')}
            multiline
            fault={(text) => (linesOf(text).length > MOST_EACH ? `At most ${MOST_EACH} lines.` : null)}
            onChange={(text) => change({ each: linesOf(text).map(contentOf), as: over.as })}
          />
          <TextField
            label="Called in the steps"
            value={over.as}
            longest={40}
            fault={(text) => (text.trim() === '' ? 'Give it a name.' : null)}
            onChange={(name) => change({ each: over.each, as: keyFrom(name, new Set(), 'item') })}
          />
          <Text style={styles.small}>{`Steps inside read it as param.${over.as}.`}</Text>
        </>
      )}
    </>
  );
}

/** A number stays one, so that steps can count with it. */
const contentOf = (text: string): string | number =>
  text.trim() !== '' && Number.isFinite(Number(text)) && String(Number(text)) === text.trim() ? Number(text) : text;

function PressFields({
  document,
  owner,
  step,
  onChange,
}: FieldsProps<Extract<Step, { kind: 'press' }>> & { readonly owner: StepOwner }) {
  const [picking, setPicking] = useState(false);
  const button = document.buttons.find(({ id }) => id === step.button);
  const choices = useMemo(() => {
    if (!picking) return [];
    const strips = new Map(document.strips.map(({ id, name }) => [id, name]));
    return document.buttons
      .filter(({ id }) => id !== owner.entry.id)
      .map(({ id, legend, stripId }) => ({ key: id, group: strips.get(stripId) ?? '', words: legend }));
  }, [picking, document, owner.entry.id]);
  return (
    <>
      <ChooseLine
        title="Button"
        value={button?.legend ?? 'gone: choose another'}
        label={`Button: ${button?.legend ?? 'gone'}. Choose another.`}
        onPress={() => setPicking(true)}
      />
      {button?.mode === 'hold' ? (
        <NumberField
          label="Held for"
          unit="s"
          step={0.5}
          min={0}
          max={30}
          value={step.holdMs / 1000}
          onChange={(value) => onChange({ ...step, holdMs: Math.round(value * 1000) })}
        />
      ) : null}
      <Picker
        title="Which button?"
        memory="buttons"
        visible={picking}
        choices={choices}
        onChoose={({ key }) => onChange({ ...step, button: key })}
        onClose={() => setPicking(false)}
      />
    </>
  );
}

function RestoreFields({ document, step, onChange }: FieldsProps<Extract<Step, { kind: 'restore' }>>) {
  return (
    <>
      <Text style={styles.small}>
        What this list did so far goes back to what stood before it. What somebody else changed since stays as it is.
      </Text>
      <Heading words="Only on these devices" />
      <View style={styles.row}>
        {document.devices.map(({ id, key, name }) => {
          const on = step.devices.includes(key);
          return (
            <Chip
              key={id}
              role="checkbox"
              on={on}
              words={name}
              label={`Restore ${name}`}
              onPress={() =>
                onChange({
                  ...step,
                  devices: on ? step.devices.filter((device) => device !== key) : [...step.devices, key],
                })
              }
            />
          );
        })}
      </View>
      {step.devices.length === 0 ? <Text style={styles.small}>None chosen: all of them, and show values.</Text> : null}
    </>
  );
}

const styles = StyleSheet.create({
  small: { fontFamily: font.regular, fontSize: 14, lineHeight: 19, color: colour.muted },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
});
