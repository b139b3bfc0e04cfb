import type { InvitationReply } from '@umbek/protocol';
import { useEffect, useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import Svg, { Path } from 'react-native-svg';
import { Chip } from '../../common/Chip';
import { colour, font } from '../../theme/tokens';

/** Quiet modules around a QR code (ISO/IEC 18004). */
const QUIET = 4;
const SIDE = 216;

/** Six figures and a QR code, with the time that they are good for. */
export function Invitation({
  invitation,
  onOver,
}: {
  readonly invitation: InvitationReply;
  /** It ran out, or is taken back. */
  readonly onOver: (takenBack: boolean) => void;
}) {
  const [endsAt] = useState(() => performance.now() + invitation.leftMs);
  const [left, setLeft] = useState(invitation.leftMs);
  useEffect(() => {
    const timer = setInterval(() => {
      const now = endsAt - performance.now();
      setLeft(now);
      if (now <= 0) onOver(false);
    }, 500);
    return () => clearInterval(timer);
  }, [endsAt, onOver]);
  const { qrs, code, addresses } = invitation;
  const [at, setAt] = useState(0);
  const qr = qrs[at] ?? { size: 1, path: '' };
  const side = qr.size + 2 * QUIET;
  const seconds = Math.max(0, Math.ceil(left / 1000));
  return (
    <View style={styles.card} testID="invitation">
      <View style={styles.qr} role="img" accessibilityLabel="QR code that leads to the join page">
        <Svg width={SIDE} height={SIDE} viewBox={`${-QUIET} ${-QUIET} ${side} ${side}`} aria-hidden>
          <Path d={qr.path} fill={colour.legend} />
        </Svg>
      </View>
      <View style={styles.words}>
        {addresses.length < 2 ? null : (
          <>
            <Text style={styles.step}>This machine is on several networks. Choose the one that the device is on:</Text>
            <View style={styles.ways} role="group" accessibilityLabel="Network of the device">
              {addresses.map((address, index) => (
                <Chip key={address} on={index === at} words={new URL(address).hostname} onPress={() => setAt(index)} />
              ))}
            </View>
          </>
        )}
        <Text style={styles.step}>Scan this with the device’s camera, or open</Text>
        <Text selectable style={styles.address}>
          {`${addresses[at] ?? ''}/join`}
        </Text>
        <Text style={styles.step}>there and type</Text>
        <Text selectable style={styles.code} testID="invitation-code" accessibilityLabel={[...code].join(' ')}>
          {`${code.slice(0, 3)} ${code.slice(3)}`}
        </Text>
        <Text style={styles.hint}>
          {`Good once, for ${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}. Then you are asked here whether to let it in.`}
        </Text>
        <Button mode="outlined" style={styles.left} onPress={() => onOver(true)}>
          Take it back
        </Button>
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  card: {
    flexDirection: 'row',
    flexWrap: 'wrap',
    gap: 16,
    padding: 14,
    borderRadius: 8,
    backgroundColor: colour.raised,
  },
  qr: { backgroundColor: colour.cap, borderRadius: 6, alignSelf: 'flex-start' },
  words: { flexGrow: 1, flexShrink: 1, flexBasis: 220, gap: 6 },
  step: { fontFamily: font.medium, fontSize: 16, color: colour.text },
  address: { fontFamily: font.semibold, fontSize: 17, color: colour.text },
  code: {
    fontFamily: font.bold,
    fontSize: 40,
    lineHeight: 48,
    letterSpacing: 2,
    color: colour.text,
    fontVariant: ['tabular-nums'],
  },
  hint: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted, fontVariant: ['tabular-nums'] },
  ways: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  left: { alignSelf: 'flex-start' },
});
