import { useState } from 'react';
import { Pressable, ScrollView, StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { AppDialog } from '../common/AppDialog';
import { usePoint, useScopes } from '../live/LiveContext';
import { clockWords, stateWords } from '../show/triggerWords';
import { useTriggerRows } from '../show/useTriggers';
import { colour, font } from '../theme/tokens';

const SCOPES = ['rules'];
/** So many triggers are told, those that did something last first; the Bench lists all. */
const MOST_TOLD = 40;

/**
 * What the show does by itself, in one line: how many triggers are armed, and which hold something now. A touch tells what each did last, or why it
 * did nothing.
 * @param short where there is room for little
 */
export function RulesLine({ short = false }: { readonly short?: boolean }) {
  useScopes(SCOPES);
  const [open, setOpen] = useState(false);
  const armed = usePoint('rules@armed');
  const hold = usePoint('rules@hold');
  if (typeof armed !== 'number' || (armed === 0 && (hold === undefined || hold === ''))) return null;
  const whole = armed === 1 ? '1 trigger armed' : `${armed} triggers armed`;
  const holding = typeof hold === 'string' && hold !== '';
  return (
    <>
      <Pressable
        role="button"
        testID="rules-line"
        accessibilityLabel={`${whole}${holding ? `, active: ${hold}` : ''}. Show what they did.`}
        onPress={() => setOpen(true)}
        style={styles.place}
      >
        <Text numberOfLines={1} style={styles.line}>
          {short ? `${armed} armed` : whole}
          {holding ? <Text style={styles.hold}>{short ? ' · active' : ` · active: ${hold}`}</Text> : null}
        </Text>
      </Pressable>
      {open ? <WhatTheyDid armed={armed} onClose={() => setOpen(false)} /> : null}
    </>
  );
}

function WhatTheyDid({ armed, onClose }: { readonly armed: number; readonly onClose: () => void }) {
  const { data, error } = useTriggerRows();
  const latest = [...(data ?? [])].sort((a, b) => (b.lastFired ?? '').localeCompare(a.lastFired ?? ''));
  return (
    <AppDialog
      visible
      title={latest.length === 0 ? 'Triggers' : `Triggers: ${armed} of ${latest.length} armed`}
      onClose={onClose}
      actions={<Button onPress={onClose}>Close</Button>}
    >
      <ScrollView style={styles.list} tabIndex={0} accessibilityLabel="What the triggers did">
        {error === null ? null : <Text style={styles.words}>The engine does not answer. It is asked again.</Text>}
        {latest.slice(0, MOST_TOLD).map((row) => (
          <View key={row.id} style={styles.entry} testID={`did-${row.id}`}>
            <Text style={styles.name}>
              {row.name}
              <Text style={styles.state}>{` · ${stateWords(row)}`}</Text>
            </Text>
            <Text style={styles.words}>
              {row.lastWords === ''
                ? 'Nothing yet.'
                : `${row.lastFired === undefined ? '' : `${clockWords(row.lastFired)} · `}${row.lastWords}`}
            </Text>
          </View>
        ))}
        {latest.length > MOST_TOLD ? (
          <Text style={styles.words}>{`And ${latest.length - MOST_TOLD} more: Bench, Triggers lists all.`}</Text>
        ) : null}
      </ScrollView>
    </AppDialog>
  );
}

const styles = StyleSheet.create({
  place: { minHeight: 32, justifyContent: 'center', flexShrink: 1 },
  line: { fontFamily: font.regular, fontSize: 14, lineHeight: 18, color: colour.muted },
  hold: { fontFamily: font.semibold, color: '#A9C66B' },
  list: { maxHeight: 420 },
  entry: { borderLeftWidth: 2, borderLeftColor: colour.hairline, paddingLeft: 10, paddingVertical: 4, marginBottom: 8 },
  name: { fontFamily: font.semibold, fontSize: 15, lineHeight: 20, color: colour.text },
  state: { fontFamily: font.regular, color: colour.muted },
  words: { fontFamily: font.regular, fontSize: 14, lineHeight: 19, color: colour.muted },
});
