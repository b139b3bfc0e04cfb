import { StyleSheet, Text } from 'react-native';
import { Button } from 'react-native-paper';
import { AppDialog } from '../common/AppDialog';
import { useFollow } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';

/** Somebody opened another show: what this page shows is no longer what the engine runs. */
export function OtherShow() {
  const { other, follow } = useFollow();
  return (
    <AppDialog
      visible={other !== null}
      title="Another show is open"
      actions={
        <Button mode="contained" onPress={follow}>
          Show it
        </Button>
      }
    >
      <Text style={styles.text}>
        {`${other?.name ?? ''} was opened on another station. The buttons of the show before do nothing any more.`}
      </Text>
    </AppDialog>
  );
}

const styles = StyleSheet.create({
  text: { fontFamily: font.regular, fontSize: 16, lineHeight: 22, color: colour.text },
});
