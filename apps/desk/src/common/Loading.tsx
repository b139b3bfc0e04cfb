import { StyleSheet, Text, View } from 'react-native';
import { ActivityIndicator, Button } from 'react-native-paper';
import { useDeskShow, useDeskStore, useEditPart, useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';

/** Until the show is there: that it is coming, or why not and what to do. */
export function Loading() {
  const edits = useEdits();
  const desk = useDeskStore();
  const failedOne = useEditPart(({ failed }) => failed);
  const failed = useDeskShow().failed || failedOne;
  const again = (): void => {
    desk.load();
    if (failedOne) void edits.load();
  };
  return (
    <View style={styles.all}>
      {failed ? (
        <>
          <Text style={styles.text}>The engine does not answer at this address.</Text>
          <Button mode="outlined" onPress={again}>
            Try again
          </Button>
        </>
      ) : (
        <ActivityIndicator accessibilityLabel="Loading the show" />
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  all: { flex: 1, alignItems: 'center', justifyContent: 'center', gap: 16, padding: 24 },
  text: { fontFamily: font.medium, fontSize: 17, color: colour.text, textAlign: 'center' },
});
