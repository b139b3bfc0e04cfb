import { kindOf, ptzHead } from '@umbek/core/devices';
import { countedBy, countTo, sentenceOf, waitWords } from '@umbek/core/sentence';
import {
  type Field,
  fieldsOf,
  fixedParam,
  madeParam,
  paramNamed,
  textField,
  wordsOfKey,
} from '@umbek/core/programming';
import { childrenOf, type ShowDocument, type Step } from '@umbek/core/show';
import type { ReactNode } from 'react';
import { Pressable, StyleSheet, Text, View } from 'react-native';
import { Button, IconButton } from 'react-native-paper';
import { ulid } from 'ulid';
import { NumberField, TextField } from '../common/fields';
import { readIdentity } from '../live/identity';
import { usePressTarget } from '../live/usePressTarget';
import { useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { ParamField } from '../steps/ParamField';
import { type StepLists, type StepOwner, stepsOf } from './owner';
import { ConditionForm } from './ConditionForm';
import { RunParameters } from './RunParameters';
import { duplicated, moved } from './steps';
import { Segments } from '../common/Segments';
import { act } from '../live/deeds';
import { replyWords } from '../show/replyWords';

interface StepRowProps {
  readonly document: ShowDocument;
  readonly owner: StepOwner;
  readonly list: StepLists;
  readonly step: Step;
  readonly index: number;
  readonly steps: readonly Step[];
  readonly time: { readonly start: number; readonly end: number } | null;
  readonly open: boolean;
  readonly onOpen: () => void;
  readonly onChange: (steps: readonly Step[], what: string) => void;
}

const seconds = (ms: number): string => `${(ms / 1000).toFixed(ms >= 9950 ? 1 : 2)} s`;

/** One step as a sentence; opened, it shows its parameters, what its failure does, and its place. */
export function StepRow({ document, owner, list, step, index, steps, time, open, onOpen, onChange }: StepRowProps) {
  const edits = useEdits();
  // How long a wait may take stands below it.
  const words = step.kind === 'wait' ? waitWords(step.until, document) : sentenceOf(step, document);
  const waits = step.kind === 'wait' || step.kind === 'pause';
  const put = (next: Step): void =>
    onChange(
      steps.map((one) => (one.id === step.id ? next : one)),
      `Step ${index + 1}`,
    );
  const tryIt = async (onward: boolean): Promise<void> => {
    const { station, person } = readIdentity();
    try {
      const response = await act('/api/try', {
        pressId: ulid(),
        buttonId: owner.entry.id,
        stepId: step.id,
        onward,
        station,
        person,
      });
      const reply = (await response.json()) as { message?: string; mend?: string };
      if (!response.ok) edits.tell(replyWords(reply), true);
      else edits.tell(onward ? `Runs from step ${index + 1}` : `Sent: ${words}`, false);
    } catch (error) {
      edits.tell(error instanceof Error ? error.message : 'It failed.', true);
    }
  };
  return (
    <View style={[styles.box, waits && styles.waits]} testID={`step-${index + 1}`}>
      <Pressable
        role="button"
        aria-expanded={open}
        accessibilityLabel={`Step ${index + 1}: ${words}`}
        onPress={onOpen}
        style={styles.line}
      >
        <Text style={styles.number}>{index + 1}</Text>
        <View style={styles.fill}>
          <Text style={styles.words}>{words}</Text>
          {step.onFail === 'goOn' ? (
            <Text style={styles.small}>continues if it fails</Text>
          ) : step.kind === 'wait' ? (
            <Text style={styles.small}>times out after {seconds(step.timeoutMs)}, then stops</Text>
          ) : null}
        </View>
        <Text style={styles.time}>
          {time === null ? '' : waits ? `about ${seconds(time.end)}` : seconds(time.start)}
        </Text>
      </Pressable>
      {open ? (
        <View style={styles.body}>
          <Parameters document={document} owner={owner} list={list} step={step} onChange={put} />
          <Segments
            value={step.onFail}
            onChange={(onFail) => put({ ...step, onFail: onFail === 'goOn' ? 'goOn' : 'stop' })}
            options={[
              { value: 'stop', label: 'Stop if it fails' },
              { value: 'goOn', label: 'Continue' },
            ]}
          />
          <View style={styles.tools}>
            <IconButton
              icon="arrow-up"
              accessibilityLabel={`Step ${index + 1} earlier`}
              disabled={index === 0}
              onPress={() => onChange(moved(steps, index, -1), `Move step ${index + 1}`)}
            />
            <IconButton
              icon="arrow-down"
              accessibilityLabel={`Step ${index + 1} later`}
              disabled={index === steps.length - 1}
              onPress={() => onChange(moved(steps, index, 1), `Move step ${index + 1}`)}
            />
            <IconButton
              icon="content-copy"
              accessibilityLabel={`Duplicate step ${index + 1}`}
              onPress={() => onChange(duplicated(steps, index, stepsOf(owner)), `Duplicate step ${index + 1}`)}
            />
            <IconButton
              icon="delete"
              accessibilityLabel={`Remove step ${index + 1}`}
              onPress={() =>
                onChange(
                  steps.filter((one) => one.id !== step.id),
                  `Remove step ${index + 1}`,
                )
              }
            />
            <View style={styles.fill} />
            {index < steps.length - 1 ? (
              <Button compact onPress={() => void tryIt(true)} accessibilityLabel={`Run from step ${index + 1}`}>
                Run from here
              </Button>
            ) : null}
            {movesUntilStopped(step, document) ? (
              <HeldStep buttonId={owner.entry.id} stepId={step.id} label={`Hold to try step ${index + 1} alone`} />
            ) : (
              <Button compact onPress={() => void tryIt(false)} accessibilityLabel={`Try step ${index + 1} alone`}>
                Run this step
              </Button>
            )}
          </View>
        </View>
      ) : null}
    </View>
  );
}

/** A step that moves for as long as it is held: alone too, it moves no longer than the finger stays. */
const movesUntilStopped = (step: Step, document: ShowDocument): boolean =>
  step.kind === 'command' &&
  step.params.forSeconds === undefined &&
  (step.device.startsWith('chosen.')
    ? ptzHead
    : kindOf(
        document.devices.find((device) => device.key === step.device),
        document,
      )
  )?.commands[step.command]?.endedBy !== undefined;

function HeldStep({
  buttonId,
  stepId,
  label,
}: {
  readonly buttonId: string;
  readonly stepId: string;
  readonly label: string;
}) {
  const ref = usePressTarget((live) => live.downStep(buttonId, stepId));
  return (
    <View ref={ref} role="button" tabIndex={0} accessibilityLabel={label} style={styles.held}>
      <Text style={styles.heldWord}>Hold to try</Text>
    </View>
  );
}

/** The parameters of a step, each with its unit and bounds. */
function Parameters({
  document,
  owner,
  list,
  step,
  onChange,
}: {
  readonly document: ShowDocument;
  readonly owner: StepOwner;
  readonly list: StepLists;
  readonly step: Step;
  readonly onChange: (step: Step) => void;
}) {
  switch (step.kind) {
    case 'command': {
      const device = document.devices.find((one) => one.key === step.device);
      const definition = kindOf(device ?? { kind: 'ptzHead', settings: {} }, document)?.commands[step.command];
      if (!definition)
        return <Text style={styles.small}>Its device is gone. Remove this step, or add the device again.</Text>;
      const fields = fieldsOf(definition);
      return (
        <View style={styles.params}>
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
    case 'together':
    case 'if':
    case 'repeat':
      return (
        <View style={styles.params}>
          {childrenOf(step).map((inner, at) => (
            <View key={at} style={styles.inner}>
              {at === 1 && inner.length > 0 ? <Text style={styles.small}>Otherwise</Text> : null}
              {inner.map((one) => (
                <Text key={one.id} style={styles.innerWords}>
                  {sentenceOf(one, document)}
                </Text>
              ))}
            </View>
          ))}
          <Text style={styles.small}>
            {step.kind === 'together'
              ? 'These start in the same instant.'
              : 'Its steps can be read, moved and removed here.'}
          </Text>
        </View>
      );
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
    case 'press':
    case 'ask':
    case 'note':
      return <Text style={styles.small}>This step can be read, moved and removed here.</Text>;
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
      <View style={styles.given}>
        <Text
          style={[styles.fill, styles.givenWords]}
        >{`${field.title}: the ${wordsOfKey(named).toLowerCase()} given`}</Text>
        <Button
          compact
          onPress={() =>
            edits.edit(`${field.title} set in ${owner.entry.name}`, fixedParam(owner.entry, list, step, field.key))
          }
        >
          Set it here
        </Button>
      </View>
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
  given: {
    flexDirection: 'row',
    alignItems: 'center',
    minHeight: 46,
    gap: 8,
    paddingLeft: 12,
    borderWidth: 1,
    borderColor: colour.hairline,
    borderRadius: 5,
  },
  givenWords: { fontFamily: font.semibold, fontSize: 16, color: colour.text },
  left: { alignSelf: 'flex-start' },
  inner: { gap: 4, paddingLeft: 10, borderLeftWidth: 2, borderLeftColor: colour.hairline },
  innerWords: { fontFamily: font.regular, fontSize: 15, color: colour.text },
  held: {
    minHeight: 44,
    paddingHorizontal: 14,
    borderRadius: 6,
    backgroundColor: colour.cap,
    alignItems: 'center',
    justifyContent: 'center',
    cursor: 'pointer',
    userSelect: 'none',
    touchAction: 'none',
  } as object,
  heldWord: { fontFamily: font.semibold, fontSize: 15, color: colour.legend },
  box: { backgroundColor: colour.raised, borderRadius: 6, overflow: 'hidden' },
  waits: { boxShadow: `inset 3px 0 0 ${colour.warning}` },
  line: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 12,
    minHeight: 50,
    paddingHorizontal: 14,
    paddingVertical: 8,
  },
  number: { fontFamily: font.medium, fontSize: 16, color: colour.muted, minWidth: 18, fontVariant: ['tabular-nums'] },
  fill: { flex: 1 },
  words: { fontFamily: font.medium, fontSize: 17, lineHeight: 21, color: colour.text },
  small: { fontFamily: font.regular, fontSize: 14, color: colour.muted },
  time: { fontFamily: font.semibold, fontSize: 15, color: colour.muted, fontVariant: ['tabular-nums'] },
  body: { paddingHorizontal: 14, paddingBottom: 10, gap: 10 },
  params: { gap: 10 },
  tools: {
    flexDirection: 'row',
    flexWrap: 'wrap',
    alignItems: 'center',
    justifyContent: 'flex-end',
    marginHorizontal: -8,
  },
});
