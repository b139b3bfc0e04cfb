import { leftOpen, type Match, matchedTo } from '@umbek/core/programming';
import { useState } from 'react';
import { StyleSheet, Text } from 'react-native';
import { ChooseLine } from '../common/ChooseLine';
import { Heading } from '../common/fields';
import { Picker } from '../common/Picker';
import { colour, font } from '../theme/tokens';

const NOTHING = '';

/**
 * What comes along with things from elsewhere, and what stands here for what they name.
 * @param first the matches as they were guessed: what was sure then need not be looked at
 * @param what that they are, such as "Buttons"
 */
export function MatchList({
  matches,
  first,
  what,
  onChange,
}: {
  readonly matches: readonly Match[];
  readonly first: readonly Match[];
  readonly what: string;
  readonly onChange: (matches: readonly Match[]) => void;
}) {
  const [picking, setPicking] = useState<Match | null>(null);
  const coming = matches.filter(({ to }) => to === 'bring');
  const looked = matches.filter(({ to, sure }, at) => to !== 'bring' && (!sure || first[at]?.sure === false));
  const open = leftOpen(matches);
  return (
    <>
      {coming.length === 0 ? null : (
        <>
          <Heading words="Comes along" />
          <Text style={styles.words}>{changesIn(coming)}</Text>
        </>
      )}
      {looked.length === 0 ? null : (
        <>
          <Heading words="What stands for it here" />
          {looked.map((match) => (
            <ChooseLine
              key={`${match.table}/${match.key}`}
              title={`${match.name} (${match.what})`}
              value={here(match)}
              label={`${match.name}: ${here(match)}`}
              onPress={() => setPicking(match)}
            />
          ))}
        </>
      )}
      {open.length === 0 ? null : (
        <Text style={styles.warning} role="alert">
          {`Nothing stands for ${open.map(({ name }) => name).join(', ')}. ${what} that need ${open.length === 1 ? 'it' : 'them'} are made, and refuse their press until this is mended.`}
        </Text>
      )}
      {looked.length === 0 && open.length === 0 ? (
        <Text style={styles.small}>Everything that they name is here.</Text>
      ) : null}
      <Picker
        title={`What stands for ${picking?.name ?? ''}?`}
        memory={`match.${picking?.table ?? ''}`}
        visible={picking !== null}
        onClose={() => setPicking(null)}
        choices={[
          ...(picking?.choices ?? []).map(({ key, name }) => ({ key, group: 'In this show', words: name })),
          { key: NOTHING, group: 'Otherwise', words: 'Nothing yet' },
        ]}
        onChoose={({ key }) => {
          if (picking !== null) onChange(matchedTo(matches, picking, key === NOTHING ? null : key));
        }}
      />
    </>
  );
}

function here({ to, choices }: Match): string {
  if (typeof to !== 'object') return 'nothing yet';
  return choices.find(({ key }) => key === to.here)?.name ?? to.here;
}

/** So many are named. */
const NAMED = 6;
const changesIn = (coming: readonly Match[]): string => {
  const names = coming.slice(0, NAMED).map(({ what, name }) => `${what} ${name}`);
  const [first = '', ...others] = names;
  return `${[first.charAt(0).toUpperCase() + first.slice(1), ...others].join(', ')}${coming.length > NAMED ? ` and ${coming.length - NAMED} more` : ''}.`;
};

const styles = StyleSheet.create({
  words: { fontFamily: font.regular, fontSize: 16, lineHeight: 22, color: colour.text },
  small: { fontFamily: font.regular, fontSize: 15, color: colour.muted },
  warning: { fontFamily: font.medium, fontSize: 15, lineHeight: 20, color: colour.warning },
});
