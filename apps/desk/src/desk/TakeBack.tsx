import type { TakeBackReply } from '@umbek/protocol';
import { useEffect, useState } from 'react';
import { Pressable, ScrollView, StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { AppDialog } from '../common/AppDialog';
import { useLive, useLiveState, usePressState } from '../live/LiveContext';
import { TAKE_BACK } from '../live/liveStore';
import { colour, font } from '../theme/tokens';

/** Takes back what this station's last press did: for some seconds after it, and shown before it happens. */
export function TakeBack() {
  const { mayTakeBack } = useLiveState();
  const store = useLive();
  const press = usePressState(TAKE_BACK);
  const [back, setBack] = useState<TakeBackReply | null | undefined>();
  const shown = back !== undefined;
  // A second touch is asked for, or something was refused: it is told in the same place.
  const telling = press?.phase === 'asking' || press?.phase === 'failed' ? press.why : undefined;
  const gone = shown && press?.phase === 'done';
  useEffect(() => {
    if (gone) setBack(undefined);
  }, [gone]);
  const look = (): void => void store.askBack().then((found) => setBack(found));
  return (
    <>
      {mayTakeBack ? (
        <Pressable
          role="button"
          accessibilityLabel="Take back what the last press did"
          onPress={look}
          style={styles.cap}
        >
          <Text style={styles.word}>Take back</Text>
        </Pressable>
      ) : null}
      <AppDialog
        visible={shown}
        title={back == null ? 'Nothing to take back' : `Take back ${back.legend}?`}
        onClose={() => setBack(undefined)}
        actions={
          <>
            <Button onPress={() => setBack(undefined)}>{back == null ? 'Close' : 'Leave it'}</Button>
            {back == null || back.steps.length === 0 ? null : (
              <Button mode="contained" onPress={() => store.takeBack(back.pressId)}>
                {press?.phase === 'asking' ? 'Take it back all the same' : 'Take it back'}
              </Button>
            )}
          </>
        }
      >
        {back == null ? (
          <Text style={styles.text}>A press can be taken back within 10 seconds.</Text>
        ) : (
          <ScrollView style={styles.list} tabIndex={0} accessibilityLabel="What would happen">
            {back.steps.map((words, at) => (
              <Text key={`${at}${words}`} style={styles.step}>
                {words}
              </Text>
            ))}
            {back.steps.length === 0 ? (
              <Text style={styles.text}>
                {back.stays.length === 0
                  ? 'It changed nothing that would have to be taken back.'
                  : 'Nothing of it can be taken back.'}
              </Text>
            ) : null}
            {back.stays.length > 0 ? <Text style={styles.head}>This stays as it is</Text> : null}
            {back.stays.map((words, at) => (
              <Text key={`${at}${words}`} style={styles.text}>
                {words}
              </Text>
            ))}
            {telling === undefined ? null : (
              <View role="alert">
                <Text style={styles.telling}>{telling}</Text>
              </View>
            )}
          </ScrollView>
        )}
      </AppDialog>
    </>
  );
}

const styles = StyleSheet.create({
  cap: {
    minHeight: 44,
    minWidth: 84,
    paddingHorizontal: 10,
    borderRadius: 5,
    borderWidth: 1,
    borderColor: colour.hairline,
    backgroundColor: colour.raised,
    alignItems: 'center',
    justifyContent: 'center',
  },
  word: { fontFamily: font.semibold, fontSize: 15, color: colour.text },
  list: { maxHeight: 320 },
  step: {
    fontFamily: font.medium,
    fontSize: 16,
    lineHeight: 21,
    color: colour.text,
    borderLeftWidth: 3,
    borderLeftColor: colour.cap,
    paddingLeft: 10,
    paddingVertical: 3,
    marginBottom: 6,
  },
  head: { fontFamily: font.semibold, fontSize: 14, color: colour.muted, marginTop: 8, marginBottom: 2 },
  text: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted, marginBottom: 4 },
  telling: { fontFamily: font.medium, fontSize: 15, lineHeight: 20, color: colour.warning, marginTop: 6 },
});
