import { pointsOf } from '@umbek/core/devices';
import { isHead } from '@umbek/core/part';
import type { Device, ShowDocument } from '@umbek/core/show';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { ScrollView, StyleSheet, Text, useWindowDimensions, View } from 'react-native';
import { IconButton } from 'react-native-paper';
import { Loading } from '../common/Loading';
import { NotThere } from '../common/NotThere';
import { UndoBar } from '../common/UndoBar';
import { useLiveState } from '../live/LiveContext';
import { useShow } from '../show/ShowContext';
import { colour, font, WIDE } from '../theme/tokens';
import { CameraPart } from './CameraPart';
import { CommandCatalogue } from './CommandCatalogue';
import { DeviceSetUp } from './DeviceSetUp';
import { FileList } from './FileList';
import { MemoryPart } from './MemoryPart';
import { MessageList } from './MessageList';
import { PointList } from './PointList';
import { ageWords, useHealth } from './useHealth';
import { Segments } from '../common/Segments';

/** One device: its state, what it can be told, what it says, and how it is set up. A head has its camera in front. */
export function DeviceScreen() {
  const document = useShow();
  const { key } = useLocalSearchParams<{ key: string }>();
  if (!document) return <Loading />;
  const device = document.devices.find((candidate) => candidate.key === key);
  if (!device) return <NotThere words={`There is no device ${key}.`} />;
  return <DevicePage key={device.id} document={document} device={device} />;
}

function DevicePage({ document, device }: { readonly document: ShowDocument; readonly device: Device }) {
  const router = useRouter();
  const { width } = useWindowDimensions();
  const head = isHead(device, document);
  const { part = head ? 'camera' : 'commands' } = useLocalSearchParams<{ part?: string }>();
  const { devices } = useLiveState();
  const health = useHealth();
  const state = devices.find((candidate) => candidate.key === device.key);
  const reached = state?.state === 'reached';
  const age = health?.devices.find((candidate) => candidate.key === device.key)?.lastReplyMs ?? null;
  return (
    <ScrollView style={styles.all} contentContainerStyle={[styles.column, width >= WIDE && styles.wide]}>
      <View style={styles.head}>
        <IconButton
          icon="chevron-left"
          accessibilityLabel="Back to the Rig"
          onPress={() => router.navigate('/rig' as never)}
          style={styles.back}
        />
        <Text numberOfLines={1} style={styles.title} role="heading">
          {device.name}
        </Text>
        <Text style={[styles.state, { color: reached ? colour.onPreview : colour.warning }]}>
          {reached ? `• reached · ${ageWords(age)}` : `! ${state?.state ?? 'not known'}`}
        </Text>
        {width >= WIDE ? <UndoBar /> : null}
      </View>
      {reached || !state ? null : (
        <Text style={styles.words} role="alert">
          {state.words}
        </Text>
      )}
      <Segments
        most={width >= WIDE ? 5 : 3}
        value={part}
        onChange={(next) => router.setParams({ part: next } as never)}
        options={[
          ...(head ? [{ value: 'camera', label: device.kind === 'ptzHead' ? 'Camera' : 'Positions' }] : []),
          ...(device.kind === 'recorder' ? [{ value: 'files', label: 'Files' }] : []),
          { value: 'commands', label: 'Commands' },
          { value: 'points', label: 'States' },
          { value: 'messages', label: 'Wire' },
          { value: 'setUp', label: 'Set-up' },
        ]}
      />
      {part !== 'camera' ? null : device.kind === 'ptzHead' ? (
        <CameraPart document={document} device={device} />
      ) : (
        <MemoryPart document={document} device={device} />
      )}
      {part === 'files' ? <FileList device={device} /> : null}
      {part === 'commands' ? <CommandCatalogue document={document} device={device} /> : null}
      {part === 'points' ? (
        <PointList device={device} points={pointsOf(device, document)} frameRate={document.show.frameRate} />
      ) : null}
      {part === 'messages' ? <MessageList device={device} /> : null}
      {part === 'setUp' ? <DeviceSetUp document={document} device={device} /> : null}
    </ScrollView>
  );
}

const styles = StyleSheet.create({
  all: { flex: 1, backgroundColor: colour.ground },
  column: { padding: 12, gap: 10, paddingBottom: 40 },
  wide: { maxWidth: 1160, width: '100%' },
  head: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 4 },
  back: { margin: 0, marginLeft: -8 },
  title: { flexGrow: 1, flexShrink: 1, flexBasis: 110, fontFamily: font.bold, fontSize: 21, color: colour.text },
  state: { fontFamily: font.medium, fontSize: 14, fontVariant: ['tabular-nums'] },
  words: {
    fontFamily: font.medium,
    fontSize: 15,
    color: colour.text,
    backgroundColor: colour.raised,
    borderLeftWidth: 4,
    borderLeftColor: colour.warning,
    borderRadius: 5,
    padding: 10,
  },
});
