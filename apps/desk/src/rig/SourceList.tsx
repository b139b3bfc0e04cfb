import { changed, made, removed } from '@umbek/core/changes';
import { isSwitcherInput } from '@umbek/core/devices';
import { useMutation } from '@tanstack/react-query';
import { inOrder, newSource, usesOf } from '@umbek/core/programming';
import type { ShowDocument, Source } from '@umbek/core/show';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useMemo, useState } from 'react';
import { Pressable, StyleSheet, Text, useWindowDimensions, View } from 'react-native';
import { Button } from 'react-native-paper';
import { ulid } from 'ulid';
import { FamilyChoice } from '../common/FamilyChoice';
import { Heading, NumberField, TextField } from '../common/fields';
import { Search } from '../common/Search';
import { Picker } from '../common/Picker';
import { usePoint, usePoints } from '../live/LiveContext';
import { useEdits } from '../show/ShowContext';
import { usePictureState } from '../picture/pictureState';
import { SourcePicture } from '../picture/SourcePicture';
import { familyFill } from '../theme/patterns';
import { colour, font, WIDE } from '../theme/tokens';
import { CsvImport } from '../csv/CsvImport';
import { sendAll } from './runSteps';
import { ReframePart } from './ReframePart';
import { RemoveWithUses } from './RemoveWithUses';
import { RoleList } from './RoleList';
import { Segments } from '../common/Segments';
import { isHead } from '@umbek/core/part';

/** Sources by name; the number that the switcher counts them by stands here and nowhere else. */
export function SourceList({ document }: { readonly document: ShowDocument }) {
  const edits = useEdits();
  const router = useRouter();
  const { source: open = null } = useLocalSearchParams<{ source?: string }>();
  const setOpen = (id: string | null): void => router.setParams({ source: id ?? undefined } as never);
  const [fresh, setFresh] = useState<string | null>(null);
  const [listing, setListing] = useState(false);
  const [search, setSearch] = useState('');
  const [shown, setShown] = useState(SHOWN);
  const sources = useMemo(() => inOrder(document.sources), [document.sources]);
  const found = useMemo(() => sourcesFound(sources, search), [sources, search]);
  const wide = useWindowDimensions().width >= WIDE;
  const chosen = sources.find((source) => source.id === open);
  const visible = found.slice(0, shown);
  // Made behind the last one that is drawn: it opens in sight all the same.
  const beyond = !wide && chosen !== undefined && !visible.includes(chosen) ? chosen : undefined;
  const add = (): void => {
    const source = newSource(document, ulid());
    edits.edit(`New source ${source.name}`, [made('sources', source)]);
    setOpen(source.id);
    setFresh(source.id);
    setSearch('');
  };
  const list = (
    <>
      {listing ? <CsvImport document={document} target="sources" onClose={() => setListing(false)} /> : null}
      <View style={styles.row}>
        <Button mode="outlined" icon="plus" onPress={add}>
          Add a source
        </Button>
        {listing ? null : (
          <Button mode="outlined" icon="table-arrow-down" onPress={() => setListing(true)}>
            From a list
          </Button>
        )}
        <Names document={document} />
      </View>
      {sources.length === 0 ? (
        <Text style={styles.hint}>
          No source yet. A source is a named picture; it tells the switcher&apos;s number for it, and which head moves
          it.
        </Text>
      ) : null}
      {sources.length > MANY ? (
        <Search
          placeholder="Search by name, short name, family or input"
          value={search}
          onChangeText={setSearch}
          accessibilityLabel="Search the sources"
          style={styles.search}
          inputStyle={styles.searchInput}
        />
      ) : null}
      {found.length === 0 && sources.length > 0 ? (
        <Text style={styles.hint}>No source found. Search for a part of its name, its family or its input.</Text>
      ) : null}
      {beyond ? (
        <View style={styles.card}>
          <SourceForm key={beyond.id} document={document} source={beyond} fresh={fresh === beyond.id} />
        </View>
      ) : null}
      {visible.map((source) => (
        <View key={source.id} style={[styles.card, wide && open === source.id && styles.chosen]}>
          <Pressable
            role="button"
            aria-expanded={open === source.id}
            accessibilityLabel={`Source ${source.name}`}
            onPress={() => setOpen(open === source.id ? null : source.id)}
            style={styles.line}
          >
            <View style={[styles.swatch, familyFill(source.family)]} />
            <Text style={styles.name}>{source.name}</Text>
            <OnBus document={document} source={source} />
            <Text style={styles.small}>{source.input === null ? 'no input' : `input ${source.input}`}</Text>
          </Pressable>
          {open === source.id && !wide ? (
            <SourceForm document={document} source={source} fresh={fresh === source.id} />
          ) : null}
        </View>
      ))}
      {found.length > shown ? (
        <Button mode="text" style={styles.left} onPress={() => setShown(shown + SHOWN)}>
          {`${found.length - shown} more: show the next`}
        </Button>
      ) : null}
    </>
  );
  if (!wide)
    return (
      <View style={styles.list}>
        {list}
        <RoleList document={document} />
      </View>
    );
  return (
    <View style={styles.columns}>
      <View style={styles.column}>{list}</View>
      <View style={styles.column}>
        {chosen ? (
          <View style={styles.card}>
            <SourceForm key={chosen.id} document={document} source={chosen} fresh={fresh === chosen.id} />
          </View>
        ) : null}
        <RoleList document={document} />
      </View>
    </View>
  );
}

/** From so many on they are searched rather than looked through. */
const MANY = 12;
/** So many are drawn at once; a search finds the others sooner than scrolling does. */
const SHOWN = 60;

/** Sources in which every word of the search is found. */
export function sourcesFound(sources: readonly Source[], search: string): readonly Source[] {
  const wanted = search.toLowerCase().split(/\s+/).filter(Boolean);
  if (wanted.length === 0) return sources;
  return sources.filter((source) => {
    const text =
      `${source.name} ${source.shortName} ${source.family} ${source.input === null ? 'no input' : `input ${source.input}`}`.toLowerCase();
    return wanted.every((word) => text.includes(word));
  });
}

/** Names that the switcher holds otherwise than the show, taken over in one go, to one side or the other. */
function Names({ document }: { readonly document: ShowDocument }) {
  const edits = useEdits();
  const switcher = document.devices.find((device) => device.kind === 'switcher');
  const carried = document.sources.filter((source) => source.input !== null);
  const held = usePoints(switcher ? carried.map((item) => `${switcher.key}.input${item.input ?? 0}Name`) : []);
  const others = carried.flatMap((source, index) => {
    const name = held[index];
    return typeof name === 'string' && name !== source.name ? [{ source, name }] : [];
  });
  const give = useMutation({
    mutationFn: () =>
      sendAll(
        'Names into the switcher',
        switcher?.key ?? '',
        others.map(({ source }) => ({
          words: source.name,
          command: { command: 'name', params: { input: source.input ?? 1, name: source.name.slice(0, 60) } },
        })),
      ),
    onSuccess: ({ words, bad }) => edits.tell(words, bad),
    onError: () => edits.tell('The engine cannot be reached; no name was sent.', true),
  });
  if (!switcher || others.length === 0) return null;
  return (
    <>
      <Button
        mode="outlined"
        icon="upload"
        loading={give.isPending}
        disabled={give.isPending}
        onPress={() => give.mutate()}
      >
        {`Send ${others.length} ${others.length === 1 ? 'name' : 'names'} to the switcher`}
      </Button>
      <Button
        mode="text"
        onPress={() =>
          edits.edit(
            `Names from ${switcher.name}`,
            others
              .filter(({ name }) => name !== '')
              .map(({ source, name }) => changed('sources', source, 'name', name)),
          )
        }
      >
        {`Use the switcher’s ${others.length === 1 ? 'name' : 'names'} here`}
      </Button>
    </>
  );
}

function OnBus({ document, source }: { readonly document: ShowDocument; readonly source: Source }) {
  const switcher = document.devices.find((device) => device.kind === 'switcher')?.key ?? 'switcher';
  const [program, preview, held] = [
    usePoint(`${switcher}.program`),
    usePoint(`${switcher}.preview`),
    usePoint(`${switcher}.input${source.input ?? 0}Name`),
  ];
  const picture = usePictureState(document, source);
  const details = [
    source.input !== null && program === source.input
      ? 'on air'
      : source.input !== null && preview === source.input
        ? 'next'
        : '',
    picture,
    typeof held === 'string' && held !== source.name ? `the switcher calls it ${held}` : '',
  ];
  return <Text style={styles.bus}>{details.filter(Boolean).join(' · ')}</Text>;
}

function SourceForm({
  document,
  source,
  fresh,
}: {
  readonly document: ShowDocument;
  readonly source: Source;
  /** Made just now: its name comes next. */
  readonly fresh: boolean;
}) {
  const edits = useEdits();
  const [picking, setPicking] = useState(false);
  const set = (field: keyof Source, to: unknown, what: string): void =>
    edits.edit(`${what} of ${source.name}`, [changed('sources', source, field, to)]);
  const other = document.sources.find(
    (candidate) => candidate.id !== source.id && candidate.input !== null && candidate.input === source.input,
  );
  const head = document.devices.find((device) => device.key === source.camera);
  const switcher = document.devices.find((device) => device.kind === 'switcher');
  const own = switcher !== undefined && source.input !== null && !isSwitcherInput(source.input, switcher.settings);
  const reframed = source.camera === null && source.input !== null && switcher !== undefined && !own;
  return (
    <View style={styles.form}>
      {reframed ? null : (
        <View style={styles.picture}>
          <SourcePicture source={source} document={document} />
        </View>
      )}
      <TextField
        label="Name"
        fresh={fresh}
        value={source.name}
        longest={120}
        fault={(text) => (text === '' ? 'Give the source a name.' : null)}
        onChange={(text) => set('name', text, 'Name')}
      />
      <TextField
        label="Short name, fits a cap"
        value={source.shortName}
        longest={16}
        onChange={(text) => set('shortName', text, 'Short name')}
      />
      <NumberField
        label="Input of the switcher"
        value={source.input ?? 0}
        min={0}
        max={1024}
        whole
        onChange={(input) => set('input', input === 0 ? null : input, 'Input')}
      />
      {other ? (
        <Text
          style={styles.warn}
        >{`${other.name} is on input ${source.input ?? 0} as well: both are the same picture.`}</Text>
      ) : null}
      <Text style={styles.small}>0 stands for no input.</Text>
      <Heading words="Family" />
      <FamilyChoice value={source.family} onChange={(family) => family && set('family', family, 'Family')} />
      <NumberField
        label="Guest line that it carries"
        value={source.line ?? 0}
        min={0}
        max={64}
        whole
        onChange={(line) => set('line', line === 0 ? null : line, 'Line')}
      />
      <Text style={styles.small}>0 stands for none.</Text>
      <Heading words="Moved by" />
      <Button mode="outlined" style={styles.left} onPress={() => setPicking(true)}>
        {head?.name ?? 'No head'}
      </Button>
      {own ? (
        <Text
          style={styles.small}
        >{`${switcher.name} has no such input. The numbers behind its inputs are its own outputs: drawn as it tells them, and never reframed.`}</Text>
      ) : null}
      {source.camera === null && !own ? (
        <>
          <Heading words="Drawn as" />
          <Segments
            value={source.picture}
            onChange={(picture) => set('picture', picture, 'Picture')}
            options={['none', 'sky', 'chart', 'black'].map((value) => ({ value, label: value }))}
          />
        </>
      ) : null}
      {reframed ? <ReframePart document={document} source={source} switcher={switcher.key} /> : null}
      {source.input === null ? null : <TriggersFrom source={source} />}
      <RemoveWithUses
        what={source.name}
        uses={usesOf(document, { kind: 'source', key: source.key })}
        onRemove={() => edits.edit(`Remove ${source.name}`, [removed('sources', source)])}
      />
      <Picker
        title="Which head moves it?"
        memory="heads"
        visible={picking}
        onClose={() => setPicking(false)}
        choices={[
          { key: '', group: 'Heads', words: 'No head' },
          ...document.devices
            .filter((device) => isHead(device, document))
            .map((device) => ({ key: device.key, group: 'Heads', words: device.name })),
        ]}
        onChoose={(choice) => set('camera', choice.key === '' ? null : choice.key, 'Head')}
      />
    </View>
  );
}

/** A rule is made from the thing itself: while this is on air, when it comes, when it leaves. */
function TriggersFrom({ source: { key, name } }: { readonly source: Source }) {
  const router = useRouter();
  return (
    <Button
      mode="outlined"
      style={styles.left}
      accessibilityLabel={`New trigger from ${name}`}
      onPress={() => router.navigate(`/bench?list=triggers&from=${key}` as never)}
    >
      New trigger from it
    </Button>
  );
}

const styles = StyleSheet.create({
  list: { gap: 8, maxWidth: 720 },
  columns: { flexDirection: 'row', gap: 16, alignItems: 'flex-start' },
  column: { flex: 1, gap: 8, minWidth: 0 },
  chosen: { backgroundColor: colour.raised },
  picture: {
    width: '100%',
    maxWidth: 360,
    aspectRatio: 16 / 9,
    borderRadius: 4,
    overflow: 'hidden',
    backgroundColor: colour.raised,
  },
  hint: { fontFamily: font.regular, fontSize: 16, lineHeight: 22, color: colour.muted },
  card: { backgroundColor: colour.plate, borderRadius: 6, overflow: 'hidden' },
  line: { flexDirection: 'row', alignItems: 'center', gap: 12, minHeight: 50, paddingRight: 14 },
  swatch: { width: 14, alignSelf: 'stretch' },
  name: { fontFamily: font.semibold, fontSize: 17, color: colour.text },
  bus: { flex: 1, fontFamily: font.medium, fontSize: 14, color: colour.warning },
  small: { fontFamily: font.regular, fontSize: 14, color: colour.muted },
  warn: { fontFamily: font.medium, fontSize: 14, color: colour.warning },
  form: { padding: 14, gap: 10 },
  left: { alignSelf: 'flex-start' },
  search: { backgroundColor: colour.plate, borderRadius: 6, height: 48 },
  searchInput: { fontFamily: font.regular, fontSize: 17, minHeight: 0 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
});
