import { numbersOf } from '@umbek/core/dialNumber';
import { inOrder } from '@umbek/core/order';
import type { Button as ButtonData, Panel, Shortcut, ShowDocument, Strip as StripData } from '@umbek/core/show';
import { pageOf, PEOPLE_LIST, stationOf } from '@umbek/core/shown';
import { TAKE_STRIP } from '@umbek/core/view';
import { memo, useEffect, useMemo, useRef, useState } from 'react';
import { ScrollView, StyleSheet, Text, useWindowDimensions, View } from 'react-native';
import { Button } from 'react-native-paper';
import { useLocalSearchParams, useRouter } from 'expo-router';
import { listen } from '../live/listen';
import { useLive, usePoint, useScopes, useStripShown } from '../live/LiveContext';
import { Loading } from '../common/Loading';
import { useStrips } from '../show/useStrips';
import { useBrightness } from '../theme/brightness';
import { colour, font, WIDE } from '../theme/tokens';
import { AirPictures } from './AirPictures';
import { CapReasons } from './CapReasons';
import { FindPerson } from './FindPerson';
import { Cap } from './Cap';
import { type GridSize, gridSizeOf, KeyGrid } from './KeyGrid';
import { LastRun } from './LastRun';
import { moveAmongCaps } from './nearestCap';
import { Runs, RunSlot } from './Notices';
import { NO_SHIFT, PageBar } from './PageBar';
import { StatusPlace } from './StatusPlace';
import { StopHandle } from '../shell/StopHandle';
import { OpenSound } from './OpenSound';
import { RulesLine } from './RulesLine';
import { LogTail } from '../shell/laterPlace';
import { Strip } from './Strip';
import { useMyPanel } from './useMyPanel';
import { ALWAYS_PRESSES, useWhyAsk } from './useWhyAsk';
import { WhyButton, WhyPrompt } from './WhyButton';
import { KeyHints, useKeyHints } from '../keys/KeyHints';
import { DialPad } from '../keys/DialPad';
import { KeyTold } from '../keys/KeyTold';
import { useShortcuts } from '../keys/useShortcuts';
import { capWidthIn, columnsIn } from '../caps/StripFrame';
import { PanelChoice } from '../common/PanelChoice';

const NO_SHORTCUTS: readonly Shortcut[] = [];
const NONE_LOOSE: readonly string[] = [];
/** So many panels stand side by side on a wide screen. */
const PANELS_BESIDE = 7;
/** Below this height everything scrolls together. */
const LOW = 640;

/** Desk: what is on air, what is next, the panel, and the take. */
export function DeskScreen() {
  const router = useRouter();
  // The panel stands in the address: a link leads to it, and who comes back finds it.
  const {
    panel: asked = null,
    page = null,
    grid,
    as,
  } = useLocalSearchParams<{ panel?: string; page?: string; grid?: string; as?: string }>();
  const live = useLive();
  const { document, held, allowed, chosen, station } = useMyPanel(asked);
  // Until the buttons of the chosen panel are there, the one before stays.
  const [shown, setShown] = useState<string | null>(null);
  const ready = chosen !== null && held.has(chosen) ? chosen : shown;
  if (ready !== shown) setShown(ready);
  // A panel comes back with the page that it showed last.
  const lastPages = useRef(new Map<string, string>());
  const choose = (panel: string, wanted?: string): void => {
    if (wanted !== undefined) lastPages.current.set(panel, wanted);
    router.setParams({ panel, page: wanted ?? lastPages.current.get(panel) } as never);
  };
  const [finding, setFinding] = useState(false);
  const toShow = useRef(choose);
  toShow.current = (panel, wanted) => (panel === PEOPLE_LIST ? setFinding(true) : choose(panel, wanted));
  useEffect(() => live.onShow((panel, wanted) => toShow.current(panel, wanted === '' ? undefined : wanted)), [live]);
  const pressed = useShortcuts(document ?? undefined, station);
  const hints = useKeyHints(document?.shortcuts ?? NO_SHORTCUTS, station);
  const opened = ready ?? allowed[0]?.id ?? null;
  useEffect(() => live.showPanel(opened), [live, opened]);
  useEffect(() => () => live.showPanel(null), [live]);
  if (!document) return <Loading />;
  return (
    <>
      <KeyHints.Provider value={hints}>
        <Desk
          document={document}
          panels={allowed}
          chosen={ready}
          page={page}
          grid={gridSizeOf(grid)}
          gridOf={as ?? null}
          onNoGrid={() => router.setParams({ grid: undefined, as: undefined } as never)}
          onChoose={choose}
          station={station}
        />
      </KeyHints.Provider>
      <KeyTold press={pressed} document={document} />
      <FindPerson visible={finding} onClose={() => setFinding(false)} />
    </>
  );
}

/** What is in sight on a phone is drawn first, and can be pressed while the rest is drawn. */
const FIRST_STRIPS = 2;

/** False in the first drawing, true from the second one on, which follows at once. */
function useAfterFirst(): boolean {
  const [after, setAfter] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setAfter(true), 0);
    return () => clearTimeout(timer);
  }, []);
  return after;
}

function Desk({
  document,
  panels,
  chosen,
  page: askedPage,
  grid,
  gridOf,
  onNoGrid,
  onChoose,
  station,
}: {
  readonly document: ShowDocument;
  /** Those that may be shown here. */
  readonly panels: readonly Panel[];
  readonly chosen: string | null;
  /** Page that is asked for; the first one where it is none of the panel's. */
  readonly page: string | null;
  /** The panel is shown as the keys of a pad of this size show it; null: as it is. */
  readonly grid: GridSize | null;
  /** Station of the show whose pad that is. */
  readonly gridOf: string | null;
  readonly onNoGrid: () => void;
  readonly onChoose: (panel: string, page?: string) => void;
  /** Station of the show that this page acts as. */
  readonly station: string | null;
}) {
  const { width, height } = useWindowDimensions();
  const router = useRouter();
  const brightness = useBrightness();
  const wide = width >= WIDE;
  const sideways = !wide && width > height && width >= 600;
  const panel = panels.find((candidate) => candidate.id === chosen) ?? panels[0];
  const whole = useAfterFirst();
  useEffect(() => listen(window, { keydown: moveAmongCaps }), []);
  // Each of them may be on program or preview in a moment, and its picture must not wait for the network then.
  useScopes(document.sources.flatMap(({ camera }) => camera ?? []));
  const take = document.strips.find((strip) => strip.name === TAKE_STRIP);
  // What is chosen on a panel that is cut loose counts here alone: whoever looks at it must know.
  const loose = stationOf(document, station)?.loose ?? NONE_LOOSE;
  const pressed = useMemo(
    () => panels.map((item) => (loose.includes(item.id) ? { ...item, name: `${item.name} (loose)` } : item)),
    [panels, loose],
  );
  const numbers = useMemo(() => numbersOf(document), [document]);
  const [shift, setShift] = useState(NO_SHIFT);
  const why = useWhyAsk();
  const page = pageOf(panel, askedPage);
  const strips = useStrips(document, panel?.id, page?.id ?? null, shift.on, stationOf(document, station)).filter(
    ({ strip }) => strip !== take,
  );
  const own = new Set(document.strips.flatMap(({ id, panelId }) => (panelId === panel?.id ? [id] : [])));
  const shifts = document.buttons.some((button) => button.shift && own.has(button.stripId));
  const room = wide ? width - 84 - 440 - 32 : sideways ? width * 0.56 - 24 : width - 24;
  const dim = brightness < 1 ? ({ filter: `brightness(${brightness})` } as object) : null;

  const choice = (beside: number) =>
    panels.length > 1 && panel ? (
      <PanelChoice panels={pressed} value={panel.id} onChange={onChoose} beside={beside} />
    ) : null;
  const name = (
    <Text numberOfLines={1} style={styles.title}>
      {document.show.name}
    </Text>
  );
  const caps =
    strips.length === 0 ? (
      <View style={styles.nothing}>
        <Text style={styles.emptyText}>This show has no panel yet.</Text>
        <Text style={styles.emptyHint}>
          Add devices in the Rig, then a panel and its buttons in the Bench. The demo show can be loaded in the Rig.
        </Text>
        <View style={styles.row}>
          <Button mode="contained" onPress={() => router.navigate('/bench' as never)}>
            To the Bench
          </Button>
          <Button mode="outlined" onPress={() => router.navigate('/rig' as never)}>
            To the Rig
          </Button>
        </View>
      </View>
    ) : grid !== null ? (
      <View style={dim}>
        <KeyGrid
          document={document}
          panelId={panel?.id}
          page={page?.id ?? null}
          shift={shift.on}
          size={grid}
          station={stationOf(document, gridOf)}
          width={room}
          onClose={onNoGrid}
        />
      </View>
    ) : (
      <View style={dim}>
        {strips.slice(0, whole ? undefined : FIRST_STRIPS).map(({ strip, buttons, places }) => (
          <Strip
            key={strip.id}
            strip={strip}
            buttons={buttons}
            columns={columnsIn(room)}
            places={places}
            width={capWidthIn(room)}
            {...(buttons.some(({ picture }) => picture !== '') ? { document } : {})}
          />
        ))}
      </View>
    );
  const pages =
    panel && (panel.pages.length > 0 || shifts) ? (
      <PageBar
        pages={panel.pages}
        page={page?.id ?? ''}
        onPage={(wanted) => onChoose(panel.id, wanted)}
        shift={shifts ? shift : null}
        onShift={setShift}
      />
    ) : null;
  const reasons = why.of === null ? null : <CapReasons document={document} of={why.of} onClose={why.end} />;
  const whyButton = panel === undefined ? null : <WhyButton asking={why.asking} onPress={why.begin} />;
  const takeBar = take ? <TakeBar document={document} strip={take} dim={dim} upright={wide} /> : null;

  if (wide || sideways) {
    return (
      <View style={styles.wide}>
        <View style={[styles.side, sideways && styles.sideNarrow]}>
          <ScrollView style={styles.fill} contentContainerStyle={wide ? styles.sideColumn : styles.sideLow}>
            <View style={styles.head}>
              {wide ? <View style={styles.most}>{name}</View> : <View style={styles.half}>{choice(0)}</View>}
              <StatusPlace clock />
            </View>
            {wide ? (
              <AirPictures
                document={document}
                drawn={whole}
                beside={<View style={styles.takeBeside}>{takeBar}</View>}
              />
            ) : (
              <AirPictures document={document} drawn={whole} />
            )}
            {wide ? <OpenSound document={document} /> : null}
            <View style={styles.sound}>
              <View style={styles.fill}>{wide ? <RulesLine /> : <OpenSound document={document} />}</View>
              {wide ? null : <RulesLine short />}
              {whyButton}
            </View>
            {wide ? (
              <>
                <Runs />
                {why.asking ? <WhyPrompt onCancel={why.end} /> : <LastRun />}
                <DialPad shortcuts={document.shortcuts} numbers={numbers} station={station} />
              </>
            ) : why.asking ? (
              <WhyPrompt onCancel={why.end} />
            ) : (
              <RunSlot />
            )}
          </ScrollView>
          {sideways ? (
            <View style={styles.beside}>
              <StopHandle />
              <View style={styles.fill}>{takeBar}</View>
            </View>
          ) : null}
        </View>
        <ScrollView style={styles.fill} contentContainerStyle={styles.panel}>
          {wide ? <View style={styles.gap}>{choice(PANELS_BESIDE)}</View> : null}
          {pages === null ? null : <View style={styles.gap}>{pages}</View>}
          {caps}
          {wide ? null : <DialPad shortcuts={document.shortcuts} numbers={numbers} station={station} />}
          {wide && height >= 560 ? (
            <LogTail document={document} lines={Math.max(4, Math.min(14, Math.floor((height - 440) / 26)))} />
          ) : null}
        </ScrollView>
        {reasons}
      </View>
    );
  }
  // What is on air stays in sight while the panel scrolls, unless the screen is too low for both.
  const low = height < LOW;
  const top = (
    <>
      <View style={styles.head}>
        <View style={styles.half}>{choice(0) ?? name}</View>
        <StatusPlace clock />
      </View>
      <AirPictures document={document} drawn={whole} />
      <View style={styles.sound}>
        <View style={styles.fill}>
          <OpenSound document={document} />
        </View>
        <RulesLine short />
        {whyButton}
      </View>
      {why.asking ? <WhyPrompt onCancel={why.end} /> : <RunSlot />}
    </>
  );
  return (
    <View style={styles.phone}>
      {low ? null : <View style={styles.fixed}>{top}</View>}
      <ScrollView style={styles.fill} contentContainerStyle={styles.column}>
        {low ? top : null}
        {caps}
        <DialPad shortcuts={document.shortcuts} numbers={numbers} station={station} />
      </ScrollView>
      {pages === null ? null : <View style={styles.pages}>{pages}</View>}
      <View style={[styles.bottom, width < 330 && styles.stack]}>
        <StopHandle />
        <View style={width < 330 ? null : styles.fill}>{takeBar}</View>
      </View>
      {reasons}
    </View>
  );
}

/** Cut and mix, with what they would bring on air. */
const TakeBar = memo(function TakeBar({
  document,
  strip,
  dim,
  upright,
}: {
  readonly document: ShowDocument;
  readonly strip: StripData;
  readonly dim: object | null;
  readonly upright: boolean;
}) {
  const switcher = document.devices.find((device) => device.kind === 'switcher')?.key ?? 'switcher';
  useStripShown(strip.id);
  const preview = usePoint(`${switcher}.preview`);
  const next = document.sources.find((source) => source.input === preview)?.name;
  const buttons = inOrder(document.buttons.filter((button) => button.stripId === strip.id));
  const keyWords = (button: ButtonData): string | undefined => {
    const [step] = button.steps;
    if (button.steps.length !== 1 || step?.kind !== 'command' || step.device !== switcher || next === undefined)
      return undefined;
    if (step.command === 'cut') return `to ${next}`;
    return step.command === 'mix' || step.command === 'wipe' ? `${String(step.params.frames ?? 25)} f` : undefined;
  };
  return (
    <View style={[upright ? styles.takeUpright : styles.take, dim]} testID={ALWAYS_PRESSES}>
      {buttons.map((button) => {
        const words = keyWords(button);
        return (
          <Cap
            key={button.id}
            buttonId={button.id}
            legend={button.legend}
            note={button.note}
            family={button.family ?? strip.family}
            large
            {...(words === undefined ? {} : { lastly: words })}
          />
        );
      })}
    </View>
  );
});

const styles = StyleSheet.create({
  sound: { flexDirection: 'row', alignItems: 'center', gap: 10 },
  phone: { flex: 1, backgroundColor: colour.ground },
  fixed: { paddingHorizontal: 12, paddingTop: 6, gap: 2 },
  column: { paddingHorizontal: 12, paddingTop: 4, paddingBottom: 12, gap: 4 },
  bottom: {
    flexDirection: 'row',
    gap: 8,
    paddingHorizontal: 12,
    paddingTop: 10,
    paddingBottom: 4,
    alignItems: 'center',
    borderTopWidth: 1,
    borderTopColor: colour.hairline,
    backgroundColor: colour.plate,
  },
  pages: {
    paddingHorizontal: 12,
    paddingVertical: 6,
    borderTopWidth: 1,
    borderTopColor: colour.hairline,
    backgroundColor: colour.plate,
  },
  stack: { flexDirection: 'column', alignItems: 'stretch' },
  wide: { flex: 1, flexDirection: 'row', backgroundColor: colour.ground },
  side: { width: 440, padding: 16, gap: 12, borderRightWidth: 1, borderRightColor: colour.hairline },
  sideNarrow: { width: '44%', padding: 10 },
  sideColumn: { gap: 10 },
  sideLow: { gap: 4 },
  panel: { padding: 16 },
  gap: { marginBottom: 12 },
  most: { flex: 1.4, minWidth: 0, justifyContent: 'center' },
  half: { flex: 0.8, minWidth: 0, justifyContent: 'center' },
  fill: { flex: 1 },
  beside: { flexDirection: 'row', gap: 8, alignItems: 'center' },
  takeBeside: { flex: 1 },
  takeUpright: { flex: 1, gap: 8, maxHeight: 150 },
  take: { flexDirection: 'row', gap: 8 },
  head: { flexDirection: 'row', alignItems: 'center', gap: 10 },
  title: { fontFamily: font.semibold, fontSize: 18, color: colour.text },
  row: { flexDirection: 'row', gap: 10, marginTop: 8, flexWrap: 'wrap' },
  nothing: { gap: 6 },
  emptyHint: { fontFamily: font.regular, fontSize: 15, lineHeight: 20, color: colour.muted },
  emptyText: { fontFamily: font.medium, fontSize: 17, color: colour.text },
});
