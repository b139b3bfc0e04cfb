import { partKindOf, partParams } from '@umbek/core/devices';
import { PROFILE_PARTS, type ProfileCommand, type ProfileFile, type ProfilePart } from '@umbek/core/show';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { Heading } from '../../common/fields';
import { Segments } from '../../common/Segments';
import { colour, font } from '../../theme/tokens';
import { commandOf, pointOf } from './profileDraft';

const PART_WORDS: Readonly<Record<ProfilePart, string>> = {
  ptzHead: 'PTZ head',
  recorder: 'Recorder',
  router: 'Router',
  captions: 'Captions',
};

const WITH_ARTICLE: Readonly<Record<ProfilePart, string>> = {
  ptzHead: 'a PTZ head',
  recorder: 'a recorder',
  router: 'a router',
  captions: 'captions',
};

/** A head that keeps its positions itself tells by this state which of them it stands at. */
const MEMORY = { key: 'memory', words: 'Memory it stands at', type: 'number' } as const;
/** Follows from the others. */
const DERIVED: ReadonlySet<string> = new Set(['arrived']);

/** Which kind of device a device of this profile works as. */
export function PartChoice({
  profile,
  onChange,
}: {
  readonly profile: ProfileFile;
  readonly onChange: (part: ProfilePart | null) => void;
}) {
  return (
    <>
      <Heading words="Works as" />
      <Segments
        most={4}
        value={profile.part ?? ''}
        onChange={(part) => onChange(part === '' ? null : (part as ProfilePart))}
        options={[
          { value: '', label: 'Nothing else' },
          ...PROFILE_PARTS.map((part) => ({ value: part, label: PART_WORDS[part] })),
        ]}
      />
      <Text style={styles.small}>
        {profile.part === null
          ? 'Its commands and states are its own.'
          : `Commands and states that have the keys of ${WITH_ARTICLE[profile.part]} work as they do there: ready-made strips, second touch on air, release and STOP.`}
      </Text>
    </>
  );
}

/** Commands of the part that the profile does not have yet, each added by a touch. */
export function MissingCommands({
  profile,
  onAdd,
}: {
  readonly profile: ProfileFile;
  readonly onAdd: (command: ProfileCommand) => void;
}) {
  const kind = partKindOf(profile);
  if (kind === null) return null;
  const missing = Object.entries(kind.commands).filter(
    ([key, { sentAs }]) => sentAs === undefined && !profile.commands.some((command) => command.key === key),
  );
  return (
    <Missing
      words={`More commands of ${WITH_ARTICLE[profile.part ?? 'ptzHead']}`}
      all={missing.map(([key, { words }]) => ({ key, words }))}
      onAdd={(key, words) =>
        onAdd({ ...commandOf(profile.transport.kind, key, words), seenOnAir: kind.commands[key]?.seenOnAir === true })
      }
    />
  );
}

/** The same for its states. */
export function MissingPoints({
  profile,
  onAdd,
}: {
  readonly profile: ProfileFile;
  readonly onAdd: (point: ProfileFile['points'][number]) => void;
}) {
  const kind = partKindOf(profile);
  if (kind === null) return null;
  const all = [
    ...(profile.part === 'ptzHead' ? [MEMORY] : []),
    ...Object.entries(kind.points).map(([key, { words, type }]) => ({ key, words, type })),
  ].filter(({ key }) => !DERIVED.has(key) && !profile.points.some((point) => point.key === key));
  return (
    <Missing
      words={`More states of ${WITH_ARTICLE[profile.part ?? 'ptzHead']}`}
      all={all}
      onAdd={(key, words) =>
        onAdd({
          ...pointOf(profile.transport.kind, key, words),
          type: all.find((candidate) => candidate.key === key)?.type ?? 'text',
        })
      }
    />
  );
}

function Missing({
  words,
  all,
  onAdd,
}: {
  readonly words: string;
  readonly all: readonly { readonly key: string; readonly words: string }[];
  readonly onAdd: (key: string, words: string) => void;
}) {
  if (all.length === 0) return null;
  return (
    <>
      <Heading words={words} />
      <View style={styles.row}>
        {all.map((item) => (
          <Button
            key={item.key}
            compact
            mode="outlined"
            icon="plus"
            accessibilityLabel={`Add: ${item.words}`}
            onPress={() => onAdd(item.key, item.words)}
          >
            {item.words}
          </Button>
        ))}
      </View>
    </>
  );
}

/** What the messages of a command of the part may use; null where it is the profile's own. */
export function partWords(profile: ProfileFile, command: string): string | null {
  const names = partParams(profile, command);
  if (partKindOf(profile)?.commands[command] === undefined) return null;
  return names.length === 0
    ? 'It has no parameters.'
    : `Its messages may use ${[...new Set(names)].map((name) => `param.${name}`).join(', ')}.`;
}

const styles = StyleSheet.create({
  small: { fontFamily: font.regular, fontSize: 14, lineHeight: 19, color: colour.muted },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
});
