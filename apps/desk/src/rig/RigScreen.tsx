import { useLocalSearchParams, useRouter } from 'expo-router';
import { ScrollView, StyleSheet, Text, View } from 'react-native';
import { Loading } from '../common/Loading';
import { UndoBar } from '../common/UndoBar';
import { useShow } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { FaultSimulation } from './FaultSimulation';
import { DeviceList } from './DeviceList';
import { ProfileList } from './profiles/ProfileList';
import { SavedSetUps } from './SavedSetUps';
import { ShowFiles } from './ShowFiles';
import { Stations } from './stations/Stations';
import { SourceList } from './SourceList';
import { Segments } from '../common/Segments';

/** Rig: the devices and sources of the show, and the show as a file. */
export function RigScreen() {
  const document = useShow();
  const router = useRouter();
  const { part = 'devices' } = useLocalSearchParams<{ part?: string }>();
  if (!document) return <Loading />;
  return (
    <ScrollView style={styles.all} contentContainerStyle={styles.column}>
      <View style={styles.head}>
        <Text style={styles.title} role="heading">
          Rig
        </Text>
        <UndoBar />
      </View>
      <Segments
        value={part}
        onChange={(next) => router.setParams({ part: next } as never)}
        options={[
          { value: 'devices', label: 'Devices' },
          { value: 'sources', label: 'Sources' },
          { value: 'saved', label: 'Saved set-ups' },
          { value: 'profiles', label: 'Profiles' },
          { value: 'standins', label: 'Fault simulation' },
          { value: 'stations', label: 'Stations' },
          { value: 'show', label: 'Show' },
        ]}
      />
      {part === 'devices' ? <DeviceList document={document} /> : null}
      {part === 'sources' ? <SourceList document={document} /> : null}
      {part === 'saved' ? <SavedSetUps document={document} /> : null}
      {part === 'profiles' ? <ProfileList document={document} /> : null}
      {part === 'standins' ? <FaultSimulation /> : null}
      {part === 'stations' ? <Stations document={document} /> : null}
      {part === 'show' ? <ShowFiles document={document} /> : null}
    </ScrollView>
  );
}

const styles = StyleSheet.create({
  all: { flex: 1, backgroundColor: colour.ground },
  column: { padding: 12, gap: 12, paddingBottom: 40, maxWidth: 1180, width: '100%' },
  head: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center' },
  title: { flex: 1, fontFamily: font.bold, fontSize: 22, color: colour.text },
});
