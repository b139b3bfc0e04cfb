import {
  clash,
  type ClipManner,
  clipSteps,
  freeSlot,
  type PlacedClip,
  playersOf,
  sameSlot,
  slotsOf,
  transitionsOf,
} from '@umbek/core/programming';
import { linesOf } from '@umbek/core/expression';
import type { Device, ShowDocument } from '@umbek/core/show';
import { useMemo, useState } from 'react';
import { Pressable, ScrollView, StyleSheet, Text, View } from 'react-native';
import { Button, Icon } from 'react-native-paper';
import { Chip } from '../../common/Chip';
import { NumberField } from '../../common/fields';
import { Segments } from '../../common/Segments';
import { Sheet } from '../../common/Sheet';
import { usePoint, useScopes } from '../../live/LiveContext';
import { colour, font } from '../../theme/tokens';

const AS_SET: ClipManner = { transition: '', ms: 500, loop: false };
const LONGEST_MS = 10_000;

/** Several clips become steps at once: chosen from what the player has, each on a layer of its own, with how they come. */
export function ClipsSheet({
  document,
  visible,
  onClose,
  onAdd,
}: {
  readonly document: ShowDocument;
  readonly visible: boolean;
  readonly onClose: () => void;
  readonly onAdd: (steps: ReturnType<typeof clipSteps>, clips: number) => void;
}) {
  const players = useMemo(() => playersOf(document), [document]);
  const [key, setKey] = useState<string | null>(null);
  const [placed, setPlaced] = useState<readonly PlacedClip[]>([]);
  const [manner, setManner] = useState(AS_SET);
  const player = players.find((candidate) => candidate.key === key) ?? players[0];
  const close = (): void => {
    setPlaced([]);
    setManner(AS_SET);
    onClose();
  };
  const clashing = clash(placed);
  return (
    <Sheet
      title="Clips"
      visible={visible}
      onClose={close}
      actions={
        <>
          <Button onPress={close}>Close</Button>
          <Button
            mode="contained"
            disabled={placed.length === 0 || clashing !== null || player === undefined}
            onPress={() => {
              if (player !== undefined) onAdd(clipSteps(player.key, placed, manner), placed.length);
              close();
            }}
          >
            {placed.length === 1 ? 'Add 1 clip' : `Add ${placed.length} clips`}
          </Button>
        </>
      }
    >
      <ScrollView contentContainerStyle={styles.body}>
        {players.length < 2 ? null : (
          <View style={styles.row} role="radiogroup" aria-label="Player">
            {players.map((item) => (
              <Chip
                key={item.id}
                role="radio"
                on={item === player}
                words={item.name}
                label={`Clips of ${item.name}`}
                onPress={() => {
                  setKey(item.key);
                  setPlaced([]);
                }}
              />
            ))}
          </View>
        )}
        {player === undefined ? null : (
          <>
            <ClipRows document={document} player={player} placed={placed} onPlace={setPlaced} />
            {clashing === null ? null : (
              <Text style={styles.fault} role="alert">
                {`Two clips stand on channel ${clashing.channel}, layer ${clashing.layer}. Give one of them another layer.`}
              </Text>
            )}
            {placed.length === 0 ? null : (
              <Manner transitions={transitionsOf(player, document)} manner={manner} onChange={setManner} />
            )}
          </>
        )}
      </ScrollView>
    </Sheet>
  );
}

function ClipRows({
  document,
  player,
  placed,
  onPlace,
}: {
  readonly document: ShowDocument;
  readonly player: Device;
  readonly placed: readonly PlacedClip[];
  readonly onPlace: (placed: readonly PlacedClip[]) => void;
}) {
  useScopes([player.key]);
  const clipsPoint = usePoint(`${player.key}.clips`);
  const slots = useMemo(() => slotsOf(player, document), [player, document]);
  const clips = typeof clipsPoint === 'string' ? linesOf(clipsPoint) : [];
  if (clips.length === 0)
    return (
      <Text style={styles.hint}>
        {clipsPoint === undefined
          ? `${player.name} does not answer: its clips are not known now.`
          : `${player.name} has no clips.`}
      </Text>
    );
  return (
    <>
      {clips.map((clip) => {
        const own = placed.find((placedClip) => placedClip.clip === clip);
        return (
          <View key={clip} style={styles.clip}>
            <Pressable
              role="checkbox"
              aria-checked={own !== undefined}
              accessibilityLabel={`Clip ${clip}`}
              onPress={() =>
                onPlace(
                  own === undefined
                    ? [...placed, { clip, ...freeSlot(slots, placed) }]
                    : placed.filter((placedClip) => placedClip !== own),
                )
              }
              style={styles.line}
            >
              <Icon
                source={own === undefined ? 'checkbox-blank-outline' : 'checkbox-marked'}
                size={24}
                color={colour.text}
              />
              <Text style={styles.words}>{clip}</Text>
            </Pressable>
            {own === undefined ? null : (
              <View style={styles.row} role="radiogroup" aria-label={`Layer of ${clip}`}>
                {slots.map((slot) => (
                  <Chip
                    key={`${slot.channel}/${slot.layer}`}
                    role="radio"
                    on={sameSlot(slot, own)}
                    words={`${slot.channel} · ${slot.layer}`}
                    label={`${clip} on channel ${slot.channel}, layer ${slot.layer}`}
                    onPress={() =>
                      onPlace(
                        placed.map((placedClip) => (placedClip === own ? { ...placedClip, ...slot } : placedClip)),
                      )
                    }
                  />
                ))}
                <Text style={styles.hint}>channel · layer</Text>
              </View>
            )}
          </View>
        );
      })}
    </>
  );
}

function Manner({
  transitions,
  manner,
  onChange,
}: {
  readonly transitions: readonly string[];
  readonly manner: ClipManner;
  readonly onChange: (manner: ClipManner) => void;
}) {
  const { transition, ms, loop } = manner;
  return (
    <>
      <Text style={styles.hint}>They come</Text>
      <Segments
        value={transition === '' ? 'as set' : transition}
        onChange={(to) => onChange({ ...manner, transition: to === 'as set' ? '' : to })}
        options={[
          { value: 'as set', label: 'As set' },
          ...transitions.map((item) => ({ value: item, label: `${item.charAt(0).toUpperCase()}${item.slice(1)}` })),
        ]}
      />
      {transition === '' || transition === 'cut' ? null : (
        <NumberField
          label="Length"
          unit="ms"
          value={ms}
          step={100}
          min={0}
          max={LONGEST_MS}
          whole
          onChange={(to) => onChange({ ...manner, ms: to })}
        />
      )}
      <Segments
        value={loop ? 'loop' : 'once'}
        onChange={(to) => onChange({ ...manner, loop: to === 'loop' })}
        options={[
          { value: 'once', label: 'Play once' },
          { value: 'loop', label: 'Loop' },
        ]}
      />
    </>
  );
}

const styles = StyleSheet.create({
  body: { gap: 10, paddingBottom: 24 },
  row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
  clip: { gap: 8, padding: 10, borderRadius: 6, backgroundColor: colour.raised },
  line: { flexDirection: 'row', alignItems: 'center', gap: 10, minHeight: 44 },
  words: { flex: 1, fontFamily: font.medium, fontSize: 17, color: colour.text },
  hint: { fontFamily: font.regular, fontSize: 14, color: colour.muted },
  fault: { fontFamily: font.medium, fontSize: 15, color: colour.warning },
});
