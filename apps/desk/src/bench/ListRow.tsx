import { memo } from 'react';
import { Pressable, StyleSheet, Text, View } from 'react-native';
import { colour, font } from '../theme/tokens';

/** A row of a list of the Bench: what it is, and a line about it. */
export const ListRow = memo(function ListRow({
  id,
  number,
  name,
  detail,
  what,
  chosen,
  onOpen,
}: {
  readonly id: string;
  /** Stands before the name; left out: none. */
  readonly number?: number;
  readonly name: string;
  readonly detail: string;
  /** What it is called before its name when it is read aloud. */
  readonly what: string;
  readonly chosen: boolean;
  readonly onOpen: (id: string) => void;
}) {
  return (
    <Pressable
      role="button"
      aria-pressed={chosen}
      accessibilityLabel={`${what} ${number === undefined ? '' : `${number} `}${name}, ${detail}`}
      onPress={() => onOpen(id)}
      style={[styles.row, chosen && styles.chosen]}
      testID={`row-${id}`}
    >
      {number === undefined ? null : <Text style={styles.number}>{number}</Text>}
      <View style={styles.fill}>
        <Text style={styles.name} numberOfLines={2} dir="auto">
          {name}
        </Text>
        <Text style={styles.detail} numberOfLines={2}>
          {detail}
        </Text>
      </View>
    </Pressable>
  );
});

const styles = StyleSheet.create({
  fill: { flex: 1, minWidth: 0 },
  row: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 12,
    minHeight: 56,
    paddingHorizontal: 14,
    paddingVertical: 8,
    backgroundColor: colour.raised,
    borderRadius: 6,
  },
  chosen: { boxShadow: `0 0 0 2px ${colour.text}` },
  number: { fontFamily: font.bold, fontSize: 18, color: colour.text, minWidth: 36, fontVariant: ['tabular-nums'] },
  name: { fontFamily: font.semibold, fontSize: 17, lineHeight: 21, color: colour.text },
  detail: { fontFamily: font.regular, fontSize: 14, color: colour.muted },
});
