import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Button, TextInput } from 'react-native-paper';
import { Chip } from '../../common/Chip';
import { Confirm } from '../../common/Confirm';
import { useEdits } from '../../show/ShowContext';
import { useCrew } from '../../show/useCrew';
import { toStation } from './Which';

/** Hands a station that is there to another person: shifts change. */
export function HandOver({
  id,
  name,
  person,
}: {
  readonly id: string;
  readonly name: string;
  readonly person: string;
}) {
  const edits = useEdits();
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const { data: crew = [] } = useCrew(open);
  const [to, setTo] = useState('');
  const hand = useMutation({
    mutationFn: () => {
      const member = crew.find((candidate) => candidate.name === to.trim());
      return toStation(id, 'hand-over', member === undefined ? { person: to.trim() } : { crew: member.id });
    },
    onSuccess: () => {
      setOpen(false);
      edits.tell(`${to.trim()} works at ${name} now.`, false);
    },
    onError: (error: Error) => edits.tell(error.message, true),
    onSettled: () => queries.invalidateQueries({ queryKey: ['stations'] }),
  });
  if (!open)
    return (
      <Button mode="outlined" accessibilityLabel={`Hand ${name} over`} onPress={() => setOpen(true)}>
        Hand over
      </Button>
    );
  return (
    <View style={styles.whole}>
      <Confirm
        words={`Who works at ${name} from now on? ${person === '' ? 'The edits made there' : `The edits of ${person}`} and tonight go along: the next one can undo them.`}
        keep="Close"
        onKeep={() => setOpen(false)}
        go="Hand over"
        disabled={to.trim() === '' || to.trim() === person}
        loading={hand.isPending}
        onGo={() => hand.mutate()}
      >
        {crew.length === 0 ? null : (
          <View style={styles.row}>
            {crew.map((item) => (
              <Chip key={item.id} on={item.name === to.trim()} words={item.name} onPress={() => setTo(item.name)} />
            ))}
          </View>
        )}
        <TextInput
          mode="outlined"
          dense
          label="Name"
          accessibilityLabel="Who works there"
          value={to}
          onChangeText={setTo}
          maxLength={60}
        />
      </Confirm>
    </View>
  );
}

const styles = StyleSheet.create({
  whole: { width: '100%' },
  row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
});
