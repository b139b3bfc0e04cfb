import { doesWords, leavingWords, occasionWords } from '@umbek/core/programming';
import type { ShowDocument, Trigger } from '@umbek/core/show';
import type { TriggerRow } from '@umbek/protocol';
import { memo } from 'react';
import { Pressable, StyleSheet, Text, View } from 'react-native';
import { clockWords, stateWords } from '../../show/triggerWords';
import { colour, font } from '../../theme/tokens';
import { MicLevel } from './MicLevel';

/** A trigger in its list: its sentence, whether it is armed, and what it did last. */
export const TriggerCard = memo(function TriggerCard({
  document,
  trigger,
  row,
  chosen,
  onOpen,
}: {
  readonly document: ShowDocument;
  readonly trigger: Trigger;
  readonly row: TriggerRow | undefined;
  readonly chosen: boolean;
  readonly onOpen: (id: string) => void;
}) {
  const state = stateWords(row);
  const occasion = occasionWords(trigger, document);
  const sentence = `${occasion}: ${doesWords(trigger, document)}`;
  const named = trigger.name !== occasion;
  const last =
    row === undefined || row.lastWords === ''
      ? ''
      : row.lastFired === undefined
        ? row.lastWords
        : `${clockWords(row.lastFired)} · ${row.lastWords}`;
  const leaving =
    trigger.kind === 'while' && trigger.steps.length > 0
      ? `Afterwards: ${trigger.steps.flatMap((step) => leavingWords(step, document) ?? []).join(', ')}.`
      : '';
  const asleep = row?.armed === false;
  return (
    <Pressable
      role="button"
      aria-pressed={chosen}
      accessibilityLabel={`Trigger ${named ? `${trigger.name}, ` : ''}${sentence}, ${state}`}
      onPress={() => onOpen(trigger.id)}
      style={[styles.card, { borderLeftColor: asleep ? colour.hairline : EDGE[trigger.kind] }, chosen && styles.chosen]}
      testID={`row-${trigger.id}`}
    >
      <View style={styles.head}>
        <Text style={[styles.kind, !asleep && { color: EDGE[trigger.kind] }]}>
          {named ? `${KIND[trigger.kind]} · ${trigger.name}` : KIND[trigger.kind]}
        </Text>
        {state === '' ? null : <Text style={[styles.state, STATE[state]]}>{state}</Text>}
      </View>
      <Text style={[styles.sentence, asleep && styles.asleep]} dir="auto">
        {sentence}
      </Text>
      {leaving === '' ? null : <Text style={styles.detail}>{leaving}</Text>}
      {trigger.on.kind === 'voices' && !asleep
        ? trigger.on.mics
            .slice(0, MOST_LEVELS)
            .map(({ name, level }) => (
              <MicLevel
                key={level}
                name={name}
                level={level}
                talksDb={trigger.on.kind === 'voices' ? trigger.on.talksDb : 0}
              />
            ))
        : null}
      {last === '' ? null : (
        <Text style={styles.detail} numberOfLines={3}>
          {last}
        </Text>
      )}
    </Pressable>
  );
});

/** So many levels are shown in the list; the editor shows all. */
const MOST_LEVELS = 3;
const KIND = { when: 'When', while: 'While', follow: 'Follow' } as const;
const EDGE = { when: colour.warning, while: '#86A04F', follow: '#6F8FB5' } as const;
const STATE: Readonly<Record<string, object>> = {
  active: { color: '#A9C66B', borderColor: '#86A04F' },
  following: { color: '#A9C66B', borderColor: '#86A04F' },
  'held off': { color: colour.warning, borderColor: colour.warning },
  waiting: { color: colour.warning, borderColor: colour.warning },
  overruled: { color: colour.warning, borderColor: colour.warning },
  armed: { color: colour.text, borderColor: colour.muted },
};

const styles = StyleSheet.create({
  card: {
    minHeight: 56,
    paddingHorizontal: 14,
    paddingVertical: 10,
    gap: 4,
    backgroundColor: colour.raised,
    borderRadius: 6,
    borderLeftWidth: 4,
  },
  chosen: { boxShadow: `0 0 0 2px ${colour.text}` },
  head: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  kind: { flex: 1, fontFamily: font.bold, fontSize: 14, color: colour.muted },
  state: {
    fontFamily: font.semibold,
    fontSize: 13,
    color: colour.muted,
    borderWidth: 1,
    borderColor: colour.hairline,
    borderRadius: 12,
    paddingHorizontal: 10,
    paddingVertical: 2,
  },
  sentence: { fontFamily: font.semibold, fontSize: 17, lineHeight: 22, color: colour.text },
  asleep: { color: colour.muted },
  detail: { fontFamily: font.regular, fontSize: 14, lineHeight: 19, color: colour.muted },
});
