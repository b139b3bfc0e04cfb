import { changed, made, removed } from '@umbek/core/changes';
import { inOrder, newPosition, usesOf } from '@umbek/core/programming';
import type { Device, Position, ShowDocument } from '@umbek/core/show';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { ulid } from 'ulid';
import { Heading, NumberField } from '../common/fields';
import { Segments } from '../common/Segments';
import { useLive, usePoint } from '../live/LiveContext';
import { useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { ON_AIR, placeNow } from './headWords';
import { NameOrRemove } from './NameOrRemove';
import { StoreAsNew } from './StoreAsNew';

/** Where a position is that only its head knows. */
const UNSEEN = { pan: 0, tilt: 0, zoom: 1, focus: null, iris: null };

/** A head by profile: its positions by the memory that the head keeps them in, and what a move on air asks for. */
export function MemoryPart({ document, device }: { readonly document: ShowDocument; readonly device: Device }) {
  const edits = useEdits();
  const live = useLive();
  const positions = inOrder(document.positions.filter(({ camera }) => camera === device.key));
  const memory = usePoint(`${device.key}.memory`);
  const next = Math.max(0, ...positions.map(({ headNumber }) => headNumber ?? 0)) + 1;
  const add = (name: string): void =>
    edits.edit(`Add position ${name}`, [
      made('positions', {
        ...newPosition(document, ulid(), device.key, name, placeNow(live.point, device.key) ?? UNSEEN),
        headNumber: typeof memory === 'number' && memory > 0 && !taken(memory) ? memory : next,
      }),
    ]);
  const taken = (number: number): boolean => positions.some(({ headNumber }) => headNumber === number);
  const moves = device.settings.onAirMoves === 'allow' ? 'allow' : 'secondTouch';
  return (
    <View style={styles.all}>
      <Heading words="Positions" />
      <Text style={styles.small}>
        {positions.length === 0
          ? 'No position yet. The head keeps positions itself, each under a number: add a name and set that number.'
          : 'The head keeps these itself. The number says which of its memories is meant.'}
      </Text>
      {positions.map((position) => (
        <Memory key={position.id} document={document} device={device} position={position} />
      ))}
      <StoreAsNew
        label="Name of the new position"
        proposal={`Position ${positions.length + 1}`}
        action="Add it"
        onStore={add}
      />
      <Heading words="Moves on air" />
      <Segments
        value={moves}
        onChange={(to) =>
          edits.edit(`Moves on air of ${device.name}`, [
            changed('devices', device, 'settings', { ...device.settings, onAirMoves: to }),
          ])
        }
        options={ON_AIR.filter(({ value }) => value !== 'slow').map(({ value, label }) => ({ value, label }))}
      />
      <Text style={styles.small}>{ON_AIR.find(({ value }) => value === moves)?.words}</Text>
    </View>
  );
}

function Memory({
  document,
  device,
  position,
}: {
  readonly document: ShowDocument;
  readonly device: Device;
  readonly position: Position;
}) {
  const edits = useEdits();
  const live = useLive();
  const arrived = usePoint(`${device.key}.arrived`) === position.key;
  return (
    <View style={styles.card} testID={`position-${position.key}`}>
      <View style={styles.line}>
        <Text numberOfLines={1} dir="auto" style={styles.name}>
          {position.name}
        </Text>
        {arrived ? <Text style={styles.small}>here</Text> : null}
        <Button
          compact
          mode="outlined"
          accessibilityLabel={`Recall ${position.name}${arrived ? ', here' : ''}`}
          onPress={() => live.sendCommand(device.key, 'recall', { position: position.key })}
        >
          Recall
        </Button>
        <NameOrRemove
          name={position.name}
          label="Name of the position"
          iconColor={colour.muted}
          style={styles.more}
          uses={() => usesOf(document, { kind: 'position', key: position.key })}
          onName={(name) => edits.edit(`Name position ${name}`, [changed('positions', position, 'name', name)])}
          onRemove={() => edits.edit(`Remove ${position.name}`, [removed('positions', position)])}
        />
      </View>
      <NumberField
        label={`Memory of ${position.name}`}
        value={position.headNumber ?? 0}
        min={0}
        max={999}
        whole
        onChange={(headNumber) =>
          edits.edit(`Memory of ${position.name}`, [changed('positions', position, 'headNumber', headNumber)])
        }
      />
    </View>
  );
}

const styles = StyleSheet.create({
  all: { gap: 10, maxWidth: 560 },
  small: { fontFamily: font.regular, fontSize: 14, lineHeight: 19, color: colour.muted },
  card: { backgroundColor: colour.plate, borderRadius: 6, padding: 10, gap: 6 },
  line: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  name: { flex: 1, fontFamily: font.medium, fontSize: 16, color: colour.text },
  more: { margin: 0 },
});
