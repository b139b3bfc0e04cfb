import { kindOf } from '@umbek/core/devices';
import {
  choiceOf,
  type Field,
  fieldOfChoice,
  fieldsOf,
  fixedParam,
  madeParam,
  paramNamed,
  textField,
  wordsOfKey,
} from '@umbek/core/programming';
import { countedBy, countTo } from '@umbek/core/sentence';
import type { ShowDocument, Step } from '@umbek/core/show';
import type { ReactNode } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { NumberField, TextField } from '../../common/fields';
import { Segments } from '../../common/Segments';
import { useEdits } from '../../show/ShowContext';
import { ParamField } from '../../steps/ParamField';
import { colour, font } from '../../theme/tokens';
import { ConditionForm } from '../ConditionForm';
import type { StepFieldProps, StepLists, StepOwner } from '../owner';
import { RunParameters } from '../RunParameters';
import { BlockFields } from './BlockFields';
import { DeviceField } from './DeviceField';
import { GivenBox } from './GivenBox';

/** The parameters of a step, each with its unit and bounds. */
export function StepFields({ document, owner, list, step, onChange }: StepFieldProps) {
  switch (step.kind) {
    case 'command': {
      const device = document.devices.find((candidate) => candidate.key === step.device);
      const definition = kindOf(device ?? { kind: 'ptzHead', settings: {} }, document)?.commands[step.command];
      if (!definition)
        return <Text style={styles.small}>Its device is gone. Remove this step, or add the device again.</Text>;
      const fields = fieldsOf(definition);
      return (
        <View style={styles.params}>
          <DeviceField document={document} owner={owner} list={list} step={step} onChange={onChange} />
          {fields.map((field) => (
            <GivenField key={field.key} owner={owner} list={list} step={step} field={field}>
              <ParamField
                document={document}
                device={step.device}
                field={field}
                value={step.params[field.key]}
                fromValues
                onChange={(value) => {
                  const { [field.key]: _gone, ...rest } = step.params;
                  onChange({ ...step, params: value === undefined ? rest : { ...rest, [field.key]: value } });
                }}
              />
            </GivenField>
          ))}
        </View>
      );
    }
    case 'pause':
      return 'ms' in step.length ? (
        <NumberField
          label="Length"
          unit="s"
          step={0.1}
          min={0}
          max={86_400}
          value={step.length.ms / 1000}
          onChange={(value) => onChange({ ...step, length: { ms: Math.round(value * 1000) } })}
        />
      ) : (
        <NumberField
          label="Length"
          unit="f"
          step={1}
          min={0}
          max={5_184_000}
          whole
          value={step.length.frames}
          onChange={(frames) => onChange({ ...step, length: { frames } })}
        />
      );
    case 'wait':
      return (
        <View style={styles.params}>
          <NumberField
            label="Time out after"
            unit="s"
            step={0.5}
            min={0.1}
            max={86_400}
            value={step.timeoutMs / 1000}
            onChange={(value) => onChange({ ...step, timeoutMs: Math.round(value * 1000) })}
          />
          <ConditionForm document={document} cel={step.until} onChange={(until) => onChange({ ...step, until })} />
        </View>
      );
    case 'set': {
      if (step.by !== undefined) return <Text style={styles.small}>It goes through the people list in its order.</Text>;
      const by = countedBy(step.target, step.to);
      if (by !== null)
        return (
          <NumberField
            label="Up by (with a minus: down)"
            value={by}
            onChange={(next) => onChange({ ...step, to: countTo(step.target, next) })}
          />
        );
      const choice = typeof step.to === 'object' ? null : fieldOfChoice(document, step.target);
      if (choice !== null)
        return (
          <ParamField
            document={document}
            device=""
            field={choice}
            value={String(step.to)}
            onChange={(to) => onChange({ ...step, to: choiceOf(step.target, String(to)) })}
          />
        );
      const value = typeof step.to === 'object' ? step.to.cel : step.to;
      return (
        <TextField
          label={typeof step.to === 'object' ? 'To (CEL)' : 'To'}
          value={String(value)}
          onChange={(text) => {
            const to =
              typeof step.to === 'object'
                ? { cel: text }
                : typeof step.to === 'number' && Number.isFinite(Number(text))
                  ? Number(text)
                  : typeof step.to === 'boolean'
                    ? text === 'true'
                    : text;
            onChange({ ...step, to });
          }}
        />
      );
    }
    case 'run':
      return <RunParameters document={document} step={step} onChange={onChange} />;
    case 'show':
      return <ShowFields document={document} step={step} onChange={onChange} />;
    case 'trigger':
      return (
        <Segments
          value={step.does}
          onChange={(does) => onChange({ ...step, does: does as typeof step.does })}
          options={[
            { value: 'arm', label: 'Arm' },
            { value: 'disarm', label: 'Disarm' },
            { value: 'fire', label: 'Fire' },
          ]}
        />
      );
    default:
      return <BlockFields document={document} owner={owner} step={step} onChange={onChange} />;
  }
}

/** Which panel is shown, and which of its pages. */
function ShowFields({
  document,
  step,
  onChange,
}: {
  readonly document: ShowDocument;
  readonly step: Extract<Step, { kind: 'show' }>;
  readonly onChange: (step: Step) => void;
}) {
  const panel = document.panels.find(({ id }) => id === step.panel);
  const field = (key: string, title: string, things: Field['things']): Field => ({
    ...textField(key, title, ''),
    ...(things === undefined ? {} : { things }),
  });
  return (
    <View style={styles.params}>
      <ParamField
        document={document}
        device=""
        field={field(
          'panel',
          'Panel',
          document.panels.map(({ id, name }) => ({ key: id, name })),
        )}
        value={step.panel}
        onChange={(to) => onChange({ ...step, panel: String(to), page: '' })}
      />
      {panel === undefined || panel.pages.length === 0 ? null : (
        <ParamField
          document={document}
          device=""
          field={field('page', 'Page', [
            { key: '', name: 'The one shown last' },
            ...panel.pages.map(({ id, name }) => ({ key: id, name })),
          ])}
          value={step.page}
          onChange={(to) => onChange({ ...step, page: String(to) })}
        />
      )}
    </View>
  );
}

/** A parameter of a macro in place of what a step gives, or what stands there: in a macro a touch makes the one of the other. */
function GivenField({
  owner,
  list,
  step,
  field,
  children,
}: {
  readonly owner: StepOwner;
  readonly list: StepLists;
  readonly step: Extract<Step, { kind: 'command' }>;
  readonly field: Field;
  readonly children: ReactNode;
}) {
  const edits = useEdits();
  if (owner.entity !== 'macros' || (list !== 'steps' && list !== 'stopSteps')) return children;
  const value = step.params[field.key];
  const named = typeof value === 'object' ? paramNamed(value.cel) : null;
  if (named !== null)
    return (
      <GivenBox
        title={field.title}
        given={wordsOfKey(named)}
        onFixed={() =>
          edits.edit(`${field.title} set in ${owner.entry.name}`, fixedParam(owner.entry, list, step, field.key))
        }
      />
    );
  return (
    <View style={styles.params}>
      {children}
      {value === undefined || typeof value === 'object' ? null : (
        <Button
          compact
          style={styles.left}
          accessibilityLabel={`Make ${field.title} a parameter`}
          onPress={() =>
            edits.edit(
              `${field.title} a parameter of ${owner.entry.name}`,
              madeParam(owner.entry, list, step, field.key),
            )
          }
        >
          Each button gives its own
        </Button>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  left: { alignSelf: 'flex-start' },
  small: { fontFamily: font.regular, fontSize: 14, color: colour.muted },
  params: { gap: 10 },
});
