import { useEffect, useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { useFlash } from '../live/LiveContext';
import { colour, font } from '../theme/tokens';

const SHOWN_MS = 3000;

/** Somebody looks for this station: its name stands over everything for a moment, and takes no touch. */
export function Flash() {
  const flash = useFlash();
  const [over, setOver] = useState(0);
  const at = flash?.at ?? 0;
  useEffect(() => {
    if (at === 0) return undefined;
    const timer = setTimeout(() => setOver(at), SHOWN_MS);
    return () => clearTimeout(timer);
  }, [at]);
  if (flash === null || over === at) return null;
  return (
    <View style={styles.all} pointerEvents="none" role="status" testID="flash">
      <View style={styles.plate}>
        <Text style={styles.name}>{flash.name}</Text>
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  all: { position: 'absolute', inset: 0, zIndex: 20, alignItems: 'center', justifyContent: 'center', padding: 20 },
  plate: { backgroundColor: colour.cap, borderRadius: 8, borderBottomWidth: 8, borderBottomColor: colour.warning },
  name: { fontFamily: font.bold, fontSize: 44, lineHeight: 52, color: colour.legend, padding: 24, textAlign: 'center' },
});
