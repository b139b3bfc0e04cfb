import type { ShowDocument } from '@umbek/core/show';
import { Pressable, StyleSheet, Text } from 'react-native';
import { AnchoredMenu } from '../common/AnchoredMenu';
import { useLive, usePressState } from '../live/LiveContext';
import { colour, font } from '../theme/tokens';

/** Seconds that a take is offered over, beside what the caps are programmed to. */
const LENGTHS = [0.5, 1, 2] as const;

/** One take in another way than the caps would do it: its kind and length are chosen with the touch that does it, and nothing stays changed. */
export function TakeOnce({ document }: { readonly document: ShowDocument }) {
  const live = useLive();
  const switcher = document.devices.find((device) => device.kind === 'switcher');
  const [mix, wipe] = [
    usePressState(`${switcher?.key ?? 'none'}.mix`),
    usePressState(`${switcher?.key ?? 'none'}.wipe`),
  ];
  if (!switcher) return null;
  const failed = [mix, wipe].find((press) => press?.phase === 'failed');
  const items = (['mix', 'wipe'] as const).flatMap((command) =>
    LENGTHS.map((seconds) => {
      const frames = Math.max(1, Math.round(seconds * document.show.frameRate));
      return {
        title: `${command === 'mix' ? 'Mix' : 'Wipe'} over ${frames} f`,
        onPress: () => live.sendCommand(switcher.key, command, { frames }),
      };
    }),
  );
  return (
    <AnchoredMenu
      items={items}
      anchor={(open) => (
        <Pressable role="button" accessibilityLabel="Other transition" onPress={open} style={styles.chip}>
          <Text numberOfLines={1} style={[styles.words, failed && styles.failed]}>
            {failed ? failed.why : 'other transition'}
          </Text>
        </Pressable>
      )}
    />
  );
}

const styles = StyleSheet.create({
  chip: {
    alignSelf: 'flex-start',
    maxWidth: '100%',
    minHeight: 44,
    justifyContent: 'center',
    paddingHorizontal: 8,
    borderWidth: 1,
    borderColor: colour.hairline,
    borderRadius: 5,
    marginTop: 4,
  },
  words: { fontFamily: font.medium, fontSize: 14, color: colour.muted },
  failed: { color: colour.warning },
});
