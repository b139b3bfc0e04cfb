import { changed, freshSteps, insertSteps, listAt, type StepAt, type StepChoice } from '@umbek/core/programming';
import {
  type Button,
  type Change,
  listsOf,
  type Macro,
  type ShowDocument,
  type Step,
  type Trigger,
} from '@umbek/core/show';
import { stepAdded, withChoice } from './steps';

/** What a list of steps belongs to: a button, a macro or a trigger, edited and tried in the same way. */
export type StepOwner =
  | { readonly entity: 'buttons'; readonly entry: Button }
  | { readonly entity: 'macros'; readonly entry: Macro }
  | { readonly entity: 'triggers'; readonly entry: Trigger };
/** A list of steps: of a button also that of a set, by its id, or of what it does beside its press. */
export type StepLists =
  'steps' | 'releaseSteps' | 'stopSteps' | `sets.${string}` | `additions.${Button['additions'][number]['at']}`;

export const nameOf = (owner: StepOwner): string =>
  owner.entity === 'buttons' ? owner.entry.legend : owner.entry.name;

export function listOf({ entity, entry }: StepOwner, list: StepLists): readonly Step[] {
  if (entity === 'triggers') return list === 'steps' ? entry.steps : [];
  if (entity === 'macros') return list === 'steps' || list === 'stopSteps' ? entry[list] : [];
  if (list === 'steps' || list === 'releaseSteps') return entry[list];
  const [part, id] = partOf(list);
  const held = part === 'sets' ? entry.sets.find((set) => set.id === id) : entry.additions.find(({ at }) => at === id);
  return held?.steps ?? [];
}

export function listChanged({ entity, entry }: StepOwner, list: StepLists, steps: readonly Step[]): Change {
  if (entity === 'triggers') return changed('triggers', entry, 'steps', steps);
  if (entity === 'macros') return changed('macros', entry, list as 'steps', steps);
  if (list === 'steps' || list === 'releaseSteps') return changed('buttons', entry, list, steps);
  const [part, id] = partOf(list);
  if (part === 'sets')
    return changed(
      'buttons',
      entry,
      'sets',
      entry.sets.map((set) => (set.id === id ? { ...set, steps } : set)),
    );
  return changed(
    'buttons',
    entry,
    'additions',
    entry.additions.map((addition) => (addition.at === id ? { ...addition, steps } : addition)),
  );
}

const partOf = (list: StepLists): readonly [part: string, id: string] => {
  const dot = list.indexOf('.');
  return [list.slice(0, dot), list.slice(dot + 1)];
};

/** Every step of the owner: no two of its lists use one id, so that a step can be tried and timed by it. */
export const stepsOf = ({ entity, entry }: StepOwner): readonly Step[] =>
  entity === 'triggers'
    ? entry.steps
    : entity === 'macros'
      ? [...entry.steps, ...entry.stopSteps]
      : listsOf(entry).flatMap(([, steps]) => steps);

/** The owner as a show has it. */
function ownerIn(owner: StepOwner, show: ShowDocument): StepOwner {
  const { id } = owner.entry;
  switch (owner.entity) {
    case 'buttons':
      return { entity: 'buttons', entry: show.buttons.find((button) => button.id === id) ?? owner.entry };
    case 'triggers':
      return { entity: 'triggers', entry: show.triggers.find((trigger) => trigger.id === id) ?? owner.entry };
    case 'macros':
      return { entity: 'macros', entry: show.macros.find((macro) => macro.id === id) ?? owner.entry };
  }
}

/**
 * A step more, of the owner as the show has it now.
 * @param inside place of the step that it goes into, with which of its lists; left out: the list itself. It comes to the end.
 */
export function added(
  owner: StepOwner,
  list: StepLists,
  choice: StepChoice,
  show: ShowDocument,
  inside: StepAt = [],
): Change[] {
  const now = ownerIn(owner, show);
  const steps = listOf(now, list);
  if (inside.length > 0) {
    const [step] = withChoice([], choice, stepsOf(now));
    const end = listAt(steps, [...inside, 0]).length;
    return step === undefined ? [] : [listChanged(now, list, insertSteps(steps, [...inside, end], [step]))];
  }
  if (now.entity === 'buttons' && list === 'steps') return stepAdded(now.entry, choice, show, stepsOf(now));
  return [listChanged(now, list, withChoice(steps, choice, stepsOf(now)))];
}

/** Steps more at the end of a list, of the owner as the show has it now, with ids of their own. */
export function appended(
  owner: StepOwner,
  list: StepLists,
  more: readonly (Step | StepChoice['step'])[],
  show: ShowDocument,
): Change[] {
  const now = ownerIn(owner, show);
  const steps = listOf(now, list);
  const fresh = freshSteps(
    more.map((step) => ({ ...step, id: '' }) as Step),
    stepsOf(now),
  );
  return [listChanged(now, list, [...steps, ...fresh])];
}

/** How its rehearsal is asked for. */
export const rehearsed = ({
  entity,
  entry,
}: StepOwner): { buttonId: string } | { macroId: string } | { triggerId: string } =>
  entity === 'buttons' ? { buttonId: entry.id } : entity === 'macros' ? { macroId: entry.id } : { triggerId: entry.id };

/** What every form of a step is given. */
export interface StepFieldProps<Kind extends Step = Step> {
  readonly document: ShowDocument;
  readonly owner: StepOwner;
  readonly list: StepLists;
  readonly step: Kind;
  readonly onChange: (step: Step) => void;
}
