import type { LivePoint } from '@umbek/core/api';
import { memo } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { usePressTarget } from '../live/usePressTarget';
import { Icon, type IconName } from '../theme/Icon';
import { colour, font } from '../theme/tokens';

interface HoldCapProps {
  readonly device: string;
  readonly command: string;
  readonly params: Readonly<Record<string, LivePoint>>;
  readonly sign: IconName | 'Hold';
  readonly label: string;
}

/** A small cap that sends a command while it is held, and its end when it is let go. */
export const HoldCap = memo(function HoldCap({ device, command, params, sign, label }: HoldCapProps) {
  const ref = usePressTarget((live) => live.downCommand(device, command, params));
  return (
    <View ref={ref} role="button" tabIndex={0} accessibilityLabel={label} style={styles.cap}>
      {sign === 'Hold' ? <Text style={styles.word}>{sign}</Text> : <Icon name={sign} size={24} color={colour.legend} />}
    </View>
  );
});

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
