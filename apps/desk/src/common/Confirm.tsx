import type { ReactNode } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { colour, font } from '../theme/tokens';

interface ConfirmProps {
  /** What is asked, or what will happen. */
  readonly words?: string;
  /** More of it, below the words. */
  readonly children?: ReactNode;
  readonly keep: string;
  readonly go: string;
  readonly onKeep: () => void;
  readonly onGo: () => void;
  readonly disabled?: boolean;
  readonly loading?: boolean;
}

/** Asks before something is done, in its place and not over it: what happens, the way back first, then the deed. */
export const Confirm = ({
  words,
  children,
  keep,
  go,
  onKeep,
  onGo,
  disabled = false,
  loading = false,
}: ConfirmProps) => (
  <View style={styles.box} role="alert">
    {words === undefined ? null : <Text style={styles.words}>{words}</Text>}
    {children}
    <View style={styles.row}>
      <Button onPress={onKeep}>{keep}</Button>
      <Button mode="contained" disabled={disabled} loading={loading} onPress={onGo}>
        {go}
      </Button>
    </View>
  </View>
);

const styles = StyleSheet.create({
  box: {
    gap: 6,
    backgroundColor: colour.raised,
    borderLeftWidth: 4,
    borderLeftColor: colour.warning,
    borderRadius: 5,
    padding: 12,
  },
  words: { fontFamily: font.medium, fontSize: 15, color: colour.text },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
});
