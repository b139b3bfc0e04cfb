import { type CommandDefinition, kindOfProfile } from '@umbek/core/devices';
import type { Device, ProfileCommand, ProfileFile, ProfileParam, ShowDocument } from '@umbek/core/show';
import { StyleSheet, Text, View } from 'react-native';
import { Button, IconButton, Switch } from 'react-native-paper';
import { Heading, NumberField, TextField } from '../../common/fields';
import { Segments } from '../../common/Segments';
import { colour, font } from '../../theme/tokens';
import { SendNow } from '../CommandCatalogue';
import { keyFrom } from '@umbek/core/programming';
import { MessageForm } from './MessageForm';
import { partWords } from './PartOf';
import { messageOf, WRITTEN } from './profileDraft';

interface CommandFormProps {
  readonly document: ShowDocument;
  readonly profile: ProfileFile;
  readonly command: ProfileCommand;
  /** A device that follows the profile, to try the command on. */
  readonly device: Device | undefined;
  readonly onChange: (command: ProfileCommand) => void;
  readonly onRemove: () => void;
}

/** A command of a profile: its words, its parameters, what is sent for it, and "send now". */
export function CommandForm({ document, profile, command, device, onChange, onRemove }: CommandFormProps) {
  const { kind } = profile.transport;
  const definition: CommandDefinition | undefined = kindOfProfile(profile).commands[command.key];
  const ofPart = partWords(profile, command.key);
  const setParam = (at: number, param: ProfileParam): void =>
    onChange({ ...command, params: command.params.map((item, index) => (index === at ? param : item)) });
  return (
    <View style={styles.body}>
      <TextField
        label="Words"
        value={command.words}
        longest={120}
        fault={(text) => (text === '' ? 'Say what it does.' : null)}
        onChange={(words) => onChange({ ...command, words })}
      />
      <Heading words="Parameters" />
      {ofPart === null ? (
        <>
          {command.params.map((param, at) => (
            <ParamForm
              key={param.key}
              param={param}
              onChange={(next) => setParam(at, next)}
              onRemove={() => onChange({ ...command, params: command.params.filter((_, index) => index !== at) })}
            />
          ))}
          <AddParam
            taken={command.params}
            onAdd={(param) => onChange({ ...command, params: [...command.params, param] })}
          />
        </>
      ) : (
        <Text style={styles.hint}>{ofPart}</Text>
      )}
      <Heading words="What is sent" />
      {command.send.map((message, at) => (
        <MessageForm
          key={at}
          label={command.send.length > 1 ? `Message ${at + 1}` : 'Message'}
          message={message}
          transport={kind}
          name={command.key}
          onChange={(next) =>
            onChange({ ...command, send: command.send.map((item, index) => (index === at ? next : item)) })
          }
          onRemove={
            command.send.length > 1
              ? () => onChange({ ...command, send: command.send.filter((_, index) => index !== at) })
              : undefined
          }
        />
      ))}
      <Button
        mode="text"
        icon="plus"
        style={styles.left}
        onPress={() =>
          onChange({ ...command, send: [...command.send, messageOf(WRITTEN[kind][0] ?? 'text', command.key)] })
        }
      >
        Another message after it
      </Button>
      <Text style={styles.hint}>
        {command.params.length === 0
          ? 'A parameter goes wherever you write {{ param.key }}.'
          : `Write ${command.params.map((param) => `{{ param.${param.key} }}`).join(', ')} where it goes.`}
      </Text>
      <NumberField
        label="Takes, for rehearsals"
        unit="ms"
        min={0}
        max={600_000}
        step={10}
        value={command.delayMs}
        onChange={(delayMs) => onChange({ ...command, delayMs })}
      />
      <View style={styles.row}>
        <Text style={styles.words}>It can be seen or heard on air</Text>
        <Switch
          value={command.seenOnAir}
          onValueChange={(seenOnAir) => onChange({ ...command, seenOnAir })}
          accessibilityLabel="It can be seen or heard on air"
        />
      </View>
      <Heading words="Try it" />
      {device && definition ? (
        <SendNow
          key={JSON.stringify(command)}
          document={document}
          device={device}
          command={command.key}
          definition={definition}
        />
      ) : (
        <Text style={styles.hint}>No device uses this profile yet: add one under Devices to try its commands.</Text>
      )}
      <Button mode="text" icon="delete-outline" style={styles.left} onPress={onRemove}>
        {`Remove ${command.words}`}
      </Button>
    </View>
  );
}

function ParamForm({
  param,
  onChange,
  onRemove,
}: {
  readonly param: ProfileParam;
  readonly onChange: (param: ProfileParam) => void;
  readonly onRemove: () => void;
}) {
  const bound = (text: string): number | null => (text.trim() === '' ? null : Number(text.replace(',', '.')));
  const fault = (text: string): string | null =>
    text.trim() === '' || Number.isFinite(bound(text)) ? null : 'Give a number, or nothing.';
  const limit = (field: 'min' | 'max' | 'start', label: string) => (
    <View style={styles.fill}>
      <TextField
        label={label}
        value={param[field] === null ? '' : String(param[field])}
        fault={fault}
        onChange={(text) => onChange({ ...param, [field]: bound(text) })}
      />
    </View>
  );
  return (
    <View style={styles.param}>
      <View style={styles.row}>
        <Text style={styles.key}>{`param.${param.key}`}</Text>
        <IconButton icon="delete-outline" accessibilityLabel={`Remove the parameter ${param.key}`} onPress={onRemove} />
      </View>
      <Segments
        value={param.type === 'number' && param.whole ? 'whole' : param.type}
        onChange={(type) =>
          onChange({
            ...param,
            type: type === 'whole' ? 'number' : (type as 'number'),
            whole: type === 'whole',
            min: null,
            max: null,
            start: null,
          })
        }
        options={[
          { value: 'number', label: 'Number', accessibilityLabel: `${param.key} is a number` },
          { value: 'whole', label: 'Whole', accessibilityLabel: `${param.key} is a whole number` },
          { value: 'text', label: 'Text', accessibilityLabel: `${param.key} is a text` },
          { value: 'switch', label: 'Yes/no', accessibilityLabel: `${param.key} is yes or no` },
        ]}
      />
      {param.type === 'number' ? (
        <View style={styles.row}>
          {limit('min', `${param.key} least`)}
          {limit('max', `${param.key} most`)}
          {limit('start', `${param.key} starts at`)}
        </View>
      ) : null}
      {param.type === 'number' ? (
        <TextField
          label={`Unit of ${param.key}`}
          value={param.unit}
          longest={20}
          onChange={(unit) => onChange({ ...param, unit })}
        />
      ) : null}
    </View>
  );
}

function AddParam({
  taken,
  onAdd,
}: {
  readonly taken: readonly ProfileParam[];
  readonly onAdd: (param: ProfileParam) => void;
}) {
  return (
    <TextField
      key={taken.length}
      label="Add a parameter: its name"
      value=""
      longest={40}
      onChange={(name) => {
        if (name.trim() !== '')
          onAdd({
            key: keyFrom(name, new Set(taken.map((item) => item.key)), 'level'),
            title: name.trim(),
            type: 'number',
            unit: '',
            min: null,
            max: null,
            whole: false,
            start: null,
          });
      }}
    />
  );
}

const styles = StyleSheet.create({
  body: { gap: 10, paddingHorizontal: 14, paddingBottom: 14 },
  param: { gap: 6, borderLeftWidth: 3, borderLeftColor: colour.hairline, paddingLeft: 10 },
  row: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  fill: { flex: 1 },
  key: { flex: 1, fontFamily: font.semibold, fontSize: 16, color: colour.text },
  words: { flex: 1, fontFamily: font.medium, fontSize: 16, color: colour.text },
  hint: { fontFamily: font.regular, fontSize: 14, lineHeight: 19, color: colour.muted },
  left: { alignSelf: 'flex-start' },
});
