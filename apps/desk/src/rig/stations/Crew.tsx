import type { CrewMember, Right } from '@umbek/protocol';
import { useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button, TextInput } from 'react-native-paper';
import { ulid } from 'ulid';
import { Confirm } from '../../common/Confirm';
import { Heading } from '../../common/fields';
import { rightsWords, titled } from '../../live/rightsWords';
import { useCrew, useCrewDeed } from '../../show/useCrew';
import { colour, font } from '../../theme/tokens';
import { RightsChoice } from './RightsChoice';

const SHORTEST = 8;

/** The crew: who brings which rights to a station, with a pass phrase of their own. */
export function Crew() {
  const { data, isError } = useCrew();
  const [adding, setAdding] = useState(false);
  if (isError && data === undefined)
    return (
      <Text style={styles.fault} role="alert">
        The crew cannot be read: the engine or its database does not answer.
      </Text>
    );
  if (data === undefined) return null;
  return (
    <View style={styles.all}>
      <Heading words="Crew" />
      <Text style={styles.hint}>
        {data.length === 0
          ? 'Nobody is in the crew yet. Somebody of the crew signs in at any station with a pass phrase and brings rights along: an operator’s tablet may change the show while an engineer is signed in at it.'
          : 'Whoever signs in at a station brings these rights along until they sign out, or for 12 hours.'}
      </Text>
      <View style={styles.cards}>
        {data.map((member) => (
          <Member key={member.id} member={member} />
        ))}
      </View>
      {adding ? (
        <View style={styles.whole}>
          <MemberForm member={null} onClose={() => setAdding(false)} />
        </View>
      ) : (
        <Button mode="outlined" icon="plus" style={styles.left} onPress={() => setAdding(true)}>
          Add a person
        </Button>
      )}
    </View>
  );
}

function Member({ member }: { readonly member: CrewMember }) {
  const [how, setHow] = useState<'seen' | 'changed' | 'deleted'>('seen');
  const deed = useCrewDeed();
  const { id, name, rights, hasPhrase } = member;
  return (
    <View style={styles.card} testID={`crew-${name}`}>
      <Text style={styles.name}>{name}</Text>
      <Text style={styles.text}>{`${titled(rightsWords(rights))}.`}</Text>
      <Text style={styles.hint}>
        {hasPhrase
          ? 'Signs in with a pass phrase.'
          : 'Has no pass phrase, so they cannot sign in. Hand a station to them below.'}
      </Text>
      {how === 'seen' ? (
        <View style={styles.row}>
          <Button mode="outlined" accessibilityLabel={`Change ${name}`} onPress={() => setHow('changed')}>
            Change
          </Button>
          <Button mode="outlined" accessibilityLabel={`Delete ${name}`} onPress={() => setHow('deleted')}>
            Delete
          </Button>
        </View>
      ) : how === 'changed' ? (
        <MemberForm member={member} onClose={() => setHow('seen')} />
      ) : (
        <Confirm
          words={`${name} is signed out everywhere at once and cannot sign in again. What they changed stays.`}
          keep="Keep"
          onKeep={() => setHow('seen')}
          go="Delete"
          loading={deed.isPending}
          onGo={() => deed.mutate({ path: `/api/crew/${id}`, method: 'DELETE' })}
        />
      )}
    </View>
  );
}

/** @param member null: somebody new */
function MemberForm({ member, onClose }: { readonly member: CrewMember | null; readonly onClose: () => void }) {
  const deed = useCrewDeed();
  const [id] = useState(() => member?.id ?? ulid());
  const [name, setName] = useState(member?.name ?? '');
  const [rights, setRights] = useState<readonly Right[]>(member?.rights ?? ['see', 'operate', 'program']);
  const [phrase, setPhrase] = useState('');
  const [none, setNone] = useState(false);
  const short = phrase !== '' && phrase.length < SHORTEST;
  const save = (to: { readonly noPhrase: boolean }): void =>
    deed.mutate(
      {
        path: '/api/crew',
        body: { id, name: name.trim(), rights, ...(to.noPhrase ? { phrase: null } : phrase === '' ? {} : { phrase }) },
      },
      { onSuccess: onClose },
    );
  const ready = name.trim() !== '' && !short && !deed.isPending;
  return (
    <View style={styles.form}>
      <TextInput
        mode="outlined"
        dense
        label="Name"
        accessibilityLabel="Name"
        value={name}
        onChangeText={setName}
        maxLength={60}
      />
      <RightsChoice label="What they may do" rights={rights} onChange={setRights} />
      <TextInput
        mode="outlined"
        dense
        label={member?.hasPhrase === true ? 'New pass phrase (empty: as it is)' : 'Pass phrase (can be left empty)'}
        accessibilityLabel="Pass phrase"
        value={phrase}
        onChangeText={setPhrase}
        maxLength={200}
        secureTextEntry
        autoComplete="new-password"
        error={short}
      />
      {short ? <Text style={styles.fault}>{`${SHORTEST} letters or more. Four words are good.`}</Text> : null}
      {none ? (
        <Confirm
          words="Without a pass phrase they sign in nowhere, and are signed out at once."
          keep="Keep it"
          onKeep={() => setNone(false)}
          go="Take it away"
          loading={deed.isPending}
          onGo={() => save({ noPhrase: true })}
        />
      ) : (
        <View style={styles.row}>
          <Button mode="contained" disabled={!ready} loading={deed.isPending} onPress={() => save({ noPhrase: false })}>
            {member === null ? 'Add' : 'Save'}
          </Button>
          {member?.hasPhrase === true ? (
            <Button mode="outlined" onPress={() => setNone(true)}>
              Take the pass phrase away
            </Button>
          ) : null}
          <Button mode="outlined" onPress={onClose}>
            Close
          </Button>
        </View>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  all: { gap: 12 },
  form: { gap: 10, maxWidth: 620 },
  cards: { flexDirection: 'row', flexWrap: 'wrap', gap: 12, alignItems: 'flex-start' },
  card: { gap: 8, padding: 14, borderRadius: 8, backgroundColor: colour.raised, flexGrow: 1, flexBasis: 320 },
  whole: { gap: 8, padding: 14, borderRadius: 8, backgroundColor: colour.raised },
  row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
  left: { alignSelf: 'flex-start' },
  name: { fontFamily: font.semibold, fontSize: 17, color: colour.text },
  text: { fontFamily: font.regular, fontSize: 16, lineHeight: 21, color: colour.text },
  hint: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
  fault: { fontFamily: font.medium, fontSize: 15, lineHeight: 20, color: colour.warning },
});
