import { changed, made } from '@umbek/core/changes';
import { useMutation } from '@tanstack/react-query';
import type { Device, SetUp, ShowDocument } from '@umbek/core/show';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { ulid } from 'ulid';
import { Heading } from '../common/fields';
import { useLive, usePoints, useScopes } from '../live/LiveContext';
import { useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { contentWords, differencesOf, setUpPoints } from './drift';
import { sendAll } from './runSteps';

/** How devices were set up when that was saved with the show, beside how they are now: each difference can be put back. */
export function SavedSetUps({ document }: { readonly document: ShowDocument }) {
  const edits = useEdits();
  const live = useLive();
  const devices = document.devices.filter((device) => setUpPoints(device, document).length > 0);
  useScopes(devices.map(({ key }) => key));
  const save = (which: readonly Device[]): void => {
    const savedAt = new Date().toISOString();
    edits.edit(
      which.length === 1 ? `Save the set-up of ${which[0]?.name ?? ''}` : 'Save how the devices are set up',
      which.flatMap((device) => {
        const points = Object.fromEntries(
          setUpPoints(device, document).flatMap(([point]) => {
            const value = live.point(`${device.key}.${point}`);
            return value === undefined ? [] : [[point, value]];
          }),
        );
        if (Object.keys(points).length === 0) return [];
        const before = document.setUps.find((setUp) => setUp.device === device.key);
        return before
          ? [changed('setUps', before, 'points', points), changed('setUps', before, 'savedAt', savedAt)]
          : [made('setUps', { id: ulid(), device: device.key, savedAt, points } satisfies SetUp)];
      }),
    );
  };
  if (devices.length === 0)
    return <Text style={styles.text}>No device of this show has a set-up that could be saved: a switcher would.</Text>;
  return (
    <View style={styles.all}>
      <Text style={styles.text}>
        Layouts, names and keyer settings live in the devices. Saved with the show, they can be compared and put back.
      </Text>
      {devices.map((device) => (
        <DeviceSaved
          key={device.id}
          document={document}
          device={device}
          setUp={document.setUps.find((setUp) => setUp.device === device.key)}
          onSave={() => save([device])}
        />
      ))}
    </View>
  );
}

interface DeviceSavedProps {
  readonly document: ShowDocument;
  readonly device: Device;
  readonly setUp: SetUp | undefined;
  readonly onSave: () => void;
}

function DeviceSaved({ document, device, setUp, onSave }: DeviceSavedProps) {
  const live = useLive();
  const keys = [`${device.key}.reached`, ...setUpPoints(device, document).map(([point]) => `${device.key}.${point}`)];
  const values = usePoints(keys);
  const reached = live.getState().devices.find((candidate) => candidate.key === device.key)?.state === 'reached';
  const differences = setUp ? differencesOf(device, setUp, document, (key) => values[keys.indexOf(key)]) : [];
  const edits = useEdits();
  const restore = useMutation({
    mutationFn: (list: typeof differences) => sendAll(`Set-up of ${device.name}`, device.key, list),
    onSuccess: ({ words, bad }) => edits.tell(words, bad),
    onError: () => edits.tell('The engine cannot be reached; look at what is not as saved.', true),
  });
  return (
    <View style={styles.card} testID={`saved-${device.key}`}>
      <Heading words={device.name} />
      <Text style={styles.text}>
        {!setUp
          ? 'Its set-up was never saved.'
          : !reached
            ? `Saved ${when(setUp.savedAt)}. It does not answer, so nothing can be compared.`
            : differences.length === 0
              ? `Same as saved ${when(setUp.savedAt)}.`
              : `${differences.length} ${differences.length === 1 ? 'thing is' : 'things are'} not as saved ${when(setUp.savedAt)}:`}
      </Text>
      {differences.map((difference) => (
        <View key={difference.point} style={styles.line}>
          <View style={styles.fill}>
            <Text style={styles.words}>{difference.words}</Text>
            <Text
              style={styles.small}
            >{`now ${contentWords(difference.now, difference, document)} · saved ${contentWords(difference.saved, difference, document)}`}</Text>
          </View>
          <Button
            compact
            mode="outlined"
            accessibilityLabel={`Put back: ${difference.words}`}
            disabled={restore.isPending}
            onPress={() => restore.mutate([difference])}
          >
            Put back
          </Button>
        </View>
      ))}
      <View style={styles.row}>
        <Button
          mode="outlined"
          disabled={!reached}
          onPress={onSave}
          accessibilityLabel={`Save the set-up of ${device.name} as it is now`}
        >
          Save as it is now
        </Button>
        {differences.length > 1 ? (
          <Button
            mode="contained"
            loading={restore.isPending}
            disabled={restore.isPending}
            onPress={() => restore.mutate(differences)}
          >
            {`Put all ${differences.length} back`}
          </Button>
        ) : null}
      </View>
    </View>
  );
}

const when = (at: string): string =>
  at === '' ? '' : new Date(at).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' });

const styles = StyleSheet.create({
  all: { gap: 10, maxWidth: 720 },
  card: { backgroundColor: colour.plate, borderRadius: 6, paddingHorizontal: 14, paddingBottom: 14, gap: 8 },
  text: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
  line: { flexDirection: 'row', alignItems: 'center', gap: 10 },
  fill: { flex: 1 },
  words: { fontFamily: font.medium, fontSize: 16, color: colour.text },
  small: { fontFamily: font.regular, fontSize: 14, color: colour.muted },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
});
