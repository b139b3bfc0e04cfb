import { changed, type StepChoice } from '@umbek/core/programming';
import type { Button, Change, Macro, ShowDocument, Step } from '@umbek/core/show';
import { stepAdded, withChoice } from './steps';

/** What a list of steps belongs to: a button or a macro, edited and tried in the same way. */
export type StepOwner =
  { readonly entity: 'buttons'; readonly entry: Button } | { readonly entity: 'macros'; readonly entry: Macro };
export type StepLists = 'steps' | 'releaseSteps' | 'stopSteps';

export const nameOf = (owner: StepOwner): string =>
  owner.entity === 'buttons' ? owner.entry.legend : owner.entry.name;

export const listOf = (owner: StepOwner, list: StepLists): readonly Step[] =>
  owner.entity === 'buttons'
    ? list === 'stopSteps'
      ? []
      : owner.entry[list]
    : list === 'releaseSteps'
      ? []
      : owner.entry[list];

export const listChanged = (owner: StepOwner, list: StepLists, steps: readonly Step[]): Change =>
  owner.entity === 'buttons'
    ? changed('buttons', owner.entry, list as 'steps', steps)
    : changed('macros', owner.entry, list as 'steps', steps);

/** A step more at the end of a list, of the owner as the show has it now. */
export function added(owner: StepOwner, list: StepLists, choice: StepChoice, show: ShowDocument): Change[] {
  const { id } = owner.entry;
  if (owner.entity === 'buttons') {
    const now = show.buttons.find((one) => one.id === id) ?? owner.entry;
    return stepAdded(now, list === 'releaseSteps' ? list : 'steps', choice, show);
  }
  const entry = show.macros.find((one) => one.id === id) ?? owner.entry;
  return [changed('macros', entry, list as 'steps', withChoice(listOf({ entity: 'macros', entry }, list), choice))];
}

/** How its rehearsal is asked for. */
export const rehearsed = ({ entity, entry }: StepOwner): { buttonId: string } | { macroId: string } =>
  entity === 'buttons' ? { buttonId: entry.id } : { macroId: entry.id };
