import {
  type CollisionDetection,
  closestCenter,
  type DragEndEvent,
  type DragMoveEvent,
  type DragStartEvent,
  MouseSensor,
  pointerWithin,
  TouchSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { movedBy, movedTo } from '@umbek/core/programming';
import type { ShowDocument } from '@umbek/core/show';
import { useCallback, useRef, useState } from 'react';
import { useEdits } from '../show/ShowContext';
import { dragWords } from './dragWords';

/** A mouse drags after so many CSS pixels; a finger after it has rested for so long, so that a swipe still scrolls. */
const MOUSE_PX = 6;
const REST_MS = 250;
const REST_PX = 8;
/** Always the same ones: with others the drag library draws every cap anew. */
const [MOUSE, TOUCH] = [
  { activationConstraint: { distance: MOUSE_PX } },
  { activationConstraint: { delay: REST_MS, tolerance: REST_PX } },
];
/** A press that ends a drag is no tap. */
const AFTER_DRAG_MS = 300;

/** Where what is dragged would go: before a button of a strip, or to its end. */
export interface Place {
  readonly stripId: string;
  readonly before: string | null;
}

export interface CapData {
  readonly kind: 'cap';
  readonly id: string;
  readonly stripId: string;
  /** The one behind it in its strip; null for the last. */
  readonly next: string | null;
}
export interface StripData {
  readonly kind: 'strip';
  readonly stripId: string;
}

const KEYS: Readonly<Record<string, 'left' | 'right' | 'up' | 'down'>> = {
  ArrowLeft: 'left',
  ArrowRight: 'right',
  ArrowUp: 'up',
  ArrowDown: 'down',
};

/** What the pointer is over; between caps the nearest one. */
const under: CollisionDetection = (args) => {
  const over = pointerWithin(args);
  const caps = over.filter(({ data }) => (data?.droppableContainer?.data.current as { kind?: string })?.kind === 'cap');
  return caps.length > 0 ? caps : over.length > 0 ? over : closestCenter(args);
};

function placeOf({ active, over }: DragMoveEvent | DragEndEvent): Place | null {
  const data = over?.data.current as CapData | StripData | undefined;
  if (!over || !data) return null;
  if (data.kind === 'strip') return { stripId: data.stripId, before: null };
  const rect = active.rect.current.translated;
  const behind = rect !== null && rect.left + rect.width / 2 > over.rect.left + over.rect.width / 2;
  return { stripId: data.stripId, before: behind ? data.next : data.id };
}

/** Buttons of the Bench that are moved: dragged with a mouse or a finger, or one place on with Alt and the arrow keys. */
export function useMoving(document: ShowDocument, chosen: ReadonlySet<string> | null) {
  const edits = useEdits();
  const [dragged, setDragged] = useState<string | null>(null);
  const [place, setPlace] = useState<Place | null>(null);
  const ended = useRef(0);
  const sensors = useSensors(useSensor(MouseSensor, MOUSE), useSensor(TouchSensor, TOUCH));
  const idsWith = (id: string): ReadonlySet<string> => (chosen?.has(id) === true ? chosen : new Set([id]));
  const words = (ids: ReadonlySet<string>): string => {
    const [only] = ids;
    return ids.size === 1
      ? (document.buttons.find(({ id }) => id === only)?.legend ?? '1 button')
      : `${ids.size} buttons`;
  };
  const end = (): void => {
    ended.current = performance.now();
    setDragged(null);
    setPlace(null);
  };
  const move = useRef<(id: string, way: 'left' | 'right' | 'up' | 'down') => void>(() => undefined);
  move.current = (id, way) => {
    const ids = idsWith(id);
    const changes = movedBy(document, ids, way);
    if (changes.length > 0) edits.edit(`Move ${words(ids)}`, changes);
  };
  /** Takes a key that moves what has the focus; always the same function. @returns whether it was one */
  const key = useCallback((id: string, event: KeyboardEvent): boolean => {
    const way = event.altKey ? KEYS[event.key] : undefined;
    if (way !== undefined) move.current(id, way);
    return way !== undefined;
  }, []);
  return {
    /** The button under the finger; null while none is dragged. */
    dragged,
    place,
    moves: dragged === null ? 0 : idsWith(dragged).size,
    /** Whether a tap is the end of a drag. */
    justDragged: () => performance.now() - ended.current < AFTER_DRAG_MS,
    key,
    context: {
      sensors,
      accessibility: {
        screenReaderInstructions: { draggable: 'Alt and the arrow keys move it.' },
        announcements: dragWords((id) => words(idsWith(id))),
      },
      collisionDetection: under,
      onDragStart: ({ active }: DragStartEvent) => setDragged(String(active.id)),
      onDragMove: (event: DragMoveEvent) => {
        const next = placeOf(event);
        setPlace((now) => (now?.before === next?.before && now?.stripId === next?.stripId ? now : next));
      },
      onDragCancel: end,
      onDragEnd: (event: DragEndEvent) => {
        const to = placeOf(event);
        const ids = idsWith(String(event.active.id));
        end();
        const changes = to === null ? [] : movedTo(document, ids, to.stripId, to.before);
        if (changes.length > 0) edits.edit(`Move ${words(ids)}`, changes);
      },
    },
  };
}
