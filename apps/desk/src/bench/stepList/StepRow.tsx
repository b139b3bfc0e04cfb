import { useDraggable, useDroppable } from '@dnd-kit/core';
import { kindOf, ptzHead } from '@umbek/core/devices';
import {
  freshSteps,
  insertSteps,
  movedSteps,
  nextPlace,
  putStep,
  removedSteps,
  type StepAt,
  switched,
  unwrapped,
} from '@umbek/core/programming';
import { blockWords, sentenceOf, waitWords } from '@umbek/core/sentence';
import { childrenOf, type ShowDocument, type Step } from '@umbek/core/show';
import { type ReactNode, useState } from 'react';
import { Pressable, StyleSheet, Text, View } from 'react-native';
import { Button, Icon, IconButton } from 'react-native-paper';
import { ulid } from 'ulid';
import { Segments } from '../../common/Segments';
import { act } from '../../live/deeds';
import { readIdentity } from '../../live/identity';
import { usePressTarget } from '../../live/usePressTarget';
import { useEdits } from '../../show/ShowContext';
import { replyWords } from '../../show/replyWords';
import { colour, font } from '../../theme/tokens';
import { stepsOf } from '../owner';
import { copySteps } from './copiedSteps';
import { placeText, stepLabel, useStepEditing } from './editing';
import { StepFields } from './StepFields';

const seconds = (ms: number): string => `${(ms / 1000).toFixed(ms >= 9950 ? 1 : 2)} s`;
const KEYS: Readonly<Record<string, 'up' | 'down' | 'out' | 'in'>> = {
  ArrowUp: 'up',
  ArrowDown: 'down',
  ArrowLeft: 'out',
  ArrowRight: 'in',
};
/** The row is drawn at its new place by then. */
const DRAWN_MS = 60;

/** One step as a sentence; opened, it shows its parameters, what its failure does, and its place. Steps inside it stand below, drawn by `inner`. */
export function StepRow({
  step,
  at,
  inner,
}: {
  readonly step: Step;
  readonly at: StepAt;
  readonly inner: (folded: boolean) => ReactNode;
}) {
  const editing = useStepEditing();
  const { document, steps, times, onPut } = editing;
  const place = placeText(at);
  const label = stepLabel(steps, at);
  const [folded, setFolded] = useState(false);
  const lists = childrenOf(step);
  const open = editing.open === place && editing.chosen === null;
  const chosen = editing.chosen?.has(place) === true;
  // How long a wait may take stands below it, and what is inside stands below as well.
  const words =
    lists.length > 0
      ? blockWords(step, document)
      : step.kind === 'wait'
        ? waitWords(step.until, document)
        : sentenceOf(step, document);
  const waits = step.kind === 'wait' || step.kind === 'pause' || step.kind === 'ask';
  const time = times.get(place);
  const off = step.off === true;
  const move = (way: 'up' | 'down' | 'out' | 'in'): void => {
    const to = nextPlace(steps, at, way);
    if (to === null) return;
    onPut(movedSteps(steps, [at], to), `Move step ${label}`);
    const after = placeText(way === 'down' ? [...to.slice(0, -1), (to.at(-1) ?? 1) - 1] : to);
    setTimeout(() => window.document.querySelector<HTMLElement>(`[data-testid="handle-${after}"]`)?.focus(), DRAWN_MS);
  };
  const handle = {
    role: 'button',
    tabIndex: 0,
    'aria-label': `Move step ${label}`,
    // A touch that does not drag opens it, as one beside the handle does.
    onClick: () => editing.onOpen(place),
    onKeyDown: (event: React.KeyboardEvent) => {
      if (event.key === 'Enter') return editing.onOpen(place);
      const way = KEYS[event.key];
      if (way === undefined) return;
      event.preventDefault();
      event.stopPropagation();
      move(way);
    },
  };
  const Line = editing.many ? PlainLine : DropLine;
  const Handle = editing.many ? PlainHandle : DragHandle;
  return (
    <View style={editing.dragged === place && styles.dragged}>
      {editing.drop === place ? <View style={styles.drop} /> : null}
      <View
        style={[
          styles.box,
          waits && styles.waits,
          chosen && styles.chosen,
          editing.running === place && styles.running,
        ]}
        testID={`step-${label}`}
      >
        <Line place={place}>
          {editing.chosen === null ? <Handle place={place} handle={handle} /> : null}
          <Pressable
            role={editing.chosen === null ? 'button' : 'checkbox'}
            {...(editing.chosen === null ? { 'aria-expanded': open } : { 'aria-checked': chosen })}
            accessibilityLabel={`Step ${label}: ${words}${off ? ', switched off' : ''}`}
            onPress={() => (editing.chosen === null ? editing.onOpen(place) : editing.onChoose(place))}
            style={styles.press}
          >
            {editing.chosen === null ? null : (
              <Icon source={chosen ? 'checkbox-marked' : 'checkbox-blank-outline'} size={24} color={colour.text} />
            )}
            <Text style={styles.number}>{label}</Text>
            <View style={styles.fill}>
              <Text style={[styles.words, off && styles.off]}>{words}</Text>
              <Small step={step} />
            </View>
            <Text style={styles.time}>
              {time === undefined ? '' : waits ? `about ${seconds(time.end)}` : seconds(time.start)}
            </Text>
          </Pressable>
          {lists.length === 0 ? null : (
            <IconButton
              icon={folded ? 'chevron-down' : 'chevron-up'}
              size={20}
              style={styles.fold}
              accessibilityLabel={`${folded ? 'Unfold' : 'Fold'} step ${label}`}
              onPress={() => setFolded(!folded)}
            />
          )}
        </Line>
        {open ? <Body step={step} at={at} label={label} /> : null}
      </View>
      {inner(folded)}
    </View>
  );
}

interface LineProps {
  readonly place: string;
  readonly children: ReactNode;
}

/** The line of a step that others can be dropped on. */
function DropLine({ place, children }: LineProps) {
  const { setNodeRef } = useDroppable({ id: place });
  return (
    <View ref={setNodeRef as never} style={styles.line}>
      {children}
    </View>
  );
}

const PlainLine = ({ children }: LineProps) => <View style={styles.line}>{children}</View>;

interface HandleProps {
  readonly place: string;
  readonly handle: object;
}

/** What moves a step: dragged, or by keys. */
function DragHandle({ place, handle }: HandleProps) {
  const { setNodeRef, attributes, listeners } = useDraggable({ id: place });
  return (
    <View
      ref={setNodeRef as never}
      {...({ ...attributes, ...listeners, ...handle } as object)}
      style={styles.handle}
      testID={`handle-${place}`}
    >
      <Icon source="drag-vertical" size={22} color={colour.muted} />
    </View>
  );
}

const PlainHandle = ({ place, handle }: HandleProps) => (
  <View {...handle} style={styles.handle} testID={`handle-${place}`}>
    <Icon source="drag-vertical" size={22} color={colour.muted} />
  </View>
);

function Small({ step }: { readonly step: Step }) {
  const summary = [
    ...(step.off === true ? ['switched off'] : []),
    ...(step.onFail === 'goOn' ? ['continues if it fails'] : []),
    ...(step.kind === 'wait' && step.onFail === 'stop'
      ? [`times out after ${seconds(step.timeoutMs)}, then stops`]
      : []),
    ...(step.kind === 'ask'
      ? [`no answer for ${seconds(step.timeoutMs)}: ${step.onTimeout === 'stop' ? 'stops' : 'continues'}`]
      : []),
  ];
  return summary.length === 0 ? null : <Text style={styles.small}>{summary.join(' · ')}</Text>;
}

/** What stands in a step, and what can be done with it. */
function Body({ step, at, label }: { readonly step: Step; readonly at: StepAt; readonly label: string }) {
  const edits = useEdits();
  const { document, owner, list, steps, onPut } = useStepEditing();
  const change = (next: Step): void => onPut(putStep(steps, at, next), `Step ${label}`);
  const tryIt = async (onward: boolean): Promise<void> => {
    const { station, person } = readIdentity();
    try {
      const response = await act('/api/try', {
        pressId: ulid(),
        buttonId: owner.entry.id,
        stepId: step.id,
        onward,
        station,
        person,
      });
      const reply = (await response.json()) as { message?: string; mend?: string };
      if (!response.ok) edits.tell(replyWords(reply), true);
      else edits.tell(onward ? `Runs from step ${label}` : `Sent: ${sentenceOf(step, document)}`, false);
    } catch (error) {
      edits.tell(error instanceof Error ? error.message : 'It failed.', true);
    }
  };
  const index = at.at(-1) ?? 0;
  const up = nextPlace(steps, at, 'up');
  const down = nextPlace(steps, at, 'down');
  const out = nextPlace(steps, at, 'out');
  const into = nextPlace(steps, at, 'in');
  const tool = (icon: string, words: string, to: StepAt | null, hidden = false) =>
    hidden ? null : (
      <IconButton
        icon={icon}
        accessibilityLabel={words}
        disabled={to === null}
        onPress={() => to && onPut(movedSteps(steps, [at], to), `Move step ${label}`)}
      />
    );
  const off = step.off === true;
  const isBlock = childrenOf(step).length > 0;
  return (
    <View style={styles.body}>
      <StepFields document={document} owner={owner} list={list} step={step} onChange={change} />
      {step.kind === 'note' ? null : (
        <Segments
          value={step.onFail}
          onChange={(onFail) => change({ ...step, onFail: onFail === 'goOn' ? 'goOn' : 'stop' })}
          options={[
            { value: 'stop', label: 'Stop if it fails' },
            { value: 'goOn', label: 'Continue' },
          ]}
        />
      )}
      <View style={styles.tools}>
        {tool('arrow-up', `Step ${label} earlier`, up)}
        {tool('arrow-down', `Step ${label} later`, down)}
        {tool('arrow-left', `Step ${label} out of the step that it is in`, out, out === null)}
        {tool('arrow-right', `Step ${label} into the one above`, into, into === null)}
        <IconButton
          icon="content-copy"
          accessibilityLabel={`Duplicate step ${label}`}
          onPress={() =>
            onPut(
              insertSteps(steps, [...at.slice(0, -1), index + 1], freshSteps([step], stepsOf(owner))),
              `Duplicate step ${label}`,
            )
          }
        />
        <IconButton
          icon="delete"
          accessibilityLabel={`Remove step ${label}`}
          onPress={() => onPut(removedSteps(steps, [at]), `Remove step ${label}`)}
        />
        <View style={styles.fill} />
        <Button
          compact
          accessibilityLabel={`Copy step ${label}`}
          onPress={() => {
            copySteps([step]);
            edits.tell('Copied. Paste it in any list of steps.', false);
          }}
        >
          Copy
        </Button>
        <Button
          compact
          accessibilityLabel={`Switch step ${label} ${off ? 'on' : 'off'}`}
          onPress={() => onPut(switched(steps, [at], !off), `Switch step ${label} ${off ? 'on' : 'off'}`)}
        >
          {off ? 'Switch on' : 'Switch off'}
        </Button>
        {isBlock ? (
          <Button compact onPress={() => onPut(unwrapped(steps, at), `Take step ${label} apart`)}>
            Take apart
          </Button>
        ) : null}
        {off || step.kind === 'note' ? null : (
          <>
            {at.length === 1 && index < steps.length - 1 ? (
              <Button compact onPress={() => void tryIt(true)} accessibilityLabel={`Run from step ${label}`}>
                Run from here
              </Button>
            ) : null}
            {movesUntilStopped(step, document) ? (
              <HeldStep buttonId={owner.entry.id} stepId={step.id} label={`Hold to try step ${label} alone`} />
            ) : (
              <Button compact onPress={() => void tryIt(false)} accessibilityLabel={`Try step ${label} alone`}>
                Run this step
              </Button>
            )}
          </>
        )}
      </View>
    </View>
  );
}

/** A step that moves for as long as it is held: alone too, it moves no longer than the finger stays. */
const movesUntilStopped = (step: Step, document: ShowDocument): boolean =>
  step.kind === 'command' &&
  step.params.forSeconds === undefined &&
  (step.device.startsWith('chosen.')
    ? ptzHead
    : kindOf(
        document.devices.find((device) => device.key === step.device),
        document,
      )
  )?.commands[step.command]?.endedBy !== undefined;

function HeldStep({
  buttonId,
  stepId,
  label,
}: {
  readonly buttonId: string;
  readonly stepId: string;
  readonly label: string;
}) {
  const ref = usePressTarget((live) => live.downStep(buttonId, stepId));
  return (
    <View ref={ref} role="button" tabIndex={0} accessibilityLabel={label} style={styles.held}>
      <Text style={styles.heldWord}>Hold to try</Text>
    </View>
  );
}

const styles = StyleSheet.create({
  held: {
    minHeight: 44,
    paddingHorizontal: 14,
    borderRadius: 6,
    backgroundColor: colour.cap,
    alignItems: 'center',
    justifyContent: 'center',
    cursor: 'pointer',
    userSelect: 'none',
    touchAction: 'none',
  } as object,
  heldWord: { fontFamily: font.semibold, fontSize: 15, color: colour.legend },
  dragged: { opacity: 0.45 },
  drop: { height: 3, borderRadius: 2, backgroundColor: colour.cap, marginBottom: 5 },
  box: { backgroundColor: colour.raised, borderRadius: 6, overflow: 'hidden' },
  waits: { boxShadow: `inset 3px 0 0 ${colour.warning}` },
  chosen: { boxShadow: `inset 0 0 0 2px ${colour.cap}` },
  running: { boxShadow: `inset 0 0 0 2px ${colour.text}` },
  line: { flexDirection: 'row', alignItems: 'stretch', minHeight: 50 },
  handle: {
    width: 32,
    alignItems: 'center',
    justifyContent: 'center',
    cursor: 'grab',
    touchAction: 'none',
    userSelect: 'none',
  } as object,
  press: {
    flex: 1,
    flexDirection: 'row',
    alignItems: 'center',
    gap: 10,
    paddingRight: 14,
    paddingLeft: 4,
    paddingVertical: 8,
  },
  fold: { margin: 0, alignSelf: 'center' },
  number: { fontFamily: font.medium, fontSize: 16, color: colour.muted, minWidth: 18, fontVariant: ['tabular-nums'] },
  fill: { flex: 1 },
  words: { fontFamily: font.medium, fontSize: 17, lineHeight: 21, color: colour.text },
  off: { textDecorationLine: 'line-through', color: colour.muted },
  small: { fontFamily: font.regular, fontSize: 14, color: colour.muted },
  time: { fontFamily: font.semibold, fontSize: 15, color: colour.muted, fontVariant: ['tabular-nums'] },
  body: { paddingHorizontal: 14, paddingBottom: 10, gap: 10 },
  tools: {
    flexDirection: 'row',
    flexWrap: 'wrap',
    alignItems: 'center',
    justifyContent: 'flex-end',
    marginHorizontal: -8,
  },
});
