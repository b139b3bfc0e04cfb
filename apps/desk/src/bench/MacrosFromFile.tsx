import { type MacroFile, macroMatches, macrosBrought } from '@umbek/core/programming';
import type { ShowDocument } from '@umbek/core/show';
import { useState } from 'react';
import { ScrollView, StyleSheet, Text } from 'react-native';
import { Button } from 'react-native-paper';
import { ulid } from 'ulid';
import { Sheet } from '../common/Sheet';
import { useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { MatchList } from './MatchList';

/** Macros of a file, before they are made: what comes along, and what stands here for what they name. */
export function MacrosFromFile({
  document,
  file,
  onClose,
  onMade,
}: {
  readonly document: ShowDocument;
  readonly file: MacroFile;
  readonly onClose: () => void;
  readonly onMade: (first: string | null) => void;
}) {
  const edits = useEdits();
  const [first] = useState(() => macroMatches(file, document));
  const [matches, setMatches] = useState(first);
  const count = file.macros.length === 1 ? '1 macro' : `${file.macros.length} macros`;
  return (
    <Sheet
      title="Macros from a file"
      visible
      onClose={onClose}
      actions={
        <>
          <Button onPress={onClose}>Close</Button>
          <Button
            mode="contained"
            onPress={() => {
              const made = macrosBrought(document, file, matches, ulid);
              edits.edit(`Put in ${count}`, made.changes);
              onMade(made.first);
            }}
          >
            {`Put in ${count}`}
          </Button>
        </>
      }
    >
      <ScrollView contentContainerStyle={styles.body}>
        <MatchList matches={matches} first={first} what="Macros" onChange={(next) => setMatches([...next])} />
        <Text style={styles.words}>They come under the next numbers that are free.</Text>
      </ScrollView>
    </Sheet>
  );
}

const styles = StyleSheet.create({
  body: { gap: 10, paddingBottom: 12 },
  words: { fontFamily: font.regular, fontSize: 15, color: colour.muted },
});
