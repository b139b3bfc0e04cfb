import { onWords } from '@umbek/core/shortcut';
import { runsWords } from '@umbek/core/entryWords';
import type { ShowDocument } from '@umbek/core/show';
import { useEffect, useState } from 'react';
import { StyleSheet, Text, useWindowDimensions, View } from 'react-native';
import { usePressState } from '../live/LiveContext';
import { colour, font, WIDE } from '../theme/tokens';
import { answerOf } from './answerOf';
import { useLayout } from './keyboard';
import type { ShortcutPress } from './useShortcuts';

const SHOWN_MS = 4000;
/** Below this height the lower left corner is that of the take. */
const LOW = 640;

/** What a key has just pressed, and what became of it: its cap may stand on another panel. It hides neither what is on air nor what takes and stops; touches go through it. */
export function KeyTold({
  press,
  document,
}: {
  readonly press: ShortcutPress | null;
  readonly document: ShowDocument;
}) {
  const { width, height } = useWindowDimensions();
  const place = width >= WIDE && height >= LOW ? styles.left : width > height ? styles.right : styles.upright;
  const [shown, setShown] = useState(0);
  const layout = useLayout();
  const state = usePressState(press?.id ?? '');
  const count = press?.count ?? 0;
  const asks = state?.phase === 'asking' || state?.phase === 'working';
  useEffect(() => {
    if (count === 0) return undefined;
    setShown(count);
    if (asks) return undefined;
    const timer = setTimeout(() => setShown(0), SHOWN_MS);
    return () => clearTimeout(timer);
  }, [count, asks, state?.phase]);
  if (press === null || shown !== count) return null;
  const legend = document.buttons.find(({ id }) => id === press.id)?.legend ?? runsWords(document, press.runs);
  const refused = press.waits !== undefined || state?.phase === 'failed' || state?.phase === 'asking';
  return (
    <View style={[styles.notice, place]} pointerEvents="none" role="status" testID="key-told">
      <Text style={styles.key}>{onWords(press.on, layout)}</Text>
      <Text style={[styles.words, refused && styles.refused]} numberOfLines={3}>
        {[legend.replace(/\{\{.*?\}\}/g, '–'), press.waits ?? answerOf(state)].filter(Boolean).join(' · ')}
      </Text>
    </View>
  );
}

const styles = StyleSheet.create({
  notice: {
    position: 'absolute',
    maxWidth: '94%',
    flexDirection: 'row',
    alignItems: 'center',
    gap: 10,
    paddingVertical: 8,
    paddingHorizontal: 10,
    borderRadius: 8,
    borderWidth: 1,
    borderColor: colour.hairline,
    backgroundColor: colour.plate,
  },
  left: { left: 12, bottom: 12, maxWidth: 416 },
  right: { right: 12, bottom: 12, maxWidth: 416 },
  // Above the bar of the take.
  upright: { left: 12, bottom: 92 },
  key: {
    flexShrink: 0,
    fontFamily: font.semibold,
    fontSize: 16,
    color: colour.legend,
    backgroundColor: colour.text,
    borderRadius: 4,
    paddingHorizontal: 8,
    paddingVertical: 2,
    overflow: 'hidden',
  },
  words: { flexShrink: 1, fontFamily: font.medium, fontSize: 16, lineHeight: 21, color: colour.text },
  refused: { color: colour.warning },
});
