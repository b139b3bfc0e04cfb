import { changed } from '@umbek/core/changes';
import { TAKE_STRIP } from '@umbek/core/view';
import { inOrder, orderMoved, panelRemoved, stripRemoved } from '@umbek/core/programming';
import type { Page, Panel, ShowDocument, Strip } from '@umbek/core/show';
import type { ReactNode } from 'react';
import { Linking, ScrollView, StyleSheet, Text, View } from 'react-native';
import { Button, IconButton } from 'react-native-paper';
import { EditorHead } from '../common/EditorHead';
import { FamilyChoice } from '../common/FamilyChoice';
import { Heading, TextField } from '../common/fields';
import { Removal } from '../common/Removal';
import { Segments } from '../common/Segments';
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
  const buttons = document.buttons.filter((button) => button.stripId === strip.id);
  const siblings = document.strips.filter((candidate) => candidate.panelId === strip.panelId);
  const pages = document.panels.find(({ id }) => id === strip.panelId)?.pages ?? [];
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
      file={`/api/panels/${strip.panelId}/file?strips=${strip.id}`}
      goes={
        buttons.length === 0
          ? 'The strip is empty.'
          : `Its ${buttons.length} buttons go with it. Undo brings all of it back.`
      }
      onRemove={() => edits.edit(`Remove strip ${strip.name}`, stripRemoved(document, strip))}
    >
      {pages.length === 0 ? null : (
        <>
          <Heading words="Page" />
          <Segments
            value={strip.page}
            onChange={(page) => edits.edit(`Page of ${strip.name}`, [changed('strips', strip, 'page', page)])}
            options={[{ value: '', label: 'Every page' }, ...pages.map(({ id, name }) => ({ value: id, label: name }))]}
          />
        </>
      )}
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
      file={`/api/panels/${panel.id}/file`}
      goes={`${strips.length} strips and ${buttons.length} buttons go with it. Undo brings all of it back.`}
      onRemove={() => edits.edit(`Remove panel ${panel.name}`, panelRemoved(document, panel))}
    >
      <Pages document={document} panel={panel} />
    </PlaceEditor>
  );
}

/** The pages of a panel: more than fits on one sheet. */
function Pages({ document, panel }: { readonly document: ShowDocument; readonly panel: Panel }) {
  const edits = useEdits();
  const { pages } = panel;
  const staying = inOrder(document.strips).filter(
    ({ panelId, page, name }) => panelId === panel.id && page === '' && name !== TAKE_STRIP,
  );
  const setPages = (next: readonly Page[], what: string): void =>
    edits.edit(`${what} of ${panel.name}`, [changed('panels', panel, 'pages', next)]);
  const change = (id: string, part: Partial<Page>, what: string): void =>
    setPages(
      pages.map((page) => (page.id === id ? { ...page, ...part } : page)),
      what,
    );
  const add = (): void => {
    const numbers = pages.map(({ id }) => Number(id.replace(/\D/g, '')));
    const number = Math.max(0, ...numbers) + 1;
    setPages([...pages, { id: `page${number}`, name: `Page ${number}`, covers: [] }], 'New page');
  };
  return (
    <>
      <Heading words="Pages" />
      <Text style={styles.hint}>
        {pages.length === 0
          ? 'All strips stand on one sheet. With pages, each strip stands on one of them, or stays on all.'
          : 'A strip without a page stays on all of them, unless a page covers it.'}
      </Text>
      {pages.map((page) => (
        <View key={page.id} style={styles.page}>
          <View style={styles.line}>
            <View style={styles.fill}>
              <TextField
                label="Name of the page"
                value={page.name}
                longest={120}
                fault={(text) => (text === '' ? 'Give the page a name.' : null)}
                onChange={(name) => change(page.id, { name }, 'Name of a page')}
              />
            </View>
            <IconButton
              icon="delete"
              accessibilityLabel={`Remove page ${page.name}`}
              onPress={() =>
                edits.edit(`Remove page ${page.name} of ${panel.name}`, [
                  changed(
                    'panels',
                    panel,
                    'pages',
                    pages.filter(({ id }) => id !== page.id),
                  ),
                  // Its strips stay in sight.
                  ...document.strips
                    .filter((strip) => strip.panelId === panel.id && strip.page === page.id)
                    .map((strip) => changed('strips', strip, 'page', '')),
                ])
              }
            />
          </View>
          {staying.length === 0 ? null : <Text style={styles.hint}>Touch the strips that it is shown without:</Text>}
          {staying.length === 0 ? null : (
            <View style={styles.row}>
              {staying.map(({ id, name }) => {
                const covered = page.covers.includes(id);
                return (
                  <Button
                    key={id}
                    compact
                    mode={covered ? 'contained' : 'outlined'}
                    accessibilityLabel={covered ? `${page.name} shows ${name} again` : `${page.name} covers ${name}`}
                    onPress={() =>
                      change(
                        page.id,
                        { covers: covered ? page.covers.filter((cover) => cover !== id) : [...page.covers, id] },
                        'What a page covers',
                      )
                    }
                  >
                    {covered ? `without ${name}` : name}
                  </Button>
                );
              })}
            </View>
          )}
        </View>
      ))}
      {pages.length < 60 ? (
        <Button mode="outlined" icon="plus" onPress={add}>
          Add a page
        </Button>
      ) : null}
    </>
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
  file,
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
  /** Where it is to be had as a file. */
  readonly file: string;
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
      <Heading words="As a file" />
      <View style={styles.row}>
        <Button mode="outlined" icon="download" onPress={() => void Linking.openURL(file)}>
          {`Save the ${kind.toLowerCase()}`}
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
  page: { gap: 6, paddingLeft: 10, borderLeftWidth: 3, borderLeftColor: colour.hairline },
  line: { flexDirection: 'row', alignItems: 'center', gap: 4 },
  fill: { flex: 1 },
  hint: { fontFamily: font.regular, fontSize: 14, lineHeight: 19, color: colour.muted },
});
