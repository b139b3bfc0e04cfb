import { changed } from '@umbek/core/changes';
import { celOf, lampChoices, lampRuleWords, occasionsFrom } from '@umbek/core/programming';
import { type Button as ButtonData, LampSign, type LampRule, type ShowDocument } from '@umbek/core/show';
import { useRouter } from 'expo-router';
import { useMemo, useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button, IconButton } from 'react-native-paper';
import { AnchoredMenu } from '../common/AnchoredMenu';
import { Heading } from '../common/fields';
import { Picker } from '../common/Picker';
import { WhyChain } from '../common/WhyChain';
import { Lamp, lampWords } from '../caps/Lamp';
import { useFace, useStripShown } from '../live/LiveContext';
import { useEdits } from '../show/ShowContext';
import { act } from '../live/deeds';
import { readIdentity } from '../live/identity';
import { replyWords } from '../show/replyWords';
import { colour, font } from '../theme/tokens';
import { AskablePicker, ConditionForm } from './ConditionForm';

const IS_SO = 'button.isSo';

/** Every station shows it for a moment: what a lamp looks like is seen where it will be. */
async function tryLamp(buttonId: string, sign: LampRule['show'], edits: ReturnType<typeof useEdits>): Promise<void> {
  try {
    const response = await act('/api/lamps/try', { buttonId, sign, station: readIdentity().station });
    if (!response.ok) edits.tell(replyWords((await response.json()) as { message?: string; mend?: string }), true);
    else edits.tell('Shown on every panel for a moment.', false);
  } catch (error) {
    edits.tell(error instanceof Error ? error.message : 'It could not be shown.', true);
  }
}

/** When a button lights: rules from lists, the first that holds wins. */
export function LampRules({ document, button }: { readonly document: ShowDocument; readonly button: ButtonData }) {
  const edits = useEdits();
  const router = useRouter();
  useStripShown(button.stripId);
  const face = useFace(button.id);
  const [picking, setPicking] = useState(false);
  const [asking, setAsking] = useState(false);
  const [open, setOpen] = useState<number | null>(null);
  const [why, setWhy] = useState(false);
  const isLit = face?.sign !== undefined && face.sign !== null;
  const choices = useMemo(() => lampChoices(document), [document]);
  const change = (lamps: readonly LampRule[]): void =>
    edits.edit(`Lamps of ${button.legend}`, [changed('buttons', button, 'lamps', lamps)]);
  const holds = button.lamps.findIndex((rule) => rule.show === face?.sign);
  return (
    <View style={styles.list}>
      <Heading words="The first rule that is true lights the lamp" />
      {button.lamps.length === 0 ? (
        <Text style={styles.hint}>No rule yet. The lamp only shows what becomes of its own press.</Text>
      ) : null}
      {button.lamps.map((rule, index) => (
        <View key={`${rule.when}${index}`} style={styles.rule}>
          <View style={styles.line}>
            <View style={styles.sample}>
              <Lamp kind={rule.show} />
            </View>
            <View style={styles.fill}>
              <Text style={styles.words}>{lampRuleWords(rule, document)}</Text>
              <Text style={styles.small}>
                {lampWords[rule.show]}
                {index === holds ? ' · lit now' : ''}
              </Text>
            </View>
            <IconButton
              icon="arrow-up"
              size={20}
              accessibilityLabel={`Rule ${index + 1} earlier`}
              disabled={index === 0}
              onPress={() =>
                change(
                  button.lamps.map((lamp, at) =>
                    at === index - 1 ? rule : at === index ? (button.lamps[index - 1] ?? lamp) : lamp,
                  ),
                )
              }
            />
            <IconButton
              icon="pencil"
              size={20}
              accessibilityLabel={`Edit rule ${index + 1}`}
              onPress={() => setOpen(open === index ? null : index)}
            />
            <IconButton
              icon="delete"
              size={20}
              accessibilityLabel={`Remove rule ${index + 1}`}
              onPress={() => change(button.lamps.filter((_, at) => at !== index))}
            />
          </View>
          {open === index ? (
            <View style={styles.body}>
              <SignMenu
                value={rule.show}
                onChange={(show) => change(button.lamps.map((lamp, at) => (at === index ? { ...lamp, show } : lamp)))}
              />
              <Button
                mode="outlined"
                icon="eye"
                style={styles.left}
                accessibilityLabel={`Show rule ${index + 1} on the panels for a moment`}
                onPress={() => void tryLamp(button.id, rule.show, edits)}
              >
                Show it on the panels
              </Button>
              {rule.when === IS_SO ? (
                <Text style={styles.hint}>It lights while every state is as this button sets it.</Text>
              ) : (
                <ConditionForm
                  document={document}
                  cel={rule.when}
                  onChange={(when) => change(button.lamps.map((lamp, at) => (at === index ? { ...lamp, when } : lamp)))}
                />
              )}
            </View>
          ) : null}
        </View>
      ))}
      <View style={styles.line2}>
        <Button mode="outlined" icon="plus" style={styles.add} onPress={() => setPicking(true)}>
          Add a lamp rule
        </Button>
        <Button mode="outlined" icon="plus" style={styles.add} onPress={() => setAsking(true)}>
          From any state
        </Button>
      </View>
      <View style={styles.line2}>
        <Button mode="outlined" onPress={() => setWhy(!why)}>
          {isLit ? 'Why is it lit?' : 'Why is it off?'}
        </Button>
        {occasionsFrom(button.id, document).length === 0 ? null : (
          <Button
            mode="outlined"
            accessibilityLabel={`New trigger from the lamp of ${button.legend}`}
            onPress={() => router.navigate(`/bench?list=triggers&from=${button.id}` as never)}
          >
            New trigger from it
          </Button>
        )}
      </View>
      {why ? <WhyChain of={button.id} as={face?.sign ?? ''} /> : null}
      <AskablePicker
        document={document}
        visible={asking}
        onClose={() => setAsking(false)}
        onChoose={(condition) => {
          change([...button.lamps, { when: celOf(condition), show: 'up' }]);
          setOpen(button.lamps.length);
        }}
      />
      <Picker
        title={`When does ${button.legend} light?`}
        memory="lamps"
        visible={picking}
        onClose={() => setPicking(false)}
        choices={choices}
        onChoose={(choice) => change([...button.lamps, choice.rule])}
      />
      <WhenThere document={document} button={button} />
    </View>
  );
}

/** Whether the cap is always there, or comes and goes with something. */
function WhenThere({ document, button }: { readonly document: ShowDocument; readonly button: ButtonData }) {
  const edits = useEdits();
  const [asking, setAsking] = useState(false);
  const change = (there: string): void =>
    edits.edit(`When ${button.legend} is there`, [changed('buttons', button, 'there', there)]);
  return (
    <View style={styles.list}>
      <Heading words="When the cap is there" />
      <Text style={styles.hint}>
        {button.there === ''
          ? 'Always.'
          : 'Only while this is so. Its place stays free while it is not, so that no other cap moves.'}
      </Text>
      {button.there === '' ? null : <ConditionForm document={document} cel={button.there} onChange={change} />}
      <View style={styles.line2}>
        {button.there === '' ? (
          <Button mode="outlined" style={styles.add} onPress={() => setAsking(true)}>
            Only while a state is so
          </Button>
        ) : (
          <Button mode="outlined" style={styles.add} onPress={() => change('')}>
            Always there
          </Button>
        )}
      </View>
      <AskablePicker
        document={document}
        visible={asking}
        onClose={() => setAsking(false)}
        onChoose={(condition) => change(celOf(condition))}
      />
    </View>
  );
}

const SignMenu = ({
  value,
  onChange,
}: {
  readonly value: LampRule['show'];
  readonly onChange: (sign: LampRule['show']) => void;
}) => (
  <AnchoredMenu
    items={LampSign.options.map((sign) => ({ title: lampWords[sign], onPress: () => onChange(sign) }))}
    anchor={(open) => (
      <Button mode="outlined" style={styles.left} onPress={open}>{`Shows: ${lampWords[value]}`}</Button>
    )}
  />
);

const styles = StyleSheet.create({
  list: { gap: 8 },
  hint: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
  rule: { backgroundColor: colour.raised, borderRadius: 6 },
  line: { flexDirection: 'row', alignItems: 'center', minHeight: 54, paddingVertical: 6, paddingLeft: 12, gap: 10 },
  sample: { width: 44, height: 22, backgroundColor: colour.cap, borderRadius: 3, overflow: 'hidden' },
  fill: { flex: 1 },
  words: { fontFamily: font.medium, fontSize: 16, color: colour.text },
  small: { fontFamily: font.regular, fontSize: 13, color: colour.muted },
  body: { padding: 12, gap: 10 },
  add: { borderStyle: 'dashed', flexGrow: 1 },
  line2: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  left: { alignSelf: 'flex-start' },
});
