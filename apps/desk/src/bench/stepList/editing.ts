import type { StepAt } from '@umbek/core/programming';
import { childrenOf, type ShowDocument, type Step } from '@umbek/core/show';
import { createContext, useContext } from 'react';
import type { StepLists, StepOwner } from '../owner';

/** When a step begins and ends, milliseconds from the press. */
export interface StepTime {
  readonly start: number;
  readonly end: number;
}

/** A list of steps while somebody works at it: shared by its rows, however deep they stand. */
export interface StepEditing {
  readonly document: ShowDocument;
  readonly owner: StepOwner;
  readonly list: StepLists;
  readonly steps: readonly Step[];
  /** As rehearsed, by place. */
  readonly times: ReadonlyMap<string, StepTime>;
  /** Place of the row that shows what stands in it; null for none. */
  readonly open: string | null;
  readonly onOpen: (place: string) => void;
  /** Places of the chosen ones; null while none are being chosen. */
  readonly chosen: ReadonlySet<string> | null;
  readonly onChoose: (place: string) => void;
  /** Where a run that is stepped through has got to; null for none. */
  readonly running: string | null;
  /** So many steps that none is dragged: keys and the buttons of a step move them. Thousands of places to drop on would slow every touch. */
  readonly many: boolean;
  /** Place of what is dragged; null while nothing is. */
  readonly dragged: string | null;
  /** Where what is dragged would go; null while nothing is. */
  readonly drop: string | null;
  readonly onPut: (steps: readonly Step[], what: string) => void;
  /** Asks which step is to come to the end of a list inside. @param inside place of the step, with the number of its list */
  readonly onAdd: (inside: StepAt) => void;
}

export const StepEditingContext = createContext<StepEditing | null>(null);

export function useStepEditing(): StepEditing {
  const editing = useContext(StepEditingContext);
  if (editing === null) throw new Error('A list of steps is missing above this row.');
  return editing;
}

export const placeText = (at: StepAt): string => at.join('.');
export const placeAt = (text: string): StepAt => text.split('.').map(Number);

/** What an inner list may look like when it is read: "3.2" is the second step inside the third; what is done otherwise counts on. */
export function stepLabel(steps: readonly Step[], at: StepAt): string {
  const [index = 0, branch, ...rest] = at;
  if (branch === undefined) return String(index + 1);
  const step = steps[index];
  const lists = step === undefined ? [] : childrenOf(step);
  const before = lists.slice(0, branch).reduce((count, list) => count + list.length, 0);
  const inner = lists[branch] ?? [];
  const [first = 0, ...deeper] = rest;
  return deeper.length === 0
    ? `${index + 1}.${before + first + 1}`
    : `${index + 1}.${shifted(stepLabel(inner, rest), before)}`;
}

/** The first number of a label, counted on. */
const shifted = (label: string, by: number): string => label.replace(/^\d+/, (first) => String(Number(first) + by));
