import type { ReactNode, RefObject } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { colour, font } from '../theme/tokens';

/** A small cap without a lamp, for a camera's keys; what it does stands in the hook that gives the reference. */
export const SmallCap = ({
  held,
  label,
  children,
}: {
  readonly held: RefObject<View | null>;
  readonly label: string;
  readonly children: ReactNode;
}) => (
  <View ref={held} role="button" tabIndex={0} accessibilityLabel={label} style={styles.cap}>
    {typeof children === 'string' ? <Text style={styles.word}>{children}</Text> : children}
  </View>
);

const styles = StyleSheet.create({
  cap: {
    flex: 1,
    minWidth: 44,
    height: 54,
    backgroundColor: colour.cap,
    borderRadius: 6,
    alignItems: 'center',
    justifyContent: 'center',
    cursor: 'pointer',
    userSelect: 'none',
    touchAction: 'none',
    boxShadow: 'inset 0 1px 0 #FFFBEF, 0 2px 3px rgba(0,0,0,0.55)',
  } as object,
  word: { fontFamily: font.bold, fontSize: 18, color: colour.legend },
});
