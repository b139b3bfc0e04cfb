import { made } from '@umbek/core/changes';
import {
  firstPanel,
  inOrder,
  inParts,
  newButton,
  newPanel,
  newStrip,
  type StripOffer,
  stripsMade,
} from '@umbek/core/programming';
import type { ShowDocument, Strip as StripData } from '@umbek/core/show';
import { pageOf } from '@umbek/core/shown';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { useEffect, useMemo, useRef, useState } from 'react';
import { ScrollView, StyleSheet, Text, useWindowDimensions, View } from 'react-native';
import { Button, IconButton } from 'react-native-paper';
import { ulid } from 'ulid';
import { chooseFile } from '../common/chooseFile';
import { Loading } from '../common/Loading';
import { useLayer } from '../common/useLayer';
import { DndContext, DragOverlay } from '@dnd-kit/core';
import { CapFace } from '../caps/CapFace';
import { columnsIn } from '../caps/StripFrame';
import { useEdits, useShow } from '../show/ShowContext';
import { useStrips } from '../show/useStrips';
import { colour, font, WIDE } from '../theme/tokens';
import { AddStrips } from './AddStrips';
import { BenchHead } from './BenchHead';
import { ButtonEditor } from './ButtonEditor';
import { CountUp } from './CountUp';
import { ManyEditor, PasteButton } from './ManyEditor';
import { MacroBench } from './MacroBench';
import { PutIn } from './PutIn';
import { PanelEditor, StripEditor } from './StripEditor';
import { PeopleBench } from './PeopleBench';
import { ShortcutBench } from './ShortcutBench';
import { TriggerBench } from './triggers/TriggerBench';
import { ValueBench } from './ValueBench';
import { useChosen } from './useChosen';
import { useBox } from './useBox';
import { useOthers } from './useOthers';
import { useCount } from './useCount';
import { BenchStrip, type StripActs } from './BenchStrip';
import { useMoving } from './useMoving';
import { PanelChoice } from '../common/PanelChoice';
import { Segments } from '../common/Segments';

/** Bench: panels as the operator sees them, where a tap on a cap opens what it says, does and lights; and the macros. */
export function BenchScreen() {
  const document = useShow();
  const { list } = useLocalSearchParams<{ list?: string }>();
  if (!document) return <Loading />;
  if (list === 'macros') return <MacroBench document={document} />;
  if (list === 'triggers') return <TriggerBench document={document} />;
  if (list === 'people') return <PeopleBench document={document} />;
  if (list === 'shortcuts') return <ShortcutBench document={document} />;
  if (list === 'values') return <ValueBench document={document} />;
  return <Bench document={document} />;
}

type Open = { readonly kind: 'button' | 'strip' | 'panel'; readonly id: string } | null;

function Bench({ document }: { readonly document: ShowDocument }) {
  const { width } = useWindowDimensions();
  const wide = width >= WIDE;
  const router = useRouter();
  const edits = useEdits();
  // What is open stands in the address: a button, a strip, or the panel itself.
  const {
    b,
    s,
    edit,
    p,
    page: askedPage,
    shift: shiftAsked,
  } = useLocalSearchParams<{
    b?: string;
    s?: string;
    edit?: string;
    p?: string;
    page?: string;
    shift?: string;
  }>();
  /** Made just now: its name comes next. */
  const [fresh, setFresh] = useState<string | null>(null);
  const panels = inOrder(document.panels);
  const openButton = document.buttons.find((button) => button.id === b);
  const openStrip = document.strips.find(({ id }) => id === (s ?? openButton?.stripId));
  const shown = openStrip?.panelId;
  const panel = panels.find((candidate) => candidate.id === (p ?? shown)) ?? panels[0];
  const open: Open =
    b !== undefined
      ? { kind: 'button', id: b }
      : s !== undefined
        ? { kind: 'strip', id: s }
        : edit === 'panel' && panel
          ? { kind: 'panel', id: panel.id }
          : null;
  // What is open is in sight: on its page, and in its set.
  const page = pageOf(panel, askedPage ?? (openStrip && openStrip.page !== '' ? openStrip.page : null));
  const shift = shiftAsked === undefined ? openButton?.shift === true : shiftAsked === 'on';
  const strips = useStrips(document, panel?.id, page?.id ?? null, shift);
  // A strip without a second set shows its first one here too: there is where a second one begins.
  const shiftSet = shift
    ? strips.map((item) => (item.buttons.some((each) => each.shift) ? item : { ...item, buttons: [] }))
    : strips;
  const show = (next: Open, made = false): void => {
    setFresh(made ? (next?.id ?? null) : null);
    router.setParams({
      b: next?.kind === 'button' ? next.id : undefined,
      s: next?.kind === 'strip' ? next.id : undefined,
      edit: next?.kind === 'panel' ? 'panel' : undefined,
      tab: undefined,
    } as never);
  };
  const addButton = (strip: StripData): void => {
    const button = { ...newButton(document, ulid(), strip.id), shift };
    edits.edit(`New button in ${strip.name}`, [made('buttons', button)]);
    show({ kind: 'button', id: button.id }, true);
  };
  const addPanel = (): void => {
    const added = newPanel(document, ulid());
    edits.edit(`New panel ${added.name}`, [made('panels', added)]);
    setFresh(added.id);
    router.setParams({ p: added.id, b: undefined, s: undefined, edit: 'panel' } as never);
  };
  const [adding, setAdding] = useState(false);
  const addOffers = (offers: readonly StripOffer[], share: boolean): void => {
    setAdding(false);
    if (!panel) return;
    const { changes, strips: added } = stripsMade(document, panel.id, offers, ulid, page?.id, share);
    const what = added.length === 1 ? (offers[0]?.words ?? 'a strip') : `${added.length} strips`;
    for (const { label, part } of inParts(`New in ${panel.name}: ${what}`, changes)) edits.edit(label, part);
  };
  const addFirst = (): void => {
    const { panel: first, changes } = firstPanel(document, ulid);
    for (const { label, part } of inParts('First panel from the rig', changes)) edits.edit(label, part);
    router.setParams({ p: first.id, b: undefined, s: undefined, edit: undefined } as never);
  };
  const addStrip = (): void => {
    setAdding(false);
    if (!panel) return;
    const strip = newStrip(document, ulid(), panel.id, page?.id);
    edits.edit(`New strip in ${panel.name}`, [made('strips', strip)]);
    show({ kind: 'strip', id: strip.id }, true);
  };
  const chosen = useChosen(
    document,
    panel?.id,
    page?.id ?? '',
    document.buttons.find((candidate) => candidate.id === open?.id)?.stripId,
  );
  const fromFile = (): void => {
    setAdding(false);
    void chooseFile('.json,application/json', (words) => edits.tell(words, true)).then((text) => {
      const words = text === null ? null : chosen.read(text);
      if (words !== null) edits.tell(words, true);
    });
  };
  const choosing = chosen.ids !== null;
  const selected = chosen.ids !== null ? [...chosen.ids] : open === null ? [] : [open.id];
  const others = useOthers(selected);
  const box = useBox('[data-testid="bench-ground"]', chosen.choose);
  const { count, begin: countFrom } = useCount(document);
  const counting = count?.buttons[0]?.id;
  useEffect(() => {
    if (counting !== undefined)
      window.document.querySelector(`[data-testid="edit-${counting}"]`)?.scrollIntoView({ block: 'start' });
  }, [counting]);
  const countAll = (): void => countFrom(chosen.buttons.map(({ id }) => id));
  const moving = useMoving(document, chosen.ids);
  const room = wide ? width - 84 - 470 - 32 : width - 24;
  const columns = columnsIn(room);
  const button = open?.kind === 'button' ? document.buttons.find((candidate) => candidate.id === open.id) : undefined;
  const strip = open?.kind === 'strip' ? document.strips.find((candidate) => candidate.id === open.id) : undefined;
  const tap = useRef<(id: string, range: boolean) => void>(() => undefined);
  tap.current = (id, range) => {
    if (count || moving.justDragged()) return;
    if (range) chosen.upTo(id, button?.id);
    else if (choosing) chosen.toggle(id);
    else show({ kind: 'button', id });
  };
  const latest = useRef({ addButton, show, toggleAll: chosen.toggleAll });
  latest.current = { addButton, show, toggleAll: chosen.toggleAll };
  const { key } = moving;
  /** Always the same ones: a strip of which nothing changed is not drawn anew, nor is a cap. */
  const acts = useMemo(
    (): StripActs => ({
      key,
      tap: (id, range) => tap.current(id, range),
      all: (ids) => latest.current.toggleAll(ids),
      edit: (id) => latest.current.show({ kind: 'strip', id }),
      add: (to) => latest.current.addButton(to),
    }),
    [key],
  );
  const ownPanel = open?.kind === 'panel' ? document.panels.find((candidate) => candidate.id === open.id) : undefined;
  const editor = count ? (
    <CountUp count={count} />
  ) : choosing ? (
    <ManyEditor document={document} chosen={chosen} onCount={countAll} />
  ) : button ? (
    <ButtonEditor
      key={button.id}
      document={document}
      button={button}
      fresh={fresh === open?.id}
      onClose={() => show(null)}
      onOpen={(id) => show({ kind: 'button', id })}
      onCount={() => countFrom([button.id])}
    />
  ) : strip ? (
    <StripEditor
      key={strip.id}
      document={document}
      strip={strip}
      fresh={fresh === open?.id}
      onClose={() => show(null)}
    />
  ) : ownPanel ? (
    <PanelEditor
      key={ownPanel.id}
      document={document}
      panel={ownPanel}
      fresh={fresh === open?.id}
      onClose={() => show(null)}
    />
  ) : null;

  const draggedButton = document.buttons.find(({ id }) => id === moving.dragged);
  const dragged = draggedButton ? (
    <View style={styles.dragged}>
      <CapFace
        legend={moving.moves > 1 ? `${moving.moves} buttons` : draggedButton.legend}
        second={moving.moves > 1 ? draggedButton.legend : ''}
        lamp={null}
        lost={false}
        family={
          draggedButton.family ?? document.strips.find(({ id }) => id === draggedButton.stripId)?.family ?? 'stone'
        }
      />
    </View>
  ) : null;

  // On a phone the editor lies over the panel; what is chosen and counted stays in sight.
  const half = choosing || count !== null;
  const covered = !wide && editor !== null && !half;
  useLayer(covered, () => show(null));
  useLayer(choosing && count === null, chosen.end);
  useLayer(count !== null, () => count?.end());

  return (
    <DndContext {...moving.context}>
      <View style={[styles.all, wide && styles.wide]}>
        <ScrollView
          style={[styles.fill, covered && styles.behind]}
          contentContainerStyle={styles.panel}
          testID="bench-ground"
        >
          <BenchHead part="panels" />
          <View style={styles.tabs}>
            {panel && panels.length > 0 ? (
              <View style={styles.fill}>
                <PanelChoice
                  panels={panels}
                  value={panel.id}
                  onChange={(id) =>
                    router.setParams({ p: id, page: undefined, b: undefined, s: undefined, edit: undefined } as never)
                  }
                  beside={wide ? 6 : 3}
                />
              </View>
            ) : null}
            {panel ? (
              <IconButton
                icon="pencil"
                size={20}
                accessibilityLabel={`Edit panel ${panel.name}`}
                onPress={() => show({ kind: 'panel', id: panel.id })}
              />
            ) : null}
            <IconButton icon="plus" size={20} accessibilityLabel="Add a panel" onPress={addPanel} />
          </View>
          <PutIn
            chosen={chosen}
            onPanel={(id) =>
              router.setParams({ p: id, page: undefined, b: undefined, s: undefined, edit: undefined } as never)
            }
          />
          {panel ? null : (
            <>
              <Text style={styles.hint}>
                {document.devices.length === 0
                  ? 'A panel is what one operator works on. Add devices in the Rig first; then a first panel is made from them.'
                  : 'A panel is what one operator works on. Make the first one from the rig, or an empty one with the plus above.'}
              </Text>
              {document.devices.length === 0 ? null : (
                <Button mode="contained" icon="plus" onPress={addFirst} style={styles.addStrip}>
                  First panel from the rig
                </Button>
              )}
              <Button mode="outlined" icon="upload" onPress={fromFile} style={styles.addStrip}>
                A panel from a file
              </Button>
            </>
          )}
          {panel ? (
            <AddStrips
              document={document}
              panel={panel.name}
              visible={adding}
              onClose={() => setAdding(false)}
              onAdd={addOffers}
              onEmpty={addStrip}
              onFile={fromFile}
            />
          ) : null}
          {panel ? (
            <View style={styles.tools}>
              <Button mode="outlined" icon="plus" onPress={() => setAdding(true)}>
                Add strips
              </Button>
              <Button mode={choosing ? 'contained' : 'outlined'} onPress={choosing ? chosen.end : chosen.begin}>
                {choosing ? 'Done choosing' : 'Choose several'}
              </Button>
              <PasteButton chosen={chosen} />
              <Button
                mode={shift ? 'contained' : 'outlined'}
                accessibilityLabel={shift ? 'With Shift; back to the first set' : 'Shift'}
                onPress={() => router.setParams({ shift: shift ? 'off' : 'on', b: undefined } as never)}
              >
                {shift ? 'With Shift' : 'Shift'}
              </Button>
            </View>
          ) : null}
          {panel && panel.pages.length > 0 ? (
            <Segments
              value={page?.id ?? ''}
              onChange={(to) => router.setParams({ page: to, b: undefined, s: undefined } as never)}
              options={panel.pages.map(({ id, name }) => ({
                value: id,
                label: name,
                accessibilityLabel: `Page ${name}`,
              }))}
            />
          ) : null}
          {shift ? (
            <Text style={styles.hint}>
              These are shown while Shift is held. A strip without buttons here keeps its first ones.
            </Text>
          ) : null}
          {shiftSet.map(({ strip: row, buttons }) => (
            <BenchStrip
              key={row.id}
              strip={row}
              buttons={buttons}
              columns={columns}
              count={count}
              choosing={choosing}
              chosen={chosen.ids}
              open={buttons.some(({ id }) => id === button?.id) ? button?.id : undefined}
              others={others}
              over={moving.place?.stripId === row.id && moving.place.before === null}
              before={buttons.find(({ id }) => id === moving.place?.before)?.id}
              acts={acts}
            />
          ))}
        </ScrollView>
        {wide ? (
          <View style={styles.side}>
            {editor ?? (
              <Text style={styles.hint}>
                Choose a button to see what it says, what it does and when it lights. The dots beside a strip open its
                name, colour and place.
              </Text>
            )}
          </View>
        ) : editor ? (
          <View style={count ? styles.most : half ? styles.half : styles.sheet}>{editor}</View>
        ) : null}
      </View>
      {box === null ? null : <View style={[styles.box, box as object]} pointerEvents="none" />}
      <DragOverlay dropAnimation={null}>{dragged}</DragOverlay>
    </DndContext>
  );
}

const styles = StyleSheet.create({
  all: { flex: 1, backgroundColor: colour.ground },
  wide: { flexDirection: 'row' },
  fill: { flex: 1, minWidth: 0 },
  panel: { padding: 12, gap: 10, paddingBottom: 40 },
  tabs: { flexDirection: 'row', alignItems: 'center' },
  hint: { fontFamily: font.regular, fontSize: 16, lineHeight: 22, color: colour.muted, padding: 12 },
  box: {
    position: 'fixed',
    zIndex: 10,
    borderWidth: 2,
    borderStyle: 'dashed',
    borderColor: colour.text,
    backgroundColor: 'rgba(233,228,214,0.08)',
  } as object,
  addStrip: { alignSelf: 'flex-start' },
  side: { width: 470, borderLeftWidth: 1, borderLeftColor: colour.hairline, backgroundColor: colour.plate },
  // Under an open sheet nothing is to be read or reached.
  behind: { display: 'none' },
  sheet: {
    flex: 1,
    backgroundColor: colour.plate,
    borderTopLeftRadius: 14,
    borderTopRightRadius: 14,
    borderTopWidth: 1,
    borderTopColor: colour.hairline,
    overflow: 'hidden',
  },
  tools: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  // While several are chosen the panel stays in sight above.
  most: {
    maxHeight: '58%',
    backgroundColor: colour.plate,
    borderTopWidth: 1,
    borderTopColor: colour.hairline,
  },
  half: {
    height: '44%',
    backgroundColor: colour.plate,
    borderTopWidth: 1,
    borderTopColor: colour.hairline,
  },
  dragged: { flexDirection: 'row', flex: 1, minHeight: 66, opacity: 0.92, transform: [{ rotate: '-2deg' }] },
});
