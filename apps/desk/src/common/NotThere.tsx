import { useRouter } from 'expo-router';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { colour, font } from '../theme/tokens';

/** What a page of the Rig shows when the thing it is about is gone, with the way back. */
export function NotThere({ words }: { readonly words: string }) {
  const router = useRouter();
  return (
    <View style={styles.all}>
      <Text style={styles.words}>{words}</Text>
      <Button mode="outlined" onPress={() => router.navigate('/rig' as never)}>
        To the Rig
      </Button>
    </View>
  );
}

const styles = StyleSheet.create({
  all: { flex: 1, alignItems: 'center', justifyContent: 'center', gap: 12, backgroundColor: colour.ground },
  words: { fontFamily: font.bold, fontSize: 21, color: colour.text },
});
