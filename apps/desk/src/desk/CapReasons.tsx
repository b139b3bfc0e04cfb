import type { ShowDocument } from '@umbek/core/show';
import { ScrollView, StyleSheet } from 'react-native';
import { Button } from 'react-native-paper';
import { AppDialog } from '../common/AppDialog';
import { WhyChain } from '../common/WhyChain';
import { useFace } from '../live/LiveContext';

/** Why a cap is lit, or off: the rule of its lamp, and what led there. @param of id of its button */
export function CapReasons({
  document,
  of,
  onClose,
}: {
  readonly document: ShowDocument;
  readonly of: string;
  readonly onClose: () => void;
}) {
  const face = useFace(of);
  const button = document.buttons.find(({ id }) => id === of);
  const legend = face?.legend ?? button?.legend ?? '';
  const isLit = face?.sign !== undefined && face.sign !== null;
  const state = isLit ? 'lit' : button?.dial != null ? 'where it is' : 'off';
  return (
    <AppDialog
      visible
      title={`Why is ${legend === '' ? 'this cap' : legend} ${state}?`}
      onClose={onClose}
      actions={<Button onPress={onClose}>Close</Button>}
    >
      <ScrollView style={styles.list} tabIndex={0} accessibilityLabel="What led to it">
        <WhyChain of={of} as={face?.sign ?? ''} />
      </ScrollView>
    </AppDialog>
  );
}

const styles = StyleSheet.create({ list: { maxHeight: 420 } });
