import { changed, made, removed } from '@umbek/core/changes';
import { FULL_WINDOW, type Window, windowMoved, windowTold } from '@umbek/core/picture';
import { inOrder, newReframe, usesOf } from '@umbek/core/programming';
import type { Reframe, ShowDocument, Source } from '@umbek/core/show';
import { useRef } from 'react';
import { Pressable, StyleSheet, Text, View } from 'react-native';
import { Button } from 'react-native-paper';
import { ulid } from 'ulid';
import { Heading } from '../common/fields';
import { SmallCap } from '../common/SmallCap';
import { useLive, usePoint } from '../live/LiveContext';
import { useHeld } from '../live/useHeld';
import { SourcePicture } from '../picture/SourcePicture';
import { useEdits } from '../show/ShowContext';
import { Icon, type IconName } from '../theme/Icon';
import { colour, font } from '../theme/tokens';
import { StoreAsNew } from './StoreAsNew';
import { NameOrRemove } from './NameOrRemove';

/** While a key is held a step goes out this often, each taking as long as the next one needs to come. */
const STEP_MS = 120;
const STEP_FRAMES = 6;
/** Frames in which a stored window is taken. */
const RECALL_FRAMES = 25;
/** The window of a source that no motor moves: the same keys as a head's, and stored like positions. */
export function ReframePart({
  document,
  source,
  switcher,
}: {
  readonly document: ShowDocument;
  readonly source: Source;
  readonly switcher: string;
}) {
  const live = useLive();
  const edits = useEdits();
  const point = `${switcher}.input${source.input ?? 0}Window`;
  const framing = usePoint(point);
  const now = windowTold(framing) ?? FULL_WINDOW;
  const stored = inOrder(document.reframes.filter((reframe) => reframe.source === source.key));
  const send = (window: Window, frames: number): void =>
    live.sendCommand(switcher, 'reframe', { source: source.key, ...window, frames });
  const onAir = usePoint(`${switcher}.program`) === source.input;
  const store = (name: string): void => {
    edits.edit(`Store ${name}`, [made('reframes', newReframe(document, ulid(), source.key, name, now))]);
  };
  if (framing === undefined)
    return <Text style={styles.text}>Its window is not known: the switcher does not answer.</Text>;
  const key = (sign: IconName, label: string, x: number, y: number, zoom: number) => (
    <StepKey
      sign={sign}
      label={label}
      onStep={() =>
        send(windowMoved(windowTold(live.point(point)) ?? FULL_WINDOW, x, y, zoom, STEP_MS / 1000), STEP_FRAMES)
      }
    />
  );
  return (
    <View style={styles.all}>
      <Heading words="Reframe" />
      <View style={[styles.frame, onAir && styles.onAir]}>
        <SourcePicture source={source} document={document} />
        <Text style={styles.place} testID="window">
          {now.scale <= 1
            ? 'full view'
            : `${now.scale.toFixed(1)}× at ${Math.round(now.x * 100)} %, ${Math.round(now.y * 100)} %`}
        </Text>
      </View>
      {onAir ? <Text style={styles.warn}>It is on air: what you move is seen.</Text> : null}
      <View style={styles.keys}>
        {key('arrow-left', 'Window left', -1, 0, 0)}
        {key('arrow-up', 'Window up', 0, 1, 0)}
        {key('arrow-down', 'Window down', 0, -1, 0)}
        {key('arrow-right', 'Window right', 1, 0, 0)}
        {key('minus', 'Window wider', 0, 0, -1)}
        {key('plus', 'Window closer', 0, 0, 1)}
      </View>
      <View style={styles.row}>
        <Button mode="outlined" disabled={now.scale <= 1} onPress={() => send(FULL_WINDOW, RECALL_FRAMES)}>
          Full view again
        </Button>
      </View>
      <StoreAsNew label="Name of the new view" proposal={`${source.shortName} ${stored.length + 1}`} onStore={store} />
      {stored.map((reframe) => (
        <Stored
          key={reframe.id}
          document={document}
          reframe={reframe}
          here={
            Math.abs(reframe.x - now.x) < 0.002 &&
            Math.abs(reframe.y - now.y) < 0.002 &&
            Math.abs(reframe.scale - now.scale) < 0.02
          }
          now={now}
          onRecall={() => live.sendCommand(switcher, 'reframeTo', { reframe: reframe.key, frames: RECALL_FRAMES })}
        />
      ))}
    </View>
  );
}

function Stored({
  document,
  reframe,
  here,
  now,
  onRecall,
}: {
  readonly document: ShowDocument;
  readonly reframe: Reframe;
  readonly here: boolean;
  readonly now: Window;
  readonly onRecall: () => void;
}) {
  const edits = useEdits();
  return (
    <View style={styles.stored}>
      <Pressable
        role="button"
        accessibilityLabel={`Recall ${reframe.name}${here ? ', here' : ''}`}
        onPress={onRecall}
        style={styles.recall}
      >
        <Text style={styles.name}>{reframe.name}</Text>
        <Text style={styles.note}>{here ? 'here' : `${reframe.scale.toFixed(1)}×`}</Text>
      </Pressable>
      <NameOrRemove
        name={reframe.name}
        label="Name of the view"
        style={styles.more}
        uses={() => usesOf(document, { kind: 'reframe', key: reframe.key })}
        onStoreAgain={() =>
          edits.edit(
            `Store ${reframe.name} again`,
            (['x', 'y', 'scale'] as const).flatMap((field) =>
              reframe[field] === now[field] ? [] : [changed('reframes', reframe, field, now[field])],
            ),
          )
        }
        onName={(name) => edits.edit(`Name view ${name}`, [changed('reframes', reframe, 'name', name)])}
        onRemove={() => edits.edit(`Remove ${reframe.name}`, [removed('reframes', reframe)])}
      />
    </View>
  );
}

/** Steps while it is held. Nothing moves without a step, so that a lost release, page or network ends it by itself. */
function StepKey({
  sign,
  label,
  onStep,
}: {
  readonly sign: IconName;
  readonly label: string;
  readonly onStep: () => void;
}) {
  const step = useRef(onStep);
  step.current = onStep;
  const held = useHeld(() => {
    step.current();
    const timer = setInterval(() => step.current(), STEP_MS);
    return () => clearInterval(timer);
  });
  return (
    <SmallCap held={held} label={label}>
      <Icon name={sign} size={24} color={colour.legend} />
    </SmallCap>
  );
}

const styles = StyleSheet.create({
  all: { gap: 10 },
  frame: {
    width: '100%',
    maxWidth: 480,
    aspectRatio: 16 / 9,
    backgroundColor: '#000',
    borderRadius: 4,
    overflow: 'hidden',
  },
  onAir: { boxShadow: `inset 0 0 0 3px ${colour.onAir}` },
  place: {
    position: 'absolute',
    left: 8,
    top: 8,
    fontFamily: font.medium,
    fontSize: 13,
    color: colour.text,
    backgroundColor: 'rgba(16,31,32,0.8)',
    paddingHorizontal: 8,
    paddingVertical: 3,
    borderRadius: 4,
    fontVariant: ['tabular-nums'],
  },
  keys: { flexDirection: 'row', gap: 6, flexWrap: 'wrap', maxWidth: 480 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  stored: { flexDirection: 'row', alignItems: 'center', gap: 4, maxWidth: 480 },
  recall: {
    flex: 1,
    flexDirection: 'row',
    alignItems: 'center',
    minHeight: 46,
    paddingHorizontal: 12,
    backgroundColor: colour.raised,
    borderRadius: 5,
  },
  name: { flex: 1, fontFamily: font.semibold, fontSize: 16, color: colour.text },
  note: { fontFamily: font.medium, fontSize: 14, color: colour.muted },
  more: { margin: 0, width: 44, height: 44 },
  text: { fontFamily: font.regular, fontSize: 15, color: colour.muted },
  warn: { fontFamily: font.medium, fontSize: 14, color: colour.warning },
});
