import { z } from 'zod';
import { changed, made, removed } from './changes';
import { inOrder, orderBetween } from './order';
import { Button, type Change, Family, listsOf, type ShowDocument, type Step, Steps, Strip } from '../show/index';

/** Buttons that are chosen together, in the order in which the panel shows them. */
export const chosenButtons = (document: ShowDocument, ids: ReadonlySet<string>): Button[] =>
  inOrder(document.strips).flatMap((strip) =>
    inOrder(document.buttons.filter((button) => button.stripId === strip.id && ids.has(button.id))),
  );

/** One field of all of them. Those that have it already are left as they are. */
export const changedInAll = <K extends keyof Button & string>(
  buttons: readonly Button[],
  field: K,
  to: Button[K],
): Change[] => buttons.flatMap((button) => (same(button[field], to) ? [] : [changed('buttons', button, field, to)]));

const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

/** What a step does, whatever it is called and wherever it stands. */
const deedOf = (step: Step): unknown =>
  JSON.parse(JSON.stringify(step, (key, value: unknown) => (key === 'id' ? undefined : value)));

/** Every button of the show that does the same as this one. */
export function alike({ buttons }: ShowDocument, button: Button): Button[] {
  const deed = (one: Button) =>
    JSON.stringify([one.mode, one.atRelease, listsOf(one).map(([path, steps]) => [path, steps.map(deedOf)])]);
  const own = deed(button);
  return buttons.filter((one) => deed(one) === own);
}

export const removedAll = (buttons: readonly Button[]): Change[] => buttons.map((button) => removed('buttons', button));

const COPIED = 'umbek-buttons';
const MOST_COPIED = 1000;

/** Buttons as a text that can be put into another panel, another show, or a file. Strips that were copied whole come along as strips. */
export const Copied = z.strictObject({
  format: z.literal(COPIED),
  version: z.literal(1),
  strips: z
    .array(
      z.strictObject({
        /** Left out where only some of a strip's buttons were copied: they go into the strip that they are put into. */
        strip: z.strictObject({ name: Strip.shape.name, family: Family }).optional(),
        buttons: z
          .array(Button.omit({ id: true, stripId: true, order: true }).extend({ steps: Steps }))
          .max(MOST_COPIED),
      }),
    )
    .min(1)
    .max(200),
});
export type Copied = z.infer<typeof Copied>;

/** @param ids of the buttons; a strip all of whose buttons are among them is copied as a strip */
export function copiedText(document: ShowDocument, ids: ReadonlySet<string>): string {
  const strips: Copied['strips'] = [];
  for (const strip of inOrder(document.strips)) {
    const all = inOrder(document.buttons.filter((button) => button.stripId === strip.id));
    const some = all.filter(({ id }) => ids.has(id));
    if (some.length === 0) continue;
    strips.push({
      ...(some.length === all.length ? { strip: { name: strip.name, family: strip.family } } : {}),
      buttons: some.map(({ id: _id, stripId: _strip, order: _order, ...button }) => button),
    });
  }
  const copied: Copied = { format: COPIED, version: 1, strips };
  return JSON.stringify(copied, null, 1);
}

/** What a text holds, or why it is none of ours, in words. */
export function readCopied(text: string): { readonly copied: Copied } | { readonly words: string } {
  let content: unknown;
  try {
    content = JSON.parse(text);
  } catch {
    return { words: text.trim() === '' ? 'Nothing was copied.' : 'What was copied is not Umbek buttons.' };
  }
  const kind = typeof content === 'object' && content !== null ? (content as Record<string, unknown>) : {};
  if (kind.format !== COPIED) return { words: 'What was copied is not Umbek buttons.' };
  if (typeof kind.version === 'number' && kind.version > 1)
    return { words: 'These buttons were copied in a newer Umbek. Copy them from this one.' };
  const read = Copied.safeParse(content);
  if (read.success) return { copied: read.data };
  const [issue] = read.error.issues;
  return { words: `These buttons are damaged at ${issue?.path.join('.') ?? 'their beginning'}. Copy them again.` };
}

/**
 * The changes that put copied buttons into a panel: whole strips below its strips, single buttons at the end of a strip.
 * @param stripId where single buttons go; left out: into a strip of their own
 */
export function pasted(
  document: ShowDocument,
  panelId: string,
  { strips }: Copied,
  newId: () => string,
  stripId?: string,
  page = '',
): { readonly changes: Change[]; readonly buttons: string[] } {
  const changes: Change[] = [];
  const buttons: string[] = [];
  let last = inOrder(document.strips.filter((strip) => strip.panelId === panelId)).at(-1)?.order ?? null;
  const newStrip = (name: string, family: Family): string => {
    last = orderBetween(last, null);
    const strip: Strip = { id: newId(), panelId, name, family, page, order: last };
    changes.push(made('strips', strip));
    return strip.id;
  };
  let end = inOrder(document.buttons.filter((button) => button.stripId === stripId)).at(-1)?.order ?? null;
  let into = stripId;
  for (const { strip, buttons: copied } of strips) {
    const whole = strip === undefined ? undefined : newStrip(strip.name, strip.family);
    const place = whole ?? (into ??= newStrip('Copied', 'stone'));
    let order = whole === undefined ? end : null;
    for (const one of copied) {
      order = orderBetween(order, null);
      const button: Button = { ...one, id: newId(), stripId: place, order };
      buttons.push(button.id);
      changes.push(made('buttons', button));
    }
    if (whole === undefined) end = order;
  }
  return { changes, buttons };
}
