import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { ShowsReply } from '@umbek/protocol';
import type { ShowDocument } from '@umbek/core/show';
import { useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { ulid } from 'ulid';
import { Confirm } from '../common/Confirm';
import { Heading, TextField } from '../common/fields';
import { act } from '../live/deeds';
import { readIdentity } from '../live/identity';
import { ask } from '../show/ask';
import { replyWords } from '../show/replyWords';
import { useEdits, useFollow } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';

type Listed = ShowsReply['shows'][number];

/** A whole show may take so long to be put away and read. */
const OPEN_MS = 60_000;

async function load(): Promise<ShowsReply> {
  const response = await ask('/api/shows');
  if (!response.ok) throw new Error(String(response.status));
  return (await response.json()) as ShowsReply;
}

/** The shows of this installation: one is open; another is opened, named, duplicated for tonight, or deleted. */
export function ShowList({ document }: { readonly document: ShowDocument }) {
  const edits = useEdits();
  const { goAlong } = useFollow();
  const queries = useQueryClient();
  const [name, setName] = useState('');
  const [chosen, setChosen] = useState<{ readonly id: string; readonly what: 'open' | 'name' | 'delete' } | null>(null);
  const { data, isError } = useQuery({ queryKey: ['shows', document.show.id], queryFn: load, staleTime: 0 });
  const settled = async (response: Response, words: string): Promise<boolean> => {
    const reply = (await response.json()) as { message?: string; mend?: string };
    edits.tell(response.ok ? words : replyWords(reply), !response.ok);
    await queries.invalidateQueries({ queryKey: ['shows'] });
    return response.ok;
  };
  const unreachable = (error: Error): void => edits.tell(error.message, true);
  const done = { onError: unreachable, onSettled: () => setChosen(null) };
  const make = useMutation({
    mutationFn: async (from: 'open' | 'empty') => {
      const title = name.trim() || (from === 'open' ? `${document.show.name}, tonight` : 'New show');
      await settled(
        await act('/api/shows', { id: ulid(), name: title.slice(0, 120), from }),
        `${title} is made. Open it when you want to go over.`,
      );
    },
    onSuccess: () => setName(''),
    onError: unreachable,
  });
  const open = useMutation({
    mutationFn: async ({ id, name: title }: Listed) => {
      const { station, person } = readIdentity();
      const body = { station, ...(person === '' ? {} : { person }) };
      await goAlong(async () => {
        if (await settled(await act(`/api/shows/${id}/open`, body, { longestMs: OPEN_MS }), `${title} is open.`))
          await edits.load();
      });
    },
    ...done,
  });
  const rename = useMutation({
    mutationFn: async ({ id, to }: { readonly id: string; readonly to: string }) =>
      settled(await act(`/api/shows/${id}/name`, { name: to }), `It is named ${to}.`),
    ...done,
  });
  const drop = useMutation({
    mutationFn: async ({ id, name: title }: Listed) =>
      settled(await act(`/api/shows/${id}`, {}, { method: 'DELETE' }), `${title} is deleted.`),
    ...done,
  });
  return (
    <>
      <Heading words="Shows" />
      <Text style={styles.text}>
        One show is open; the others are kept as they were closed. A duplicate has its values at their start.
      </Text>
      <View style={styles.row}>
        <View style={styles.field}>
          <TextField label="Name of the new show" value={name} longest={120} onChange={setName} />
        </View>
        <Button mode="contained" loading={make.isPending} onPress={() => make.mutate('open')}>
          Duplicate for tonight
        </Button>
        <Button mode="outlined" onPress={() => make.mutate('empty')}>
          New, empty
        </Button>
      </View>
      {isError ? (
        <Text style={styles.warn}>The shows cannot be read: the engine or its database does not answer.</Text>
      ) : null}
      {data?.shows.map((show) => (
        <View key={show.id} style={styles.card}>
          <Text style={styles.name}>{show.name}</Text>
          <Text style={styles.text}>
            {`kept ${new Date(show.at).toLocaleString([], { dateStyle: 'short', timeStyle: 'short' })} · ${show.devices} devices, ${show.panels} panels, ${show.buttons} buttons`}
          </Text>
          {chosen?.id === show.id && chosen.what === 'name' ? (
            <TextField
              label="Name"
              value={show.name}
              fresh
              longest={120}
              fault={(text) => (text.trim() === '' ? 'Give the show a name.' : null)}
              onChange={(to) => rename.mutate({ id: show.id, to: to.trim() })}
            />
          ) : null}
          {chosen?.id === show.id && chosen.what !== 'name' ? (
            <Confirm
              words={
                chosen.what === 'open'
                  ? `${show.name} takes the place of ${document.show.name} on every station. Runs under way finish as they began.`
                  : `${show.name} is deleted, and cannot be brought back. If in doubt, open and export it first.`
              }
              keep={chosen.what === 'open' ? 'Stay here' : 'Keep it'}
              go={chosen.what === 'open' ? 'Open it now' : 'Delete it'}
              onKeep={() => setChosen(null)}
              onGo={() => (chosen.what === 'open' ? open.mutate(show) : drop.mutate(show))}
              loading={open.isPending || drop.isPending}
            />
          ) : (
            <View style={styles.row}>
              {(
                [
                  ['open', 'Open'],
                  ['name', 'Rename'],
                  ['delete', 'Delete'],
                ] as const
              ).map(([what, words]) => (
                <Button
                  key={what}
                  compact
                  mode="outlined"
                  accessibilityLabel={`${words} ${show.name}`}
                  onPress={() => setChosen({ id: show.id, what })}
                >
                  {words}
                </Button>
              ))}
            </View>
          )}
        </View>
      ))}
    </>
  );
}

const styles = StyleSheet.create({
  text: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
  warn: { fontFamily: font.medium, fontSize: 15, color: colour.warning },
  row: { flexDirection: 'row', gap: 8, flexWrap: 'wrap', alignItems: 'center' },
  field: { flexGrow: 1, minWidth: 200 },
  card: { gap: 6, backgroundColor: colour.raised, borderRadius: 6, padding: 12 },
  name: { fontFamily: font.semibold, fontSize: 17, color: colour.text },
});
