import { useMutation } from '@tanstack/react-query';
import type { Device } from '@umbek/core/show';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { readIdentity } from '../live/identity';
import { usePoint, useRights } from '../live/LiveContext';
import { deed } from '../show/useListDeed';
import { useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';

/** A head that one station keeps for itself: those with fewer rights do not move it, by whatever they press. */
export function Reserve({ device }: { readonly device: Device }) {
  const edits = useEdits();
  const by = usePoint(`reserved@${device.key}`);
  const may = useRights().includes('program');
  const reserve = useMutation({
    mutationFn: (on: boolean) => {
      const { station, person } = readIdentity();
      return deed(`/api/devices/${device.key}/reserve`, { on, station, person });
    },
    onError: (error: Error) => edits.tell(error.message, true),
  });
  if (by === undefined && !may) return null;
  return (
    <View style={styles.all}>
      {by === undefined ? null : (
        <Text style={styles.words} role="status">
          {`Reserved by ${String(by)}. Stations with fewer rights cannot move it.`}
        </Text>
      )}
      {may ? (
        <Button
          mode="outlined"
          style={styles.left}
          loading={reserve.isPending}
          onPress={() => reserve.mutate(by === undefined)}
        >
          {by === undefined ? 'Reserve this camera' : 'Free this camera'}
        </Button>
      ) : null}
    </View>
  );
}

const styles = StyleSheet.create({
  all: { gap: 8 },
  words: { fontFamily: font.medium, fontSize: 15, lineHeight: 20, color: colour.warning },
  left: { alignSelf: 'flex-start' },
});
