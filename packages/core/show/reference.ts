import { z } from 'zod';
import { entriesOf } from './apply';
import { Change } from './edits';
import type { ShowDocument } from './entities';
import { childrenOf, type Step } from './step';

/**
 * A place in a show. One type for what an edit changes, what a conflict is about, where something is used or does not hold together, and for
 * addresses of the page.
 */
export const Reference = z.strictObject({
  entity: Change.shape.entity,
  id: z.string(),
  /** Ids of the steps that lead there, the outermost first, then the field; empty for the whole entry. */
  path: z.array(z.string()).default([]),
});
export type Reference = z.infer<typeof Reference>;

/** The place that a change is made at. */
export const referenceOfChange = ({ entity, id, field }: Pick<Change, 'entity' | 'id' | 'field'>): Reference => ({
  entity,
  id,
  path: field === '*' ? [] : [field],
});

/** The steps that lead to one that answers to `found`, the outermost first; null when none does. */
export function stepPathTo(steps: readonly Step[], found: (step: Step) => boolean): string[] | null {
  for (const step of steps) {
    if (found(step)) return [step.id];
    for (const list of childrenOf(step)) {
      const inner = stepPathTo(list, found);
      if (inner !== null) return [step.id, ...inner];
    }
  }
  return null;
}

/**
 * The place that a path by numbers stands for, such as `buttons.3.steps.0.params.position` in what a schema or a check tells. Null when the show
 * has no such place.
 */
export function referenceAt(document: ShowDocument, path: string): Reference | null {
  const [list = '', at = '', ...rest] = path.split('.');
  const entity = Change.shape.entity.safeParse(list);
  if (!entity.success) return null;
  const entry = entity.data === 'show' ? document.show : entriesOf(document, entity.data)[Number(at)];
  if (entry === undefined) return null;
  const ids: string[] = [];
  let value: unknown = entry;
  let field = '';
  for (const name of entity.data === 'show' ? [at, ...rest] : rest) {
    value = typeof value === 'object' && value !== null ? (value as Record<string, unknown>)[name] : undefined;
    if (isStep(value)) {
      ids.push(value.id);
      field = '';
    } else if (field === '' && !STEP_LISTS.has(name)) field = name;
  }
  return { entity: entity.data, id: entry.id, path: field === '' ? ids : [...ids, field] };
}

const STEP_LISTS: ReadonlySet<string> = new Set(['steps', 'releaseSteps', 'stopSteps', 'otherwise']);
const isStep = (value: unknown): value is Step =>
  typeof value === 'object' && value !== null && 'kind' in value && 'id' in value;
