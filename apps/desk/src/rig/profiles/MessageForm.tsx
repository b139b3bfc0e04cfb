import type { ProfileMessage, ProfileTransport } from '@umbek/core/show';
import { StyleSheet, View } from 'react-native';
import { Button, IconButton } from 'react-native-paper';
import { TextField } from '../../common/fields';
import { Segments } from '../../common/Segments';
import { colour } from '../../theme/tokens';
import { argumentFault, argumentFrom, argumentText, bytesFrom, bytesText, messageOf, WRITTEN } from './profileDraft';

interface MessageFormProps {
  readonly label: string;
  readonly message: ProfileMessage;
  readonly transport: ProfileTransport['kind'];
  readonly name: string;
  readonly onChange: (message: ProfileMessage) => void;
  readonly onRemove?: (() => void) | undefined;
}

const AS_WORDS: Readonly<Record<ProfileMessage['as'], string>> = {
  osc: 'OSC',
  http: 'Request',
  text: 'Text',
  json: 'JSON',
  bytes: 'Bytes',
  midi: 'MIDI',
};
const TYPE_WORDS = { i: 'whole', f: 'number', s: 'text', b: 'yes/no' } as const;
const typeOf = (type: keyof typeof TYPE_WORDS): 'number' | 'switch' | 'text' =>
  type === 's' ? 'text' : type === 'b' ? 'switch' : 'number';

/** One message as it goes out. A parameter is written {{ param.name }} wherever it goes. */
export function MessageForm({ label, message, transport, name, onChange, onRemove }: MessageFormProps) {
  return (
    <View style={styles.box}>
      <View style={styles.row}>
        <View style={styles.fill}>
          {WRITTEN[transport].length > 1 ? (
            <Segments
              value={message.as}
              onChange={(as) => onChange(messageOf(as as ProfileMessage['as'], name))}
              options={WRITTEN[transport].map((as) => ({
                value: as,
                label: AS_WORDS[as],
                accessibilityLabel: `${label} as ${AS_WORDS[as]}`,
              }))}
            />
          ) : null}
        </View>
        {onRemove ? (
          <IconButton icon="delete-outline" accessibilityLabel={`Remove ${label}`} onPress={onRemove} />
        ) : null}
      </View>
      <Body label={label} message={message} onChange={onChange} />
    </View>
  );
}

function Body({ label, message, onChange }: Pick<MessageFormProps, 'label' | 'message' | 'onChange'>) {
  switch (message.as) {
    case 'osc':
      return (
        <>
          <TextField
            label={`${label}: address`}
            value={message.address}
            longest={4000}
            fault={(text) => (text.startsWith('/') ? null : 'An OSC address begins with a slash.')}
            onChange={(address) => onChange({ ...message, address })}
          />
          {message.args.map((argument, at) => (
            <View key={at} style={styles.argument}>
              <Segments
                value={argument.type}
                onChange={(type) =>
                  onChange({
                    ...message,
                    args: message.args.map((arg, index) =>
                      index === at
                        ? { type: type as 'i', value: argumentFrom(argumentText(arg.value), typeOf(type as 'i')) }
                        : arg,
                    ),
                  })
                }
                options={(['i', 'f', 's', 'b'] as const).map((type) => ({
                  value: type,
                  label: TYPE_WORDS[type],
                  accessibilityLabel: `Argument ${at + 1} is ${TYPE_WORDS[type]}`,
                }))}
              />
              <View style={styles.row}>
                <View style={styles.fill}>
                  <TextField
                    label={`${label}: argument ${at + 1}`}
                    value={argumentText(argument.value)}
                    fault={(text) => argumentFault(text, typeOf(argument.type))}
                    onChange={(text) =>
                      onChange({
                        ...message,
                        args: message.args.map((arg, index) =>
                          index === at ? { ...arg, value: argumentFrom(text, typeOf(arg.type)) } : arg,
                        ),
                      })
                    }
                  />
                </View>
                <IconButton
                  icon="delete-outline"
                  accessibilityLabel={`Remove argument ${at + 1}`}
                  onPress={() => onChange({ ...message, args: message.args.filter((_, index) => index !== at) })}
                />
              </View>
            </View>
          ))}
          <Button
            mode="text"
            icon="plus"
            style={styles.left}
            onPress={() => onChange({ ...message, args: [...message.args, { type: 'f', value: 0 }] })}
          >
            Add an argument
          </Button>
        </>
      );
    case 'http': {
      const body = message.json === undefined ? (message.text === undefined ? 'none' : 'text') : 'json';
      const { json: _json, text: _text, ...bare } = message;
      return (
        <>
          <Segments
            value={message.method}
            onChange={(method) => onChange({ ...message, method: method as 'GET' })}
            options={['GET', 'POST', 'PUT', 'PATCH', 'DELETE'].map((method) => ({
              value: method,
              label: method,
              accessibilityLabel: `${label} ${method}`,
            }))}
          />
          <TextField
            label={`${label}: path`}
            value={message.path}
            longest={4000}
            fault={(text) => (text.startsWith('/') ? null : 'A path begins with a slash.')}
            onChange={(path) => onChange({ ...message, path })}
          />
          <Segments
            value={body}
            onChange={(next) =>
              onChange(next === 'none' ? bare : next === 'json' ? { ...bare, json: {} } : { ...bare, text: '' })
            }
            options={[
              { value: 'none', label: 'No body', accessibilityLabel: `${label}: no body` },
              { value: 'json', label: 'JSON', accessibilityLabel: `${label}: JSON body` },
              { value: 'text', label: 'Text', accessibilityLabel: `${label}: text body` },
            ]}
          />
          {message.json === undefined ? null : (
            <JsonField
              label={`${label}: body`}
              value={message.json}
              onChange={(json) => onChange({ ...bare, json: json as never })}
            />
          )}
          {message.text === undefined ? null : (
            <TextField
              label={`${label}: body`}
              value={message.text}
              multiline
              longest={4000}
              onChange={(text) => onChange({ ...bare, text })}
            />
          )}
        </>
      );
    }
    case 'text':
      return (
        <TextField
          label={`${label}: text`}
          value={message.text}
          longest={4000}
          onChange={(text) => onChange({ ...message, text })}
        />
      );
    case 'json':
      return (
        <JsonField
          label={`${label}: JSON`}
          value={message.json}
          onChange={(json) => onChange({ ...message, json: json as never })}
        />
      );
    case 'bytes':
      return (
        <TextField
          label={`${label}: bytes`}
          value={bytesText(message.bytes)}
          fault={(text) =>
            bytesFrom(text) === null ? 'Give two hexadecimal digits a byte, or {{ param.level }}.' : null
          }
          onChange={(text) => onChange({ ...message, bytes: bytesFrom(text) ?? message.bytes })}
        />
      );
    case 'midi':
      return (
        <>
          <Segments
            value={message.message}
            onChange={(next) => onChange({ ...message, message: next as 'noteOn' })}
            options={[
              { value: 'noteOn', label: 'Note on' },
              { value: 'noteOff', label: 'Note off' },
              { value: 'control', label: 'Control' },
              { value: 'programChange', label: 'Program' },
            ]}
          />
          {(['channel', 'number', 'value'] as const).map((field) => (
            <TextField
              key={field}
              label={`${label}: ${field}`}
              value={argumentText(message[field])}
              fault={(text) => argumentFault(text, 'number')}
              onChange={(text) => onChange({ ...message, [field]: argumentFrom(text, 'number') })}
            />
          ))}
        </>
      );
  }
}

function JsonField({
  label,
  value,
  onChange,
}: {
  readonly label: string;
  readonly value: unknown;
  readonly onChange: (value: unknown) => void;
}) {
  const fault = (text: string): string | null => {
    try {
      JSON.parse(text);
      return null;
    } catch {
      return 'This is not JSON yet. A parameter is written {"cel": "param.level"}.';
    }
  };
  return (
    <TextField
      label={label}
      value={JSON.stringify(value)}
      multiline
      fault={fault}
      onChange={(text) => onChange(JSON.parse(text))}
    />
  );
}

const styles = StyleSheet.create({
  box: { gap: 8, borderLeftWidth: 3, borderLeftColor: colour.hairline, paddingLeft: 10 },
  argument: { gap: 6 },
  row: { flexDirection: 'row', alignItems: 'center' },
  fill: { flex: 1 },
  left: { alignSelf: 'flex-start' },
});
