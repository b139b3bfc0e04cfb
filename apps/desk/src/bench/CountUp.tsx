import { MOST_COUNTED } from '@umbek/core/programming';
import type { ReactNode } from 'react';
import { ScrollView, StyleSheet, Text, View } from 'react-native';
import { Button, Switch } from 'react-native-paper';
import { Chip } from '../common/Chip';
import { EditorHead } from '../common/EditorHead';
import { Heading, NumberField } from '../common/fields';
import { Segments } from '../common/Segments';
import { colour, font } from '../theme/tokens';
import type { Count } from './useCount';

/** Fills a row on from a button or a few: what counts, how many, and what it makes, before it is made. */
export function CountUp({ count }: { readonly count: Count }) {
  const { buttons, counters, plan, result } = count;
  const [first] = buttons;
  const few = buttons.length > 1;
  const title = few ? `Count up from ${buttons.length} buttons` : `Count up from “${first?.legend ?? ''}”`;
  const these = count.mode === 'these';
  if (counters.length === 0)
    return (
      <Frame title={title} onClose={count.end}>
        <Text style={styles.words}>
          {few
            ? 'These buttons have nothing in common that counts. Choose buttons that do the same with different sources, positions, devices or numbers.'
            : 'Nothing here counts yet. Give the button a step with a source, a position or a number, or a number in its legend.'}
        </Text>
      </Frame>
    );
  const most = Math.min(
    ...counters.filter(({ key }) => plan.across.includes(key)).map((counter) => counter.most),
    MOST_COUNTED,
  );
  const below = counters.filter(({ key, most: room }) => !plan.across.includes(key) && room > 0);
  const sources = counters.some(({ key }) => key === 'source' && plan.across.includes(key));
  return (
    <Frame
      title={title}
      onClose={count.end}
      foot={
        <>
          <Button
            mode="contained"
            style={styles.make}
            disabled={count.size === 0}
            onPress={count.make}
            testID="make-count"
          >
            {these
              ? `Change ${count.size} ${count.size === 1 ? 'button' : 'buttons'}`
              : `Make ${count.size} ${count.size === 1 ? 'button' : 'buttons'}`}
          </Button>
          <Button mode="outlined" onPress={count.end}>
            Cancel
          </Button>
        </>
      }
    >
      {few ? (
        <Segments
          value={count.mode}
          onChange={(mode) => count.setMode(mode === 'these' ? 'these' : 'more')}
          options={[
            { value: 'more', label: 'Add more after them' },
            { value: 'these', label: 'Count in these' },
          ]}
        />
      ) : null}
      <Heading words="What counts" />
      <View style={styles.row}>
        {counters.map((counter) => (
          <Chip
            key={counter.key}
            on={plan.across.includes(counter.key)}
            words={counter.words}
            label={`${counter.words}, from ${counter.now}`}
            onPress={() => count.toggle(counter.key)}
          />
        ))}
      </View>
      {plan.across.length === 0 ? null : (
        <View style={styles.fields}>
          {these ? null : (
            <View style={styles.field}>
              <NumberField
                label={few ? 'How often' : 'How many'}
                value={plan.more}
                min={0}
                max={MOST_COUNTED}
                whole
                onChange={(more) => count.set({ more })}
              />
            </View>
          )}
          <View style={styles.field}>
            <NumberField
              label="In steps of"
              value={plan.step}
              min={1}
              max={MOST_COUNTED}
              whole
              onChange={(step) => count.set({ step })}
            />
          </View>
        </View>
      )}
      {these || below.length === 0 ? null : (
        <>
          <Heading words="Strips below" />
          <View style={styles.row}>
            <Chip on={plan.down === null} words="None" onPress={() => count.set({ down: null })} />
            {below.map((counter) => (
              <Chip
                key={counter.key}
                on={plan.down === counter.key}
                words={`Next ${inSentence(counter.words)}`}
                onPress={() =>
                  count.set({ down: counter.key, strips: Math.min(counter.most, Math.max(1, plan.strips)) })
                }
              />
            ))}
          </View>
          {plan.down === null ? null : (
            <NumberField
              label="How many strips"
              value={plan.strips}
              min={1}
              max={MOST_COUNTED}
              whole
              onChange={(strips) => count.set({ strips })}
            />
          )}
        </>
      )}
      {sources && !these ? (
        <>
          <Heading words="Colour" />
          <Segments
            value={plan.colour}
            onChange={(to) => count.set({ colour: to === 'same' ? 'same' : 'source' })}
            options={[
              { value: 'source', label: 'As their sources have' },
              { value: 'same', label: few ? 'As these have' : 'As this one has' },
            ]}
          />
        </>
      ) : null}
      {count.share === null ? null : (
        <Heading words="Share one macro">
          <Switch value={count.share} onValueChange={count.setShare} accessibilityLabel="Share one macro" />
        </Heading>
      )}
      {count.share === true || count.sharing > 1 ? (
        <Text style={styles.share}>
          {`${count.share === true ? count.size + buttons.length : count.sharing} buttons share one macro. Change it once, all follow.`}
        </Text>
      ) : null}
      {count.notice === null ? null : (
        <Text style={styles.notice} role="alert">
          {plan.more > most && !these && result.strips.length === 0
            ? `${count.notice} ${result.across.length} of ${plan.more * buttons.length} can be made.`
            : count.notice}
        </Text>
      )}
    </Frame>
  );
}

/** As it stands inside a sentence: a word of capitals keeps them. */
const inSentence = (words: string): string =>
  /^[A-Z][a-z]/.test(words) ? words.charAt(0).toLowerCase() + words.slice(1) : words;

const Frame = ({
  title,
  onClose,
  foot,
  children,
}: {
  readonly title: string;
  readonly onClose: () => void;
  /** Stays in reach however long the rest is. */
  readonly foot?: ReactNode;
  readonly children: ReactNode;
}) => (
  <View style={styles.all}>
    <View style={styles.top}>
      <EditorHead title={title} onClose={onClose} />
    </View>
    <ScrollView contentContainerStyle={styles.body}>{children}</ScrollView>
    {foot === undefined ? null : <View style={styles.foot}>{foot}</View>}
  </View>
);

const styles = StyleSheet.create({
  // No higher than it needs: the panel stays in sight above.
  all: { flexShrink: 1 },
  top: { paddingHorizontal: 14, paddingTop: 8 },
  body: { padding: 14, paddingTop: 4, gap: 8, paddingBottom: 16 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  fields: { flexDirection: 'row', flexWrap: 'wrap', gap: 12 },
  field: { flexGrow: 1, flexBasis: 150 },
  words: { fontFamily: font.regular, fontSize: 16, lineHeight: 22, color: colour.muted },
  notice: { fontFamily: font.medium, fontSize: 15, lineHeight: 20, color: colour.warning },
  share: { fontFamily: font.medium, fontSize: 15, lineHeight: 20, color: colour.text },
  make: { flex: 1 },
  foot: { flexDirection: 'row', gap: 8, paddingHorizontal: 14, paddingVertical: 8 },
});
