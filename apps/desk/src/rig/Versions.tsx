import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { VersionReply, VersionsReply } from '@umbek/protocol';
import { type Change, changesBetween, changeWords, type ShowDocument } from '@umbek/core/show';
import { useMemo, useState } from 'react';
import { Linking, Pressable, StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { ulid } from 'ulid';
import { Heading, TextField } from '../common/fields';
import { editorName } from '../live/identity';
import { ask } from '../show/ask';
import { useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { act } from '../live/deeds';
import { replyWords } from '../show/replyWords';

type Listed = VersionsReply['versions'][number];
/** One edit holds so many changes. */
const MOST_CHANGES = 1000;
/** So many differences are listed; the rest is counted. */
const LISTED = 12;

const read = async <T,>(path: string): Promise<T> => {
  const response = await ask(path);
  if (!response.ok) throw new Error(String(response.status));
  return (await response.json()) as T;
};

/** The show as it was, under names: kept before the evening, compared with now, gone back to as one edit. */
export function Versions({ document }: { readonly document: ShowDocument }) {
  const edits = useEdits();
  const queries = useQueryClient();
  const [name, setName] = useState('');
  const [open, setOpen] = useState<string | null>(null);
  const { data, isError } = useQuery({
    queryKey: ['versions'],
    queryFn: () => read<VersionsReply>('/api/versions'),
    staleTime: 0,
  });
  const settled = async (response: Response, words: string): Promise<void> => {
    const reply = (await response.json()) as { message?: string; mend?: string };
    edits.tell(response.ok ? words : replyWords(reply), !response.ok);
    await queries.invalidateQueries({ queryKey: ['versions'] });
  };
  const unreachable = (error: Error): void => edits.tell(error.message, true);
  const keep = useMutation({
    mutationFn: async (as: string) =>
      settled(await act('/api/versions', { id: ulid(), name: as, by: editorName() }), `${as} is kept.`),
    onSuccess: () => setName(''),
    onError: unreachable,
  });
  const drop = useMutation({
    mutationFn: async ({ id, name: as }: Listed) =>
      settled(await act(`/api/versions/${id}`, {}, { method: 'DELETE' }), `${as} is deleted.`),
    onError: unreachable,
  });
  const versions = data?.versions ?? [];
  return (
    <>
      <Heading words="Versions" />
      <Text style={styles.text}>
        Keep the show under a name before you change it. Later you see what has changed since, and go back in one step,
        which can be undone.
      </Text>
      <View style={styles.row}>
        <View style={styles.field}>
          <TextField label="Name of the version" value={name} longest={120} onChange={(text) => setName(text.trim())} />
        </View>
        <Button mode="contained" disabled={name === ''} loading={keep.isPending} onPress={() => keep.mutate(name)}>
          Keep this version
        </Button>
      </View>
      {isError ? (
        <Text style={styles.warn}>The versions cannot be read: the engine or its database does not answer.</Text>
      ) : data && versions.length === 0 ? (
        <Text style={styles.text}>No version yet.</Text>
      ) : null}
      {versions.map((version) => (
        <View key={version.id} style={styles.card}>
          <Pressable
            role="button"
            aria-expanded={open === version.id}
            accessibilityLabel={`Version ${version.name}`}
            onPress={() => setOpen(open === version.id ? null : version.id)}
            style={styles.line}
          >
            <Text style={styles.name}>{version.name}</Text>
            <Text
              style={styles.text}
            >{`${new Date(version.at).toLocaleString([], { dateStyle: 'short', timeStyle: 'short' })}${version.by === '' ? '' : ` · ${version.by}`}`}</Text>
          </Pressable>
          {open === version.id ? (
            <Comparison version={version} document={document} onDrop={() => drop.mutate(version)} />
          ) : null}
        </View>
      ))}
    </>
  );
}

/** What going back to a version would change, and going back. */
function Comparison({
  version,
  document,
  onDrop,
}: {
  readonly version: Listed;
  readonly document: ShowDocument;
  readonly onDrop: () => void;
}) {
  const edits = useEdits();
  const [sure, setSure] = useState(false);
  const { data, isError } = useQuery({
    queryKey: ['versions', version.id],
    queryFn: () => read<VersionReply>(`/api/versions/${version.id}`),
    staleTime: Infinity,
  });
  const changes: readonly Change[] | null = useMemo(
    () => (data ? changesBetween(document, data.document) : null),
    [data, document],
  );
  const words = useMemo(() => (changes === null ? [] : changeWords(changes, document)), [changes, document]);
  if (isError)
    return (
      <Text style={[styles.body, styles.warn]}>
        It cannot be read: the engine or its database does not answer, or it was kept by an older version of Umbek.
      </Text>
    );
  if (changes === null) return <Text style={[styles.body, styles.text]}>Comparing…</Text>;
  return (
    <View style={styles.body} testID={`version-${version.name}`}>
      <Text style={styles.strong}>
        {changes.length === 0
          ? 'The show is as it was then.'
          : `Going back changes ${words.length} ${words.length === 1 ? 'thing' : 'things'}:`}
      </Text>
      {words.slice(0, LISTED).map((line) => (
        <Text key={line} style={styles.text}>
          {line}
        </Text>
      ))}
      {words.length > LISTED ? <Text style={styles.text}>{`and ${words.length - LISTED} more`}</Text> : null}
      {changes.length > MOST_CHANGES ? (
        <Text
          style={styles.warn}
        >{`These are ${changes.length} changes; at most ${MOST_CHANGES} fit into one edit. Save it as a file and import that.`}</Text>
      ) : null}
      <View style={styles.row}>
        <Button
          mode="contained"
          disabled={changes.length === 0 || changes.length > MOST_CHANGES}
          onPress={() => edits.edit(`Back to ${version.name}`, changes)}
        >
          {`Back to ${version.name}`}
        </Button>
        <Button
          mode="outlined"
          icon="download"
          onPress={() => void Linking.openURL(`/api/versions/${version.id}/file`)}
        >
          As a file
        </Button>
        <Button mode="text" onPress={() => (sure ? onDrop() : setSure(true))}>
          {sure ? `Delete ${version.name} for good` : 'Delete'}
        </Button>
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  text: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
  strong: { fontFamily: font.semibold, fontSize: 16, color: colour.text },
  warn: { fontFamily: font.medium, fontSize: 15, color: colour.warning },
  row: { flexDirection: 'row', gap: 8, flexWrap: 'wrap', alignItems: 'center' },
  field: { flexGrow: 1, flexBasis: 200, maxWidth: 420 },
  card: { backgroundColor: colour.plate, borderRadius: 6, overflow: 'hidden' },
  line: {
    flexDirection: 'row',
    flexWrap: 'wrap',
    alignItems: 'center',
    alignContent: 'center',
    columnGap: 12,
    minHeight: 50,
    paddingHorizontal: 14,
    paddingVertical: 6,
  },
  name: { flexGrow: 1, fontFamily: font.semibold, fontSize: 17, color: colour.text },
  body: { padding: 14, paddingTop: 0, gap: 8 },
});
