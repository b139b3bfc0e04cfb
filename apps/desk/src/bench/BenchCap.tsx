import { useDraggable, useDroppable } from '@dnd-kit/core';
import type { Button as ButtonData, Strip as StripData } from '@umbek/core/show';
import { memo, useEffect, useRef } from 'react';
import { Pressable, StyleSheet, Text } from 'react-native';
import { CapFace } from '../caps/CapFace';
import { spokenLegend } from '../caps/legend';
import { CapPicture } from '../caps/CapPicture';
import type { LampKind } from '../caps/Lamp';
import { listen } from '../live/listen';
import { useFace } from '../live/LiveContext';
import { useShow } from '../show/ShowContext';
import { colour, families, font } from '../theme/tokens';
import type { CapData, useMoving } from './useMoving';

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
  moving,
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
  readonly moving: ReturnType<typeof useMoving>;
  /** @param range the Shift key was down: all from the last one to this */
  readonly onPress: (range: boolean) => void;
}) {
  const data: CapData = { kind: 'cap', id: button.id, stripId: strip.id, next };
  const { setNodeRef: dragRef, listeners, isDragging } = useDraggable({ id: button.id });
  const { setNodeRef: dropRef } = useDroppable({ id: `cap/${button.id}`, data });
  const element = useRef<HTMLElement | null>(null);
  const latest = useRef({ listeners, key: moving.key });
  latest.current = { listeners, key: moving.key };
  useEffect(() => {
    const { current } = element;
    if (current === null) return undefined;
    // The drag library's handlers take React's events, of which they read the native one.
    const begin = (name: 'onMouseDown' | 'onTouchStart') => (nativeEvent: Event) =>
      (latest.current.listeners?.[name] as ((event: { nativeEvent: Event }) => void) | undefined)?.({ nativeEvent });
    return listen(current, {
      mousedown: begin('onMouseDown'),
      touchstart: begin('onTouchStart'),
      keydown: (event: KeyboardEvent) => {
        if (latest.current.key(button.id, event)) event.preventDefault();
      },
    });
  }, [button.id]);
  const choose = (node: unknown): void => {
    element.current = node as HTMLElement | null;
    dragRef(element.current);
    dropRef(element.current);
  };
  const place = moving.place?.stripId === strip.id ? moving.place.before : undefined;
  // As the operator sees it: lamp, live text and all.
  const face = useFace(button.id);
  const sayingOf =
    become !== undefined
      ? become.note
      : button.steps.length === 0
        ? 'does nothing yet'
        : face?.away === true
          ? 'not there now'
          : button.note.includes('{{')
            ? (face?.note ?? 'live text')
            : button.note;
  return (
    <Pressable
      role="button"
      accessibilityLabel={`${choosing ? 'Choose' : 'Edit'} ${spokenLegend(button.legend, face?.legend)}`}
      {...(other === undefined ? {} : { 'aria-description': `${other} has it selected` })}
      aria-pressed={chosen}
      ref={choose as never}
      onPress={(event) => onPress((event.nativeEvent as unknown as MouseEvent).shiftKey === true)}
      testID={`edit-${button.id}`}
      style={[
        styles.cap,
        other !== undefined && styles.other,
        chosen && styles.chosen,
        become !== undefined && styles.planned,
        isDragging && styles.gone,
        place === button.id && styles.before,
      ]}
    >
      <CapFace
        legend={become?.legend ?? (button.legend === '' ? '(no legend)' : (face?.legend ?? button.legend))}
        icon={button.icon}
        {...(button.picture === '' ? {} : { picture: <BenchPicture picture={button.picture} /> })}
        second={sayingOf}
        telling={button.steps.length === 0}
        lamp={(face?.sign ?? null) as LampKind}
        lost={face?.lost === true}
        family={button.family ?? strip.family}
      />
      {other === undefined ? null : (
        <Text numberOfLines={1} style={styles.who} testID={`other-${button.id}`}>
          {other}
        </Text>
      )}
    </Pressable>
  );
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
