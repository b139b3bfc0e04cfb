import {
  closestCenter,
  type CollisionDetection,
  type DragEndEvent,
  type DragMoveEvent,
  type DragStartEvent,
  PointerSensor,
  pointerWithin,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { movedSteps, type StepAt } from '@umbek/core/programming';
import type { Step } from '@umbek/core/show';
import { useState } from 'react';
import { dragWords } from '../dragWords';
import { placeAt, placeText, stepLabel } from './editing';

/** The handle drags after so many CSS pixels; less is a tap. */
const DRAG_PX = 4;
/** Always the same one: with another one the drag library draws every row anew. */
const POINTER = { activationConstraint: { distance: DRAG_PX } };

const under: CollisionDetection = (args) => {
  const over = pointerWithin(args);
  return over.length > 0 ? over : closestCenter(args);
};

/** Before the row that the pointer is over, or behind it when it is in its lower half and nothing stands inside. */
function placeOf({ active, over }: DragMoveEvent | DragEndEvent): StepAt | null {
  if (over === null || over.id === active.id) return null;
  const at = placeAt(String(over.id));
  const rect = active.rect.current.translated;
  const behind = rect !== null && rect.top + rect.height / 2 > over.rect.top + over.rect.height / 2;
  return behind && over.rect.height > ROW_PX ? [...at.slice(0, -1), (at.at(-1) ?? 0) + 1] : at;
}

/** The end of a list is a thin line; a row is higher. */
const ROW_PX = 20;

/** Steps that are dragged by their handle, within a list, into another step or out of it. */
export function useStepDrag(steps: readonly Step[], onPut: (steps: readonly Step[], what: string) => void) {
  const [drop, setDrop] = useState<string | null>(null);
  const [dragged, setDragged] = useState<string | null>(null);
  const sensors = useSensors(useSensor(PointerSensor, POINTER));
  const label = (id: string | number): string => stepLabel(steps, placeAt(String(id)));
  return {
    drop,
    dragged,
    context: {
      sensors,
      accessibility: {
        screenReaderInstructions: {
          draggable:
            'Arrow keys move it: up and down in its list, left out of the step that it is in, right into the one above.',
        },
        announcements: dragWords((id) => `step ${label(id)}`),
      },
      collisionDetection: under,
      onDragStart: ({ active }: DragStartEvent) => setDragged(String(active.id)),
      onDragMove: (event: DragMoveEvent) => {
        const to = placeOf(event);
        setDrop(to === null ? null : placeText(to));
      },
      onDragCancel: () => {
        setDrop(null);
        setDragged(null);
      },
      onDragEnd: (event: DragEndEvent) => {
        const to = placeOf(event);
        setDrop(null);
        setDragged(null);
        if (to === null) return;
        onPut(movedSteps(steps, [placeAt(String(event.active.id))], to), `Move step ${label(event.active.id)}`);
      },
    },
  };
}
