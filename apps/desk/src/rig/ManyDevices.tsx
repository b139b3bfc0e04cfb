import { made } from '@umbek/core/changes';
import { DEVICE_KINDS, GENERIC } from '@umbek/core/devices';
import { manyNames, wordsIn } from '@umbek/core/programming';
import type { ShowDocument } from '@umbek/core/show';
import { useMemo, useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { Heading, TextField } from '../common/fields';
import { Segments } from '../common/Segments';
import { useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { hostFault } from '../csv/address';
import { type CountsUp, planDevices } from './manyPlan';

/** So many are shown before they are made. */
const SHOWN = 8;

/** Many devices alike from one pattern, seen before they are made, and made in one edit. */
export function ManyDevices({ document, onClose }: { readonly document: ShowDocument; readonly onClose: () => void }) {
  const edits = useEdits();
  const [kind, setKind] = useState('recorder');
  const [pattern, setPattern] = useState('Recorder {{room}}-{{n}}');
  const [words, setWords] = useState<Readonly<Record<string, string>>>({ room: 'Dome room, Gate room', n: '1-3' });
  const [host, setHost] = useState('127.0.0.1');
  const [port, setPort] = useState('9001');
  const [countsUp, setCountsUp] = useState<CountsUp>('port');
  const names = useMemo(() => manyNames({ pattern, words }), [pattern, words]);
  const plan = useMemo(
    () => (names.ok ? planDevices(names.value, { kind, host, port: Number(port), countsUp }, document) : null),
    [names, kind, host, port, countsUp, document],
  );
  const make = (): void => {
    if (!plan) return;
    edits.edit(
      `Add ${plan.devices.length} from ${pattern}`,
      plan.devices.map((device) => made('devices', device)),
    );
    onClose();
  };
  const faults = names.ok ? (plan?.faults ?? []) : [`${names.error.message} ${names.error.mend}`];
  return (
    <View style={styles.form}>
      <Heading words="Many devices alike" />
      <Segments
        value={kind}
        onChange={setKind}
        options={Object.values(DEVICE_KINDS)
          .filter((deviceKind) => deviceKind.key !== GENERIC)
          .map((deviceKind) => ({ value: deviceKind.key, label: deviceKind.words }))}
      />
      <TextField label="Name, with {{words}} that change" value={pattern} longest={120} onChange={setPattern} />
      {wordsIn(pattern).map((word) => (
        <TextField
          key={word}
          label={`{{${word}}}: a list (Dome, Gate) or a range (1-6, 01-30)`}
          value={words[word] ?? ''}
          longest={2000}
          onChange={(text) => setWords({ ...words, [word]: text })}
        />
      ))}
      <TextField label="First address" value={host} fault={hostFault} onChange={setHost} />
      <TextField label="First port" value={port} onChange={setPort} />
      <Segments
        value={countsUp}
        onChange={(to) => setCountsUp(to as CountsUp)}
        options={[
          { value: 'port', label: 'Ports count up' },
          { value: 'address', label: 'Addresses count up' },
        ]}
      />
      <View testID="many-preview" style={styles.preview}>
        {plan?.devices.slice(0, SHOWN).map((device) => (
          <Text key={device.key} style={styles.text}>
            {`${device.name} · ${device.host}:${device.port}${device.room === '' ? '' : ` · ${device.room}`}`}
          </Text>
        ))}
        {plan && plan.devices.length > SHOWN ? (
          <Text style={styles.text}>{`and ${plan.devices.length - SHOWN} more`}</Text>
        ) : null}
      </View>
      {faults.length > 0 ? (
        <View role="alert" style={styles.preview}>
          {faults.slice(0, SHOWN).map((fault) => (
            <Text key={fault} style={styles.fault}>
              {fault}
            </Text>
          ))}
          {faults.length > SHOWN ? (
            <Text style={styles.fault}>{`and ${faults.length - SHOWN} more like it`}</Text>
          ) : null}
        </View>
      ) : null}
      <View style={styles.line}>
        <Button onPress={onClose}>Cancel</Button>
        <Button mode="contained" disabled={faults.length > 0} onPress={make}>
          {`Make ${plan?.devices.length ?? 0}`}
        </Button>
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  form: { gap: 10, maxWidth: 560 },
  preview: { gap: 2, backgroundColor: colour.plate, borderRadius: 5, padding: 10 },
  text: { fontFamily: font.regular, fontSize: 15, color: colour.text, fontVariant: ['tabular-nums'] },
  fault: { fontFamily: font.medium, fontSize: 14, color: colour.warning },
  line: { flexDirection: 'row', justifyContent: 'flex-end', gap: 8 },
});
