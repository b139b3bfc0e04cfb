import { changed, made, removed } from '@umbek/core/changes';
import {
  celOf,
  circleWith,
  circleWords,
  conditionOf,
  inOrder,
  leavingWords,
  occasionChoices,
  nameAfter,
  occasionWords,
  orderBetween,
} from '@umbek/core/programming';
import type { Occasion, ShowDocument, Trigger } from '@umbek/core/show';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useDeferredValue, useMemo, useState } from 'react';
import { ScrollView, StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { ulid } from 'ulid';
import { ChooseLine } from '../../common/ChooseLine';
import { EditorHead } from '../../common/EditorHead';
import { Heading, NumberField, TextField } from '../../common/fields';
import { Picker } from '../../common/Picker';
import { Removal } from '../../common/Removal';
import { Segments } from '../../common/Segments';
import { useEditPart, useEdits } from '../../show/ShowContext';
import { useTrigger, useTriggerDeed } from '../../show/useTriggers';
import { colour, font } from '../../theme/tokens';
import { AskablePicker, ConditionForm } from '../ConditionForm';
import type { StepOwner } from '../owner';
import { StepList } from '../StepList';
import { RuleKeys } from './RuleKeys';
import { TriggerEvents } from './TriggerEvents';
import { clockWords, stateWords } from '../../show/triggerWords';
import { VoicesForm, VoicesSettings } from './VoicesForm';

const AGAIN: readonly { readonly value: Trigger['again']; readonly label: string }[] = [
  { value: 'startOver', label: 'Start over' },
  { value: 'ignore', label: 'Ignore it' },
  { value: 'runAfterwards', label: 'Run again afterwards' },
  { value: 'end', label: 'End it' },
];
const AT_START: readonly { readonly value: Trigger['atStart']; readonly label: string }[] = [
  { value: 'armed', label: 'Armed' },
  { value: 'disarmed', label: 'Disarmed' },
  { value: 'asLeft', label: 'As it was' },
];
const LONGEST_S = 86_400;

/** Everything about one trigger: what makes it fire, what it does, what it did. Changes are live at once. */
export function TriggerEditor({
  document,
  trigger,
  fresh,
  onClose,
  onOpen,
}: {
  readonly document: ShowDocument;
  readonly trigger: Trigger;
  /** It was made a moment ago: what it is to do is asked at once. */
  readonly fresh: boolean;
  readonly onClose: () => void;
  readonly onOpen: (id: string) => void;
}) {
  const edits = useEdits();
  const router = useRouter();
  const fault = useEditPart(({ faults }) => faults.get(trigger.id));
  const deed = useTriggerDeed();
  const now = useTrigger(trigger.id);
  const { tab = 'does' } = useLocalSearchParams<{ tab?: string }>();
  const owner: StepOwner = { entity: 'triggers', entry: trigger };
  // Of a thousand rules it takes a moment: what is typed goes before it.
  const later = useDeferredValue(document);
  const circle = useMemo(() => circleWith(trigger.id, later), [trigger.id, later]);
  const set = (field: keyof Trigger & string, to: unknown, what: string): void =>
    edits.edit(`${what} of ${trigger.name}`, [changed('triggers', trigger, field, to)]);
  const duplicate = (): void => {
    const copy: Trigger = {
      ...trigger,
      id: ulid(),
      name: `${trigger.name} copy`.slice(0, 120),
      order: orderBetween(inOrder(document.triggers).at(-1)?.order ?? null, null),
    };
    edits.edit(`Duplicate trigger ${trigger.name}`, [made('triggers', copy)]);
    onOpen(copy.id);
  };
  return (
    <View style={styles.all}>
      <View style={styles.top}>
        <EditorHead title={trigger.name} onClose={onClose} />
        <View style={styles.row}>
          <Text style={styles.state} role="status">
            {now === undefined
              ? ''
              : `${sentenceCase(stateWords(now))}${now.lastWords === '' ? '' : ` · ${now.lastFired === undefined ? '' : `${clockWords(now.lastFired)} · `}${now.lastWords}`}`}
          </Text>
          {now === undefined ? null : (
            <Button
              mode={now.armed ? 'outlined' : 'contained'}
              onPress={() => deed.mutate({ path: `${trigger.id}/arm`, body: { armed: !now.armed } })}
            >
              {now.armed ? 'Disarm' : 'Arm'}
            </Button>
          )}
        </View>
        {now !== undefined && now.armed && now.leaving.length > 0 ? (
          <Text style={styles.hint}>{`Disarming it now sends: ${now.leaving.join(', ')}.`}</Text>
        ) : null}
        {now?.kind === 'follow' && !now.armed ? (
          <Text style={styles.hint}>Once it is armed, it takes these shots by itself.</Text>
        ) : null}
        {circle === null ? null : (
          <Text style={styles.fault} role="alert">
            {`${circleWords(circle, document)} It is stopped when it comes round within 2 s.`}
          </Text>
        )}
        {fault === undefined ? null : (
          <Text style={styles.fault} role="alert">
            {`It does not fire. ${fault}`}
          </Text>
        )}
        <Segments
          value={tab}
          onChange={(to) => router.setParams({ tab: to } as never)}
          options={[
            { value: 'does', label: 'Does' },
            { value: 'settings', label: 'Settings' },
            { value: 'events', label: 'What it did' },
          ]}
        />
      </View>
      <ScrollView contentContainerStyle={styles.body}>
        {tab === 'does' ? (
          <>
            <OccasionForm
              document={document}
              trigger={trigger}
              onChange={(kind, on) => {
                const name = nameAfter(trigger, { kind, on }, document);
                edits.edit(`What makes ${trigger.name} fire`, [
                  ...(kind === trigger.kind ? [] : [changed('triggers', trigger, 'kind', kind)]),
                  changed('triggers', trigger, 'on', on),
                  ...(name === trigger.name ? [] : [changed('triggers', trigger, 'name', name)]),
                ]);
              }}
            />
            {trigger.on.kind === 'voices' ? (
              <VoicesForm
                document={document}
                voices={trigger.on}
                onChange={(on) => set('on', on, 'Microphones and shots')}
              />
            ) : (
              <StepList
                document={document}
                owner={owner}
                list="steps"
                title={trigger.kind === 'while' ? 'Keep this so' : 'Do this'}
                fresh={fresh}
              />
            )}
            {trigger.kind === 'while' && trigger.steps.length > 0 ? (
              <View style={styles.leaving}>
                <Heading words="Afterwards" />
                {trigger.steps.map((step) => {
                  const words = leavingWords(step, document);
                  return words === null ? null : (
                    <Text key={step.id} style={styles.hint}>
                      {words}
                    </Text>
                  );
                })}
                <Text style={styles.hint}>
                  It comes from the steps. Where another rule holds the same place, that one is shown again. What a
                  person changed meanwhile stays.
                </Text>
              </View>
            ) : null}
          </>
        ) : null}
        {tab === 'settings' ? (
          <>
            <TextField
              label="Name"
              value={trigger.name}
              longest={120}
              fault={(text) => (text.trim() === '' ? 'Give the trigger a name.' : null)}
              onChange={(name) => set('name', name, 'Name')}
              testID="trigger-name"
            />
            <TextField
              label="Group"
              value={trigger.group}
              longest={60}
              onChange={(group) => set('group', group.trim(), 'Group')}
            />
            <Heading words="When the show is opened, imported or begins" />
            <Segments
              value={trigger.atStart}
              onChange={(to) => set('atStart', to, 'Armed at the start')}
              options={AT_START}
            />
            {trigger.on.kind === 'voices' ? (
              <VoicesSettings voices={trigger.on} onChange={(on) => set('on', on, 'Times and levels')} />
            ) : null}
            {trigger.kind === 'when' ? (
              <>
                <OnlyIf document={document} trigger={trigger} onChange={(to) => set('onlyIf', to, 'Only if')} />
                <NumberField
                  label="Delay (s)"
                  value={trigger.delayMs / 1000}
                  min={0}
                  max={LONGEST_S}
                  onChange={(to) => set('delayMs', Math.round(to * 1000), 'Delay')}
                />
                <NumberField
                  label="Shortest time before it fires again (s)"
                  value={trigger.minGapMs / 1000}
                  min={0}
                  max={LONGEST_S}
                  onChange={(to) => set('minGapMs', Math.round(to * 1000), 'Shortest time')}
                />
                <Heading words="When it happens again while its steps still run" />
                <Segments
                  value={trigger.again}
                  onChange={(to) => set('again', to, 'Second event')}
                  options={AGAIN}
                  most={3}
                />
              </>
            ) : null}
            <RuleKeys document={document} trigger={trigger} />
            <Heading words="Copy" />
            <Button mode="outlined" icon="content-copy" style={styles.left} onPress={duplicate}>
              Duplicate
            </Button>
            <Removal
              what={`trigger ${trigger.name}`}
              words={
                now !== undefined && now.leaving.length > 0
                  ? `It holds something now. Deleting it sends: ${now.leaving.join(', ')}. Undo brings the trigger back.`
                  : 'Undo brings it back.'
              }
              onRemove={() => {
                edits.edit(`Delete trigger ${trigger.name}`, [removed('triggers', trigger)]);
                onClose();
              }}
            />
          </>
        ) : null}
        {tab === 'events' ? <TriggerEvents trigger={trigger} reply={now} /> : null}
      </ScrollView>
    </View>
  );
}

const sentenceCase = (words: string): string => `${words.charAt(0).toUpperCase()}${words.slice(1)}`;

/** What makes it fire, from lists. */
function OccasionForm({
  document,
  trigger,
  onChange,
}: {
  readonly document: ShowDocument;
  readonly trigger: Trigger;
  readonly onChange: (kind: Trigger['kind'], on: Occasion) => void;
}) {
  const { kind, on } = trigger;
  const [picking, setPicking] = useState(false);
  const choices = useMemo(() => (picking ? occasionChoices(document) : []), [document, picking]);
  const condition = on.kind === 'turns' ? on.condition : on.kind === 'changes' ? on.of : '';
  // A condition that only a choice knows has no form of its own.
  const formed = useMemo(
    () =>
      condition !== '' &&
      (!/^(onAir|onPreview|armed|holds)\("\w+"\)$/.test(condition) || conditionOf(condition, document) !== null),
    [condition, document],
  );
  return (
    <>
      <ChooseLine
        title="Begins"
        value={occasionWords(trigger, document)}
        label={`Begins: ${occasionWords(trigger, document)}. Choose another.`}
        onPress={() => setPicking(true)}
      />
      {on.kind === 'voices' ? null : on.kind === 'time' ? (
        <TimeForm document={document} on={on} onChange={(next) => onChange(kind, next)} />
      ) : (
        <Segments
          value={kind === 'while' ? 'while' : on.kind === 'changes' ? 'changes' : on.to ? 'comes' : 'goes'}
          onChange={(to) =>
            onChange(
              to === 'while' ? 'while' : 'when',
              to === 'changes' ? { kind: 'changes', of: condition } : { kind: 'turns', condition, to: to !== 'goes' },
            )
          }
          options={[
            { value: 'while', label: 'While it is so' },
            { value: 'comes', label: 'When it comes true' },
            { value: 'goes', label: 'When it ends' },
            { value: 'changes', label: 'When it changes' },
          ]}
          most={2}
        />
      )}
      {formed ? (
        <ConditionForm
          document={document}
          cel={condition}
          onChange={(text) =>
            onChange(kind, on.kind === 'turns' ? { ...on, condition: text } : { kind: 'changes', of: text })
          }
        />
      ) : null}
      <Picker
        title="What makes it happen?"
        memory="occasions"
        visible={picking}
        choices={choices}
        onChoose={(choice) => onChange(choice.kind, choice.on)}
        onClose={() => setPicking(false)}
      />
    </>
  );
}

/** A time of day, every day or on one. */
function TimeForm({
  document,
  on,
  onChange,
}: {
  readonly document: ShowDocument;
  readonly on: Extract<Occasion, { kind: 'time' }>;
  readonly onChange: (on: Occasion) => void;
}) {
  return (
    <>
      <TextField
        label="Time of day (hh:mm:ss)"
        value={on.at}
        longest={8}
        fault={(text) => (/^([01]\d|2[0-3]):[0-5]\d:[0-5]\d$/.test(text) ? null : 'Write it as 20:15:00.')}
        onChange={(at) => onChange({ ...on, at })}
      />
      <TextField
        label="Only on this day (yyyy-mm-dd), empty for every day"
        value={on.date}
        longest={10}
        fault={(text) => (/^(\d{4}-\d{2}-\d{2})?$/.test(text) ? null : 'Write it as 2026-08-12, or leave it empty.')}
        onChange={(date) => onChange({ ...on, date })}
      />
      <Text style={styles.hint}>
        {document.show.timeZone === ''
          ? "By the clock of the engine's machine. Rig, Show sets a time zone."
          : `In the time zone ${document.show.timeZone}.`}
      </Text>
    </>
  );
}

/** A condition that has to hold at the event as well. */
function OnlyIf({
  document,
  trigger: { onlyIf },
  onChange,
}: {
  readonly document: ShowDocument;
  readonly trigger: Trigger;
  readonly onChange: (onlyIf: string) => void;
}) {
  const [asking, setAsking] = useState(false);
  return (
    <View style={styles.leaving}>
      <Heading words="Only if" />
      {onlyIf === '' ? (
        <Button mode="outlined" style={styles.left} onPress={() => setAsking(true)}>
          Add a condition
        </Button>
      ) : (
        <>
          <ConditionForm document={document} cel={onlyIf} onChange={onChange} />
          <Button compact style={styles.left} onPress={() => onChange('')}>
            Remove the condition
          </Button>
        </>
      )}
      <AskablePicker
        document={document}
        visible={asking}
        onClose={() => setAsking(false)}
        onChoose={(condition) => onChange(celOf(condition))}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  all: { flex: 1 },
  top: { paddingHorizontal: 14, paddingTop: 8, gap: 10 },
  body: { padding: 14, gap: 10, paddingBottom: 48 },
  row: { flexDirection: 'row', alignItems: 'center', gap: 10 },
  state: { flex: 1, fontFamily: font.medium, fontSize: 15, lineHeight: 20, color: colour.text },
  hint: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
  fault: { fontFamily: font.medium, fontSize: 15, color: colour.warning },
  leaving: { gap: 6 },
  left: { alignSelf: 'flex-start' },
});
