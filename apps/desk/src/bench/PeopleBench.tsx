import { changed, made, removed } from '@umbek/core/changes';
import { inOrder, newPerson, peopleFound, personMoved, usesOf } from '@umbek/core/programming';
import type { Person, ShowDocument } from '@umbek/core/show';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useCallback, useMemo, useState } from 'react';
import { ScrollView, StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { ulid } from 'ulid';
import { EditorHead } from '../common/EditorHead';
import { Heading, TextField } from '../common/fields';
import { Removal } from '../common/Removal';
import { CsvImport } from '../csv/CsvImport';
import { PlaceLink } from '../show/PlaceLink';
import { useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';
import { BenchList } from './BenchList';
import { ListRow } from './ListRow';
import { NewName } from './NewName';

const MOST_LISTED = 100;

/** The people list: whom captions name, in the order in which they come on. */
export function PeopleBench({ document }: { readonly document: ShowDocument }) {
  const router = useRouter();
  const { v } = useLocalSearchParams<{ v?: string }>();
  const [search, setSearch] = useState('');
  const edits = useEdits();
  const [adding, setAdding] = useState<'one' | 'list' | null>(null);
  const person = document.people.find(({ id }) => id === v);
  const rows = useMemo(() => peopleFound(document.people, search), [document.people, search]);
  const open = useCallback((id: string | undefined): void => router.setParams({ v: id } as never), [router]);
  const add = (name: string): void => {
    const added = newPerson(document, ulid(), { name });
    edits.edit(`Add ${name} to the people list`, [made('people', added)]);
    setAdding(null);
    open(added.id);
  };
  return (
    <BenchList
      part="people"
      rows={rows}
      keyOf={({ id }) => id}
      draw={(item) => (
        <ListRow
          id={item.id}
          what="Person"
          name={item.name}
          detail={[item.title, item.place].filter(Boolean).join(' · ') || 'no title'}
          chosen={item.id === v}
          onOpen={open}
        />
      )}
      search={search}
      onSearch={setSearch}
      searched="Name, title or place"
      empty={
        document.people.length === 0
          ? 'Captions take their names from this list. Add people one by one, or all of them from a CSV file.'
          : `Nobody of the list has “${search.trim()}” in name, title or place.`
      }
      add="Add a person"
      onAdd={() => setAdding('one')}
      editor={
        person === undefined ? null : (
          <PersonEditor key={person.id} document={document} person={person} onClose={() => open(undefined)} />
        )
      }
      beside="Choose a person to change name, title or place. What shows them is changed at once."
      onClose={() => open(undefined)}
    >
      <View style={styles.row}>
        <Button compact icon="upload" onPress={() => setAdding(adding === 'list' ? null : 'list')}>
          From a CSV file
        </Button>
        <Text style={styles.hint}>
          {document.people.length === 1 ? '1 person' : `${document.people.length} people`}
        </Text>
      </View>
      {adding === 'list' ? (
        <CsvImport document={document} target="people" onClose={() => setAdding(null)} />
      ) : adding === 'one' ? (
        <NewName label="Name of the person" make="Add the person" onMake={add} onCancel={() => setAdding(null)} />
      ) : null}
    </BenchList>
  );
}

function PersonEditor({
  document,
  person,
  onClose,
}: {
  readonly document: ShowDocument;
  readonly person: Person;
  readonly onClose: () => void;
}) {
  const edits = useEdits();
  const uses = useMemo(() => usesOf(document, { kind: 'person', key: person.key }), [document, person.key]);
  const list = useMemo(() => inOrder(document.people), [document.people]);
  const at = list.indexOf(person);
  const set = (field: 'name' | 'title' | 'place', to: string, what: string): void =>
    edits.edit(`${what} of ${person.name}`, [changed('people', person, field, to)]);
  return (
    <ScrollView contentContainerStyle={styles.body}>
      <EditorHead title={person.name} onClose={onClose} />
      <TextField
        label="Name"
        value={person.name}
        longest={120}
        fault={(text) => (text.trim() === '' ? 'Give the person a name.' : null)}
        onChange={(text) => set('name', text, 'Name')}
      />
      <TextField label="Title" value={person.title} longest={120} onChange={(text) => set('title', text, 'Title')} />
      <TextField label="Place" value={person.place} longest={120} onChange={(text) => set('place', text, 'Place')} />
      <Heading words={`Number ${at + 1} of ${list.length}`} />
      <View style={styles.row}>
        {(['earlier', 'later'] as const).map((way) => (
          <Button
            key={way}
            mode="outlined"
            disabled={way === 'earlier' ? at <= 0 : at >= list.length - 1}
            onPress={() => edits.edit(`Move ${person.name} in the people list`, personMoved(document, person, way))}
          >
            {way === 'earlier' ? 'Earlier' : 'Later'}
          </Button>
        ))}
      </View>
      <Heading
        words={
          uses.length === 0
            ? 'No button names this person'
            : `Used in ${uses.length} ${uses.length === 1 ? 'place' : 'places'}`
        }
      />
      {uses.slice(0, MOST_LISTED).map((use) => (
        <PlaceLink key={`${use.at.entity}/${use.at.id}`} at={use.at} words={use.where} />
      ))}
      <Removal
        what={person.name}
        words={
          uses.length === 0
            ? 'No button names this person. Undo brings them back.'
            : 'Buttons that name this person will be refused. Undo brings them back.'
        }
        onRemove={() => {
          edits.edit(`Remove ${person.name} from the people list`, [removed('people', person)]);
          onClose();
        }}
      />
    </ScrollView>
  );
}

const styles = StyleSheet.create({
  body: { padding: 14, gap: 10, paddingBottom: 48 },
  hint: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
  row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
});
