import { useMutation } from '@tanstack/react-query';
import type { ProfileFile } from '@umbek/core/show';
import { useEffect, useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button, TextInput } from 'react-native-paper';
import { ask } from '../../show/ask';
import { colour, font } from '../../theme/tokens';
import { jsonFaults, type LineFault, lineOf } from './profileDraft';

interface Fault {
  readonly message: string;
  readonly mend: string;
  readonly path?: string;
  readonly others?: readonly Fault[];
}

/** Checks a text as a profile: its JSON here, all the rest by the engine. @returns the profile, or every fault with its line */
export async function readProfileText(
  text: string,
): Promise<{ readonly file: ProfileFile } | { readonly faults: readonly LineFault[] }> {
  const faults = jsonFaults(text);
  if (faults.length > 0 || text.trim() === '')
    return { faults: faults.length > 0 ? faults : [{ line: 1, path: '', words: 'There is nothing here.' }] };
  const response = await ask('/api/profiles/check', JSON.parse(text));
  if (response.ok) return { file: JSON.parse(text) as ProfileFile };
  const reply = (await response.json()) as Fault;
  return {
    faults: [reply, ...(reply.others ?? [])].map(({ message, mend, path = '' }) => ({
      line: lineOf(text, path),
      path,
      words: `${message} ${mend}`,
    })),
  };
}

/** The faults of a text, each with its line. */
export const Faults = ({ faults }: { readonly faults: readonly LineFault[] }) => (
  <View style={styles.faults} role="alert" testID="profile-faults">
    <Text style={styles.fault}>Nothing was changed.</Text>
    {faults.slice(0, 12).map((fault, at) => (
      <Text key={at} style={styles.text}>
        {`Line ${fault.line}${fault.path === '' ? '' : `, ${fault.path}`}: ${fault.words}`}
      </Text>
    ))}
  </View>
);

/** The whole profile as the text of its file, to be changed by hand. */
export function ProfileText({
  profile,
  onTake,
}: {
  readonly profile: ProfileFile;
  readonly onTake: (file: ProfileFile) => void;
}) {
  const stored = JSON.stringify(profile, null, 2);
  const [text, setText] = useState(stored);
  const [faults, setFaults] = useState<readonly LineFault[]>([]);
  useEffect(() => setText(stored), [stored]);
  const save = useMutation({
    mutationFn: async () => {
      const read = await readProfileText(text);
      if ('faults' in read) return setFaults(read.faults);
      setFaults([]);
      onTake(read.file);
    },
    onError: () =>
      setFaults([
        { line: 1, path: '', words: 'The engine cannot be reached; nothing was changed. Try again when it is back.' },
      ]),
  });
  return (
    <View style={styles.all}>
      <TextInput
        mode="outlined"
        multiline
        value={text}
        onChangeText={setText}
        accessibilityLabel="The profile as text"
        style={styles.input}
        contentStyle={styles.inputText}
      />
      {faults.length > 0 ? <Faults faults={faults} /> : null}
      <View style={styles.row}>
        <Button mode="contained" loading={save.isPending} disabled={text === stored} onPress={() => save.mutate()}>
          Check and take it
        </Button>
        <Button disabled={text === stored} onPress={() => setText(stored)}>
          As it was
        </Button>
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  all: { gap: 10 },
  input: { backgroundColor: colour.plate, maxHeight: 480 },
  inputText: { fontFamily: 'monospace', fontSize: 13, lineHeight: 18, paddingVertical: 10 },
  row: { flexDirection: 'row', gap: 8 },
  faults: {
    gap: 6,
    backgroundColor: colour.raised,
    borderLeftWidth: 4,
    borderLeftColor: colour.warning,
    borderRadius: 5,
    padding: 12,
  },
  fault: { fontFamily: font.semibold, fontSize: 16, color: colour.text },
  text: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
});
