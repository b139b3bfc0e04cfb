import { made } from '@umbek/core/changes';
import { useMutation } from '@tanstack/react-query';
import { inOrder, keyFrom, orderBetween } from '@umbek/core/programming';
import { SAMPLE_PROFILES } from '@umbek/core/samples';
import type { Profile, ProfileFile, ShowDocument } from '@umbek/core/show';
import { Link, useRouter } from 'expo-router';
import { useState } from 'react';
import { Linking, Pressable, StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { ulid } from 'ulid';
import { AnchoredMenu } from '../../common/AnchoredMenu';
import { chooseFile } from '../../common/chooseFile';
import { useEdits } from '../../show/ShowContext';
import { colour, font } from '../../theme/tokens';
import { TRANSPORTS, type LineFault } from './profileDraft';
import { Faults, readProfileText } from './ProfileText';

const NEW: ProfileFile = {
  format: 'umbek-profile',
  version: 1,
  name: 'New profile',
  part: null,
  transport: { kind: 'osc' },
  commands: [],
  points: [],
  asks: [],
};

/** Profiles of the show: descriptions of devices that nobody wrote a driver for. */
export function ProfileList({ document }: { readonly document: ShowDocument }) {
  const edits = useEdits();
  const router = useRouter();
  const [faults, setFaults] = useState<readonly LineFault[]>([]);
  const add = (content: ProfileFile): void => {
    const profile: Profile = {
      id: ulid(),
      key: keyFrom(content.name, new Set(document.profiles.map((item) => item.key)), 'profile'),
      content,
      order: orderBetween(inOrder(document.profiles).at(-1)?.order ?? null, null),
    };
    edits.edit(`Add the profile ${content.name}`, [made('profiles', profile)]);
    router.navigate(`/rig/profiles/${profile.key}` as never);
  };
  const bringIn = useMutation({
    mutationFn: async () => {
      const text = await chooseFile('.json,application/json', (message) =>
        setFaults([{ line: 1, path: '', words: message }]),
      );
      if (text === null) return;
      const read = await readProfileText(text);
      if ('faults' in read) return setFaults(read.faults);
      setFaults([]);
      add(read.file);
    },
    onError: () =>
      setFaults([
        { line: 1, path: '', words: 'The engine cannot be reached; nothing was changed. Try again when it is back.' },
      ]),
  });
  return (
    <View style={styles.list}>
      <Text style={styles.hint}>
        {document.profiles.length === 0
          ? 'No profile yet. A profile describes a device that Umbek has no kind for: what it is told over OSC, HTTP, WebSocket, TCP, UDP or MIDI, and what it tells.'
          : 'A profile describes a device that Umbek has no kind for. Devices that use it change with it.'}
      </Text>
      {inOrder(document.profiles).map(({ id, key, content }) => {
        const followers = document.devices.filter((device) => device.settings.profile === key);
        return (
          <Link key={id} href={`/rig/profiles/${key}` as never} asChild>
            <Pressable accessibilityLabel={`Profile ${content.name}`} style={StyleSheet.flatten([styles.card])}>
              <Text style={styles.name}>{content.name}</Text>
              <Text style={styles.small}>
                {TRANSPORTS.find((candidate) => candidate.value === content.transport.kind)?.label} ·{' '}
                {content.commands.length} commands · {content.points.length} states ·{' '}
                {followers.length === 0 ? 'no device uses it' : followers.map((device) => device.name).join(', ')}
              </Text>
            </Pressable>
          </Link>
        );
      })}
      {faults.length > 0 ? <Faults faults={faults} /> : null}
      <View style={styles.row}>
        <Button mode="outlined" icon="plus" onPress={() => add(NEW)}>
          New profile
        </Button>
        <AnchoredMenu
          anchor={(open) => (
            <Button mode="outlined" icon="content-copy" onPress={open}>
              From a sample
            </Button>
          )}
          items={SAMPLE_PROFILES.map((sample) => ({ title: sample.name, onPress: () => add(sample) }))}
        />
        <Button mode="outlined" icon="upload" loading={bringIn.isPending} onPress={() => bringIn.mutate()}>
          Import
        </Button>
        <Button mode="text" onPress={() => void Linking.openURL('/api/profiles/schema.json')}>
          JSON Schema
        </Button>
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  list: { gap: 8, maxWidth: 720 },
  hint: { fontFamily: font.regular, fontSize: 16, lineHeight: 22, color: colour.muted },
  card: { backgroundColor: colour.plate, borderRadius: 6, paddingHorizontal: 14, paddingVertical: 10, gap: 3 },
  name: { fontFamily: font.semibold, fontSize: 18, color: colour.text },
  small: { fontFamily: font.regular, fontSize: 14, lineHeight: 19, color: colour.muted },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
});
