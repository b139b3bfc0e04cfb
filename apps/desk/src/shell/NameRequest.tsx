import { useState } from 'react';
import { StyleSheet } from 'react-native';
import { Snackbar } from 'react-native-paper';
import { editorName, nameWasAsked, readIdentity } from '../live/identity';
import { useEditState } from '../show/ShowContext';
import { colour } from '../theme/tokens';

/** Asks once, after the first edit that was saved here, who works at this station. It lies where nothing is pressed, and goes for good at "Not now". */
export function NameRequest({ wide, onName }: { readonly wide: boolean; readonly onName: () => void }) {
  const { saved, notice, kept } = useEditState();
  const [asked, setAsked] = useState(() => nameWasAsked());
  const over = (): void => {
    nameWasAsked(true);
    setAsked(true);
  };
  return (
    <Snackbar
      visible={!asked && saved > 0 && notice === null && kept === null && readIdentity().person === ''}
      duration={Infinity}
      onDismiss={() => undefined}
      action={{
        label: 'Give my name',
        textColor: colour.warning,
        onPress: () => {
          over();
          onName();
        },
      }}
      icon="close"
      iconAccessibilityLabel="Not now"
      onIconPress={over}
      wrapperStyle={{ bottom: wide ? 12 : 128, maxWidth: 640, alignSelf: 'center' }}
      style={styles.bar}
      theme={{ colors: { inverseOnSurface: colour.text } }}
      testID="name-request"
    >
      {`Saved as “${editorName()}”. With your name, undo and the log know you.`}
    </Snackbar>
  );
}

const styles = StyleSheet.create({
  bar: { backgroundColor: colour.raised, borderLeftWidth: 4, borderLeftColor: colour.hairline },
});
