import { runsDeed, runsWords } from '@umbek/core/entryWords';
import { keptFor, keyOn, onWords, pressedId, sameOn, shortcutOn } from '@umbek/core/shortcut';
import type { Shortcut, ShortcutOn, ShowDocument } from '@umbek/core/show';
import { useEffect, useRef, useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button, TextInput } from 'react-native-paper';
import { AppDialog } from '../common/AppDialog';
import { turns } from '@umbek/core/programming';
import { takesText, useLayout } from '../keys/keyboard';
import { knowsMidi, listenMidi } from '../keys/midi';
import { listenStick } from '../keys/stick';
import { colour, font } from '../theme/tokens';

/** A lever that is moved beyond this is meant. */
const FAR = 0.7;

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
  readonly onLearn: (on: ShortcutOn, taken?: Shortcut) => void;
  readonly onClose: () => void;
}

/** Takes the next key, MIDI note, pedal or stick button that is pressed, or a code. One that is free is taken at once; of one that is not, it is said what has it. */
export function LearnKey({ document, runs, changing, visible, onLearn, onClose }: LearnKeyProps) {
  const layout = useLayout();
  const station = changing?.station ?? null;
  const [code, setCode] = useState<string | null>(null);
  const [heard, setHeard] = useState<ShortcutOn | null>(null);
  const kept = heard === null ? null : keptFor(heard);
  const other = heard === null || kept !== null ? undefined : shortcutOn(document.shortcuts, heard, station);
  const own = other !== undefined && pressedId(other.runs) === pressedId(runs);
  const deed = runsDeed(document, runs, true);
  const turned = turns(document, runs);
  const hear = useRef((_on: ShortcutOn): void => undefined);
  hear.current = (on) => {
    const taken = shortcutOn(document.shortcuts, on, station);
    if (keptFor(on) === null && taken === undefined) {
      onLearn(on);
      onClose();
    } else if (changing !== undefined && sameOn(changing.on, on)) onClose();
    else setHeard(on);
  };
  useEffect(() => {
    if (!visible) return undefined;
    setHeard(null);
    setCode(null);
    const handler = (event: KeyboardEvent): void => {
      if (takesText(event.target) || OF_THE_DIALOG.test(event.code)) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      // A key turns nothing.
      const on = event.repeat || turned ? null : keyOn(event);
      if (on !== null) hear.current(on);
    };
    const ending = new AbortController();
    // Before anything of the page hears it.
    window.addEventListener('keydown', handler, { capture: true, signal: ending.signal });
    const ends = [
      listenMidi(
        (_port, { on, down }) => (down || (turned && on.message === 'control')) && hear.current(on),
        () => undefined,
      ),
      listenStick(
        (_pad, button, down) => down && hear.current({ kind: 'stick', button }),
        () => undefined,
        (_pad, axis, value) => turned && Math.abs(value) > FAR && hear.current({ kind: 'axis', axis }),
      ),
      () => ending.abort(),
    ];
    return () => ends.forEach((end) => end());
  }, [visible, turned]);
  const takeCode = (): void => {
    if (code !== null && code !== '') hear.current({ kind: 'code', code });
  };
  const words = heard === null ? '' : onWords(heard, layout);
  return (
    <AppDialog
      visible={visible}
      title={code === null ? 'Press it now' : 'A code for the dial pad'}
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
      <Text style={styles.words}>
        {code === null && turned
          ? `The MIDI controller or lever that you move now will turn ${runsWords(document, runs)}, while the Desk is shown. It turns nothing before it has met the value.`
          : code === null
            ? `The key, note, pedal or stick button that you press now will ${deed}, while the Desk is shown and nobody types.`
            : `Whoever dials this code and Enter ${runsDeed(document, runs)}.`}
      </Text>
      {heard === null && code !== null ? null : heard === null ? (
        <Text style={styles.hint}>
          {`A key also with Ctrl, Alt or Shift held. ${knowsMidi() ? 'A MIDI note or controller, such as a pedal, as soon as the browser was allowed to hear MIDI.' : 'This browser hears no MIDI.'} A stick is heard once one of its buttons was pressed.`}
        </Text>
      ) : (
        <Text style={styles.fault} role="alert">
          {kept !== null
            ? `${words} ${kept}. Press another.`
            : own
              ? `${words} does that already. Press another.`
              : `${words} ${runsDeed(document, other?.runs ?? runs)} now. Press another, or take this one.`}
        </Text>
      )}
      {turned ? null : code === null ? (
        <Button mode="outlined" style={styles.left} onPress={() => setCode('')}>
          A code for the dial pad instead
        </Button>
      ) : (
        <View style={styles.row}>
          <TextInput
            mode="outlined"
            dense
            autoFocus
            style={styles.code}
            label="Code for the dial pad"
            accessibilityLabel="Code for the dial pad"
            inputMode="numeric"
            value={code}
            onChangeText={(text) => setCode(text.replace(/\D/g, '').slice(0, 6))}
            onSubmitEditing={takeCode}
          />
          <Button mode="outlined" disabled={code === ''} onPress={takeCode}>
            Take the code
          </Button>
        </View>
      )}
    </AppDialog>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
  left: { alignSelf: 'flex-start' },
  code: { flexGrow: 1, flexBasis: 180 },
  words: { fontFamily: font.regular, fontSize: 16, lineHeight: 22, color: colour.text },
  hint: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
  fault: { fontFamily: font.medium, fontSize: 16, lineHeight: 22, color: colour.warning },
});
