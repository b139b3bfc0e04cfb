import type { TravelReply } from '@umbek/protocol';
import { useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { LineChart } from 'react-native-gifted-charts';
import { colour, families, font } from '../theme/tokens';

const HEIGHT = 130;
const AXIS = 34;
const seconds = (ms: number): { value: number } => ({ value: Math.round(ms / 10) / 100 });

/** The last recalls in order: measured, as declared, as learned. Each line has its own mark, so that colour is not needed to tell them. */
export default function TravelChart({ lines }: { readonly lines: TravelReply['lines'] }) {
  const [width, setWidth] = useState(0);
  const learned = lines.every((line) => line.learnedMs !== null);
  const top = Math.max(1, ...lines.flatMap((line) => [line.measuredMs, line.declaredMs, line.learnedMs ?? 0])) / 1000;
  const sections = 4;
  // Whole or half seconds a line, written out: the chart's own labels would be given as many digits as it likes.
  const each = Math.ceil((top / sections) * 2) / 2;
  const spacing = lines.length > 1 ? (width - AXIS - 30) / (lines.length - 1) : 0;
  return (
    <View
      onLayout={(event) => setWidth(event.nativeEvent.layout.width)}
      role="img"
      accessibilityLabel={`Times of the last ${lines.length} recalls in seconds. Measured: ${lines.map((line) => (line.measuredMs / 1000).toFixed(1)).join(', ')}. Declared: ${lines.map((line) => (line.declaredMs / 1000).toFixed(1)).join(', ')}.`}
      style={styles.box}
    >
      {width > 0 ? (
        <LineChart
          data={lines.map((line) => seconds(line.measuredMs))}
          data2={lines.map((line) => seconds(line.declaredMs))}
          {...(learned ? { data3: lines.map((line) => seconds(line.learnedMs ?? 0)) } : {})}
          height={HEIGHT}
          width={width - AXIS - 10}
          spacing={spacing}
          initialSpacing={10}
          endSpacing={10}
          maxValue={each * sections}
          noOfSections={sections}
          yAxisLabelTexts={Array.from({ length: sections + 1 }, (_, index) => `${each * index} s`)}
          yAxisLabelWidth={AXIS}
          yAxisTextStyle={styles.axis}
          color1={colour.text}
          color2={colour.warning}
          color3={families.lagoon}
          dataPointsColor1={colour.text}
          dataPointsColor2={colour.warning}
          dataPointsColor3={families.lagoon}
          dataPointsRadius1={4}
          dataPointsRadius2={2}
          dataPointsRadius3={3}
          thickness1={3}
          thickness2={2}
          thickness3={2}
          strokeDashArray2={[3, 4]}
          strokeDashArray3={[9, 4]}
          xAxisColor={colour.hairline}
          yAxisColor={colour.hairline}
          rulesColor={colour.hairline}
          disableScroll
          isAnimated={false}
        />
      ) : null}
      <View style={styles.key}>
        <Text style={[styles.words, { color: colour.text }]}>━ measured</Text>
        <Text style={[styles.words, { color: colour.warning }]}>┈ declared</Text>
        {learned ? <Text style={[styles.words, { color: colour.text }]}>╍ learned</Text> : null}
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  box: { backgroundColor: colour.plate, borderRadius: 6, paddingTop: 14, paddingBottom: 8, overflow: 'hidden' },
  axis: { fontFamily: font.regular, fontSize: 12, color: colour.muted },
  key: { flexDirection: 'row', gap: 16, paddingLeft: AXIS + 8, paddingTop: 6 },
  words: { fontFamily: font.medium, fontSize: 13 },
});
