import { StyleSheet, Text } from 'react-native';
import { usePoint, useScopes } from '../live/LiveContext';
import { colour, font } from '../theme/tokens';

const SCOPES = ['rules'];

/** What the show does by itself, in one line: how many triggers are armed, and which hold something now. @param short where there is room for little */
export function RulesLine({ short = false }: { readonly short?: boolean }) {
  useScopes(SCOPES);
  const armed = usePoint('rules@armed');
  const hold = usePoint('rules@hold');
  if (typeof armed !== 'number' || (armed === 0 && (hold === undefined || hold === ''))) return null;
  const whole = armed === 1 ? '1 trigger armed' : `${armed} triggers armed`;
  const holding = typeof hold === 'string' && hold !== '';
  return (
    <Text
      numberOfLines={1}
      testID="rules-line"
      accessibilityLabel={`${whole}${holding ? `, active: ${hold}` : ''}`}
      style={styles.line}
    >
      {short ? `${armed} armed` : whole}
      {holding ? <Text style={styles.hold}>{short ? ' · active' : ` · active: ${hold}`}</Text> : null}
    </Text>
  );
}

const styles = StyleSheet.create({
  line: { fontFamily: font.regular, fontSize: 14, lineHeight: 18, minHeight: 18, color: colour.muted },
  hold: { fontFamily: font.semibold, color: '#A9C66B' },
});
