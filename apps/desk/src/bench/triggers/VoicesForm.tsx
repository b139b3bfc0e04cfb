import { aheadChoices, micChoices, shotChoices, takerChoices, type VoiceChoice } from '@umbek/core/programming';
import type { ShowDocument, Voices } from '@umbek/core/show';
import { useMemo, useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button, IconButton } from 'react-native-paper';
import { ChooseLine } from '../../common/ChooseLine';
import { Heading, NumberField, TextField } from '../../common/fields';
import { Picker } from '../../common/Picker';
import { Segments } from '../../common/Segments';
import { colour, font } from '../../theme/tokens';
import { MicLevel } from './MicLevel';

const MOST_MICS = 16;
const STAYS: VoiceChoice = { key: '', group: 'Sources', words: 'The shot stays' };

type Mic = Voices['mics'][number];
type Shot = NonNullable<Voices['wide']>;
/** What is chosen from a list: the microphone, shot or position of one row, a further microphone, or the wide shot. */
type Asked =
  | { readonly what: 'mic' | 'shot' | 'ahead'; readonly at: number }
  | { readonly what: 'add' | 'wide' | 'wideAhead' | 'switcher' };

interface VoicesProps {
  readonly document: ShowDocument;
  readonly voices: Voices;
  readonly onChange: (voices: Voices) => void;
}

/** Who is heard, and the shot of each. */
export function VoicesForm({ document, voices, onChange }: VoicesProps) {
  const [asked, setAsked] = useState<Asked | null>(null);
  const mics = useMemo(() => micChoices(document), [document]);
  const shots = useMemo(() => shotChoices(document), [document]);
  const takers = useMemo(() => takerChoices(document), [document]);
  const change = (at: number, to: Partial<Mic>): void =>
    onChange({ ...voices, mics: voices.mics.map((mic, index) => (index === at ? { ...mic, ...to } : mic)) });
  const unused = mics.filter(({ key }) => !voices.mics.some(({ level }) => level === key));
  const list = asked === null ? [] : choicesFor(asked, { document, voices, mics, shots, unused });
  const choose = ({ key, words }: VoiceChoice): void => {
    if (asked === null) return;
    const { wide } = voices;
    switch (asked.what) {
      case 'mic':
        return change(asked.at, { level: key });
      case 'shot':
        return change(asked.at, { source: key, position: '' });
      case 'ahead':
        return change(asked.at, { position: key });
      case 'add':
        return onChange({
          ...voices,
          mics: [...voices.mics, { name: nameOf(words), level: key, source: shots[0]?.key ?? '', position: '' }],
        });
      case 'wide':
        return onChange({ ...voices, wide: key === '' ? null : { source: key, position: '' } });
      case 'switcher':
        return onChange({ ...voices, switcher: key });
      case 'wideAhead':
        if (wide !== null) onChange({ ...voices, wide: { ...wide, position: key } });
    }
  };
  const wordsOf = (choices: readonly VoiceChoice[], key: string): string =>
    choices.find((choice) => choice.key === key)?.words ?? 'Choose one';
  const shotLines = (shot: Shot, who: string, shotAsked: Asked, aheadAsked: Asked) => {
    const ahead = aheadChoices(shot.source, document);
    const source = shot.source === '' ? STAYS.words : wordsOf(shots, shot.source);
    return (
      <>
        <ChooseLine
          title="Shot"
          value={source}
          label={`Shot ${who}: ${source}. Choose another.`}
          onPress={() => setAsked(shotAsked)}
        />
        {ahead.length === 0 ? null : (
          <ChooseLine
            title="Camera goes ahead to"
            value={wordsOf(ahead, shot.position)}
            label={`Position ${who}: ${wordsOf(ahead, shot.position)}. Choose another.`}
            onPress={() => setAsked(aheadAsked)}
          />
        )}
      </>
    );
  };
  return (
    <View style={styles.all}>
      {voices.mics.map((mic, at) => (
        <View key={mic.level} style={styles.mic}>
          <View style={styles.row}>
            <View style={styles.fill}>
              <TextField
                label="Who speaks"
                value={mic.name}
                longest={120}
                fault={(text) => (text.trim() === '' ? 'Say who speaks here.' : null)}
                onChange={(name) => change(at, { name })}
              />
            </View>
            <IconButton
              icon="delete-outline"
              accessibilityLabel={`Remove microphone ${mic.name}`}
              onPress={() => onChange({ ...voices, mics: voices.mics.filter((_, index) => index !== at) })}
            />
          </View>
          <ChooseLine
            title="Microphone"
            value={wordsOf(mics, mic.level)}
            label={`Microphone of ${mic.name}: ${wordsOf(mics, mic.level)}. Choose another.`}
            onPress={() => setAsked({ what: 'mic', at })}
          />
          <MicLevel name={mic.name} level={mic.level} talksDb={voices.talksDb} />
          {shotLines(mic, `of ${mic.name}`, { what: 'shot', at }, { what: 'ahead', at })}
        </View>
      ))}
      {unused.length > 0 && voices.mics.length < MOST_MICS ? (
        <Button mode="outlined" icon="plus" style={styles.left} onPress={() => setAsked({ what: 'add' })}>
          Add a microphone
        </Button>
      ) : null}
      <Heading words="When several talk, or nobody" />
      {shotLines(
        voices.wide ?? { source: '', position: '' },
        'when several talk, or nobody',
        { what: 'wide' },
        { what: 'wideAhead' },
      )}
      <Heading words="Change of shot" />
      {takers.length < 2 && takers[0]?.key === voices.switcher ? null : (
        <ChooseLine
          title="Switcher"
          value={wordsOf(takers, voices.switcher)}
          label={`Switcher: ${wordsOf(takers, voices.switcher)}. Choose another.`}
          onPress={() => setAsked({ what: 'switcher' })}
        />
      )}
      <Segments
        value={voices.mixFrames === 0 ? 'cut' : 'mix'}
        onChange={(to) =>
          onChange({ ...voices, mixFrames: to === 'cut' ? 0 : Math.max(1, Math.round(document.show.frameRate / 2)) })
        }
        options={[
          { value: 'cut', label: 'Cut' },
          { value: 'mix', label: 'Mix' },
        ]}
      />
      {voices.mixFrames === 0 ? null : (
        <>
          <NumberField
            label="Mix"
            unit="frames"
            value={voices.mixFrames}
            min={1}
            max={250}
            whole
            onChange={(mixFrames) => onChange({ ...voices, mixFrames })}
          />
          <Text style={styles.hint}>A mix takes the preview bus for itself. A cut leaves preview alone.</Text>
        </>
      )}
      <Picker
        title={asked === null ? '' : TITLES[asked.what]}
        memory={asked === null ? 'voices' : `voices.${asked.what}`}
        visible={asked !== null}
        choices={list}
        onChoose={choose}
        onClose={() => setAsked(null)}
      />
    </View>
  );
}

/** When somebody counts as talking, how short a shot may be, and what a cut by hand does. */
export function VoicesSettings({ voices, onChange }: Omit<VoicesProps, 'document'>) {
  const seconds = (field: SecondsField, label: string, min = 0): React.ReactNode => (
    <NumberField
      label={label}
      unit="s"
      value={voices[field] / 1000}
      step={0.1}
      min={min}
      max={LONGEST[field]}
      onChange={(to) => onChange({ ...voices, [field]: Math.round(to * 1000) })}
    />
  );
  return (
    <>
      <Heading words="Somebody talks" />
      <NumberField
        label="From this level on"
        unit="dB"
        value={voices.talksDb}
        min={-60}
        max={0}
        onChange={(talksDb) => onChange({ ...voices, talksDb })}
      />
      <NumberField
        label="Until it is lower by"
        unit="dB"
        value={voices.hysteresisDb}
        min={0}
        max={30}
        onChange={(hysteresisDb) => onChange({ ...voices, hysteresisDb })}
      />
      {seconds('attackMs', 'Over it for')}
      {seconds('releaseMs', 'Silent after')}
      <Heading words="Shots" />
      {seconds('shortestMs', 'Shortest shot', 0.5)}
      {seconds('togetherMs', 'Several talk for')}
      {seconds('nobodyMs', 'Nobody talks for')}
      <Heading words="After a cut by hand" />
      {seconds('holdOffMs', 'It waits for')}
      <Segments
        value={voices.returns ? 'goesOn' : 'waits'}
        onChange={(to) => onChange({ ...voices, returns: to === 'goesOn' })}
        options={[
          { value: 'waits', label: 'Stay at other pictures' },
          { value: 'goesOn', label: 'Come back from them' },
        ]}
        most={1}
      />
      <Text style={styles.hint}>
        {voices.returns
          ? 'Also from a picture that is none of its shots it comes back when the time is over.'
          : 'While a picture is on air that is none of its shots, it does nothing.'}
      </Text>
    </>
  );
}

type SecondsField = 'attackMs' | 'releaseMs' | 'shortestMs' | 'togetherMs' | 'nobodyMs' | 'holdOffMs';
const LONGEST: Readonly<Record<SecondsField, number>> = {
  attackMs: 10,
  releaseMs: 10,
  shortestMs: 60,
  togetherMs: 60,
  nobodyMs: 600,
  holdOffMs: 3600,
};

const TITLES: Readonly<Record<Asked['what'], string>> = {
  mic: 'Which microphone?',
  add: 'Which microphone?',
  shot: 'Which shot?',
  wide: 'Which shot?',
  switcher: 'Which switcher?',
  ahead: 'Which position?',
  wideAhead: 'Which position?',
};

function choicesFor(
  asked: Asked,
  {
    document,
    voices,
    mics,
    shots,
    unused,
  }: {
    readonly document: ShowDocument;
    readonly voices: Voices;
    readonly mics: readonly VoiceChoice[];
    readonly shots: readonly VoiceChoice[];
    readonly unused: readonly VoiceChoice[];
  },
): readonly VoiceChoice[] {
  switch (asked.what) {
    case 'mic': {
      // Its own stays among them.
      const own = voices.mics[asked.at]?.level;
      return mics.filter((mic) => mic.key === own || unused.includes(mic));
    }
    case 'add':
      return unused;
    case 'switcher':
      return takerChoices(document);
    case 'shot':
      return shots;
    case 'wide':
      return [STAYS, ...shots];
    case 'ahead':
      return aheadChoices(voices.mics[asked.at]?.source ?? '', document);
    case 'wideAhead':
      return aheadChoices(voices.wide?.source ?? '', document);
  }
}

/** A channel's name without its number. */
const nameOf = (words: string): string => words.replace(/ \(channel \d+\)$/, '');

const styles = StyleSheet.create({
  all: { gap: 12 },
  mic: { gap: 8, padding: 12, backgroundColor: colour.raised, borderRadius: 6 },
  row: { flexDirection: 'row', alignItems: 'flex-start' },
  fill: { flex: 1 },
  left: { alignSelf: 'flex-start' },
  hint: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
});
