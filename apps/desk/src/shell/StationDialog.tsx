import { useRouter } from 'expo-router';
import { useEffect, useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button, IconButton, Switch, TextInput } from 'react-native-paper';
import { AppDialog } from '../common/AppDialog';
import { Chip } from '../common/Chip';
import { editorName, readIdentity, writeIdentity } from '../live/identity';
import { handOver } from '../live/handOver';
import { useJoined, useLive, usePerson, useRights } from '../live/LiveContext';
import { canFillScreen, runsByItself, useFullScreen } from '../live/fullScreen';
import { canBeFelt, feel, touchIsFelt } from '../live/haptics';
import { canKeepScreenOn, screenStaysOn } from '../live/screenOn';
import { rightsWords } from '../live/rightsWords';
import { useEdits } from '../show/ShowContext';
import { useCrew } from '../show/useCrew';
import { setBrightness, useBrightness } from '../theme/brightness';
import { colour, font } from '../theme/tokens';
import { SignIn } from './SignIn';

/** Who this station is, and how bright its caps are. Both are remembered by the browser. */
export function StationDialog({ visible, onClose }: { readonly visible: boolean; readonly onClose: () => void }) {
  const live = useLive();
  const rights = useRights();
  const joined = useJoined();
  const router = useRouter();
  const brightness = useBrightness();
  const [station, setStation] = useState('');
  const [person, setPerson] = useState('');
  const [along, setAlong] = useState(false);
  const worksHere = usePerson();
  const edits = useEdits();
  const { data: crew = [] } = useCrew(visible && !joined);
  const [screenOn, setScreenOn] = useState(screenStaysOn.isOn);
  const [felt, setFelt] = useState(touchIsFelt.isOn);
  const [full, setFull] = useFullScreen();
  useEffect(() => {
    if (!visible) return;
    const known = readIdentity();
    setStation(known.station);
    setPerson(known.person);
    setAlong(false);
  }, [visible]);
  const from = editorName();
  const next = person.trim();
  const another = !joined && next !== '' && next !== from;
  // Whoever gives a name for the first time is who made the edits.
  const first = readIdentity().person === '';
  const save = (): void => {
    onClose();
    if (!another || !(along || first)) return rename();
    // Asked before the page says who it is now: that breaks contact for a moment.
    void handOver(from, next).then(({ done, words }) => {
      rename();
      if (!first || !done) edits.tell(words, !done);
    });
  };
  const rename = (): void => {
    const known = readIdentity();
    const to = {
      ...known,
      station: station.trim() === '' ? 'Desk' : station.trim().slice(0, 120),
      person: person.trim().slice(0, 120),
    };
    writeIdentity(to);
    if (to.station !== known.station || to.person !== known.person) live.introduce();
  };
  return (
    <AppDialog
      visible={visible}
      title="This station"
      onClose={onClose}
      actions={
        <>
          <Button onPress={onClose}>Close</Button>
          {joined ? null : (
            <Button mode="contained" onPress={save}>
              Save
            </Button>
          )}
        </>
      }
    >
      {joined ? (
        <Text style={styles.label}>
          {`${station}${worksHere === '' ? '' : ` · ${worksHere}`} ${rightsWords(rights)}.`}
        </Text>
      ) : null}
      {joined && visible ? <SignIn /> : null}
      {joined ? null : (
        <TextInput
          mode="outlined"
          dense
          label="Station"
          accessibilityLabel="Station"
          value={station}
          onChangeText={setStation}
          maxLength={120}
        />
      )}
      {joined ? null : (
        <TextInput
          mode="outlined"
          dense
          label="Person"
          accessibilityLabel="Person"
          value={person}
          onChangeText={setPerson}
          maxLength={120}
          onSubmitEditing={save}
        />
      )}
      {joined || crew.length === 0 ? null : (
        <View style={styles.ways} role="group" accessibilityLabel="Of the crew">
          {crew.map(({ id, name }) => (
            <Chip key={id} on={name === next} words={name} onPress={() => setPerson(name)} />
          ))}
        </View>
      )}
      {another && !first ? (
        <View style={styles.row}>
          <Text style={styles.label}>{`The edits of ${from} go along, to be undone by ${next}`}</Text>
          <Switch value={along} onValueChange={setAlong} accessibilityLabel="Edits go along" />
        </View>
      ) : null}
      <Text style={styles.hint}>
        {joined
          ? 'Those who let this station in gave it its name and its rights: Rig, Stations.'
          : 'Both stand in the as-run beside every press; undo goes by the person.'}
      </Text>
      <View style={styles.row}>
        <Text style={styles.label}>Brightness of the caps</Text>
        <IconButton
          icon="minus"
          accessibilityLabel="Caps darker"
          onPress={() => setBrightness(brightness - 0.1)}
          disabled={brightness <= 0.31}
        />
        <Text style={styles.value}>{Math.round(brightness * 100)} %</Text>
        <IconButton
          icon="plus"
          accessibilityLabel="Caps brighter"
          onPress={() => setBrightness(brightness + 0.1)}
          disabled={brightness >= 0.99}
        />
      </View>
      {canKeepScreenOn() ? (
        <View style={styles.row}>
          <Text style={styles.label}>Keep this screen on</Text>
          <Switch
            value={screenOn}
            onValueChange={(on) => {
              setScreenOn(on);
              screenStaysOn.set(on);
            }}
            accessibilityLabel="Keep this screen on"
          />
        </View>
      ) : (
        <Text style={styles.hint}>
          This browser cannot keep the screen on here. Set the screen of this device to stay on before the show.
        </Text>
      )}
      {canBeFelt() ? (
        <View style={styles.row}>
          <Text style={styles.label}>Feel each touch</Text>
          <Switch
            value={felt}
            onValueChange={(on) => {
              setFelt(on);
              touchIsFelt.set(on);
              feel('touched');
            }}
            accessibilityLabel="Feel each touch"
          />
        </View>
      ) : null}
      {runsByItself() && !full ? null : canFillScreen() ? (
        <View style={styles.row}>
          <Text style={styles.label}>Fill the screen</Text>
          <Switch value={full} onValueChange={setFull} accessibilityLabel="Fill the screen" />
        </View>
      ) : (
        <Text style={styles.hint}>
          To fill the screen, add this page to the home screen of the device and open it from there.
        </Text>
      )}
      <View style={styles.ways}>
        <Button
          mode="outlined"
          onPress={() => {
            onClose();
            router.navigate('/caps' as never);
          }}
        >
          Every lamp on this screen
        </Button>
        {rights.includes('admit') ? (
          <Button
            mode="outlined"
            onPress={() => {
              onClose();
              router.navigate('/rig?part=stations&invite=now' as never);
            }}
          >
            Let a device in
          </Button>
        ) : null}
      </View>
    </AppDialog>
  );
}

const styles = StyleSheet.create({
  hint: { fontFamily: font.regular, fontSize: 13, color: colour.muted },
  row: { flexDirection: 'row', alignItems: 'center', minHeight: 44 },
  ways: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  label: { flex: 1, fontFamily: font.medium, fontSize: 15, color: colour.text },
  value: {
    fontFamily: font.medium,
    fontSize: 15,
    color: colour.text,
    fontVariant: ['tabular-nums'],
    minWidth: 46,
    textAlign: 'center',
  },
});
