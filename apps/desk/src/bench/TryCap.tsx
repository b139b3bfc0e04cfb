import type { Button as ButtonData, ShowDocument } from '@umbek/core/show';
import { useMemo } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { useFace, useLive, useLiveState, usePoint, usePressState, useStripShown } from '../live/LiveContext';
import { usePressTarget } from '../live/usePressTarget';
import { colour, font } from '../theme/tokens';
import { act } from '../live/deeds';
import { readIdentity } from '../live/identity';
import { replyWords } from '../show/replyWords';
import { useEdits } from '../show/ShowContext';
import { Answer } from './Answer';
import { effectsOf } from './steps';

/** Presses the real button from its editor, or runs the macro, and says beforehand what of it would be seen on air. */
export function TryCap({
  button,
  document,
}: {
  readonly button: Pick<ButtonData, 'id' | 'mode' | 'steps'> & Partial<Pick<ButtonData, 'sets' | 'stripId'>>;
  readonly document: ShowDocument;
}) {
  const ref = usePressTarget((store) => store.down(button.id));
  const press = usePressState(button.id);
  const live = useLive();
  const edits = useEdits();
  const { runs } = useLiveState();
  const switcher = document.devices.find((device) => device.kind === 'switcher')?.key ?? 'switcher';
  const [program, preview] = [usePoint(`${switcher}.program`), usePoint(`${switcher}.preview`)];
  useStripShown(button.stripId);
  const says = useFace(button.id)?.legend;
  // An alternating button does what it says now.
  const { steps } = button.sets?.find((set) => says !== undefined && set.legend === says) ?? button;
  const effects = useMemo(() => effectsOf({ steps }, document, live.point), [steps, document, live, program, preview]);
  const running = runs.find((run) => run.buttonId === button.id);
  const state = running
    ? running.step
    : press?.phase === 'failed' || press?.phase === 'asking'
      ? (press.why ?? '')
      : press?.phase === 'done'
        ? 'done'
        : '';
  const air = effects.length > 0;
  const asks = running?.ask;
  return (
    <>
      <View style={styles.row}>
        <View
          ref={ref}
          role="button"
          tabIndex={0}
          accessibilityLabel={`Try it: ${air ? effects.join(', ') : 'not seen on air'}`}
          testID="try-it"
          style={[styles.cap, air && styles.air]}
        >
          {air ? <View style={styles.bar} /> : null}
          <Text style={styles.word}>{button.mode === 'hold' ? 'Hold to try' : 'Try it'}</Text>
          <Text style={[styles.small, air && styles.smallAir]}>{air ? 'ON AIR' : 'not on air'}</Text>
        </View>
        {running ? (
          <Button mode="outlined" onPress={() => void stopRun(running.runId, edits)}>
            Stop it
          </Button>
        ) : null}
        <View style={styles.report}>
          <Text numberOfLines={3} style={[styles.text, air && styles.textAir]}>
            {state !== ''
              ? state
              : air
                ? effects.join(' · ')
                : button.steps.length === 0
                  ? 'It does nothing yet. Add a step.'
                  : 'Nothing would be seen on air now.'}
          </Text>
        </View>
      </View>
      {running === undefined || asks === undefined || running.next !== undefined ? null : (
        <Answer runId={running.runId} ask={asks} />
      )}
    </>
  );
}

/** Ends a run; its stop steps follow. */
async function stopRun(runId: string, edits: ReturnType<typeof useEdits>): Promise<void> {
  try {
    const { station } = readIdentity();
    const response = await act(`/api/runs/${runId}/stop`, { station });
    if (!response.ok) edits.tell(replyWords((await response.json()) as { message?: string; mend?: string }), true);
  } catch (error) {
    edits.tell(error instanceof Error ? error.message : 'It could not be stopped. Use STOP.', true);
  }
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', gap: 12, alignItems: 'center' },
  cap: {
    minWidth: 96,
    minHeight: 52,
    backgroundColor: colour.cap,
    borderRadius: 6,
    alignItems: 'center',
    justifyContent: 'center',
    overflow: 'hidden',
    paddingHorizontal: 12,
    cursor: 'pointer',
    userSelect: 'none',
    touchAction: 'none',
  } as object,
  air: { boxShadow: `0 0 0 2px ${colour.onAir}` },
  bar: { position: 'absolute', top: 0, left: 0, right: 0, height: 6, backgroundColor: colour.onAir },
  word: { fontFamily: font.bold, fontSize: 17, color: colour.legend },
  small: { fontFamily: font.semibold, fontSize: 12, color: colour.note },
  smallAir: { color: '#A61B14' },
  report: { flex: 1 },
  text: { fontFamily: font.regular, fontSize: 14, lineHeight: 18, color: colour.muted },
  textAir: { color: colour.text },
});
