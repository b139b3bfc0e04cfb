import { changed, made } from '@umbek/core/changes';
import { PtzSettings } from '@umbek/core/devices';
import { inOrder, newPosition } from '@umbek/core/programming';
import type { Device, Position, ShowDocument } from '@umbek/core/show';
import { useMemo } from 'react';
import { StyleSheet, Text, useWindowDimensions, View } from 'react-native';
import { IconButton } from 'react-native-paper';
import { ulid } from 'ulid';
import { Heading, NumberField } from '../common/fields';
import { Segments } from '../common/Segments';
import { useLive, usePoint, usePressState } from '../live/LiveContext';
import { useEdits } from '../show/ShowContext';
import { colour, font, WIDE } from '../theme/tokens';
import { AimPicture } from './AimPicture';
import { useOnAir } from './CommandCatalogue';
import { usePictureState } from '../picture/pictureState';
import { HoldCap } from './HoldCap';
import { Reserve } from './Reserve';
import { StoreAsNew } from './StoreAsNew';
import { Optics } from './Optics';
import { ON_AIR, placeNow } from './headWords';
import { PositionCard } from './PositionCard';
import { PositionsTools } from './PositionsTools';
import { TravelPart, useTravel } from './TravelPart';

/** A head's camera: its picture to aim in, nudges, optics, and its positions as pictures. */
export function CameraPart({ document, device }: { readonly document: ShowDocument; readonly device: Device }) {
  const { width } = useWindowDimensions();
  const wide = width >= WIDE;
  const edits = useEdits();
  const live = useLive();
  const parsed = useMemo(() => PtzSettings.safeParse(device.settings), [device.settings]);
  const onAir = useOnAir(document, device);
  const source = document.sources.find((candidate) => candidate.camera === device.key);
  const picture = usePictureState(document, source);
  const known = usePoint(`${device.key}.pan`) !== undefined;
  const recall = usePressState(`${device.key}.recall`);
  const nudge = usePressState(`${device.key}.nudge`);
  const travel = useTravel(device.key);
  if (!parsed.success)
    return <Text style={styles.text}>The settings of this head do not fit. Correct them in Set-up.</Text>;
  const settings = parsed.data;
  // Ways are foretold with what was learned; everything else goes by what is declared.
  const foretold = travel?.limits ? { ...settings, ...travel.limits } : settings;
  const positions = inOrder(document.positions.filter((position) => position.camera === device.key));
  const setting = (
    key: 'nudgeSpeed' | 'onAirMoves' | 'onAirSeconds' | 'tallyLamp',
    value: unknown,
    what: string,
  ): void =>
    edits.edit(`${what} of ${device.name}`, [
      changed('devices', device, 'settings', { ...device.settings, [key]: value }),
    ]);
  const now = (): Pick<Position, 'pan' | 'tilt' | 'zoom' | 'focus' | 'iris'> | null => placeNow(live.point, device.key);
  const storeNew = (name: string): void => {
    const place = now();
    if (!place) return edits.tell(`${device.name} does not say where it looks, so there is nothing to store.`, true);
    edits.edit(`Store ${name}`, [made('positions', newPosition(document, ulid(), device.key, name, place))]);
  };
  const asking = [recall, nudge].find((press) => press?.phase === 'asking' || press?.phase === 'failed');
  const step = Math.round(settings.nudgeSpeed * 100) / 100;

  const aiming = (
    <View style={[styles.block, wide && styles.left]}>
      <AimPicture device={device} settings={settings} onAir={onAir} />
      {picture === '' || source === undefined ? null : (
        <Text style={styles.asking} role="alert">
          {`On input ${source.input ?? 0} the switcher sees: ${picture}. The head moves all the same; check the cable and the camera's power.`}
        </Text>
      )}
      {asking ? (
        <Text style={styles.asking} role="alert">
          {asking.why}
        </Text>
      ) : null}
      <View style={styles.nudges}>
        <HoldCap device={device.key} command="nudge" params={LEFT} sign="arrow-left" label="Nudge left" />
        <HoldCap device={device.key} command="nudge" params={UP} sign="arrow-up" label="Nudge up" />
        <HoldCap device={device.key} command="nudge" params={DOWN} sign="arrow-down" label="Nudge down" />
        <HoldCap device={device.key} command="nudge" params={RIGHT} sign="arrow-right" label="Nudge right" />
        <HoldCap device={device.key} command="nudge" params={WIDER} sign="minus" label="Wider" />
        <HoldCap device={device.key} command="nudge" params={CLOSER} sign="plus" label="Closer" />
      </View>
      <View style={styles.line}>
        <Text style={styles.label}>Speed</Text>
        <IconButton
          icon="minus"
          accessibilityLabel="Slower"
          disabled={step <= 0.02}
          onPress={() => setting('nudgeSpeed', Math.max(0.02, Math.round((step - 0.02) * 100) / 100), 'Speed')}
        />
        <Text style={styles.value}>{step.toFixed(2)} widths/s</Text>
        <IconButton
          icon="plus"
          accessibilityLabel="Faster"
          disabled={step >= 1}
          onPress={() => setting('nudgeSpeed', Math.min(1, Math.round((step + 0.02) * 100) / 100), 'Speed')}
        />
      </View>
      <Reserve device={device} />
      <Heading words="Moves on air" />
      <Segments
        value={settings.onAirMoves}
        onChange={(to) => setting('onAirMoves', to, 'Moves on air')}
        options={ON_AIR.map(({ value, label }) => ({ value, label }))}
      />
      <Text style={styles.small}>{ON_AIR.find(({ value }) => value === settings.onAirMoves)?.words}</Text>
      {settings.onAirMoves === 'slow' ? (
        <NumberField
          label="A slow move takes about"
          unit="s"
          min={0.5}
          max={60}
          step={0.5}
          value={settings.onAirSeconds}
          onChange={(seconds) => setting('onAirSeconds', seconds, 'Length of moves on air')}
        />
      ) : null}
      <Heading words="Tally lamp" />
      <Segments
        value={settings.tallyLamp}
        onChange={(to) => setting('tallyLamp', to, 'Tally lamp')}
        options={[
          { value: 'onAir', label: 'Follows the air' },
          { value: 'byHand', label: 'By hand' },
        ]}
      />
      <Optics device={device} />
    </View>
  );
  return (
    <View style={wide ? styles.wide : styles.block}>
      {aiming}
      <View style={styles.fill}>
        <Heading words="Positions"></Heading>
        <StoreAsNew
          label="Name of the new position"
          proposal={`Position ${positions.length + 1}`}
          disabled={!known}
          onStore={storeNew}
        />
        {positions.length === 0 ? (
          <Text style={styles.text}>No position yet. Aim the camera, then store what it sees.</Text>
        ) : null}
        <View style={styles.grid}>
          {positions.map((position) => (
            <PositionCard
              key={position.id}
              document={document}
              device={device}
              settings={foretold}
              position={position}
              now={now}
            />
          ))}
        </View>
        <PositionsTools device={device} settings={foretold} positions={positions} onAir={onAir} />
        <TravelPart document={document} device={device} travel={travel} />
      </View>
    </View>
  );
}

const [LEFT, RIGHT, UP, DOWN, CLOSER, WIDER] = [{ x: -1 }, { x: 1 }, { y: 1 }, { y: -1 }, { zoom: 1 }, { zoom: -1 }];

const styles = StyleSheet.create({
  block: { gap: 10 },
  wide: { flexDirection: 'row', gap: 20, alignItems: 'flex-start' },
  left: { width: 560 },
  fill: { flex: 1 },
  nudges: { flexDirection: 'row', gap: 6, flexWrap: 'wrap' },
  line: { flexDirection: 'row', alignItems: 'center', flexWrap: 'wrap', minHeight: 48 },
  label: { fontFamily: font.medium, fontSize: 16, color: colour.text, marginRight: 8 },
  value: {
    fontFamily: font.semibold,
    fontSize: 16,
    color: colour.text,
    fontVariant: ['tabular-nums'],
    minWidth: 100,
    textAlign: 'center',
  },
  small: { fontFamily: font.regular, fontSize: 14, color: colour.muted },
  text: { fontFamily: font.regular, fontSize: 16, color: colour.muted },
  asking: {
    fontFamily: font.semibold,
    fontSize: 15,
    color: colour.legend,
    backgroundColor: colour.warning,
    borderRadius: 5,
    padding: 8,
  },
  grid: { flexDirection: 'row', flexWrap: 'wrap', gap: 10 },
});
