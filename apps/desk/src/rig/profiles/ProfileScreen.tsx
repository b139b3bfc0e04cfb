import { changed, removed } from '@umbek/core/changes';
import { inOrder, keyFrom } from '@umbek/core/programming';
import type { Profile, ProfileAsk, ProfileFile, ShowDocument } from '@umbek/core/show';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { type ReactNode, useState } from 'react';
import { Linking, Pressable, ScrollView, StyleSheet, Text, useWindowDimensions, View } from 'react-native';
import { Button, IconButton } from 'react-native-paper';
import { Heading, NumberField, TextField } from '../../common/fields';
import { Loading } from '../../common/Loading';
import { Segments } from '../../common/Segments';
import { NotThere } from '../../common/NotThere';
import { UndoBar } from '../../common/UndoBar';
import { usePoint } from '../../live/LiveContext';
import { useEdits, useShow } from '../../show/ShowContext';
import { colour, font, WIDE } from '../../theme/tokens';
import { MessageList } from '../MessageList';
import { CommandForm } from './CommandForm';
import { MessageForm } from './MessageForm';
import { MissingCommands, MissingPoints, PartChoice } from './PartOf';
import { PointForm } from './PointForm';
import { commandOf, messageOf, overTransport, pointOf, TRANSPORTS, WRITTEN } from './profileDraft';
import { ProfileText } from './ProfileText';

/** One profile: how it is spoken to, what it can be told, what it tells, and what is said on the wire. */
export function ProfileScreen() {
  const document = useShow();
  const { profile: key } = useLocalSearchParams<{ profile: string }>();
  if (!document) return <Loading />;
  const profile = document.profiles.find((candidate) => candidate.key === key);
  if (!profile) return <NotThere words={`There is no profile ${key}.`} />;
  return <ProfilePage key={profile.id} document={document} profile={profile} />;
}

function ProfilePage({ document, profile }: { readonly document: ShowDocument; readonly profile: Profile }) {
  const edits = useEdits();
  const router = useRouter();
  const { width } = useWindowDimensions();
  const [part, setPart] = useState('commands');
  const { content } = profile;
  const followers = inOrder(document.devices).filter((device) => device.settings.profile === profile.key);
  const [follower] = followers;
  const save = (what: string, next: ProfileFile): void =>
    edits.edit(`${what} of ${content.name}`, [changed('profiles', profile, 'content', next)]);
  return (
    <ScrollView style={styles.all} contentContainerStyle={styles.column}>
      <View style={styles.head}>
        <IconButton
          icon="chevron-left"
          accessibilityLabel="Back to the Rig"
          onPress={() => router.navigate('/rig' as never)}
          style={styles.back}
        />
        <Text numberOfLines={1} style={styles.title} role="heading">
          {content.name}
        </Text>
        {width >= WIDE ? <UndoBar /> : null}
      </View>
      <Text style={styles.small}>
        {follower
          ? `Used by ${followers.map((device) => device.name).join(', ')}`
          : 'No device uses it yet. Add one under Devices, of the kind "Device by profile".'}
      </Text>
      <Segments
        most={width >= WIDE ? 5 : 3}
        value={part}
        onChange={setPart}
        options={[
          { value: 'commands', label: 'Commands' },
          { value: 'states', label: 'States' },
          { value: 'transport', label: 'Transport' },
          { value: 'wire', label: 'Wire' },
          { value: 'text', label: 'As text' },
        ]}
      />
      {part === 'commands' ? (
        <>
          {content.commands.map((command, at) => (
            <Foldable key={command.key} title={command.words} detail={command.key}>
              <CommandForm
                document={document}
                profile={content}
                command={command}
                device={follower}
                onChange={(next) =>
                  save(`Command ${command.words}`, {
                    ...content,
                    commands: content.commands.map((item, index) => (index === at ? next : item)),
                  })
                }
                onRemove={() =>
                  save(`Remove the command ${command.words}`, {
                    ...content,
                    commands: content.commands.filter((_, index) => index !== at),
                  })
                }
              />
            </Foldable>
          ))}
          <AddByName
            key={content.commands.length}
            label="Add a command: what it does"
            onAdd={(words) =>
              save('A new command', {
                ...content,
                commands: [
                  ...content.commands,
                  commandOf(
                    content.transport.kind,
                    keyFrom(words, new Set(content.commands.map((command) => command.key)), 'command'),
                    words,
                  ),
                ],
              })
            }
          />
          <MissingCommands
            profile={content}
            onAdd={(command) =>
              save(`Command ${command.words}`, { ...content, commands: [...content.commands, command] })
            }
          />
        </>
      ) : null}
      {part === 'states' ? (
        <>
          {content.points.map((point, at) => (
            <Foldable
              key={point.key}
              title={point.words}
              detail={follower ? <PointNow name={`${follower.key}.${point.key}`} unit={point.unit} /> : point.key}
            >
              <PointForm
                profile={content}
                point={point}
                onChange={(next) =>
                  save(`State ${point.words}`, {
                    ...content,
                    points: content.points.map((item, index) => (index === at ? next : item)),
                  })
                }
                onRemove={() =>
                  save(`Remove the state ${point.words}`, {
                    ...content,
                    points: content.points.filter((_, index) => index !== at),
                  })
                }
              />
            </Foldable>
          ))}
          <AddByName
            key={content.points.length}
            label="Add a state: what it tells"
            onAdd={(words) =>
              save('A new state', {
                ...content,
                points: [
                  ...content.points,
                  pointOf(
                    content.transport.kind,
                    keyFrom(words, new Set(content.points.map((point) => point.key)), 'state'),
                    words,
                  ),
                ],
              })
            }
          />
          <MissingPoints
            profile={content}
            onAdd={(point) => save(`State ${point.words}`, { ...content, points: [...content.points, point] })}
          />
        </>
      ) : null}
      {part === 'transport' ? (
        <TransportPart
          profile={content}
          onChange={save}
          onRemove={() => edits.edit(`Remove the profile ${content.name}`, [removed('profiles', profile)])}
          followed={followers.length > 0}
          fileKey={profile.key}
        />
      ) : null}
      {part === 'wire' ? (
        follower ? (
          <MessageList device={follower} />
        ) : (
          <Text style={styles.small}>There are no messages until a device uses the profile.</Text>
        )
      ) : null}
      {part === 'text' ? <ProfileText profile={content} onTake={(next) => save('The text', next)} /> : null}
    </ScrollView>
  );
}

function PointNow({ name, unit }: { readonly name: string; readonly unit: string }) {
  const value = usePoint(name);
  return <>{value === undefined ? 'not known' : `${String(value)} ${unit}`}</>;
}

function Foldable({
  title,
  detail,
  children,
}: {
  readonly title: string;
  readonly detail: ReactNode;
  readonly children: ReactNode;
}) {
  const [open, setOpen] = useState(false);
  return (
    <View style={styles.card}>
      <Pressable
        role="button"
        aria-expanded={open}
        accessibilityLabel={title}
        onPress={() => setOpen(!open)}
        style={styles.line}
      >
        <Text style={styles.words}>{title}</Text>
        <Text style={styles.small}>{detail}</Text>
      </Pressable>
      {open ? children : null}
    </View>
  );
}

function AddByName({ label, onAdd }: { readonly label: string; readonly onAdd: (words: string) => void }) {
  return (
    <TextField label={label} value="" longest={120} onChange={(words) => words.trim() !== '' && onAdd(words.trim())} />
  );
}

interface TransportPartProps {
  readonly profile: ProfileFile;
  readonly fileKey: string;
  readonly followed: boolean;
  readonly onChange: (what: string, next: ProfileFile) => void;
  readonly onRemove: () => void;
}

function TransportPart({ profile, fileKey, followed, onChange, onRemove }: TransportPartProps) {
  const { transport } = profile;
  const setAsk = (at: number, ask: ProfileAsk): void =>
    onChange('A poll', { ...profile, asks: profile.asks.map((item, index) => (index === at ? ask : item)) });
  return (
    <View style={styles.form}>
      <TextField
        label="Name"
        value={profile.name}
        longest={120}
        fault={(text) => (text === '' ? 'Give the profile a name.' : null)}
        onChange={(name) => onChange('Name', { ...profile, name })}
      />
      <PartChoice profile={profile} onChange={(part) => onChange('What it works as', { ...profile, part })} />
      <Heading words="Protocol" />
      <Segments
        value={transport.kind}
        onChange={(kind) => onChange('Transport', overTransport(profile, kind as 'osc'))}
        options={TRANSPORTS}
      />
      {transport.kind === 'webSocket' ? (
        <TextField
          label="Path"
          value={transport.path}
          longest={400}
          onChange={(path) => onChange('Path', { ...profile, transport: { ...transport, path } })}
        />
      ) : null}
      {transport.kind === 'tcp' || transport.kind === 'udp' ? (
        <Segments
          value={transport.ending}
          onChange={(ending) => onChange('Line end', { ...profile, transport: { ...transport, ending } })}
          options={[
            { value: '\r\n', label: 'CR LF', accessibilityLabel: 'Lines end with CR LF' },
            { value: '\n', label: 'LF', accessibilityLabel: 'Lines end with LF' },
            { value: '\r', label: 'CR', accessibilityLabel: 'Lines end with CR' },
            { value: '', label: 'Nothing', accessibilityLabel: 'Nothing ends a line' },
          ]}
        />
      ) : null}
      {transport.kind === 'midi' ? (
        <Segments
          value={transport.over}
          onChange={(over) => onChange('Carrier', { ...profile, transport: { ...transport, over: over as 'tcp' } })}
          options={[
            { value: 'tcp', label: 'over TCP' },
            { value: 'udp', label: 'over UDP' },
          ]}
        />
      ) : null}
      <Heading words="Polling" />
      <Text style={styles.small}>
        Polling shows whether the device answers. Without it, a device over OSC, HTTP, UDP or MIDI only receives.
      </Text>
      {profile.asks.map((ask, at) => (
        <View key={at} style={styles.form}>
          <NumberField
            label="Every"
            unit="ms"
            min={100}
            max={600_000}
            step={100}
            whole
            value={ask.everyMs}
            onChange={(everyMs) => setAsk(at, { ...ask, everyMs })}
          />
          <MessageForm
            label={`Poll ${at + 1}`}
            message={ask.send}
            transport={transport.kind}
            name="state"
            onChange={(send) => setAsk(at, { ...ask, send })}
            onRemove={() =>
              onChange('Remove a poll', { ...profile, asks: profile.asks.filter((_, index) => index !== at) })
            }
          />
        </View>
      ))}
      <Button
        mode="text"
        icon="plus"
        style={styles.left}
        onPress={() => {
          const send = messageOf(WRITTEN[transport.kind][0] ?? 'text', 'state');
          onChange('A poll', {
            ...profile,
            asks: [...profile.asks, { everyMs: 500, send: send.as === 'http' ? { ...send, method: 'GET' } : send }],
          });
        }}
      >
        Add a poll
      </Button>
      <View style={styles.row}>
        <Button mode="outlined" icon="download" onPress={() => void Linking.openURL(`/api/profiles/${fileKey}/file`)}>
          Export
        </Button>
        <Button mode="text" icon="delete-outline" disabled={followed} onPress={onRemove}>
          Remove the profile
        </Button>
      </View>
      {followed ? <Text style={styles.small}>It can be removed when no device uses it.</Text> : null}
    </View>
  );
}

const styles = StyleSheet.create({
  all: { flex: 1, backgroundColor: colour.ground },
  column: { padding: 12, gap: 10, paddingBottom: 40, maxWidth: 760, width: '100%' },
  head: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 4 },
  back: { margin: 0, marginLeft: -8 },
  title: { flexGrow: 1, flexShrink: 1, flexBasis: 110, fontFamily: font.bold, fontSize: 21, color: colour.text },
  small: { fontFamily: font.regular, fontSize: 14, lineHeight: 19, color: colour.muted },
  card: { backgroundColor: colour.plate, borderRadius: 6 },
  line: { flexDirection: 'row', alignItems: 'center', gap: 10, minHeight: 48, paddingHorizontal: 14 },
  words: { flex: 1, fontFamily: font.medium, fontSize: 16, color: colour.text },
  form: { gap: 10 },
  row: { flexDirection: 'row', gap: 8, flexWrap: 'wrap' },
  left: { alignSelf: 'flex-start' },
});
