import { entryWords } from '@umbek/core/entryWords';
import { keptFor, keyOn, keyWords, runsAt, sameKey, shortcutOn } from '@umbek/core/shortcut';
import type { KeyOn, Shortcut, ShowDocument } from '@umbek/core/show';
import { useEffect, useRef, useState } from 'react';
import { StyleSheet, Text } from 'react-native';
import { Button } from 'react-native-paper';
import { AppDialog } from '../common/AppDialog';
import { useLayout } from '../keys/keyboard';
import { colour, font } from '../theme/tokens';

/** With these the dialog itself is worked; none of them can be learned. */
const OF_THE_DIALOG = /^(Tab|Enter|NumpadEnter|Space|Escape|Arrow(Up|Down|Left|Right))$/;

interface LearnKeyProps {
  readonly document: ShowDocument;
  /** What the key is to run. */
  readonly runs: Shortcut['runs'];
  /** The shortcut whose key is changed; left out: a new one. */
  readonly changing?: Shortcut;
  readonly visible: boolean;
  /** @param taken the shortcut that had the key, where it gives it up */
  readonly onLearn: (on: KeyOn, taken?: Shortcut) => void;
  readonly onClose: () => void;
}

/** Takes the next key that is pressed. One that is free is taken at once; of one that is not, it is said what has it. */
export function LearnKey({ document, runs, changing, visible, onLearn, onClose }: LearnKeyProps) {
  const layout = useLayout();
  const [heard, setHeard] = useState<KeyOn | null>(null);
  const kept = heard === null ? null : keptFor(heard);
  const other = heard === null || kept !== null ? undefined : shortcutOn(document.shortcuts, heard);
  const own = other !== undefined && runsAt(other.runs).id === runsAt(runs).id;
  const what = entryWords(document, runsAt(runs));
  const hear = useRef((_on: KeyOn): void => undefined);
  hear.current = (on) => {
    const taken = shortcutOn(document.shortcuts, on);
    if (keptFor(on) === null && taken === undefined) {
      onLearn(on);
      onClose();
    } else if (changing !== undefined && sameKey(changing.on, on)) onClose();
    else setHeard(on);
  };
  useEffect(() => {
    if (!visible) return undefined;
    setHeard(null);
    const handler = (event: KeyboardEvent): void => {
      if (OF_THE_DIALOG.test(event.code)) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      const on = event.repeat ? null : keyOn(event);
      if (on !== null) hear.current(on);
    };
    const ending = new AbortController();
    // Before anything of the page hears it.
    window.addEventListener('keydown', handler, { capture: true, signal: ending.signal });
    return () => ending.abort();
  }, [visible]);
  const words = heard === null ? '' : keyWords(heard, layout);
  return (
    <AppDialog
      visible={visible}
      title="Press the key"
      onClose={onClose}
      actions={
        <>
          {other !== undefined && !own && heard !== null ? (
            <Button
              mode="contained"
              onPress={() => {
                onLearn(heard, other);
                onClose();
              }}
            >
              {`Take ${words} from it`}
            </Button>
          ) : null}
          <Button mode="outlined" onPress={onClose}>
            Cancel
          </Button>
        </>
      }
    >
      <Text style={styles.words}>{`It will press ${what}, while the Desk is shown and nobody types.`}</Text>
      {heard === null ? (
        <Text style={styles.hint}>
          Also with Ctrl, Alt or Shift held. This machine needs a keyboard for it: a phone without one hears no key.
        </Text>
      ) : (
        <Text style={styles.fault} role="alert">
          {kept !== null
            ? `${words} ${kept}. Press another key.`
            : own
              ? `${words} presses it already. Press another key.`
              : `${words} presses ${entryWords(document, runsAt(other?.runs ?? runs))} now. Press another key, or take this one.`}
        </Text>
      )}
    </AppDialog>
  );
}

const styles = StyleSheet.create({
  words: { fontFamily: font.regular, fontSize: 16, lineHeight: 22, color: colour.text },
  hint: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
  fault: { fontFamily: font.medium, fontSize: 16, lineHeight: 22, color: colour.warning },
});
