import { changed } from '@umbek/core/changes';
import { useMutation } from '@tanstack/react-query';
import { kindOf } from '@umbek/core/devices';
import { isTimeZone } from '@umbek/core/programming';
import { FRAME_RATES, type ShowDocument } from '@umbek/core/show';
import { useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button, Switch } from 'react-native-paper';
import { Confirm } from '../common/Confirm';
import { Heading, TextField } from '../common/fields';
import { Segments } from '../common/Segments';
import { readIdentity } from '../live/identity';
import { useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { act } from '../live/deeds';
import { replyWords } from '../show/replyWords';

/** Outputs of a switcher as people call them. */
const outputWords = (output: string): string =>
  output === 'bank2Program' ? 'Second bank' : output.replace(/^aux(\d+)$/, 'Auxiliary $1');

/** What of the show belongs to the evening: which outputs count as on air, and its beginning. */
export function ShowDay({ document }: { readonly document: ShowDocument }) {
  return (
    <>
      <AirOutputs document={document} />
      <FrameRate document={document} />
      <TimeZone document={document} />
      <BeginShow document={document} />
    </>
  );
}

/** What pauses, mixes and repeats are counted in. A switcher that counted as the show did follows it. */
function FrameRate({ document }: { readonly document: ShowDocument }) {
  const edits = useEdits();
  const { frameRate } = document.show;
  const follow = document.devices.filter(
    ({ kind, settings }) => kind === 'switcher' && settings.frameRate === frameRate,
  );
  return (
    <View style={styles.all}>
      <Heading words="Frames a second" />
      <Segments
        value={String(frameRate)}
        onChange={(to) => {
          if (Number(to) === frameRate) return;
          edits.edit(`${to} frames a second`, [
            changed('show', document.show, 'frameRate', Number(to)),
            ...follow.map((device) =>
              changed('devices', device, 'settings', { ...device.settings, frameRate: Number(to) }),
            ),
          ]);
        }}
        options={[...new Set([...FRAME_RATES, frameRate])]
          .sort((a, b) => a - b)
          .map((rate) => ({ value: String(rate), label: String(rate), accessibilityLabel: `${rate} frames a second` }))}
      />
      <Text style={styles.text}>
        29.97 is counted as 30000 in 1001 seconds, and 23.98 and 59.94 likewise, so that an hour of frames is an hour.
      </Text>
    </View>
  );
}

/** By which clock triggers go that have a time of day. */
function TimeZone({ document }: { readonly document: ShowDocument }) {
  const edits = useEdits();
  if (!document.triggers.some(({ on }) => on.kind === 'time') && document.show.timeZone === '') return null;
  return (
    <View style={styles.all}>
      <Heading words="Time zone of the show" />
      <TextField
        label="Such as Europe/Lisbon; empty: the clock of the engine's machine"
        value={document.show.timeZone}
        longest={60}
        fault={(text) => (isTimeZone(text.trim()) ? null : 'There is no such time zone. Write it as Europe/Lisbon.')}
        onChange={(to) => edits.edit('Time zone', [changed('show', document.show, 'timeZone', to.trim())])}
      />
    </View>
  );
}

function AirOutputs({ document }: { readonly document: ShowDocument }) {
  const edits = useEdits();
  const outputs = document.devices.flatMap(
    (device) => kindOf(device, document)?.airOf?.(device.settings).outputs ?? [],
  );
  const { airOutputs } = document.show;
  if (outputs.length === 0) return null;
  return (
    <View style={styles.all}>
      <Heading words="What counts as on air" />
      <Text style={styles.text}>
        Program always does. Switch an output on when the audience sees it, on a stream or a screen: its cameras ask
        before they move, and their lamps and tally are red.
      </Text>
      {outputs.map((output) => {
        const counts = airOutputs.includes(output);
        return (
          <View key={output} style={styles.line}>
            <Text style={styles.output}>{outputWords(output)}</Text>
            <Switch
              value={counts}
              accessibilityLabel={`${outputWords(output)} counts as on air`}
              onValueChange={() =>
                edits.edit(`${outputWords(output)} ${counts ? 'no longer counts' : 'counts'} as on air`, [
                  changed(
                    'show',
                    document.show,
                    'airOutputs',
                    counts ? airOutputs.filter((airOutput) => airOutput !== output) : [...airOutputs, output],
                  ),
                ])
              }
            />
          </View>
        );
      })}
    </View>
  );
}

function BeginShow({ document }: { readonly document: ShowDocument }) {
  const edits = useEdits();
  const [sure, setSure] = useState(false);
  const values = document.values.filter((value) => value.atShowStart === 'reset');
  const begin = useMutation({
    mutationFn: async () => {
      const response = await act('/api/show/begin', { station: readIdentity().station, person: readIdentity().person });
      const reply = (await response.json()) as { reset?: number; message?: string; mend?: string };
      if (!response.ok) return edits.tell(replyWords(reply), true);
      const count = reply.reset ?? 0;
      edits.tell(`The show has begun; ${count} ${count === 1 ? 'value is' : 'values are'} reset.`, false);
    },
    onError: (error: Error) => edits.tell(error.message, true),
    onSettled: () => setSure(false),
  });
  return (
    <View style={styles.all}>
      <Heading words="Show start" />
      <Text style={styles.text}>
        {values.length === 0
          ? 'No value of this show is reset at show start.'
          : `Reset to their start value: ${values.map((value) => `${value.name} (${String(value.start)})`).join(', ')}. The log says who began it.`}
      </Text>
      {sure ? (
        <Confirm
          keep="Not yet"
          go="Begin the show"
          onKeep={() => setSure(false)}
          onGo={() => begin.mutate()}
          loading={begin.isPending}
        />
      ) : (
        <Button mode="outlined" style={styles.left} onPress={() => setSure(true)}>
          Begin the show
        </Button>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  all: { gap: 10 },
  text: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
  left: { alignSelf: 'flex-start' },
  line: { flexDirection: 'row', alignItems: 'center', gap: 12, minHeight: 44 },
  output: { fontFamily: font.medium, fontSize: 16, color: colour.text, flex: 1 },
});
