import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { StandinFaults, StandinsReply } from '@umbek/protocol';
import { useState } from 'react';
import { Pressable, StyleSheet, Text, View } from 'react-native';
import { Button, Switch } from 'react-native-paper';
import { NumberField } from '../common/fields';
import { Picker } from '../common/Picker';
import { Loading } from '../common/Loading';
import { ask } from '../show/ask';
import { useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { act } from '../live/deeds';
import { replyWords } from '../show/replyWords';

type Standin = StandinsReply['standins'][number];
const NO_FAULTS: StandinFaults = {
  dropIn: 0,
  dropOut: 0,
  doubleIn: 0,
  doubleOut: 0,
  delayMs: 0,
  silent: false,
  refuse: false,
  implausible: false,
  babbling: false,
  badRate: 200,
  seed: 1,
};
/** So many simulations stand as buttons; more are chosen from a list. */
const AS_BUTTONS = 8;

const faulty = (faults: StandinFaults): boolean =>
  (Object.keys(NO_FAULTS) as (keyof StandinFaults)[]).some((key) => key !== 'seed' && faults[key] !== NO_FAULTS[key]);

/** What may go wrong with the stand-ins, so that a bad day can be rehearsed before it comes. */
export function FaultSimulation() {
  const queries = useQueryClient();
  const [open, setOpen] = useState<string | null>(null);
  const { data } = useQuery({
    queryKey: ['standins'],
    queryFn: async () => (await ask('/api/standins')).json() as Promise<StandinsReply>,
    refetchInterval: 4000,
    staleTime: 0,
  });
  const calm = useMutation({
    mutationFn: async (standins: readonly Standin[]) =>
      Promise.all(standins.map((standin) => act(`/api/standins/${standin.key}/faults`, NO_FAULTS))),
    onSettled: () => queries.invalidateQueries({ queryKey: ['standins'] }),
  });
  if (!data) return <Loading />;
  const troubled = data.standins.filter((standin) => faulty(standin.faults));
  if (data.standins.length === 0)
    return (
      <Text style={styles.text}>This show has no stand-ins on this machine, so there is nothing to simulate.</Text>
    );
  return (
    <View style={styles.list}>
      <Text
        style={styles.text}
      >{`${data.standins.length} stand-ins answer. Faults set here happen on the wire, as they would with real devices.`}</Text>
      {troubled.length > 0 ? (
        <Button mode="contained" style={styles.left} loading={calm.isPending} onPress={() => calm.mutate(troubled)}>
          {`Clear the faults of ${troubled.length} ${troubled.length === 1 ? 'stand-in' : 'stand-ins'}`}
        </Button>
      ) : null}
      {data.standins.map((standin) => (
        <View key={standin.key} style={[styles.card, faulty(standin.faults) && styles.bad]}>
          <Pressable
            role="button"
            aria-expanded={open === standin.key}
            accessibilityLabel={`Stand-in ${standin.name}`}
            onPress={() => setOpen(open === standin.key ? null : standin.key)}
            style={styles.line}
          >
            <Text style={styles.name}>{standin.name}</Text>
            <Text style={[styles.text, faulty(standin.faults) && styles.warn]}>
              {faulty(standin.faults) ? faultWords(standin.faults) : 'no faults'}
            </Text>
          </Pressable>
          {open === standin.key ? <StandinForm standin={standin} /> : null}
        </View>
      ))}
    </View>
  );
}

function faultWords({
  dropIn,
  dropOut,
  doubleIn,
  doubleOut,
  delayMs,
  silent,
  refuse,
  implausible,
  babbling,
}: StandinFaults): string {
  const percent = (share: number): string => `${Math.round(share * 100)} %`;
  return [
    silent ? 'silent' : '',
    refuse ? 'refuses' : '',
    implausible ? 'implausible values' : '',
    babbling ? 'sends garbage' : '',
    dropIn || dropOut ? `loses ${percent(Math.max(dropIn, dropOut))}` : '',
    doubleIn || doubleOut ? `doubles ${percent(Math.max(doubleIn, doubleOut))}` : '',
    delayMs ? `up to ${delayMs} ms late` : '',
  ]
    .filter(Boolean)
    .join(', ');
}

function StandinForm({ standin }: { readonly standin: Standin }) {
  const queries = useQueryClient();
  const edits = useEdits();
  const [picking, setPicking] = useState(false);
  const report = async (response: Response, words: string): Promise<void> => {
    const reply = (await response.json()) as { message?: string; mend?: string };
    edits.tell(response.ok ? words : replyWords(reply), !response.ok);
  };
  const settled = {
    onError: (error: Error) => edits.tell(error.message, true),
    onSettled: () => queries.invalidateQueries({ queryKey: ['standins'] }),
  };
  const set = useMutation({
    mutationFn: async (faults: StandinFaults) =>
      report(
        await act(`/api/standins/${standin.key}/faults`, faults),
        `${standin.name}: ${faulty(faults) ? faultWords(faults) : 'no faults'}.`,
      ),
    ...settled,
  });
  const simulate = useMutation({
    mutationFn: async ({ what, words }: Standin['simulations'][number]) =>
      report(await act(`/api/standins/${standin.key}/simulate`, { what }), `${standin.name}: ${words.toLowerCase()}.`),
    ...settled,
  });
  const { faults } = standin;
  const share = (label: string, keys: readonly ['dropIn', 'dropOut'] | readonly ['doubleIn', 'doubleOut']) => (
    <NumberField
      label={label}
      unit="%"
      min={0}
      max={100}
      step={5}
      value={Math.round(faults[keys[0]] * 100)}
      onChange={(value) => set.mutate({ ...faults, [keys[0]]: value / 100, [keys[1]]: value / 100 })}
    />
  );
  return (
    <View style={styles.form}>
      {standin.simulations.length > 0 ? (
        <View style={styles.row}>
          {standin.simulations.length <= AS_BUTTONS ? (
            standin.simulations.map((simulation) => (
              <Button key={simulation.what} mode="outlined" onPress={() => simulate.mutate(simulation)}>
                {simulation.words}
              </Button>
            ))
          ) : (
            <Button mode="outlined" onPress={() => setPicking(true)}>
              {`Simulate: ${standin.simulations.length}`}
            </Button>
          )}
        </View>
      ) : null}
      <View style={styles.toggle}>
        <Text style={styles.words}>Silent: receives, and answers nothing</Text>
        <Switch
          value={faults.silent}
          accessibilityLabel={`${standin.name} silent`}
          onValueChange={(silent) => set.mutate({ ...faults, silent })}
        />
      </View>
      <View style={styles.toggle}>
        <Text style={styles.words}>Refuses every command</Text>
        <Switch
          value={faults.refuse}
          accessibilityLabel={`${standin.name} refuses`}
          onValueChange={(refuse) => set.mutate({ ...faults, refuse })}
        />
      </View>
      <View style={styles.toggle}>
        <Text style={styles.words}>Implausible: sends impossible values, and answers nobody asked for</Text>
        <Switch
          value={faults.implausible}
          accessibilityLabel={`${standin.name} sends implausible values`}
          onValueChange={(implausible) => set.mutate({ ...faults, implausible })}
        />
      </View>
      <View style={styles.toggle}>
        <Text style={styles.words}>Garbage: sends random bytes and messages of other protocols</Text>
        <Switch
          value={faults.babbling}
          accessibilityLabel={`${standin.name} sends garbage`}
          onValueChange={(babbling) => set.mutate({ ...faults, babbling })}
        />
      </View>
      {share('Messages lost', ['dropIn', 'dropOut'])}
      {share('Messages doubled', ['doubleIn', 'doubleOut'])}
      <NumberField
        label="Late by up to"
        unit="ms"
        min={0}
        max={5000}
        step={50}
        value={faults.delayMs}
        onChange={(delayMs) => set.mutate({ ...faults, delayMs })}
      />
      <Picker
        title={`Simulate an event on ${standin.name}`}
        memory={`simulate.${standin.key}`}
        visible={picking}
        onClose={() => setPicking(false)}
        choices={standin.simulations.map((simulation) => ({
          ...simulation,
          key: simulation.what,
          group: standin.name,
        }))}
        onChoose={(choice) => simulate.mutate(choice)}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  list: { gap: 8, maxWidth: 720 },
  text: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
  warn: { color: colour.warning },
  card: { backgroundColor: colour.plate, borderRadius: 6, borderLeftWidth: 4, borderLeftColor: colour.hairline },
  bad: { borderLeftColor: colour.warning },
  line: { flexDirection: 'row', alignItems: 'center', gap: 10, minHeight: 50, paddingHorizontal: 14 },
  name: { flex: 1, fontFamily: font.semibold, fontSize: 17, color: colour.text },
  form: { gap: 10, paddingHorizontal: 14, paddingBottom: 14 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  toggle: { flexDirection: 'row', alignItems: 'center', gap: 10, minHeight: 44 },
  words: { flex: 1, fontFamily: font.medium, fontSize: 16, color: colour.text },
  left: { alignSelf: 'flex-start' },
});
