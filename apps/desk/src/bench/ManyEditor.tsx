import { alike, changedInAll, sharedChanges, shareOf } from '@umbek/core/programming';
import type { Button as ButtonData, ShowDocument } from '@umbek/core/show';
import { useState } from 'react';
import { ScrollView, StyleSheet, Text, TextInput, View } from 'react-native';
import { Button } from 'react-native-paper';
import { ulid } from 'ulid';
import { AppDialog } from '../common/AppDialog';
import { EditorHead } from '../common/EditorHead';
import { FamilyChoice } from '../common/FamilyChoice';
import { Heading, TextField } from '../common/fields';
import { useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import type { Chosen } from './useChosen';

/** What all of them have in common; undefined where they differ. */
function common<T>(buttons: readonly ButtonData[], of: (button: ButtonData) => T): T | undefined {
  const [first, ...others] = buttons.map(of);
  return others.every((other) => other === first) ? first : undefined;
}

/** What is changed of many buttons at once. */
export function ManyEditor({
  document,
  chosen,
  onCount,
}: {
  readonly document: ShowDocument;
  readonly chosen: Chosen;
  readonly onCount: () => void;
}) {
  const edits = useEdits();
  const { buttons } = chosen;
  const [first] = buttons;
  const family = common(buttons, (button) => button.family);
  const guard = common(buttons, (button) => button.guard);
  const strip = document.strips.find(({ id }) => id === common(buttons, (button) => button.stripId));
  const copy = (): void => {
    navigator.clipboard.writeText(chosen.copied()).then(
      () => edits.tell(`Copied: ${buttons.length} ${buttons.length === 1 ? 'button' : 'buttons'}.`, false),
      () => edits.tell('This browser does not let the page copy. Use Ctrl and C.', true),
    );
  };
  const share = (): void => {
    const found = shareOf(document, buttons);
    if ('words' in found) return edits.tell(found.words, true);
    const name = strip?.name ?? first?.legend ?? 'Shared';
    const { changes, macro } = sharedChanges(document, buttons, found, name, ulid);
    chosen.edit('One macro', changes, `${macro.number} ${macro.name}`);
    edits.tell(
      `${buttons.length} buttons share macro ${macro.number} ${macro.name}. Change it once, all follow.`,
      false,
    );
  };
  const legends = (pattern: string): void => {
    if (pattern.trim() === '') return;
    chosen.edit(
      'Legend',
      buttons.flatMap((button, at) => changedInAll([button], 'legend', pattern.replaceAll('#', String(at + 1)))),
      pattern,
    );
  };
  const title =
    buttons.length === 0
      ? 'Choose buttons'
      : buttons.length === 1
        ? '1 button chosen'
        : `${buttons.length} buttons chosen`;
  return (
    <View style={styles.all}>
      <View style={styles.top}>
        <EditorHead title={title} onClose={chosen.end} />
      </View>
      {first === undefined ? (
        <Text style={styles.hint}>
          Touch caps to choose them, or the ticks beside a strip for all of it. Then one change applies to all of them.
        </Text>
      ) : (
        <ScrollView contentContainerStyle={styles.body}>
          <View style={styles.row}>
            <Button mode="outlined" icon="content-copy" onPress={copy}>
              Copy
            </Button>
            <Button mode="outlined" icon="delete" onPress={chosen.remove}>
              Remove
            </Button>
            <Button mode="outlined" onPress={onCount}>
              Count up
            </Button>
            {buttons.length > 1 ? (
              <Button mode="outlined" onPress={share}>
                Share one macro
              </Button>
            ) : null}
            {buttons.length === 1 ? (
              <Button mode="outlined" onPress={() => chosen.toggleAll(alike(document, first).map(({ id }) => id))}>
                All that do the same
              </Button>
            ) : null}
          </View>
          <Heading words="Family" />
          <FamilyChoice
            value={family === undefined ? undefined : family}
            onChange={(to) => chosen.edit('Colour', changedInAll(buttons, 'family', to), to ?? 'as strip')}
            inherit={strip?.family ?? 'stone'}
          />
          <Heading words="Guard" />
          <View style={styles.row}>
            <Button
              mode={guard === 'none' ? 'contained' : 'outlined'}
              onPress={() => chosen.edit('Guard', changedInAll(buttons, 'guard', 'none'), 'one touch')}
            >
              One touch
            </Button>
            <Button
              mode={guard === 'secondTouch' ? 'contained' : 'outlined'}
              onPress={() => chosen.edit('Guard', changedInAll(buttons, 'guard', 'secondTouch'), 'second touch')}
            >
              Second touch
            </Button>
          </View>
          <Heading words="Legends" />
          <TextField
            label="Legend of all; # counts from 1"
            value={common(buttons, (button) => button.legend) ?? ''}
            longest={120}
            onChange={legends}
            testID="legends"
          />
        </ScrollView>
      )}
    </View>
  );
}

/** Puts copied buttons in: from the clipboard, or from a text where the browser keeps the clipboard to itself. */
export function PasteButton({ chosen }: { readonly chosen: Chosen }) {
  const edits = useEdits();
  const [asking, setAsking] = useState(false);
  const [text, setText] = useState('');
  const change = (from: string): void => {
    const words = chosen.paste(from);
    if (words !== null) edits.tell(words, true);
    else setAsking(false);
  };
  const ask = (): void => {
    setText('');
    setAsking(true);
  };
  return (
    <>
      <Button
        mode="outlined"
        onPress={() => {
          if (typeof navigator.clipboard?.readText === 'function') navigator.clipboard.readText().then(change, ask);
          else ask();
        }}
      >
        Paste
      </Button>
      <AppDialog
        visible={asking}
        title="Paste buttons"
        onClose={() => setAsking(false)}
        actions={
          <>
            <Button onPress={() => setAsking(false)}>Close</Button>
            <Button mode="contained" disabled={text.trim() === ''} onPress={() => change(text)}>
              Put them in
            </Button>
          </>
        }
      >
        <Text style={styles.words}>This browser keeps what was copied to itself. Put the text in here.</Text>
        <TextInput
          multiline
          value={text}
          onChangeText={setText}
          accessibilityLabel="Copied buttons"
          style={styles.text}
          testID="paste-text"
        />
      </AppDialog>
    </>
  );
}

const styles = StyleSheet.create({
  all: { flex: 1 },
  top: { paddingHorizontal: 14, paddingTop: 8 },
  body: { padding: 14, gap: 10, paddingBottom: 32 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  hint: { fontFamily: font.regular, fontSize: 16, lineHeight: 22, color: colour.muted, paddingHorizontal: 14 },
  words: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.text },
  text: {
    minHeight: 96,
    maxHeight: 200,
    padding: 8,
    borderRadius: 4,
    backgroundColor: colour.ground,
    color: colour.text,
    fontFamily: font.regular,
    fontSize: 14,
  },
});
