import type { ShowDocument } from '@umbek/core/show';
import { ScrollView, StyleSheet } from 'react-native';
import { Button } from 'react-native-paper';
import { AppDialog } from '../common/AppDialog';
import { WhyChain } from '../common/WhyChain';
import { useFace, usePoint } from '../live/LiveContext';

/**
 * Why a cap is lit, or off: the rule of its lamp, and what led there; or why a picture is on air or next.
 * @param of id of its button, `on-air` or `on-preview`
 */
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
  const switcher = document.devices.find(({ kind }) => kind === 'switcher')?.key ?? 'switcher';
  const bus = of === 'on-air' ? `${switcher}.program` : of === 'on-preview' ? `${switcher}.preview` : null;
  const there = usePoint(bus ?? `${switcher}.program`);
  const state = isLit ? 'lit' : button?.dial != null ? 'where it is' : 'off';
  return (
    <AppDialog
      visible
      title={
        bus === null
          ? `Why is ${legend === '' ? 'this cap' : legend} ${state}?`
          : `Why is this ${of === 'on-air' ? 'on air' : 'next'}?`
      }
      onClose={onClose}
      actions={<Button onPress={onClose}>Close</Button>}
    >
      <ScrollView style={styles.list} tabIndex={0} accessibilityLabel="What led to it">
        <WhyChain of={bus ?? of} as={bus === null ? (face?.sign ?? '') : String(there)} />
      </ScrollView>
    </AppDialog>
  );
}

const styles = StyleSheet.create({ list: { maxHeight: 420 } });
