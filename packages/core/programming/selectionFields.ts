import { SELECTIONS, selectionOf } from '../engine/selections';
import type { PlainValue, ShowDocument } from '../show/index';
import { type Field, textField } from './fields';

/** Parameters that count what a selection holds, by the name that every kind gives them. */
const COUNTED: Readonly<Record<string, string>> = { destination: 'destination', layout: 'layout', box: 'place' };

/** The selection that a parameter can be taken from, with what it is called; null where none fits, or the show has nothing to choose. */
export function selectionFor(
  document: ShowDocument,
  { key, reference, type }: Field,
): { readonly cel: string; readonly words: string } | null {
  const name =
    reference === 'source' || reference === 'person'
      ? reference
      : reference === null && type === 'number' && Object.hasOwn(COUNTED, key)
        ? COUNTED[key]
        : undefined;
  const selection = name === undefined ? undefined : SELECTIONS[name];
  if (selection === undefined || selection.choices(document).length === 0) return null;
  return { cel: `chosen.${name}`, words: `the chosen ${selection.words}` };
}

/** The field of what a step chooses, by name; null where it sets something that is no selection. @param target as the step names it */
export function fieldOfChoice(document: ShowDocument, target: string): Field | null {
  const selection = selectionOf(target);
  if (selection === undefined) return null;
  const things = selection.choices(document).map(({ value, name }) => ({ key: String(value), name }));
  const title = selection.words.charAt(0).toUpperCase() + selection.words.slice(1);
  return { ...textField('to', title, things[0]?.key ?? ''), things };
}

/** What a choice from such a list puts on the board: what devices count is a number. */
export const choiceOf = (target: string, key: string): PlainValue =>
  selectionOf(target)?.type === 'number' ? Number(key) : key;
