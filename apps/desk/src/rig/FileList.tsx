import type { Device } from '@umbek/core/show';
import { useState } from 'react';
import { Linking, StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { useLive, usePoint, usePressState } from '../live/LiveContext';
import { colour, font } from '../theme/tokens';

/** Files that a recorder has: to download, and to delete after a second touch. */
export function FileList({ device }: { readonly device: Device }) {
  const live = useLive();
  const [sure, setSure] = useState<string | null>(null);
  const filesPoint = usePoint(`${device.key}.files`);
  const writing = usePoint(`${device.key}.file`);
  const press = usePressState(`${device.key}.delete`);
  if (typeof filesPoint !== 'string')
    return <Text style={styles.text}>Its files are not known: it does not answer.</Text>;
  const files = filesPoint.split('\n').filter(Boolean);
  return (
    <View style={styles.list}>
      {files.length === 0 ? <Text style={styles.text}>It has recorded nothing yet.</Text> : null}
      {press?.phase === 'failed' ? (
        <Text style={styles.bad} role="alert">
          {press.why}
        </Text>
      ) : null}
      {files.map((file) => (
        <View key={file} style={styles.line}>
          <Text style={styles.name}>{file}</Text>
          {file === writing ? <Text style={styles.text}>is being recorded</Text> : null}
          <Button
            compact
            icon="download"
            accessibilityLabel={`Download ${file}`}
            onPress={() => void Linking.openURL(`/api/devices/${device.key}/files/${encodeURIComponent(file)}`)}
          >
            Download
          </Button>
          <Button
            compact
            icon="delete-outline"
            mode={sure === file ? 'contained' : 'text'}
            accessibilityLabel={sure === file ? `Delete ${file} for good` : `Delete ${file}`}
            onPress={() => {
              if (sure !== file) return setSure(file);
              setSure(null);
              live.sendCommand(device.key, 'delete', { file });
            }}
          >
            {sure === file ? 'For good?' : 'Delete'}
          </Button>
        </View>
      ))}
    </View>
  );
}

const styles = StyleSheet.create({
  list: { gap: 4, maxWidth: 720 },
  line: {
    flexDirection: 'row',
    flexWrap: 'wrap',
    alignItems: 'center',
    gap: 6,
    paddingLeft: 14,
    backgroundColor: colour.plate,
    borderRadius: 6,
    minHeight: 50,
  },
  name: { flex: 1, minWidth: 140, fontFamily: font.medium, fontSize: 16, color: colour.text },
  text: { fontFamily: font.regular, fontSize: 15, color: colour.muted },
  bad: { fontFamily: font.medium, fontSize: 15, color: colour.warning },
});
