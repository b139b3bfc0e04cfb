import { made } from '@umbek/core/changes';
import {
  celOf,
  newTrigger,
  occasionChoices,
  type OccasionChoice,
  occasionsFrom,
  occasionWords,
  triggersListed,
} from '@umbek/core/programming';
import type { ShowDocument, Trigger } from '@umbek/core/show';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { ulid } from 'ulid';
import { Picker } from '../../common/Picker';
import { useEdits } from '../../show/ShowContext';
import { useTriggerDeed, useTriggers } from '../../show/useTriggers';
import { colour, font } from '../../theme/tokens';
import { BenchList } from '../BenchList';
import { AskablePicker } from '../ConditionForm';
import { TriggerCard } from './TriggerCard';
import { TriggerEditor } from './TriggerEditor';

type Row =
  | { readonly kind: 'group'; readonly name: string; readonly ids: readonly string[] }
  | { readonly kind: 'trigger'; readonly trigger: Trigger };

/** What no list of occasions holds is made of any state of a device, or any value. */
const ANY: OccasionChoice = {
  key: 'any state',
  group: 'Any state',
  words: 'When any state of a device, or a value, is something',
  kind: 'when',
  on: { kind: 'turns', condition: 'true', to: true },
};

/** What the show does by itself: its triggers as sentences, armed or not, and what each did last. */
export function TriggerBench({ document }: { readonly document: ShowDocument }) {
  const router = useRouter();
  const edits = useEdits();
  const deed = useTriggerDeed();
  const { v, from } = useLocalSearchParams<{ v?: string; from?: string }>();
  const [search, setSearch] = useState('');
  const [picking, setPicking] = useState(from !== undefined);
  // A trigger that is just made asks at once what it is to do.
  const [asking, setAsking] = useState(false);
  const [fresh, setFresh] = useState<string | null>(null);
  useEffect(() => {
    if (from !== undefined) setPicking(true);
  }, [from]);
  const ids = useMemo(() => document.triggers.map(({ id }) => id), [document.triggers]);
  const now = useTriggers(ids);
  const trigger = document.triggers.find(({ id }) => id === v);
  const rows = useMemo(
    () =>
      triggersListed(document, search).flatMap(({ group, triggers }): Row[] => [
        ...(group === '' ? [] : [{ kind: 'group', name: group, ids: triggers.map(({ id }) => id) } as const]),
        ...triggers.map((item): Row => ({ kind: 'trigger', trigger: item })),
      ]),
    [document, search],
  );
  const choices = useMemo(
    () => (!picking ? [] : from === undefined ? [...occasionChoices(document), ANY] : occasionsFrom(from, document)),
    [document, picking, from],
  );
  const open = useCallback(
    (id: string | undefined): void => router.setParams({ v: id, tab: undefined } as never),
    [router],
  );
  const close = (): void => {
    setPicking(false);
    if (from !== undefined) router.setParams({ from: undefined } as never);
  };
  const add = (choice: OccasionChoice): void => {
    if (choice.key === ANY.key) return setAsking(true);
    const next = newTrigger(document, ulid(), choice);
    edits.edit(`New trigger: ${choice.words}`, [made('triggers', next)]);
    setFresh(next.id);
    router.setParams({ v: next.id, tab: undefined, from: undefined } as never);
  };
  const armed = ids.filter((id) => now.get(id)?.armed === true).length;
  return (
    <>
      <BenchList
        part="triggers"
        rows={rows}
        keyOf={(row) => (row.kind === 'group' ? `group ${row.name}` : row.trigger.id)}
        draw={(row) =>
          row.kind === 'group' ? (
            <GroupHead name={row.name} ids={row.ids} armed={row.ids.some((id) => now.get(id)?.armed === true)} />
          ) : (
            <TriggerCard
              document={document}
              trigger={row.trigger}
              row={now.get(row.trigger.id)}
              chosen={row.trigger.id === v}
              onOpen={open}
            />
          )
        }
        search={search}
        onSearch={setSearch}
        searched="Name, group or sentence"
        empty={
          document.triggers.length === 0
            ? 'A trigger does something by itself: while a camera is on air its caption is up, when a clip ends the desk camera comes. Touch New trigger and choose what it begins from.'
            : `No trigger has “${search.trim()}” in its name, group or sentence.`
        }
        add="New trigger"
        onAdd={() => setPicking(true)}
        editor={
          trigger === undefined ? null : (
            <TriggerEditor
              key={trigger.id}
              document={document}
              trigger={trigger}
              fresh={fresh === trigger.id}
              onClose={() => open(undefined)}
              onOpen={open}
            />
          )
        }
        beside="Choose a trigger to see what makes it fire, what it does and what it did."
        onClose={() => open(undefined)}
      >
        {ids.length === 0 ? null : (
          <View style={styles.row}>
            <Text style={styles.count}>{`${armed} of ${ids.length} armed`}</Text>
            {armed > 0 ? (
              <Button mode="outlined" onPress={() => deed.mutate({ path: 'arm', body: { armed: false } })}>
                Disarm all
              </Button>
            ) : (
              <Button
                mode="outlined"
                onPress={() =>
                  deed.mutate(
                    { path: 'arm', body: { armed: true } },
                    {
                      onSuccess: (reply) => {
                        if ((reply as { changed?: number }).changed === 0)
                          edits.tell('None of them begins armed. Arm them one by one.', false);
                      },
                    },
                  )
                }
              >
                Arm again
              </Button>
            )}
          </View>
        )}
      </BenchList>
      <Picker
        title="What makes it happen?"
        memory="occasions"
        visible={picking}
        choices={choices}
        onChoose={add}
        onClose={close}
      />
      <AskablePicker
        document={document}
        visible={asking}
        onClose={() => setAsking(false)}
        onChoose={(condition) => {
          const on = { kind: 'turns', condition: celOf(condition), to: true } as const;
          add({ ...ANY, key: on.condition, on, words: occasionWords({ kind: 'when', on }, document) });
        }}
      />
    </>
  );
}

/** A group of triggers, armed and disarmed together. */
function GroupHead({
  name,
  ids,
  armed,
}: {
  readonly name: string;
  readonly ids: readonly string[];
  readonly armed: boolean;
}) {
  const deed = useTriggerDeed();
  return (
    <View style={styles.row}>
      <Text style={styles.group} role="heading">
        {name}
      </Text>
      <Button
        compact
        accessibilityLabel={`${armed ? 'Disarm' : 'Arm'} the group ${name}`}
        onPress={() => deed.mutate({ path: 'arm', body: { armed: !armed, ids } })}
      >
        {armed ? 'Disarm' : 'Arm'}
      </Button>
    </View>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  count: { flex: 1, fontFamily: font.medium, fontSize: 15, color: colour.muted },
  group: { flex: 1, fontFamily: font.semibold, fontSize: 15, color: colour.muted, paddingLeft: 4 },
});
