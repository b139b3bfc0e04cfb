import { useEffect, useState } from 'react';
import { Pressable, ScrollView, StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { AppDialog } from '../common/AppDialog';
import { Ago } from '../live/Ago';
import { useLiveState } from '../live/LiveContext';
import { colour, font } from '../theme/tokens';
import { faultsOf } from './faults';

/**
 * Faults have one place of fixed height, however many they are, so that none moves a cap under a finger: the first one in words, a count of the
 * others, and a touch shows all of them with what fixes them. Without a fault it says how many devices answer.
 */
export function StatusPlace({ clock }: { readonly clock: boolean }) {
  const { connection, devices, devicesAt, stores, lostAt, rights } = useLiveState();
  const [all, setAll] = useState(false);
  const faults = faultsOf(devices, devicesAt, stores);
  const [first] = faults;
  if (connection === 'lost')
    return (
      <View style={[styles.place, styles.fault]} role="alert" testID="fault">
        <Text numberOfLines={2} style={styles.words}>
          No contact with the engine
          {lostAt === null ? null : (
            <>
              {' · '}
              <Ago since={lostAt} />
            </>
          )}
        </Text>
        <Text numberOfLines={1} style={styles.small}>
          Nothing pressed here is sent. Reconnecting.
        </Text>
      </View>
    );
  if (first === undefined)
    return (
      <View style={styles.well}>
        {clock ? <TimeOfDay /> : null}
        <Text numberOfLines={1} style={styles.small} testID="devices-reached">
          {connection === 'connecting'
            ? 'connecting'
            : !rights.includes('operate')
              ? 'may look, not operate'
              : devices.length === 0
                ? 'no devices yet'
                : `${devices.length} of ${devices.length} reached`}
        </Text>
      </View>
    );
  const reached = devices.filter((device) => device.state === 'reached').length;
  return (
    <>
      <Pressable
        role="button"
        accessibilityLabel={`${faults.length === 1 ? 'One fault' : `${faults.length} faults`}. Show all.`}
        onPress={() => setAll(true)}
        style={[styles.place, styles.fault]}
        testID="fault"
      >
        <Text numberOfLines={1} style={styles.words} role="alert">
          {first.words}
        </Text>
        <Text numberOfLines={1} style={styles.small}>
          {first.heardAt === undefined ? 'presses go on' : first.heardAt === null ? 'never heard' : 'last heard '}
          {first.heardAt == null ? null : <Ago since={first.heardAt} />}
          {first.heardAt == null ? '' : ' ago'}
          {faults.length > 1 ? ` · and ${faults.length - 1} more` : ''}
        </Text>
      </Pressable>
      <AppDialog
        visible={all}
        title={`${reached} of ${devices.length} devices reached`}
        onClose={() => setAll(false)}
        actions={<Button onPress={() => setAll(false)}>Close</Button>}
      >
        <ScrollView style={styles.list} tabIndex={0} accessibilityLabel="What is wrong">
          {faults.map(({ key, words, where, heardAt, fix }) => (
            <View key={key} style={styles.entry} testID="fault-line">
              <Text style={styles.words}>
                {words}
                {where}
                {heardAt == null ? '.' : ', last heard '}
                {heardAt == null ? null : <Ago since={heardAt} />}
                {heardAt == null ? '' : ' ago.'}
              </Text>
              <Text style={styles.small}>{fix}</Text>
            </View>
          ))}
        </ScrollView>
      </AppDialog>
    </>
  );
}

function TimeOfDay() {
  const [now, setNow] = useState(() => new Date());
  useEffect(() => {
    const timer = setInterval(() => setNow(new Date()), 1000);
    return () => clearInterval(timer);
  }, []);
  return <Text style={styles.clock}>{now.toTimeString().slice(0, 8)}</Text>;
}

const styles = StyleSheet.create({
  place: { flex: 1, minWidth: 0, height: 44, justifyContent: 'center', borderRadius: 6, paddingHorizontal: 10 },
  well: { flex: 1, minWidth: 0, height: 44, alignItems: 'flex-end', justifyContent: 'center' },
  fault: { backgroundColor: colour.raised, borderLeftWidth: 4, borderLeftColor: colour.warning },
  words: { fontFamily: font.semibold, fontSize: 14, lineHeight: 18, color: colour.text },
  small: { fontFamily: font.regular, fontSize: 13, lineHeight: 17, color: colour.muted, fontVariant: ['tabular-nums'] },
  clock: { fontFamily: font.medium, fontSize: 16, lineHeight: 20, color: colour.text, fontVariant: ['tabular-nums'] },
  list: { maxHeight: 420 },
  entry: { borderLeftWidth: 4, borderLeftColor: colour.warning, paddingLeft: 10, paddingVertical: 4, marginBottom: 8 },
});
