import type { ReactNode } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { IconButton } from 'react-native-paper';
import { colour, font } from '../theme/tokens';

/** The head of an editor: what is edited, and the way out. */
export const EditorHead = ({
  title,
  onClose,
  children,
}: {
  readonly title: string;
  readonly onClose: () => void;
  readonly children?: ReactNode;
}) => (
  <View style={styles.head}>
    <Text numberOfLines={2} dir="auto" role="heading" style={styles.title}>
      {title}
    </Text>
    {children}
    <IconButton icon="close" accessibilityLabel="Close the editor" onPress={onClose} />
  </View>
);

const styles = StyleSheet.create({
  head: { flexDirection: 'row', alignItems: 'center', gap: 6 },
  title: { flex: 1, fontFamily: font.bold, fontSize: 21, color: colour.text },
});
