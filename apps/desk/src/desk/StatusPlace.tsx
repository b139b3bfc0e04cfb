import type { DeviceHealth } from '@umbek/protocol';
import { useEffect, useState } from 'react';
import { Pressable, ScrollView, StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { AppDialog } from '../common/AppDialog';
import { Ago } from '../live/Ago';
import { useLiveState } from '../live/LiveContext';
import { colour, font } from '../theme/tokens';

/** What is wrong with a device, in few words, after its name. */
const WRONG: Readonly<Record<Exclude<DeviceHealth['state'], 'reached'>, string>> = {
  silent: 'does not answer',
  foreign: 'answers in another protocol',
  off: 'is switched off in the Rig',
};
const FIX: Readonly<Record<Exclude<DeviceHealth['state'], 'reached'>, string>> = {
  silent: 'Check its power, address and port.',
  foreign: 'Another device may be at this address. Check address and port.',
  off: 'Switch it on in the Rig.',
};

/**
 * Faults have one place of fixed height, however many they are, so that none moves a cap under a finger: the first one in words, a count of the
 * others, and a touch shows all of them with what fixes them. Without a fault it says how many devices answer.
 */
export function StatusPlace({ clock }: { readonly clock: boolean }) {
  const { connection, devices, devicesAt, lostAt } = useLiveState();
  const [all, setAll] = useState(false);
  const wrong = devices.filter((device) => device.state !== 'reached');
  // One that fell silent goes before one that somebody switched off.
  const first = wrong.find((device) => device.state !== 'off') ?? wrong[0];
  const heardAt = ({ lastReplyMs }: DeviceHealth): number | null =>
    lastReplyMs === null ? null : devicesAt - lastReplyMs;
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
  if (first === undefined || first.state === 'reached')
    return (
      <View style={styles.well}>
        {clock ? <TimeOfDay /> : null}
        <Text numberOfLines={1} style={styles.small} testID="devices-reached">
          {connection === 'connecting'
            ? 'connecting'
            : devices.length === 0
              ? 'no devices yet'
              : `${devices.length} of ${devices.length} reached`}
        </Text>
      </View>
    );
  const since = heardAt(first);
  return (
    <>
      <Pressable
        role="button"
        accessibilityLabel={`${wrong.length === 1 ? 'One device is' : `${wrong.length} devices are`} not reached. Show all.`}
        onPress={() => setAll(true)}
        style={[styles.place, styles.fault]}
        testID="fault"
      >
        <Text numberOfLines={1} style={styles.words} role="alert">
          {first.name} {WRONG[first.state]}
        </Text>
        <Text numberOfLines={1} style={styles.small}>
          {since === null ? 'never heard' : 'last heard '}
          {since === null ? null : <Ago since={since} />}
          {since === null ? '' : ' ago'}
          {wrong.length > 1 ? ` · and ${wrong.length - 1} more` : ''}
        </Text>
      </Pressable>
      <AppDialog
        visible={all}
        title={`${devices.length - wrong.length} of ${devices.length} devices reached`}
        onClose={() => setAll(false)}
        actions={<Button onPress={() => setAll(false)}>Close</Button>}
      >
        <ScrollView style={styles.list} tabIndex={0} accessibilityLabel="Devices that are not reached">
          {wrong.map((device) => {
            if (device.state === 'reached') return null;
            const heard = heardAt(device);
            return (
              <View key={device.id} style={styles.one} testID="fault-line">
                <Text style={styles.words}>
                  {device.name} {WRONG[device.state]} at {device.address}
                  {heard === null ? '.' : ', last heard '}
                  {heard === null ? null : <Ago since={heard} />}
                  {heard === null ? '' : ' ago.'}
                </Text>
                <Text style={styles.small}>{`${FIX[device.state]} Its buttons are off until it answers.`}</Text>
              </View>
            );
          })}
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
  one: { borderLeftWidth: 4, borderLeftColor: colour.warning, paddingLeft: 10, paddingVertical: 4, marginBottom: 8 },
});
