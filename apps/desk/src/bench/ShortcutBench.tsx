import { changed, made, removed } from '@umbek/core/changes';
import { newShortcut, type ShortcutRow, shortcutRows, shortcutsFound, turns } from '@umbek/core/programming';
import { runsWords } from '@umbek/core/entryWords';
import { onWords, runsAt } from '@umbek/core/shortcut';
import type { Runs, ShowDocument } from '@umbek/core/show';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useCallback, useMemo, useState } from 'react';
import { Linking, ScrollView, StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { ulid } from 'ulid';
import { EditorHead } from '../common/EditorHead';
import { Heading } from '../common/fields';
import { Removal } from '../common/Removal';
import { useLayout } from '../keys/keyboard';
import { PlaceLink } from '../show/PlaceLink';
import { useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { BenchList } from './BenchList';
import { LearnKey } from './LearnKey';
import { KnobWays } from './KnobWays';
import { ListRow } from './ListRow';
import { OtherGear } from './OtherGear';
import { RunsPicker } from './RunsPicker';
import { ShortcutWhere } from './ShortcutWhere';
import { StickBench } from './StickBench';

/** What stands in the address while the tokens of other gear are shown, or the settings of joysticks. */
const BESIDE = 'gear';
const STICK = 'stick';

/** Every shortcut of the show in one list: what is pressed, what it runs, and which of them do nothing. */
export function ShortcutBench({ document }: { readonly document: ShowDocument }) {
  const router = useRouter();
  const edits = useEdits();
  const layout = useLayout();
  const { v } = useLocalSearchParams<{ v?: string }>();
  const [search, setSearch] = useState('');
  const [choosing, setChoosing] = useState(false);
  const [runs, setRuns] = useState<Runs | null>(null);
  const all = useMemo(() => shortcutRows(document, layout), [document, layout]);
  const rows = useMemo(() => shortcutsFound(all, search), [all, search]);
  const open = useCallback((id: string | undefined): void => router.setParams({ v: id } as never), [router]);
  const row = all.find(({ shortcut }) => shortcut.id === v);
  const faults = all.filter(({ fault }) => fault !== '').length;
  return (
    <>
      <BenchList
        part="shortcuts"
        rows={rows}
        keyOf={({ shortcut }) => shortcut.id}
        draw={({ shortcut, words, runs: where, station, fault }) => (
          <ListRow
            id={shortcut.id}
            what="Shortcut"
            name={words}
            detail={[where, station === '' ? '' : `at ${station}`, fault].filter(Boolean).join(' · ')}
            chosen={shortcut.id === v}
            onOpen={open}
          />
        )}
        search={search}
        onSearch={setSearch}
        searched="Key or button"
        empty={
          all.length === 0
            ? 'A key, a code on a dial pad, a MIDI note, a pedal or a stick’s button can press a button, run a macro, or fire, arm or disarm a trigger while the Desk is shown. A MIDI controller or a lever can turn a value. Add one here, or from the button itself, under Does.'
            : `No shortcut has “${search.trim()}” in what is pressed, in what it runs or in its station.`
        }
        add="Add a shortcut"
        onAdd={() => setChoosing(true)}
        editor={
          v === BESIDE ? (
            <OtherGear document={document} onClose={() => open(undefined)} />
          ) : v === STICK ? (
            <StickBench document={document} onClose={() => open(undefined)} />
          ) : row === undefined ? null : (
            <ShortcutEditor key={v} document={document} row={row} onOpen={open} />
          )
        }
        beside="Choose a shortcut to change what is pressed or what it runs. Gear that can send a request runs buttons, macros and triggers with a token: Other gear."
        onClose={() => open(undefined)}
      >
        <View style={styles.row}>
          <Button compact mode={v === BESIDE ? 'contained' : 'text'} onPress={() => open(BESIDE)}>
            Other gear
          </Button>
          <Button compact mode={v === STICK ? 'contained' : 'text'} onPress={() => open(STICK)}>
            Joystick
          </Button>
          <Button compact icon="download" onPress={() => void Linking.openURL('/api/shortcuts.csv')}>
            As CSV
          </Button>
          <Button compact onPress={() => void Linking.openURL('/api/shortcuts.html')}>
            To print
          </Button>
          <Text style={faults === 0 ? styles.hint : styles.fault}>
            {[
              all.length === 1 ? '1 shortcut' : `${all.length} shortcuts`,
              ...(faults === 0 ? [] : [faults === 1 ? '1 does nothing' : `${faults} do nothing`]),
            ].join(' · ')}
          </Text>
        </View>
      </BenchList>
      <RunsPicker document={document} visible={choosing} onClose={() => setChoosing(false)} onChoose={setRuns} />
      {runs === null ? null : (
        <LearnKey
          document={document}
          runs={runs}
          visible
          onClose={() => setRuns(null)}
          onLearn={(on, taken) => {
            const added = newShortcut(document, ulid(), on, runs);
            edits.edit(`Shortcut ${onWords(on)} of ${runsWords(document, runs)}`, [
              ...(taken === undefined ? [] : [removed('shortcuts', taken)]),
              made('shortcuts', added),
            ]);
            open(added.id);
          }}
        />
      )}
    </>
  );
}

function ShortcutEditor({
  document,
  row: { shortcut, words, runs, fault },
  onOpen,
}: {
  readonly document: ShowDocument;
  readonly row: ShortcutRow;
  readonly onOpen: (id: string | undefined) => void;
}) {
  const edits = useEdits();
  const [learning, setLearning] = useState(false);
  const [choosing, setChoosing] = useState(false);
  return (
    <ScrollView contentContainerStyle={styles.body}>
      <EditorHead title={words} onClose={() => onOpen(undefined)} />
      {fault === '' ? null : (
        <Text style={styles.fault} role="alert">
          {fault}
        </Text>
      )}
      <Heading words="Presses" />
      {runs === '' ? null : <PlaceLink at={{ ...runsAt(shortcut.runs), path: [] }} words={runs} />}
      <View style={styles.row}>
        <Button mode="outlined" onPress={() => setChoosing(true)}>
          Press something else
        </Button>
        <Button mode="outlined" onPress={() => setLearning(true)}>
          Something else pressed
        </Button>
      </View>
      <KnobWays document={document} shortcut={shortcut} words={words} />
      <ShortcutWhere document={document} shortcut={shortcut} words={words} />
      <Text style={styles.hint}>
        {turns(document, shortcut.runs)
          ? 'It turns the value while the Desk is shown, once it has met it where it stands: nothing jumps.'
          : 'It presses while the Desk is shown and nobody types, and lets go with what is pressed. Held down, it is one press.'}
      </Text>
      <Removal
        what={words}
        words="The button stays. Undo brings the shortcut back."
        onRemove={() => {
          edits.edit(`Remove shortcut ${words}`, [removed('shortcuts', shortcut)]);
          onOpen(undefined);
        }}
      />
      <RunsPicker
        document={document}
        visible={choosing}
        onClose={() => setChoosing(false)}
        onChoose={(to) => edits.edit(`What ${words} presses`, [changed('shortcuts', shortcut, 'runs', to)])}
      />
      <LearnKey
        document={document}
        runs={shortcut.runs}
        changing={shortcut}
        visible={learning}
        onClose={() => setLearning(false)}
        onLearn={(on, taken) =>
          edits.edit(`${onWords(on)} in place of ${words}`, [
            ...(taken === undefined ? [] : [removed('shortcuts', taken)]),
            changed('shortcuts', shortcut, 'on', on),
          ])
        }
      />
    </ScrollView>
  );
}

const styles = StyleSheet.create({
  body: { padding: 14, gap: 10, paddingBottom: 48 },
  hint: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
  fault: { fontFamily: font.medium, fontSize: 15, lineHeight: 20, color: colour.warning },
  row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
});
