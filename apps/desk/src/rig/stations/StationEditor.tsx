import { changed, removed } from '@umbek/core/changes';
import { inOrder } from '@umbek/core/order';
import type { Panel, ShowDocument, Station } from '@umbek/core/show';
import { panelsFor } from '@umbek/core/shown';
import { useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { Chip } from '../../common/Chip';
import { TextField } from '../../common/fields';
import { Picker } from '../../common/Picker';
import { Removal } from '../../common/Removal';
import { useEdits } from '../../show/ShowContext';
import { colour, font } from '../../theme/tokens';
import { Spread } from './Spread';

/** A name for a link group of its own, from that of its station. */
const groupOf = (name: string): string => name.replace(/[^A-Za-z0-9]+/g, '-').slice(0, 32) || 'own';

/** What a station is called, what it may show and with whom it shares what is chosen. */
export function StationEditor({
  document,
  station,
  onClose,
}: {
  readonly document: ShowDocument;
  readonly station: Station;
  readonly onClose: () => void;
}) {
  const edits = useEdits();
  const { name, place, linkGroup } = station;
  const all = inOrder(document.panels);
  const change = (field: keyof Station, to: unknown, words: string): void =>
    edits.edit(`${words} of ${name}`, [changed('stations', station, field, to)]);
  const groups = [...new Set(['main', ...document.stations.map((item) => item.linkGroup)])];
  const own = groupOf(name);
  return (
    <View style={styles.form}>
      <TextField
        label="Name"
        value={name}
        longest={60}
        onChange={(to) => to.trim() !== '' && change('name', to.trim(), 'Name')}
      />
      <TextField label="Where it stands" value={place} longest={60} onChange={(to) => change('place', to, 'Place')} />
      <PanelsOf station={station} all={all} change={change} />
      <Text style={styles.label}>Shares what is chosen with the link group</Text>
      <View style={styles.row} role="group" accessibilityLabel="Link group">
        {groups.map((group) => (
          <Chip
            key={group}
            on={group === linkGroup}
            words={groupWords(document, group, station.id)}
            onPress={() => change('linkGroup', group, 'Link group')}
          />
        ))}
        {groups.includes(own) ? null : (
          <Chip on={false} words="its own" onPress={() => change('linkGroup', own, 'Link group')} />
        )}
      </View>
      <Spread document={document} station={station} allowed={panelsFor(all, station)} change={change} />
      <Removal
        what={name}
        words="Pages that act as it act as no station then."
        onRemove={() => {
          edits.edit(`Remove station ${name}`, [removed('stations', station)]);
          onClose();
        }}
      />
    </View>
  );
}

/** So many panels are chips; of more a list is searched. */
const CHIPS = 12;

/** The panels that a station may show, and the one on which it opens. */
function PanelsOf({
  station: { panels, opensOn, ...station },
  all,
  change,
}: {
  readonly station: Station;
  readonly all: readonly Panel[];
  readonly change: (field: keyof Station, to: unknown, words: string) => void;
}) {
  const [choosing, setChoosing] = useState<'opensOn' | 'panels' | null>(null);
  const allowed = panelsFor(all, { panels, opensOn, ...station });
  const first = opensOn ?? allowed[0]?.id;
  const many = all.length > CHIPS;
  const toggle = (id: string): void =>
    change('panels', panels.includes(id) ? panels.filter((other) => other !== id) : [...panels, id], 'Panels');
  return (
    <>
      <Text style={styles.label}>Opens on</Text>
      <View style={styles.row} role="group" accessibilityLabel="Opens on">
        {allowed
          .filter(({ id }) => !many || id === first)
          .map((item) => (
            <Chip
              key={item.id}
              on={item.id === first}
              words={item.name}
              label={`Opens on ${item.name}`}
              onPress={() => (many ? setChoosing('opensOn') : change('opensOn', item.id, 'First panel'))}
            />
          ))}
        {many ? (
          <Button mode="outlined" onPress={() => setChoosing('opensOn')}>
            Another panel
          </Button>
        ) : null}
      </View>
      <Text style={styles.label}>May show</Text>
      <View style={styles.row} role="group" accessibilityLabel="May show">
        <Chip
          role="checkbox"
          on={panels.length === 0}
          words="All panels"
          onPress={() =>
            change(
              'panels',
              panels.length === 0 ? (many ? [first ?? ''].filter(Boolean) : all.map(({ id }) => id)) : [],
              'Panels',
            )
          }
        />
        {all
          .filter(({ id }) => !many || panels.includes(id))
          .map((item) => (
            <Chip
              key={item.id}
              role="checkbox"
              on={panels.includes(item.id)}
              words={item.name}
              label={`May show ${item.name}`}
              onPress={() => toggle(item.id)}
            />
          ))}
        {many ? (
          <Button mode="outlined" icon="plus" onPress={() => setChoosing('panels')}>
            A panel
          </Button>
        ) : null}
      </View>
      {choosing === null ? null : (
        <Picker
          title={choosing === 'opensOn' ? 'On which panel does it open?' : 'Which panels may it show?'}
          visible
          memory="panels"
          several={choosing === 'panels'}
          choices={(choosing === 'opensOn' ? allowed : all.filter(({ id }) => !panels.includes(id))).map((item) => ({
            key: item.id,
            group: 'Panels',
            words: item.name,
          }))}
          onChoose={({ key }) => {
            if (choosing === 'panels') return toggle(key);
            change('opensOn', key, 'First panel');
            setChoosing(null);
          }}
          onClose={() => setChoosing(null)}
        />
      )}
    </>
  );
}

/** A link group is told by who is in it. */
function groupWords({ stations }: ShowDocument, group: string, but: string): string {
  const names = stations.flatMap((station) =>
    station.linkGroup === group && station.id !== but ? [station.name] : [],
  );
  return names.length === 0 ? group : `${group} (${names.join(', ')})`;
}

const styles = StyleSheet.create({
  form: { gap: 10, maxWidth: 620 },
  row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
  label: { fontFamily: font.medium, fontSize: 15, color: colour.text },
});
