import { changed } from '@umbek/core/changes';
import { inOrder, orderMoved, panelRemoved, stripRemoved } from '@umbek/core/programming';
import type { Panel, ShowDocument, Strip } from '@umbek/core/show';
import type { ReactNode } from 'react';
import { ScrollView, StyleSheet, View } from 'react-native';
import { Button } from 'react-native-paper';
import { EditorHead } from '../common/EditorHead';
import { FamilyChoice } from '../common/FamilyChoice';
import { Heading, TextField } from '../common/fields';
import { Removal } from '../common/Removal';
import { useEdits } from '../show/ShowContext';

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
  const buttons = document.buttons.filter((button) => button.stripId === strip.id);
  const siblings = document.strips.filter((one) => one.panelId === strip.panelId);
  return (
    <PlaceEditor
      kind="Strip"
      name={strip.name}
      fresh={fresh}
      onClose={onClose}
      onName={(name) => edits.edit(`Name strip ${name}`, [changed('strips', strip, 'name', name)])}
      ways={['Up', 'Down']}
      onMove={(by) => {
        const order = orderMoved(siblings, strip.id, by);
        if (order !== undefined) edits.edit(`Move strip ${strip.name}`, [changed('strips', strip, 'order', order)]);
      }}
      goes={
        buttons.length === 0
          ? 'The strip is empty.'
          : `Its ${buttons.length} buttons go with it. Undo brings all of it back.`
      }
      onRemove={() => edits.edit(`Remove strip ${strip.name}`, stripRemoved(document, strip))}
    >
      <Heading words="Family" />
      <FamilyChoice
        value={strip.family}
        onChange={(family) =>
          family && edits.edit(`Family of ${strip.name}`, [changed('strips', strip, 'family', family)])
        }
      />
    </PlaceEditor>
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
  const strips = document.strips.filter((strip) => strip.panelId === panel.id);
  const buttons = document.buttons.filter((button) => strips.some((strip) => strip.id === button.stripId));
  return (
    <PlaceEditor
      kind="Panel"
      name={panel.name}
      fresh={fresh}
      onClose={onClose}
      onName={(name) => edits.edit(`Name panel ${name}`, [changed('panels', panel, 'name', name)])}
      ways={['Earlier', 'Later']}
      onMove={(by) => {
        const order = orderMoved(inOrder(document.panels), panel.id, by);
        if (order !== undefined) edits.edit(`Move panel ${panel.name}`, [changed('panels', panel, 'order', order)]);
      }}
      goes={`${strips.length} strips and ${buttons.length} buttons go with it. Undo brings all of it back.`}
      onRemove={() => edits.edit(`Remove panel ${panel.name}`, panelRemoved(document, panel))}
    />
  );
}

/** What strips and panels have in common: a name, a place among their like, and that they can go. */
function PlaceEditor({
  kind,
  name,
  fresh,
  onClose,
  onName,
  children,
  ways,
  onMove,
  goes,
  onRemove,
}: {
  readonly kind: 'Strip' | 'Panel';
  readonly name: string;
  readonly fresh: boolean;
  readonly onClose: () => void;
  readonly onName: (name: string) => void;
  readonly children?: ReactNode;
  /** Words for the way to the front and to the back. */
  readonly ways: readonly ['Up', 'Down'] | readonly ['Earlier', 'Later'];
  readonly onMove: (by: -1 | 1) => void;
  /** What goes with it. */
  readonly goes: string;
  readonly onRemove: () => void;
}) {
  const upright = ways[0] === 'Up';
  return (
    <ScrollView contentContainerStyle={styles.editor}>
      <EditorHead title={named(kind, name)} onClose={onClose} />
      <TextField
        label="Name"
        value={name}
        fresh={fresh}
        longest={120}
        fault={(text) => (text === '' ? `Give the ${kind.toLowerCase()} a name.` : null)}
        onChange={onName}
      />
      {children}
      <Heading words="Place" />
      <View style={styles.row}>
        <Button mode="outlined" icon={upright ? 'arrow-up' : 'arrow-left'} onPress={() => onMove(-1)}>
          {ways[0]}
        </Button>
        <Button mode="outlined" icon={upright ? 'arrow-down' : 'arrow-right'} onPress={() => onMove(1)}>
          {ways[1]}
        </Button>
      </View>
      <Removal
        what={kind.toLowerCase()}
        words={goes}
        onRemove={() => {
          onRemove();
          onClose();
        }}
      />
    </ScrollView>
  );
}

const styles = StyleSheet.create({
  editor: { padding: 14, gap: 10, paddingBottom: 40 },
  row: { flexDirection: 'row', gap: 8, flexWrap: 'wrap' },
});
