import type { Reference } from '@umbek/core/show';
import { useRouter } from 'expo-router';
import { Pressable, StyleSheet, Text } from 'react-native';
import { colour, font } from '../theme/tokens';
import { hrefOf } from './hrefOf';
import { useEditPart } from './ShowContext';

/** Words that lead to the place of the show that they tell of; plain words where there is no such place any more. */
export function PlaceLink({ at, words }: { readonly at: Reference; readonly words: string }) {
  const router = useRouter();
  const document = useEditPart((state) => state.document);
  const href = document === null ? null : hrefOf(document, at);
  if (href === null) return <Text style={styles.words}>{words}</Text>;
  return (
    <Pressable role="link" onPress={() => router.navigate(href as never)} style={styles.link}>
      <Text style={[styles.words, styles.underlined]}>{words}</Text>
    </Pressable>
  );
}

const styles = StyleSheet.create({
  link: { minHeight: 44, justifyContent: 'center', alignSelf: 'flex-start' },
  words: { fontFamily: font.regular, fontSize: 15, color: colour.text },
  underlined: { textDecorationLine: 'underline', textDecorationColor: colour.muted },
});
