import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button } from 'react-native-paper';
import { TextField } from '../common/fields';

interface StoreAsNewProps {
  readonly label: string;
  /** What it is called when nobody types a name. */
  readonly proposal: string;
  readonly disabled?: boolean;
  /** What the button says. */
  readonly action?: string;
  readonly onStore: (name: string) => void;
}

/** Stores what is seen now under a name that stands beside the button: typed beforehand, or the proposal. */
export function StoreAsNew({ label, proposal, disabled = false, action = 'Store as new', onStore }: StoreAsNewProps) {
  const [name, setName] = useState<string | null>(null);
  const store = (): void => {
    onStore(name ?? proposal);
    setName(null);
  };
  return (
    <View style={styles.row}>
      <View style={styles.name}>
        <TextField
          label={label}
          value={name ?? proposal}
          longest={120}
          fault={(text) => (text.trim() === '' ? 'Give it a name.' : null)}
          onChange={(text) => setName(text.trim())}
        />
      </View>
      <Button mode="outlined" icon="plus" disabled={disabled} onPress={store}>
        {action}
      </Button>
    </View>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8, marginBottom: 10 },
  name: { flexGrow: 1, flexBasis: 170, maxWidth: 320 },
});
