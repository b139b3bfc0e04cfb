import { leftOpen, type Match, matchedTo } from '@umbek/core/programming';
import { useState } from 'react';
import { ScrollView, StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { ChooseLine } from '../common/ChooseLine';
import { Heading } from '../common/fields';
import { Picker } from '../common/Picker';
import { Segments } from '../common/Segments';
import { Sheet } from '../common/Sheet';
import { colour, font } from '../theme/tokens';
import type { Asked, Chosen } from './useChosen';

const NOTHING = '';
const count = (number: number, one: string, many: string): string => (number === 1 ? `1 ${one}` : `${number} ${many}`);

/** Buttons, strips or a panel from elsewhere: what will be made, what comes along, and what stands here for what they name. */
export function PutIn({ chosen, onPanel }: { readonly chosen: Chosen; readonly onPanel: (id: string) => void }) {
  const { asked } = chosen;
  return asked === null ? null : <Asking key={asked.id} asked={asked} chosen={chosen} onPanel={onPanel} />;
}

function Asking({
  asked,
  chosen,
  onPanel,
}: {
  readonly asked: Asked;
  readonly chosen: Chosen;
  readonly onPanel: (id: string) => void;
}) {
  const { copied, panel } = asked;
  const [matches, setMatches] = useState(asked.matches);
  const [asPanel, setAsPanel] = useState(copied.panel !== undefined || panel === null);
  const [picking, setPicking] = useState<Match | null>(null);
  const buttons = copied.strips.reduce((sum, strip) => sum + strip.buttons.length, 0);
  const strips = copied.strips.filter(({ strip }) => strip !== undefined).length;
  const coming = matches.filter(({ to }) => to === 'bring');
  const looked = matches.filter(({ to, sure }, at) => to !== 'bring' && (!sure || asked.matches[at]?.sure === false));
  const open = leftOpen(matches);
  const put = (): void => {
    const made = chosen.put(matches, asPanel);
    if (made !== null) onPanel(made);
  };
  return (
    <Sheet
      title={copied.panel === undefined ? 'Buttons from elsewhere' : `Panel ${copied.panel.name}`}
      visible
      onClose={chosen.leave}
      actions={<Button onPress={chosen.leave}>Close</Button>}
    >
      <ScrollView contentContainerStyle={styles.body}>
        <Text style={styles.words}>
          {`${strips === 0 ? '' : `${count(strips, 'strip', 'strips')} with `}${count(buttons, 'button', 'buttons')}.`}
        </Text>
        {copied.panel === undefined || panel === null ? null : (
          <Segments
            value={asPanel ? 'panel' : 'strips'}
            onChange={(to) => setAsPanel(to === 'panel')}
            options={[
              { value: 'panel', label: 'A panel of its own' },
              { value: 'strips', label: `Into ${panel}` },
            ]}
          />
        )}
        {coming.length === 0 ? null : (
          <>
            <Heading words="Comes along" />
            <Text style={styles.words}>{told(coming)}</Text>
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
            {`Nothing stands for ${open.map(({ name }) => name).join(', ')}. Buttons that need ${open.length === 1 ? 'it' : 'them'} are made, and refuse their press until this is mended.`}
          </Text>
        )}
        {looked.length === 0 && open.length === 0 ? (
          <Text style={styles.small}>Everything that they name is here.</Text>
        ) : null}
      </ScrollView>
      <View style={styles.foot}>
        <Button mode="contained" onPress={put} testID="put-in">
          {asPanel ? `Make the panel` : `Put ${count(buttons, 'button', 'buttons')} into ${panel ?? 'the panel'}`}
        </Button>
      </View>
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
          if (picking !== null) setMatches(matchedTo(matches, picking, key === NOTHING ? null : key));
        }}
      />
    </Sheet>
  );
}

function here({ to, choices }: Match): string {
  if (typeof to !== 'object') return 'nothing yet';
  return choices.find(({ key }) => key === to.here)?.name ?? to.here;
}

/** So many are named. */
const NAMED = 6;
const told = (coming: readonly Match[]): string => {
  const names = coming.slice(0, NAMED).map(({ what, name }) => `${what} ${name}`);
  const [first = '', ...others] = names;
  return `${[first.charAt(0).toUpperCase() + first.slice(1), ...others].join(', ')}${coming.length > NAMED ? ` and ${coming.length - NAMED} more` : ''}.`;
};

const styles = StyleSheet.create({
  body: { gap: 10, paddingBottom: 12 },
  words: { fontFamily: font.regular, fontSize: 16, lineHeight: 22, color: colour.text },
  small: { fontFamily: font.regular, fontSize: 15, color: colour.muted },
  warning: { fontFamily: font.medium, fontSize: 15, lineHeight: 20, color: colour.warning },
  foot: { paddingTop: 8 },
});
