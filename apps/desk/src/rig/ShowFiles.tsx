import { useMutation } from '@tanstack/react-query';
import type { ShowDocument } from '@umbek/core/show';
import { useState } from 'react';
import { Linking, StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { chooseFile } from '../common/chooseFile';
import { Confirm } from '../common/Confirm';
import { Heading } from '../common/fields';
import { useEdits, useFollow } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { ShowDay } from './ShowDay';
import { ShowList } from './ShowList';
import { Versions } from './Versions';
import { act } from '../live/deeds';
import { inTheFile, readJson } from './fileFaults';
import { replyWords } from '../show/replyWords';

interface Refusal {
  readonly message?: string;
  readonly mend?: string;
  readonly path?: string;
  readonly name?: string;
  readonly others?: readonly Refusal[];
}

const COUNTED = ['devices', 'sources', 'positions', 'panels', 'buttons', 'macros'] as const;

/** The show as a file: out, in, and back to the beginning. What is replaced can be brought back. */
/** A whole show may take so long to go over a slow network. */
const FILE_MS = 60_000;

export function ShowFiles({ document }: { readonly document: ShowDocument }) {
  const edits = useEdits();
  const { goAlong } = useFollow();
  const [sure, setSure] = useState<'demo' | 'empty' | null>(null);
  const [faults, setFaults] = useState<readonly Refusal[]>([]);
  const settle = async (response: Response, file?: unknown): Promise<void> => {
    const reply = (await response.json()) as Refusal;
    if (!response.ok) return setFaults([reply, ...(reply.others ?? [])].map((refusal) => inTheFile(refusal, file)));
    setFaults([]);
    edits.tell(`${reply.name ?? 'The show'} is open.`, false);
    await edits.load();
  };
  const unreachable = (error: Error): void => setFaults([{ message: error.message, mend: '' }]);
  const bringIn = useMutation({
    mutationFn: async () => {
      const text = await chooseFile('.json,application/json', (message) =>
        setFaults([{ message, mend: 'Choose a smaller file.' }]),
      );
      if (text === null) return;
      const file = readJson(text);
      if (file === undefined)
        return setFaults([
          {
            message: 'This file is not a show: it is no JSON file, or a part of it is missing.',
            mend: 'Choose a file that Umbek exported.',
          },
        ]);
      await goAlong(async () => settle(await act('/api/show', text, { longestMs: FILE_MS }), file));
    },
    onError: unreachable,
  });
  const reset = useMutation({
    mutationFn: (to: 'demo' | 'empty') =>
      goAlong(async () => settle(await act('/api/show/reset', { to }, { longestMs: FILE_MS }))),
    onError: unreachable,
    onSettled: () => setSure(null),
  });
  const bringBack = useMutation({
    mutationFn: () => goAlong(async () => settle(await act('/api/show/bring-back', {}, { longestMs: FILE_MS }))),
    onError: unreachable,
  });
  return (
    <View style={styles.all}>
      <Text style={styles.name}>{document.show.name}</Text>
      <Text style={styles.text}>
        {[
          ...COUNTED.map(
            (name) => `${document[name].length} ${document[name].length === 1 ? name.slice(0, -1) : name}`,
          ),
          `${document.show.frameRate} frames a second`,
        ].join(', ')}
      </Text>
      <ShowDay document={document} />
      <ShowList document={document} />
      <Versions document={document} />
      <Heading words="As a file" />
      <View style={styles.row}>
        <Button
          mode="contained"
          icon="download"
          onPress={() => void Linking.openURL('/api/show/file')}
          accessibilityLabel="Export the show"
        >
          Export
        </Button>
        <Button
          mode="outlined"
          icon="upload"
          loading={bringIn.isPending}
          onPress={() => bringIn.mutate()}
          accessibilityLabel="Import a show"
        >
          Import
        </Button>
        <Button mode="text" onPress={() => void Linking.openURL('/api/show/schema.json')}>
          JSON Schema
        </Button>
      </View>
      <Text style={styles.text}>
        An import is checked as a whole before anything changes. It replaces this show; runs under way finish as they
        began.
      </Text>
      {faults.length > 0 ? (
        <View style={styles.faults} role="alert" testID="file-faults">
          <Text style={styles.fault}>Nothing was changed.</Text>
          {faults.slice(0, 8).map((fault, at) => (
            <Text key={at} style={styles.text}>
              {replyWords(fault)}
            </Text>
          ))}
        </View>
      ) : null}
      <Heading words="All buttons" />
      <View style={styles.row}>
        <Button mode="outlined" icon="download" onPress={() => void Linking.openURL('/api/buttons.csv')}>
          As CSV
        </Button>
        <Button mode="outlined" onPress={() => void Linking.openURL('/api/buttons.html')}>
          To print
        </Button>
      </View>
      <Heading words="Start again" />
      {sure === null ? (
        <View style={styles.row}>
          <Button mode="outlined" onPress={() => setSure('demo')}>
            Load the demo show
          </Button>
          <Button mode="outlined" onPress={() => setSure('empty')}>
            Empty show
          </Button>
          <Button mode="text" loading={bringBack.isPending} onPress={() => bringBack.mutate()}>
            Bring back the replaced show
          </Button>
        </View>
      ) : (
        <Confirm
          words={`${sure === 'demo' ? 'The demo show' : 'An empty show'} replaces ${document.show.name}. You can bring it back afterwards.`}
          keep="Keep this show"
          go="Replace the show"
          onKeep={() => setSure(null)}
          onGo={() => reset.mutate(sure)}
          loading={reset.isPending}
        />
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  all: { gap: 10, maxWidth: 720 },
  name: { fontFamily: font.semibold, fontSize: 20, color: colour.text },
  text: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
  row: { flexDirection: 'row', gap: 8, flexWrap: 'wrap' },
  faults: {
    gap: 6,
    backgroundColor: colour.raised,
    borderLeftWidth: 4,
    borderLeftColor: colour.warning,
    borderRadius: 5,
    padding: 12,
  },
  fault: { fontFamily: font.semibold, fontSize: 16, color: colour.text },
});
