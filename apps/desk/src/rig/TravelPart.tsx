import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { TravelReply } from '@umbek/protocol';
import type { Device, ShowDocument } from '@umbek/core/show';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { Heading } from '../common/fields';
import { Later, useLater } from '../common/later';
import { usePoint } from '../live/LiveContext';
import { ask } from '../show/ask';
import { colour, font } from '../theme/tokens';
import { act } from '../live/deeds';

/** Charts come in a bundle of their own: they are looked at in set-up, and never on the Desk. */
const laterChart = new Later(() => import('./TravelChart'));

/** The recalls of a head that really happened; asked anew whenever it has arrived somewhere. */
export function useTravel(key: string): TravelReply | undefined {
  const arrived = usePoint(`${key}.arrived`);
  const { data } = useQuery({
    queryKey: ['travel', key, arrived],
    queryFn: async () => (await ask(`/api/devices/${key}/travel`)).json() as Promise<TravelReply>,
    placeholderData: (before: TravelReply | undefined) => before,
    // What a recall has taught comes a moment after its arrival.
    refetchInterval: 5000,
    staleTime: 0,
  });
  return data;
}

const percent = (share: number): string => `${(share * 100).toFixed(1)} %`;
const AXES = ['pan', 'tilt', 'zoom'] as const;

interface TravelPartProps {
  readonly document: ShowDocument;
  readonly device: Device;
  readonly travel: TravelReply | undefined;
}

/** How long the ways of this head take: as measured, as declared, and as learned from its own recalls. */
export function TravelPart({ document, device, travel }: TravelPartProps) {
  const queries = useQueryClient();
  const chart = useLater(laterChart);
  const forget = useMutation({
    mutationFn: () => act(`/api/devices/${device.key}/travel/forget`, {}),
    onSettled: () => queries.invalidateQueries({ queryKey: ['travel', device.key] }),
  });
  if (!travel) return null;
  const { learned, limits, lines } = travel;
  const last = lines.slice(-12);
  const nameOf = (place: TravelReply['lines'][number]['to']): string =>
    document.positions.find(
      (position) =>
        position.camera === device.key &&
        Math.abs(position.pan - place.pan) < 0.2 &&
        Math.abs(position.tilt - place.tilt) < 0.2 &&
        Math.abs(position.zoom / place.zoom - 1) < 0.02,
    )?.name ?? 'elsewhere';
  return (
    <View style={styles.all}>
      <Heading words="Travel times" />
      <Text style={styles.text} testID="travel-words">
        {learned
          ? `Learned from ${lines.length} recalls. Predicted times are off by ${percent(learned.medianError)} at the median, ${percent(learned.worstError)} at most.`
          : lines.length === 0
            ? 'No recall measured yet. After five recalls, travel times are predicted from what was measured.'
            : `${lines.length} of 5 recalls measured. Until then, travel times are predicted from the declared speeds.`}
      </Text>
      {last.length > 1 ? (
        chart === null ? (
          <Text style={styles.text}>Loading the chart …</Text>
        ) : (
          <chart.default lines={last} />
        )
      ) : null}
      {last.length > 0 ? (
        <View role="list" style={styles.list}>
          {[...last]
            .reverse()
            .slice(0, 5)
            .map((line) => (
              <Text key={line.at} role="listitem" style={styles.line}>
                {`${nameOf(line.from)} to ${nameOf(line.to)}: ${(line.measuredMs / 1000).toFixed(2)} s measured, ${(line.declaredMs / 1000).toFixed(2)} s declared${line.learnedMs === null ? '' : `, ${(line.learnedMs / 1000).toFixed(2)} s learned`}`}
              </Text>
            ))}
        </View>
      ) : null}
      {learned && limits ? (
        <Text style={styles.text}>
          {AXES.map((axis) =>
            learned.runs[axis] === 0
              ? `${axis} as declared`
              : `${axis} ${Math.round((limits[`${axis}Speed`] ?? 0) * 10) / 10}${axis === 'zoom' ? ' codes' : '°'}/s`,
          ).join(' · ')}
        </Text>
      ) : null}
      {lines.length > 0 ? (
        <Button mode="text" style={styles.left} loading={forget.isPending} onPress={() => forget.mutate()}>
          Delete the measurements
        </Button>
      ) : null}
    </View>
  );
}

const styles = StyleSheet.create({
  all: { gap: 6, marginTop: 8 },
  text: { fontFamily: font.regular, fontSize: 15, lineHeight: 21, color: colour.muted },
  list: { gap: 3 },
  line: { fontFamily: font.regular, fontSize: 14, lineHeight: 20, color: colour.text, fontVariant: ['tabular-nums'] },
  left: { alignSelf: 'flex-start' },
});
