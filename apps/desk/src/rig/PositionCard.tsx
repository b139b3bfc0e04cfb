import { changed, removed } from '@umbek/core/changes';
import { type PtzSettings, travelMs } from '@umbek/core/devices';
import { usesOf } from '@umbek/core/programming';
import type { Device, Position, ShowDocument } from '@umbek/core/show';
import { memo } from 'react';
import { Pressable, StyleSheet, Text, View } from 'react-native';
import { useLive, usePoint } from '../live/LiveContext';
import { StillScene, viewOf } from '../picture/Scene';
import { useEdits } from '../show/ShowContext';
import { colour, families, font } from '../theme/tokens';
import { NameOrRemove } from './NameOrRemove';

interface PositionCardProps {
  readonly document: ShowDocument;
  readonly device: Device;
  readonly settings: PtzSettings;
  readonly position: Position;
  readonly now: () => Pick<Position, 'pan' | 'tilt' | 'zoom' | 'focus' | 'iris'> | null;
}

/** A position as the picture that it shows: a touch recalls it. Under it, how long the way there takes. */
export const PositionCard = memo(function PositionCard({
  document,
  device,
  settings,
  position,
  now,
}: PositionCardProps) {
  const live = useLive();
  const edits = useEdits();
  const arrived = usePoint(`${device.key}.arrived`) === position.key;
  const [pan, tilt, zoom] = [
    usePoint(`${device.key}.pan`),
    usePoint(`${device.key}.tilt`),
    usePoint(`${device.key}.zoom`),
  ];
  const way =
    typeof pan === 'number' && typeof tilt === 'number' && typeof zoom === 'number'
      ? `${(travelMs({ pan, tilt, zoom }, position, settings) / 1000).toFixed(1)} s`
      : 'not known';
  const view = viewOf(position.pan, position.tilt, position.zoom, settings);
  const storeAgain = (): void => {
    const place = now();
    if (!place) return edits.tell(`${device.name} does not say where it looks, so the old position stays.`, true);
    // From now on the show's own values count: what the head holds under the old number is the old place, told beside the positions.
    edits.edit(`Store ${position.name} again`, [
      ...(['pan', 'tilt', 'zoom', 'focus', 'iris'] as const).flatMap((field) =>
        place[field] === position[field] ? [] : [changed('positions', position, field, place[field])],
      ),
      ...(position.headNumber === null ? [] : [changed('positions', position, 'headNumber', null)]),
    ]);
    edits.tell(`${position.name} is stored anew. Undo brings the old one back.`, false);
  };
  return (
    <View style={styles.card} testID={`position-${position.key}`}>
      <Pressable
        role="button"
        accessibilityLabel={`Recall ${position.name}${arrived ? ', here' : `, ${way} away`}`}
        onPress={() => live.sendCommand(device.key, 'recall', { position: position.key })}
        style={styles.picture}
      >
        <StillScene {...view} />
        {arrived ? <View style={styles.mark} /> : null}
      </Pressable>
      <View style={styles.line}>
        <Text numberOfLines={1} dir="auto" style={styles.name}>
          {position.name}
        </Text>
        <Text style={styles.way}>{arrived ? 'here' : way}</Text>
        <NameOrRemove
          name={position.name}
          label="Name of the position"
          iconColor={colour.legend}
          style={styles.more}
          uses={() => usesOf(document, { kind: 'position', key: position.key })}
          onStoreAgain={storeAgain}
          onName={(name) => edits.edit(`Name position ${name}`, [changed('positions', position, 'name', name)])}
          onRemove={() => edits.edit(`Remove ${position.name}`, [removed('positions', position)])}
        />
      </View>
      <View style={styles.foot} />
    </View>
  );
});

const styles = StyleSheet.create({
  card: {
    flexGrow: 1,
    flexBasis: 140,
    maxWidth: 260,
    backgroundColor: colour.cap,
    borderRadius: 5,
    overflow: 'hidden',
  },
  picture: { aspectRatio: 16 / 9, backgroundColor: '#000' },
  mark: {
    position: 'absolute',
    top: 6,
    left: '50%',
    marginLeft: -6,
    width: 12,
    height: 12,
    borderRadius: 6,
    backgroundColor: families.lagoon,
    borderWidth: 2,
    borderColor: colour.cap,
  },
  line: { flexDirection: 'row', alignItems: 'center', paddingLeft: 9 },
  name: { flex: 1, fontFamily: font.semibold, fontSize: 16, color: colour.legend },
  way: { fontFamily: font.medium, fontSize: 14, color: colour.note, fontVariant: ['tabular-nums'] },
  more: { margin: 0, width: 44, height: 44 },
  foot: { height: 5, backgroundColor: families.lagoon },
});
