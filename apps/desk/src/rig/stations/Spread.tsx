import { inOrder } from '@umbek/core/order';
import type { Panel, ShowDocument, Station } from '@umbek/core/show';
import { useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { Chip } from '../../common/Chip';
import { Picker } from '../../common/Picker';
import { colour, font } from '../../theme/tokens';

type Change = (field: keyof Station, to: unknown, words: string) => void;

/** Panels that are cut loose from the link group here, and those of which only a part is shown. */
export function Spread({
  document,
  station,
  allowed,
  change,
}: {
  readonly document: ShowDocument;
  readonly station: Station;
  readonly allowed: readonly Panel[];
  readonly change: Change;
}) {
  const { loose, parts } = station;
  const [choosing, setChoosing] = useState<'loose' | 'part' | null>(null);
  const nameOf = (id: string): string =>
    document.panels.find((panel) => panel.id === id)?.name ?? 'a panel that is gone';
  const freeFor = { loose, part: parts.map(({ panel }) => panel) };
  const choose = (panel: string): void => {
    if (choosing === 'loose') change('loose', [...loose, panel], 'Panels cut loose');
    else {
      const strips = inOrder(document.strips.filter((strip) => strip.panelId === panel)).map(({ id }) => id);
      // All of it to begin with: what is not to be shown is taken away.
      if (strips.length > 0) change('parts', [...parts, { panel, strips }], 'Part of a panel');
    }
    setChoosing(null);
  };
  return (
    <>
      <Text style={styles.label}>Cut loose: what is chosen on them here counts on them here alone</Text>
      <View style={styles.row} role="group" accessibilityLabel="Cut loose">
        {loose.map((id) => (
          <Chip
            key={id}
            role="checkbox"
            on
            words={nameOf(id)}
            label={`${nameOf(id)} is cut loose`}
            onPress={() =>
              change(
                'loose',
                loose.filter((candidate) => candidate !== id),
                'Panels cut loose',
              )
            }
          />
        ))}
        <Button mode="outlined" onPress={() => setChoosing('loose')}>
          Cut a panel loose
        </Button>
      </View>
      <Text style={styles.label}>Shows only a part of</Text>
      {parts.map((part) => (
        <Part
          key={part.panel}
          document={document}
          part={part}
          name={nameOf(part.panel)}
          parts={parts}
          change={change}
        />
      ))}
      <Button mode="outlined" style={styles.left} onPress={() => setChoosing('part')}>
        Part of a panel
      </Button>
      {choosing === null ? null : (
        <Picker
          title={choosing === 'loose' ? 'Which panel is cut loose here?' : 'Which panel does it show a part of?'}
          visible
          memory="panels"
          choices={allowed
            .filter(({ id }) => !freeFor[choosing].includes(id))
            .map(({ id, name }) => ({ key: id, group: 'Panels', words: name }))}
          onChoose={({ key }) => choose(key)}
          onClose={() => setChoosing(null)}
        />
      )}
    </>
  );
}

/** Which strips of a panel are shown here; the others stand on other stations. */
function Part({
  document,
  part: { panel, strips },
  name,
  parts,
  change,
}: {
  readonly document: ShowDocument;
  readonly part: Station['parts'][number];
  readonly name: string;
  readonly parts: Station['parts'];
  readonly change: Change;
}) {
  const set = (to: readonly string[] | null): void =>
    change(
      'parts',
      parts.flatMap((part) => (part.panel !== panel ? [part] : to === null ? [] : [{ panel, strips: to }])),
      'Part of a panel',
    );
  return (
    <View style={styles.part} testID={`part-${name}`}>
      <Text style={styles.name}>{name}</Text>
      <View style={styles.row} role="group" accessibilityLabel={`Strips of ${name}`}>
        {inOrder(document.strips.filter((strip) => strip.panelId === panel)).map((strip) => {
          const on = strips.includes(strip.id);
          return (
            <Chip
              key={strip.id}
              role="checkbox"
              on={on}
              words={strip.name}
              label={`Shows the strip ${strip.name}`}
              onPress={() => {
                const to = on ? strips.filter((id) => id !== strip.id) : [...strips, strip.id];
                // A part with nothing in it would show all of it.
                if (to.length > 0) set(to);
              }}
            />
          );
        })}
        <Button mode="outlined" accessibilityLabel={`Show all of ${name}`} onPress={() => set(null)}>
          Show all of it
        </Button>
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
  part: { gap: 6 },
  left: { alignSelf: 'flex-start' },
  label: { fontFamily: font.medium, fontSize: 15, color: colour.text },
  name: { fontFamily: font.regular, fontSize: 15, color: colour.muted },
});
