import { ScrollView, StyleSheet, Text, useWindowDimensions, View } from 'react-native';
import { useBrightness } from '../theme/brightness';
import { FAMILY_NAMES } from '../theme/patterns';
import { colour, font } from '../theme/tokens';
import { CapFace } from '../caps/CapFace';
import type { LampKind } from '../caps/Lamp';

const LAMPS: readonly {
  readonly lamp: LampKind;
  readonly name: string;
  readonly says: string;
  readonly lost?: boolean;
  readonly telling?: boolean;
}[] = [
  { lamp: null, name: 'Dark', says: 'no rule holds' },
  { lamp: 'onAir', name: 'On air', says: 'red, the whole head' },
  { lamp: 'onPreview', name: 'Next', says: 'green, its middle half' },
  { lamp: 'chosen', name: 'Chosen', says: 'a dark notch' },
  { lamp: 'up', name: 'Up', says: 'a wedge upwards' },
  { lamp: 'arrived', name: 'Arrived', says: 'a round dot' },
  { lamp: 'armed', name: 'Armed, or asking', says: 'amber dashes' },
  { lamp: 'recording', name: 'Recording', says: 'a red disc at the left' },
  { lamp: 'working', name: 'Working', says: 'a dash that travels' },
  { lamp: 'done', name: 'Done', says: 'a short tick' },
  { lamp: 'failed', name: 'Failed', says: 'a zigzag, and why', telling: true },
  { lamp: null, name: 'Lost', says: 'no answer', lost: true },
];

/** Every state of a lamp and every family, to be tried on the real screen in the real room. */
export function CapsScreen() {
  const { width } = useWindowDimensions();
  const brightness = useBrightness();
  const columns = width >= 1000 ? 6 : width >= 600 ? 4 : 2;
  const share = { width: `${100 / columns}%` as const, padding: 5 };
  return (
    // Nothing in it takes the focus, so the page itself does: it can be scrolled from the keyboard.
    <ScrollView
      style={styles.all}
      contentContainerStyle={styles.column}
      tabIndex={0}
      accessibilityLabel="Every lamp and family"
    >
      <Text style={styles.title} role="heading">
        Every lamp
      </Text>
      <View style={[styles.grid, brightness < 1 ? ({ filter: `brightness(${brightness})` } as object) : null]}>
        {LAMPS.map(({ lamp, name, says, lost = false, telling = false }, at) => (
          <View key={name} style={share}>
            <CapFace
              legend={name}
              second={says}
              lamp={lamp}
              lost={lost}
              telling={telling}
              family={FAMILY_NAMES[at % FAMILY_NAMES.length] ?? 'stone'}
            />
          </View>
        ))}
      </View>
      <Text style={styles.title} role="heading">
        Every family
      </Text>
      <View style={styles.grid}>
        {FAMILY_NAMES.map((family) => (
          <View key={family} style={share}>
            <CapFace legend={family} second="its colour and its pattern" lamp={null} lost={false} family={family} />
          </View>
        ))}
      </View>
    </ScrollView>
  );
}

const styles = StyleSheet.create({
  all: { flex: 1, backgroundColor: colour.ground },
  column: { padding: 12, gap: 10, paddingBottom: 40 },
  title: { fontFamily: font.bold, fontSize: 20, color: colour.text },
  grid: { flexDirection: 'row', flexWrap: 'wrap' },
});
