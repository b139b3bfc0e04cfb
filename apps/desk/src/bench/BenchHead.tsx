import { useRouter } from 'expo-router';
import { memo } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Segments } from '../common/Segments';
import { UndoBar } from '../common/UndoBar';
import { colour, font } from '../theme/tokens';

/** What the Bench programs. */
export const BENCH_PARTS = [
  { value: 'panels', label: 'Panels' },
  { value: 'macros', label: 'Macros' },
  { value: 'triggers', label: 'Triggers' },
  { value: 'values', label: 'Values' },
  { value: 'people', label: 'People' },
  { value: 'shortcuts', label: 'Shortcuts' },
] as const;
export type BenchPart = (typeof BENCH_PARTS)[number]['value'];

/** The head of the Bench: what is programmed, and the way back. */
export const BenchHead = memo(function BenchHead({ part }: { readonly part: BenchPart }) {
  const router = useRouter();
  return (
    <>
      <View style={styles.head}>
        <Text style={styles.title} role="heading">
          Bench
        </Text>
        <UndoBar />
      </View>
      <Segments
        value={part}
        onChange={(to) =>
          router.setParams({
            list: to === 'panels' ? undefined : to,
            b: undefined,
            s: undefined,
            edit: undefined,
            m: undefined,
            v: undefined,
            tab: undefined,
          } as never)
        }
        options={BENCH_PARTS}
        most={4}
      />
    </>
  );
});

const styles = StyleSheet.create({
  head: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
  title: { flex: 1, fontFamily: font.bold, fontSize: 22, color: colour.text },
});
