import { changed, made, removed } from '@umbek/core/changes';
import { fieldOfParam, nextNumber, readsParam, usesOf } from '@umbek/core/programming';
import type { Macro, ShowDocument } from '@umbek/core/show';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useMemo, useState } from 'react';
import { Linking, ScrollView, StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { ulid } from 'ulid';
import { Chip } from '../common/Chip';
import { EditorHead } from '../common/EditorHead';
import { Heading, NumberField, TextField } from '../common/fields';
import { Removal } from '../common/Removal';
import { Segments } from '../common/Segments';
import { PlaceLink } from '../show/PlaceLink';
import { useEditPart, useEdits } from '../show/ShowContext';
import { ParamField } from '../steps/ParamField';
import { colour, font } from '../theme/tokens';
import { BackAsBefore } from './BackAsBefore';
import { KeysOf } from './KeysOf';
import type { StepOwner } from './owner';
import { StepList } from './StepList';
import { RehearsalView } from './stepList/RehearsalView';
import { TryCap } from './TryCap';

/** Highest number that a macro can have. */
const MOST_NUMBER = 99_999;
/** Places that run a macro, as many as are listed. */
const MOST_LISTED = 200;

const AGAIN: readonly { readonly value: Macro['again']; readonly label: string }[] = [
  { value: 'startOver', label: 'Start over' },
  { value: 'ignore', label: 'Ignore the second press' },
  { value: 'runAfterwards', label: 'Run again afterwards' },
  { value: 'end', label: 'End it' },
];

/** Everything about one macro: what it does, what it is given, who runs it. Changes are live at once. */
export function MacroEditor({
  document,
  macro,
  fresh,
  onClose,
  onOpen,
}: {
  readonly document: ShowDocument;
  readonly macro: Macro;
  /** It was made a moment ago: what it is to do is asked at once. */
  readonly fresh: boolean;
  readonly onClose: () => void;
  readonly onOpen: (id: string) => void;
}) {
  const edits = useEdits();
  const fault = useEditPart(({ faults }) => faults.get(macro.id));
  const router = useRouter();
  const { tab = 'does' } = useLocalSearchParams<{ tab?: string }>();
  // Whoever has looked at another part of it is not asked again.
  const [shown, setSeen] = useState(false);
  const owner: StepOwner = { entity: 'macros', entry: macro };
  const uses = useMemo(() => usesOf(document, { kind: 'macro', key: macro.id }), [document, macro.id]);
  const tried = useMemo(
    () => ({
      id: macro.id,
      mode: 'press' as const,
      steps: [{ id: 'run', onFail: 'stop', kind: 'run', macro: macro.id, params: {} } as const],
    }),
    [macro.id],
  );
  const set = (field: keyof Macro & string, to: unknown, what: string): void =>
    edits.edit(`${what} of macro ${macro.number}`, [changed('macros', macro, field, to)]);
  const duplicate = (): void => {
    const copy: Macro = {
      ...macro,
      id: ulid(),
      number: nextNumber(document),
      name: `${macro.name} copy`.slice(0, 120),
    };
    edits.edit(`Duplicate macro ${macro.number}`, [made('macros', copy)]);
    onOpen(copy.id);
  };
  return (
    <View style={styles.all}>
      <View style={styles.top}>
        <EditorHead title={`${macro.number} ${macro.name}`} onClose={onClose} />
        <TryCap button={tried} document={document} />
        {fault === undefined ? null : (
          <Text style={styles.fault} role="alert">
            {`Buttons that run it are refused. ${fault}`}
          </Text>
        )}
        <Segments
          value={tab}
          onChange={(to) => {
            setSeen(true);
            router.setParams({ tab: to } as never);
          }}
          options={[
            { value: 'does', label: 'Does' },
            { value: 'times', label: 'Rehearsal' },
            { value: 'settings', label: 'Settings' },
            { value: 'uses', label: `Used by ${uses.length}`, accessibilityLabel: `Used by ${uses.length} places` },
          ]}
          most={3}
        />
      </View>
      <ScrollView contentContainerStyle={styles.body}>
        {tab === 'does' ? (
          <>
            <Parameters document={document} macro={macro} />
            <StepList document={document} owner={owner} list="steps" title="When run" fresh={fresh && !shown} />
            <BackAsBefore
              document={document}
              owner={owner}
              title="When stopped or failed"
              asBefore={macro.atStop === 'asBefore'}
              nothing="Whatever it does, the stop takes back."
              onAsBefore={() => set('atStop', 'asBefore', 'Stop')}
              onOwn={(derived) =>
                edits.edit(`Stop of macro ${macro.number}`, [
                  changed('macros', macro, 'atStop', 'steps'),
                  ...(macro.stopSteps.length === 0 ? [changed('macros', macro, 'stopSteps', derived)] : []),
                ])
              }
            >
              <StepList document={document} owner={owner} list="stopSteps" title="" fresh={false} />
            </BackAsBefore>
          </>
        ) : null}
        {tab === 'times' ? (
          macro.steps.length === 0 ? (
            <Text style={styles.hint}>Add steps first: then what they would do is seen here.</Text>
          ) : (
            <RehearsalView document={document} owner={owner} />
          )
        ) : null}
        {tab === 'settings' ? (
          <>
            <TextField
              label="Name"
              value={macro.name}
              longest={120}
              fault={(text) => (text.trim() === '' ? 'Give the macro a name.' : null)}
              onChange={(name) => set('name', name, 'Name')}
              testID="macro-name"
            />
            <NumberField
              label="Number"
              value={macro.number}
              min={1}
              max={MOST_NUMBER}
              whole
              onChange={(number) => {
                const other = document.macros.find(
                  (candidate) => candidate.number === number && candidate.id !== macro.id,
                );
                if (other) edits.tell(`${other.name} has number ${number}. Choose another one.`, true);
                else set('number', number, 'Number');
              }}
            />
            <TextField
              label="Folder"
              value={macro.folder}
              longest={60}
              onChange={(folder) => set('folder', folder.trim(), 'Folder')}
            />
            <Heading words="When it is run again while it runs" />
            <Segments
              value={macro.again}
              onChange={(to) => set('again', to, 'Second press')}
              options={AGAIN}
              most={3}
            />
            <Text style={styles.hint}>Run with other parameters it is another run, beside the first.</Text>
            <Heading words="Devices that only one run may hold" />
            <View style={styles.row}>
              {document.devices.map((device) => {
                const on = macro.owns.includes(device.key);
                return (
                  <Chip
                    key={device.id}
                    role="checkbox"
                    on={on}
                    words={device.name}
                    label={`${device.name} held by one run`}
                    onPress={() =>
                      set(
                        'owns',
                        on ? macro.owns.filter((key) => key !== device.key) : [...macro.owns, device.key],
                        'Held devices',
                      )
                    }
                  />
                );
              })}
            </View>
            <KeysOf document={document} runs={{ macro: macro.id }} name={`macro ${macro.number}`} />
            <Heading words="Copy" />
            <View style={styles.row}>
              <Button mode="outlined" icon="content-copy" onPress={duplicate}>
                Duplicate
              </Button>
              <Button
                mode="outlined"
                icon="download"
                onPress={() => void Linking.openURL(`/api/macros/file?ids=${macro.id}`)}
              >
                Save as a file
              </Button>
            </View>
            <Removal
              what={`macro ${macro.number}`}
              words={
                uses.length === 0
                  ? 'Nothing runs it. Undo brings it back.'
                  : `${uses.length === 1 ? 'One place runs' : `${uses.length} places run`} it and will be refused. Undo brings it back.`
              }
              onRemove={() => {
                edits.edit(`Remove macro ${macro.number} ${macro.name}`, [removed('macros', macro)]);
                onClose();
              }}
            />
          </>
        ) : null}
        {tab === 'uses' ? (
          <>
            {uses.length === 0 ? <Text style={styles.hint}>Nothing runs this macro yet.</Text> : null}
            {uses.slice(0, MOST_LISTED).map(({ at, where }) => (
              <PlaceLink key={`${at.entity}/${at.id}`} at={at} words={where} />
            ))}
            {uses.length > MOST_LISTED ? (
              <Text style={styles.hint}>{`and ${uses.length - MOST_LISTED} more`}</Text>
            ) : null}
          </>
        ) : null}
      </ScrollView>
    </View>
  );
}

/** What a macro is given, and what it begins with where nobody gives it. */
function Parameters({ document, macro }: { readonly document: ShowDocument; readonly macro: Macro }) {
  const edits = useEdits();
  if (macro.params.length === 0) return null;
  return (
    <View style={styles.params}>
      <Heading words="Given by what runs it" />
      {macro.params.map((param) => {
        const { field, device } = fieldOfParam(document, macro, param.key);
        return (
          <View key={param.key} style={styles.params}>
            <ParamField
              document={document}
              device={device}
              field={{ ...field, optional: false, title: `${field.title}, where none is given` }}
              value={param.start}
              onChange={(start) =>
                edits.edit(`${field.title} of macro ${macro.number}`, [
                  changed(
                    'macros',
                    macro,
                    'params',
                    macro.params.map((item) => (item === param ? { ...item, start: start ?? '' } : item)),
                  ),
                ])
              }
            />
            {readsParam(macro, param.key) ? null : (
              <View style={styles.unread}>
                <Text style={[styles.hint, styles.fill]}>No step reads it.</Text>
                <Button
                  compact
                  accessibilityLabel={`Remove ${field.title}`}
                  onPress={() =>
                    edits.edit(`Remove ${field.title} of macro ${macro.number}`, [
                      changed(
                        'macros',
                        macro,
                        'params',
                        macro.params.filter((candidate) => candidate !== param),
                      ),
                    ])
                  }
                >
                  Remove it
                </Button>
              </View>
            )}
          </View>
        );
      })}
    </View>
  );
}

const styles = StyleSheet.create({
  all: { flex: 1 },
  top: { paddingHorizontal: 14, paddingTop: 8, gap: 10 },
  body: { padding: 14, gap: 10, paddingBottom: 48 },
  hint: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
  fault: { fontFamily: font.medium, fontSize: 15, color: colour.warning },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  fill: { flex: 1 },
  params: { gap: 8 },
  unread: { flexDirection: 'row', alignItems: 'center' },
});
