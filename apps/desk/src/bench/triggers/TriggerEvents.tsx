import type { Trigger } from '@umbek/core/show';
import type { TriggerReply } from '@umbek/protocol';
import { useState } from 'react';
import { Pressable, StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { Heading } from '../../common/fields';
import { Confirm } from '../../common/Confirm';
import { Chain } from '../../common/WhyChain';
import { useTriggerDeed } from '../../show/useTriggers';
import { colour, font } from '../../theme/tokens';
import { clockWords } from '../../show/triggerWords';

const WHAT: Readonly<Record<TriggerReply['edges'][number]['what'], string>> = {
  fired: 'Fired',
  notFired: 'Did not fire',
  holds: 'Began to hold',
  left: 'Ended',
  changed: 'Overruled',
};

/** What a trigger did, or why it did nothing: each of its last events with what its condition read then, and the causes behind it. */
export function TriggerEvents({
  trigger,
  reply,
}: {
  readonly trigger: Trigger;
  readonly reply: TriggerReply | undefined;
}) {
  const deed = useTriggerDeed();
  const [open, setOpen] = useState<number | null>(null);
  const [asking, setAsking] = useState(false);
  return (
    <View style={styles.list}>
      {trigger.kind === 'when' ? (
        <>
          {asking ? (
            <Confirm
              words="It does its steps for real, whether it is armed or not. Under Does, Rehearse shows what they will do."
              keep="Leave it"
              go="Fire now"
              onKeep={() => setAsking(false)}
              onGo={() => {
                setAsking(false);
                deed.mutate({ path: `${trigger.id}/fire`, body: {} });
              }}
            />
          ) : (
            <Button mode="outlined" style={styles.left} onPress={() => setAsking(true)}>
              Fire it now
            </Button>
          )}
        </>
      ) : (
        <Text style={styles.hint}>
          A while rule goes by its condition alone. To see both halves of it, touch Rehearse under Does.
        </Text>
      )}
      <Heading words="Its last events" />
      {reply !== undefined && reply.edges.length === 0 ? (
        <Text style={styles.hint}>Nothing has happened yet since the engine began.</Text>
      ) : null}
      {reply?.edges.map((edge, at) => (
        <View key={`${edge.at} ${at}`} style={styles.edge}>
          <Pressable
            role="button"
            aria-expanded={open === at}
            accessibilityLabel={`${clockWords(edge.at)}, ${WHAT[edge.what]}: ${edge.words}`}
            onPress={() => setOpen(open === at ? null : at)}
            style={styles.line}
          >
            <Text style={styles.time}>{clockWords(edge.at)}</Text>
            <View style={styles.fill}>
              <Text style={[styles.what, edge.what === 'notFired' && styles.not]}>{WHAT[edge.what]}</Text>
              <Text style={styles.words}>{edge.words}</Text>
            </View>
          </Pressable>
          {open === at ? (
            <View style={styles.more}>
              {edge.read.length === 0 ? null : (
                <Text style={styles.words}>{`Read then: ${edge.read.join(', ')}.`}</Text>
              )}
              <Chain because={edge.because} />
            </View>
          ) : null}
        </View>
      ))}
    </View>
  );
}

const styles = StyleSheet.create({
  list: { gap: 8 },
  left: { alignSelf: 'flex-start' },
  hint: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
  edge: { backgroundColor: colour.raised, borderRadius: 6 },
  line: { flexDirection: 'row', gap: 12, minHeight: 48, paddingHorizontal: 12, paddingVertical: 8 },
  time: { fontFamily: font.medium, fontSize: 15, color: colour.muted, fontVariant: ['tabular-nums'] },
  fill: { flex: 1, minWidth: 0 },
  what: { fontFamily: font.semibold, fontSize: 15, color: colour.text },
  not: { color: colour.warning },
  words: { fontFamily: font.regular, fontSize: 14, lineHeight: 19, color: colour.muted },
  more: { paddingHorizontal: 12, paddingBottom: 12, gap: 8 },
});
