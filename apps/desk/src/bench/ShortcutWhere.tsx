import { changed } from '@umbek/core/changes';
import { inOrder } from '@umbek/core/order';
import type { Shortcut, ShowDocument } from '@umbek/core/show';
import { StyleSheet, View } from 'react-native';
import { Chip } from '../common/Chip';
import { Heading } from '../common/fields';
import { useEdits } from '../show/ShowContext';

/** At which station a shortcut counts: at one of the show, before those that count everywhere, or at all of them. */
export function ShortcutWhere({
  document,
  shortcut,
  words,
}: {
  readonly document: ShowDocument;
  readonly shortcut: Shortcut;
  readonly words: string;
}) {
  const edits = useEdits();
  if (document.stations.length === 0 && shortcut.station === null) return null;
  const choices = [{ id: null, name: 'Everywhere' }, ...inOrder(document.stations)];
  return (
    <>
      <Heading words="Counts at" />
      <View style={styles.row} role="group" accessibilityLabel="Counts at">
        {choices.map(({ id, name }) => (
          <Chip
            key={id ?? ''}
            on={shortcut.station === id}
            words={name}
            onPress={() =>
              shortcut.station === id
                ? undefined
                : edits.edit(`Where ${words} counts`, [changed('shortcuts', shortcut, 'station', id)])
            }
          />
        ))}
      </View>
    </>
  );
}

const styles = StyleSheet.create({ row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 } });
