import { inOrder, orderMoved } from '@umbek/core/programming';
import type { Panel, ShowDocument, Strip } from '@umbek/core/show';
import { useState } from 'react';
import { ScrollView, StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { EditorHead } from '../common/EditorHead';
import { FamilyChoice } from '../common/FamilyChoice';
import { Heading, TextField } from '../common/fields';
import { changed, removed } from '../show/editStore';
import { useEdits } from '../show/ShowContext';
import { colour, font } from '../theme/tokens';

/** "Panel Cameras", but not "Panel Panel 7". */
const named = (what: string, name: string): string =>
  name.toLowerCase().startsWith(what.toLowerCase()) ? name : `${what} ${name}`;

/** Name, family and place of a strip. */
export function StripEditor({
  document,
  strip,
  fresh,
  onClose,
}: {
  readonly document: ShowDocument;
  readonly strip: Strip;
  /** Made just now: its name comes next. */
  readonly fresh: boolean;
  readonly onClose: () => void;
}) {
  const edits = useEdits();
  const [sure, setSure] = useState(false);
  const buttons = document.buttons.filter((button) => button.stripId === strip.id);
  const siblings = document.strips.filter((one) => one.panelId === strip.panelId);
  const move = (by: -1 | 1): void => {
    const order = orderMoved(siblings, strip.id, by);
    if (order !== undefined) edits.edit(`Move strip ${strip.name}`, [changed('strips', strip, 'order', order)]);
  };
  return (
    <ScrollView contentContainerStyle={styles.editor}>
      <EditorHead title={named('Strip', strip.name)} onClose={onClose} />
      <TextField
        label="Name"
        value={strip.name}
        fresh={fresh}
        longest={120}
        fault={(text) => (text === '' ? 'Give the strip a name.' : null)}
        onChange={(name) => edits.edit(`Name strip ${name}`, [changed('strips', strip, 'name', name)])}
      />
      <Heading words="Family" />
      <FamilyChoice
        value={strip.family}
        onChange={(family) =>
          family && edits.edit(`Family of ${strip.name}`, [changed('strips', strip, 'family', family)])
        }
      />
      <Heading words="Place" />
      <View style={styles.row}>
        <Button mode="outlined" icon="arrow-up" onPress={() => move(-1)}>
          Up
        </Button>
        <Button mode="outlined" icon="arrow-down" onPress={() => move(1)}>
          Down
        </Button>
      </View>
      <Heading words="Remove" />
      {sure ? (
        <View style={styles.sure}>
          <Text style={styles.text}>
            {buttons.length === 0
              ? 'The strip is empty.'
              : `Its ${buttons.length} buttons go with it. Undo brings all of it back.`}
          </Text>
          <View style={styles.row}>
            <Button onPress={() => setSure(false)}>Keep it</Button>
            <Button
              mode="contained"
              onPress={() => {
                edits.edit(`Remove strip ${strip.name}`, [
                  ...buttons.map((button) => removed('buttons', button)),
                  removed('strips', strip),
                ]);
                onClose();
              }}
            >
              Remove it
            </Button>
          </View>
        </View>
      ) : (
        <Button mode="outlined" icon="delete" style={styles.left} onPress={() => setSure(true)}>
          Remove strip
        </Button>
      )}
    </ScrollView>
  );
}

/** Name and place of a panel. */
export function PanelEditor({
  document,
  panel,
  fresh,
  onClose,
}: {
  readonly document: ShowDocument;
  readonly panel: Panel;
  /** Made just now: its name comes next. */
  readonly fresh: boolean;
  readonly onClose: () => void;
}) {
  const edits = useEdits();
  const [sure, setSure] = useState(false);
  const strips = document.strips.filter((strip) => strip.panelId === panel.id);
  const buttons = document.buttons.filter((button) => strips.some((strip) => strip.id === button.stripId));
  const move = (by: -1 | 1): void => {
    const order = orderMoved(inOrder(document.panels), panel.id, by);
    if (order !== undefined) edits.edit(`Move panel ${panel.name}`, [changed('panels', panel, 'order', order)]);
  };
  return (
    <ScrollView contentContainerStyle={styles.editor}>
      <EditorHead title={named('Panel', panel.name)} onClose={onClose} />
      <TextField
        label="Name"
        value={panel.name}
        fresh={fresh}
        longest={120}
        fault={(text) => (text === '' ? 'Give the panel a name.' : null)}
        onChange={(name) => edits.edit(`Name panel ${name}`, [changed('panels', panel, 'name', name)])}
      />
      <View style={styles.row}>
        <Button mode="outlined" icon="arrow-left" onPress={() => move(-1)}>
          Earlier
        </Button>
        <Button mode="outlined" icon="arrow-right" onPress={() => move(1)}>
          Later
        </Button>
      </View>
      <Heading words="Remove" />
      {sure ? (
        <View style={styles.sure}>
          <Text
            style={styles.text}
          >{`${strips.length} strips and ${buttons.length} buttons go with it. Undo brings all of it back.`}</Text>
          <View style={styles.row}>
            <Button onPress={() => setSure(false)}>Keep it</Button>
            <Button
              mode="contained"
              onPress={() => {
                edits.edit(`Remove panel ${panel.name}`, [
                  ...buttons.map((one) => removed('buttons', one)),
                  ...strips.map((one) => removed('strips', one)),
                  removed('panels', panel),
                ]);
                onClose();
              }}
            >
              Remove it
            </Button>
          </View>
        </View>
      ) : (
        <Button mode="outlined" icon="delete" style={styles.left} onPress={() => setSure(true)}>
          Remove panel
        </Button>
      )}
    </ScrollView>
  );
}

const styles = StyleSheet.create({
  editor: { padding: 14, gap: 10, paddingBottom: 40 },
  row: { flexDirection: 'row', gap: 8, flexWrap: 'wrap' },
  sure: {
    gap: 8,
    backgroundColor: colour.raised,
    borderLeftWidth: 4,
    borderLeftColor: colour.warning,
    borderRadius: 5,
    padding: 10,
  },
  text: { fontFamily: font.medium, fontSize: 15, color: colour.text },
  left: { alignSelf: 'flex-start' },
});
