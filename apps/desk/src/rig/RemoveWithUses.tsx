import type { Use } from '@umbek/core/programming';
import { StyleSheet, Text } from 'react-native';
import { Removal } from '../common/Removal';
import { PlaceLink } from '../show/PlaceLink';
import { colour, font } from '../theme/tokens';

const SHOWN = 12;

interface RemoveWithUsesProps {
  readonly what: string;
  readonly uses: readonly Use[];
  readonly onRemove: () => void;
  readonly label?: string;
  /** Where the question was asked for already: what keeping it does. */
  readonly onKeep?: () => void;
}

/** Takes a thing away, after it was told where it is used. What is used cannot be taken away: its users would point at nothing. */
export const RemoveWithUses = ({ what, uses, onRemove, label, onKeep }: RemoveWithUsesProps) => (
  <Removal
    what={what}
    {...(label === undefined ? {} : { label })}
    {...(onKeep === undefined ? {} : { onKeep })}
    words={
      uses.length === 0
        ? `${what} is used nowhere. Undo brings it back.`
        : `${what} is used in ${uses.length} ${uses.length === 1 ? 'place' : 'places'}:`
    }
    blocked={uses.length > 0}
    onRemove={onRemove}
  >
    {uses.slice(0, SHOWN).map((use, at) => (
      <PlaceLink key={`${use.at.id}${at}`} at={use.at} words={use.where} />
    ))}
    {uses.length > SHOWN ? <Text style={styles.use}>{`and ${uses.length - SHOWN} more`}</Text> : null}
    {uses.length > 0 ? <Text style={styles.words}>Change those first; then it can go.</Text> : null}
  </Removal>
);

const styles = StyleSheet.create({
  words: { fontFamily: font.medium, fontSize: 15, color: colour.text },
  use: { fontFamily: font.regular, fontSize: 14, color: colour.muted },
});
