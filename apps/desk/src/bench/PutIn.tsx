import type { Match } from '@umbek/core/programming';
import { useState } from 'react';
import { ScrollView, StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { Segments } from '../common/Segments';
import { Sheet } from '../common/Sheet';
import { colour, font } from '../theme/tokens';
import { MatchList } from './MatchList';
import type { Asked, Chosen } from './useChosen';

const count = (number: number, item: string, many: string): string =>
  number === 1 ? `1 ${item}` : `${number} ${many}`;

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
  const [matches, setMatches] = useState<readonly Match[]>(asked.matches);
  const [asPanel, setAsPanel] = useState(copied.panel !== undefined || panel === null);
  const buttons = copied.strips.reduce((sum, strip) => sum + strip.buttons.length, 0);
  const strips = copied.strips.filter(({ strip }) => strip !== undefined).length;
  const bringIn = (): void => {
    const made = chosen.pasteMatched(matches, asPanel);
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
        <MatchList matches={matches} first={asked.matches} what="Buttons" onChange={setMatches} />
      </ScrollView>
      <View style={styles.foot}>
        <Button mode="contained" onPress={bringIn} testID="put-in">
          {asPanel ? `Make the panel` : `Put ${count(buttons, 'button', 'buttons')} into ${panel ?? 'the panel'}`}
        </Button>
      </View>
    </Sheet>
  );
}

const styles = StyleSheet.create({
  body: { gap: 10, paddingBottom: 12 },
  words: { fontFamily: font.regular, fontSize: 16, lineHeight: 22, color: colour.text },
  foot: { paddingTop: 8 },
});
