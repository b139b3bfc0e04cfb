import type { ReactNode } from 'react';
import { StyleSheet, Text, useWindowDimensions, View } from 'react-native';
import { Modal, Portal } from 'react-native-paper';
import { colour, font, WIDE } from '../theme/tokens';
import { Boundary } from './Boundary';
import { useLayer } from './useLayer';

interface SheetProps {
  readonly title: string;
  readonly visible: boolean;
  readonly onClose: () => void;
  /** What stands beside the title: the way out. */
  readonly actions: ReactNode;
  readonly children: ReactNode;
}

/** A sheet over a place: from below on a phone, in the middle on a wide screen. Escape and Back close it. */
export function Sheet({ title, visible, onClose, actions, children }: SheetProps) {
  const { width, height } = useWindowDimensions();
  useLayer(visible, onClose);
  // Gone at once: what fades out still lies over the caps, and takes the next touch.
  if (!visible) return null;
  return (
    <Portal>
      <Modal
        visible={visible}
        onDismiss={onClose}
        contentContainerStyle={[
          styles.sheet,
          width >= WIDE
            ? { width: 560, alignSelf: 'center', height: height * 0.8 }
            : { height: height * 0.86, marginTop: height * 0.14 },
        ]}
      >
        <View style={styles.head}>
          <Text style={styles.title} role="heading">
            {title}
          </Text>
          {actions}
        </View>
        <Boundary>{children}</Boundary>
      </Modal>
    </Portal>
  );
}

const styles = StyleSheet.create({
  sheet: {
    backgroundColor: colour.plate,
    borderTopLeftRadius: 14,
    borderTopRightRadius: 14,
    padding: 12,
    gap: 8,
    borderTopWidth: 1,
    borderTopColor: colour.hairline,
  },
  head: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  title: { flex: 1, fontFamily: font.semibold, fontSize: 20, color: colour.text },
});
