import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button, Switch, TextInput } from 'react-native-paper';
import { Chip } from '../common/Chip';
import { editorName } from '../live/identity';
import { useRights, useSignedIn } from '../live/LiveContext';
import { rightsWords } from '../live/rightsWords';
import { useEdits } from '../show/ShowContext';
import { useCrew } from '../show/useCrew';
import { deed } from '../show/useListDeed';
import { colour, font } from '../theme/tokens';

/** Who of the crew works at this station, which has joined: they bring rights along until they sign out. */
export function SignIn() {
  const edits = useEdits();
  const signedIn = useSignedIn();
  const programs = useRights().includes('program');
  const { data: crew = [] } = useCrew();
  const [open, setOpen] = useState(false);
  const [chosen, setChosen] = useState<string | null>(null);
  const [phrase, setPhrase] = useState('');
  const [along, setAlong] = useState(false);
  const now = editorName();
  const able = crew.filter((candidate) => candidate.hasPhrase && !(signedIn && candidate.name === now));
  const member = able.find(({ id }) => id === chosen);
  const close = (): void => {
    setOpen(false);
    setPhrase('');
  };
  const signIn = useMutation({
    mutationFn: () => deed('/api/me/sign-in', { crew: chosen, phrase, handOver: along }),
    onSuccess: () => {
      edits.tell(`${member?.name ?? 'Somebody'} is signed in.`, false);
      close();
    },
    onError: (error: Error) => {
      edits.tell(error.message, true);
      setPhrase('');
    },
  });
  const signOut = useMutation({
    mutationFn: () => deed('/api/me/sign-out'),
    onError: (error: Error) => edits.tell(error.message, true),
  });
  if (able.length === 0 && !signedIn) return null;
  if (!open)
    return (
      <View style={styles.row}>
        {able.length === 0 ? null : (
          <Button mode="outlined" onPress={() => setOpen(true)}>
            {signedIn ? 'Sign somebody else in' : 'Sign in'}
          </Button>
        )}
        {signedIn ? (
          <Button mode="outlined" loading={signOut.isPending} onPress={() => signOut.mutate()}>
            Sign out
          </Button>
        ) : null}
      </View>
    );
  return (
    <View style={styles.form}>
      <View style={styles.row} role="group" accessibilityLabel="Who signs in">
        {able.map(({ id, name }) => (
          <Chip key={id} on={id === chosen} words={name} onPress={() => setChosen(id)} />
        ))}
      </View>
      {member === undefined ? null : (
        <>
          <Text style={styles.hint}>{`${member.name} ${rightsWords(member.rights)}.`}</Text>
          <TextInput
            mode="outlined"
            dense
            label="Pass phrase"
            accessibilityLabel="Pass phrase"
            value={phrase}
            onChangeText={setPhrase}
            maxLength={200}
            secureTextEntry
            autoComplete="current-password"
            onSubmitEditing={() => signIn.mutate()}
          />
          {programs || member.rights.includes('program') ? (
            <View style={styles.switched}>
              <Text style={styles.label}>{`The edits of ${now} go along, to be undone by ${member.name}`}</Text>
              <Switch value={along} onValueChange={setAlong} accessibilityLabel="Edits go along" />
            </View>
          ) : null}
        </>
      )}
      <View style={styles.row}>
        <Button
          mode="contained"
          disabled={member === undefined || phrase === ''}
          loading={signIn.isPending}
          onPress={() => signIn.mutate()}
        >
          Sign in
        </Button>
        <Button mode="outlined" onPress={close}>
          Not now
        </Button>
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  form: { gap: 10 },
  row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
  switched: { flexDirection: 'row', alignItems: 'center', gap: 8, minHeight: 44 },
  label: { flex: 1, fontFamily: font.medium, fontSize: 15, lineHeight: 19, color: colour.text },
  hint: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
});
