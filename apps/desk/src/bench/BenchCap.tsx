import { useDraggable, useDroppable } from '@dnd-kit/core';
import type { Button as ButtonData, Strip as StripData } from '@umbek/core/show';
import { memo, useCallback, useEffect, useMemo, useRef } from 'react';
import { Pressable, StyleSheet, Text } from 'react-native';
import { CapFace, FamilyHere } from '../caps/CapFace';
import { spokenLegend } from '../caps/legend';
import { CapPicture } from '../caps/CapPicture';
import type { LampKind } from '../caps/Lamp';
import { listen } from '../live/listen';
import { useFace } from '../live/LiveContext';
import { useShow } from '../show/ShowContext';
import { colour, families, font } from '../theme/tokens';
import type { CapData } from './useMoving';

/** Only a cap that has one follows the show for it. */
function BenchPicture({ picture }: { readonly picture: string }) {
  const document = useShow();
  return document === null ? null : <CapPicture picture={picture} document={document} />;
}

/** A cap to be edited: it does nothing but open. */
export const BenchCap = memo(function BenchCap({
  button,
  strip,
  chosen,
  choosing,
  other,
  become,
  next,
  before,
  onKey,
  onPress,
}: {
  readonly button: ButtonData;
  readonly strip: StripData;
  readonly chosen: boolean;
  /** Several are being chosen: a touch takes it in or leaves it out. */
  readonly choosing: boolean;
  /** Who else has it selected. */
  readonly other: string | undefined;
  /** What it would say after a count. */
  readonly become: Pick<ButtonData, 'legend' | 'note'> | undefined;
  /** The one behind it in its strip; null for the last. */
  readonly next: string | null;
  /** What is dragged would stand before it. */
  readonly before: boolean;
  /** Stays the same function, as `onPress` does: a cap is drawn anew only when something of its own changed. @returns whether the key moved it */
  readonly onKey: (id: string, event: KeyboardEvent) => boolean;
  /** @param range the Shift key was down: all from the last one to this */
  readonly onPress: (id: string, range: boolean) => void;
}) {
  const data: CapData = { kind: 'cap', id: button.id, stripId: strip.id, next };
  const { setNodeRef: dragRef, listeners, isDragging } = useDraggable({ id: button.id });
  const { setNodeRef: dropRef } = useDroppable({ id: `cap/${button.id}`, data });
  const element = useRef<HTMLElement | null>(null);
  const latest = useRef(listeners);
  latest.current = listeners;
  useEffect(() => {
    const { current } = element;
    if (current === null) return undefined;
    // The drag library's handlers take React's events, of which they read the native one.
    const begin = (name: 'onMouseDown' | 'onTouchStart') => (nativeEvent: Event) =>
      (latest.current?.[name] as ((event: { nativeEvent: Event }) => void) | undefined)?.({ nativeEvent });
    return listen(current, {
      mousedown: begin('onMouseDown'),
      touchstart: begin('onTouchStart'),
      keydown: (event: KeyboardEvent) => {
        if (onKey(button.id, event)) event.preventDefault();
      },
    });
  }, [button.id, onKey]);
  const choose = useCallback(
    (node: unknown): void => {
      element.current = node as HTMLElement | null;
      dragRef(element.current);
      dropRef(element.current);
    },
    [dragRef, dropRef],
  );
  // As the operator sees it: lamp, live text and all.
  const face = useFace(button.id);
  const second =
    become !== undefined
      ? become.note
      : button.steps.length === 0
        ? 'does nothing yet'
        : face?.away === true
          ? 'not there now'
          : button.note.includes('{{')
            ? (face?.note ?? 'live text')
            : button.note;
  const { id, legend, icon, picture } = button;
  const idle = button.steps.length === 0;
  // Whatever changed only its colour draws its foot and nothing else: a hundred at once are on the other pages sooner.
  const cap = useMemo(
    () => (
      <Pressable
        role="button"
        accessibilityLabel={`${choosing ? 'Choose' : 'Edit'} ${spokenLegend(legend, face?.legend)}`}
        {...(other === undefined ? {} : { 'aria-description': `${other} has it selected` })}
        aria-pressed={chosen}
        ref={choose as never}
        onPress={(event) => onPress(id, (event.nativeEvent as unknown as MouseEvent).shiftKey === true)}
        testID={`edit-${id}`}
        style={[
          styles.cap,
          other !== undefined && styles.other,
          chosen && styles.chosen,
          become !== undefined && styles.planned,
          isDragging && styles.gone,
          before && styles.before,
        ]}
      >
        <CapFace
          legend={become?.legend ?? (legend === '' ? '(no legend)' : (face?.legend ?? legend))}
          icon={icon}
          {...(picture === '' ? {} : { picture: <BenchPicture picture={picture} /> })}
          second={second}
          telling={idle}
          lamp={(face?.sign ?? null) as LampKind}
          lost={face?.lost === true}
        />
        {other === undefined ? null : (
          <Text numberOfLines={1} style={styles.who} testID={`other-${id}`}>
            {other}
          </Text>
        )}
      </Pressable>
    ),
    [
      id,
      legend,
      icon,
      picture,
      idle,
      second,
      face,
      chosen,
      choosing,
      other,
      become,
      isDragging,
      before,
      choose,
      onPress,
    ],
  );
  return <FamilyHere.Provider value={button.family ?? strip.family}>{cap}</FamilyHere.Provider>;
});

const styles = StyleSheet.create({
  cap: { flex: 1, minWidth: 0, flexDirection: 'row', borderRadius: 5 },
  // Somebody else is at it.
  other: { outlineWidth: 2, outlineStyle: 'dotted', outlineColor: families.lagoon, outlineOffset: 2 },
  who: {
    position: 'absolute',
    top: -7,
    right: 4,
    maxWidth: '80%',
    paddingHorizontal: 5,
    borderRadius: 3,
    backgroundColor: families.lagoon,
    fontFamily: font.semibold,
    fontSize: 12,
    lineHeight: 15,
    color: colour.legend,
  },
  chosen: { boxShadow: `0 0 0 2px ${colour.ground}, 0 0 0 5px ${colour.text}` },
  planned: {
    outlineWidth: 1,
    outlineStyle: 'dashed',
    outlineColor: colour.warning,
    outlineOffset: 1,
    opacity: 0.66,
  },
  gone: { opacity: 0.35 },
  // What is dragged would stand before this one.
  before: { boxShadow: `-5px 0 0 0 ${colour.warning}` },
});
