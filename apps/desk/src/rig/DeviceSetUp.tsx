import { changed, removed } from '@umbek/core/changes';
import { DEVICE_KINDS } from '@umbek/core/devices';
import { usesOf } from '@umbek/core/programming';
import type { Device, ShowDocument } from '@umbek/core/show';
import { useRouter } from 'expo-router';
import { useMemo, useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { z } from 'zod';
import { Heading, NumberField, TextField } from '../common/fields';
import { useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { CsvImport } from '../csv/CsvImport';
import { hostFault, portFault } from '../csv/address';
import { RemoveWithUses } from './RemoveWithUses';

interface Property {
  readonly type?: string;
  readonly minimum?: number;
  readonly maximum?: number;
  readonly exclusiveMinimum?: number;
  readonly default?: unknown;
}

/** The numbers among the settings of a kind, from its schema. */
function numbersOf(kind: string): { key: string; property: Property }[] {
  const schema = DEVICE_KINDS[kind]?.settings;
  if (!schema) return [];
  const { properties = {} } = z.toJSONSchema(schema, { io: 'input' }) as { properties?: Record<string, Property> };
  return Object.entries(properties).flatMap(([key, property]) =>
    property.type === 'number' || property.type === 'integer' ? [{ key, property }] : [],
  );
}

const plainWords = (key: string): string =>
  key
    .replace(/([A-Z])/g, ' $1')
    .toLowerCase()
    .replace(/^./, (first) => first.toUpperCase());

/** Name, address and declared limits of a device. A new address is reached for at once. */
export function DeviceSetUp({ document, device }: { readonly document: ShowDocument; readonly device: Device }) {
  const edits = useEdits();
  const router = useRouter();
  const numbers = useMemo(() => numbersOf(device.kind), [device.kind]);
  const set = (field: keyof Device, to: unknown, what: string): void =>
    edits.edit(`${what} of ${device.name}`, [changed('devices', device, field, to)]);
  return (
    <View style={styles.all}>
      <TextField
        label="Name"
        value={device.name}
        longest={120}
        fault={(text) => (text === '' ? 'Give the device a name.' : null)}
        onChange={(text) => set('name', text, 'Name')}
      />
      <TextField label="Room" value={device.room} longest={60} onChange={(text) => set('room', text.trim(), 'Room')} />
      <TextField
        label="Address"
        value={device.host}
        fault={hostFault}
        onChange={(text) => set('host', text.trim(), 'Address')}
        testID="host"
      />
      <TextField
        label="Port"
        value={String(device.port)}
        fault={(text) => portFault(text, device.host, document, device.key)}
        onChange={(text) => set('port', Number(text), 'Port')}
        testID="port"
      />
      <Text style={styles.hint}>{`In expressions its key is ${device.key}, whatever its name.`}</Text>
      {numbers.length > 0 ? <Heading words="As declared" /> : null}
      {numbers.map(({ key, property }) => (
        <NumberField
          key={key}
          label={plainWords(key)}
          value={Math.round(Number(device.settings[key] ?? property.default ?? 0) * 1000) / 1000}
          min={property.minimum ?? property.exclusiveMinimum ?? null}
          max={property.maximum ?? null}
          whole={property.type === 'integer'}
          onChange={(value) => set('settings', { ...device.settings, [key]: value }, plainWords(key))}
        />
      ))}
      {device.kind === 'router' ? <RouterLabels document={document} device={device} /> : null}
      <RemoveWithUses
        what={device.name}
        uses={usesOf(document, { kind: 'device', key: device.key })}
        onRemove={() => {
          edits.edit(`Remove ${device.name}`, [
            ...document.setUps.filter((setUp) => setUp.device === device.key).map((setUp) => removed('setUps', setUp)),
            removed('devices', device),
          ]);
          router.navigate('/rig' as never);
        }}
      />
    </View>
  );
}

/** What is cabled to a router's inputs and outputs, from a list. */
function RouterLabels({ document, device }: { readonly document: ShowDocument; readonly device: Device }) {
  const [listing, setListing] = useState(false);
  const count = (key: string): number =>
    ((device.settings[key] as string[] | undefined) ?? []).filter((label) => label !== '').length;
  return (
    <>
      <Heading words="Labels" />
      <Text
        style={styles.hint}
      >{`${count('sourceLabels')} sources and ${count('destinationLabels')} destinations have a label.`}</Text>
      {listing ? (
        <CsvImport document={document} target="labels" router={device} onClose={() => setListing(false)} />
      ) : (
        <Button mode="outlined" icon="table-arrow-down" style={styles.left} onPress={() => setListing(true)}>
          Labels from a list
        </Button>
      )}
    </>
  );
}

const styles = StyleSheet.create({
  all: { gap: 10, maxWidth: 560 },
  left: { alignSelf: 'flex-start' },
  hint: { fontFamily: font.regular, fontSize: 14, color: colour.muted },
});
