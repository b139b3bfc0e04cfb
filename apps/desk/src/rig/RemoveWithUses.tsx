import type { Use } from '@umbek/core/programming';
import { useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { Heading } from '../common/fields';
import { colour, font } from '../theme/tokens';

const SHOWN = 12;

/** Takes a thing away, after it was told where it is used. What is used cannot be taken away: its users would point at nothing. */
export function RemoveWithUses({
  what,
  uses,
  onRemove,
  label = 'Remove',
}: {
  readonly what: string;
  readonly uses: readonly Use[];
  readonly onRemove: () => void;
  readonly label?: string;
}) {
  const [asked, setAsked] = useState(false);
  return (
    <View style={styles.all}>
      <Heading words={label} />
      {asked ? (
        <View style={styles.box}>
          {uses.length === 0 ? (
            <Text style={styles.text}>{`${what} is used nowhere. Undo brings it back.`}</Text>
          ) : (
            <>
              <Text
                style={styles.text}
              >{`${what} is used in ${uses.length} ${uses.length === 1 ? 'place' : 'places'}:`}</Text>
              {uses.slice(0, SHOWN).map((use, at) => (
                <Text key={`${use.id}${at}`} style={styles.use}>
                  {use.where}
                </Text>
              ))}
              {uses.length > SHOWN ? <Text style={styles.use}>{`and ${uses.length - SHOWN} more`}</Text> : null}
              <Text style={styles.text}>Change those first; then it can go.</Text>
            </>
          )}
          <View style={styles.row}>
            <Button onPress={() => setAsked(false)}>Keep it</Button>
            <Button mode="contained" disabled={uses.length > 0} onPress={onRemove}>
              Remove it
            </Button>
          </View>
        </View>
      ) : (
        <Button mode="outlined" icon="delete" style={styles.left} onPress={() => setAsked(true)}>
          {`Remove ${what}`}
        </Button>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  all: { gap: 4 },
  box: {
    gap: 6,
    backgroundColor: colour.raised,
    borderLeftWidth: 4,
    borderLeftColor: colour.warning,
    borderRadius: 5,
    padding: 12,
  },
  text: { fontFamily: font.medium, fontSize: 15, color: colour.text },
  use: { fontFamily: font.regular, fontSize: 14, color: colour.muted },
  row: { flexDirection: 'row', gap: 8 },
  left: { alignSelf: 'flex-start' },
});
