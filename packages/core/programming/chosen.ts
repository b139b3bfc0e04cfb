import { z } from 'zod';
import { changed, made, removed } from './changes';
import { broughtAlong, type Match, namedHere, Needs, needsOf } from './exchange/index';
import { newPanel } from './newEntries';
import { inOrder, orderBetween } from './order';
import {
  Button,
  type Change,
  Family,
  listsOf,
  Page,
  Panel,
  type ShowDocument,
  type Step,
  Steps,
  Strip,
} from '../show/index';

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
  const deed = (item: Button) =>
    JSON.stringify([item.mode, item.atRelease, listsOf(item).map(([path, steps]) => [path, steps.map(deedOf)])]);
  const own = deed(button);
  return buttons.filter((candidate) => deed(candidate) === own);
}

export const removedAll = (buttons: readonly Button[]): Change[] => buttons.map((button) => removed('buttons', button));

const COPIED = 'umbek-buttons';
/** Since 2 they say what they need. */
const COPIED_VERSION = 2;
const MOST_COPIED = 1000;

/** Buttons as a text that can be put into another panel, another show, or a file. Strips that were copied whole come along as strips. */
/** Also a strip or a whole panel as a file. */
export const Copied = z.strictObject({
  format: z.literal(COPIED),
  version: z.union([z.literal(1), z.literal(COPIED_VERSION)]),
  /** Left out where no whole panel was saved. */
  panel: z
    .strictObject({
      name: Panel.shape.name,
      /** Pages, and by their numbers from 0 the strips that each is shown without. */
      pages: z
        .array(
          Page.omit({ covers: true }).extend({
            covers: z.array(z.number().int().min(0).max(200)).max(200).default([]),
          }),
        )
        .max(60)
        .default([]),
    })
    .optional(),
  /** What they name, for a show that may have it otherwise. Left out by texts of an earlier Umbek. */
  needs: Needs.optional(),
  strips: z
    .array(
      z.strictObject({
        /** Left out where only some of a strip's buttons were copied: they go into the strip that they are put into. */
        strip: z.strictObject({ name: Strip.shape.name, family: Family, page: Strip.shape.page.optional() }).optional(),
        buttons: z
          .array(Button.omit({ id: true, stripId: true, order: true }).extend({ steps: Steps }))
          .max(MOST_COPIED),
      }),
    )
    .min(1)
    .max(200),
});
export type Copied = z.infer<typeof Copied>;

/** The text of `copiedOf`, as it goes to the clipboard. */
export const copiedText = (document: ShowDocument, ids: ReadonlySet<string>): string =>
  JSON.stringify(copiedOf(document, ids), null, 1);

/** A panel, or some of its strips, as a file: empty strips come along as well. @param only ids of strips; left out: the panel as a whole */
export function panelFile(document: ShowDocument, panel: Panel, only?: ReadonlySet<string>): Copied {
  const strips = inOrder(document.strips).filter(
    ({ id, panelId }) => panelId === panel.id && (only === undefined || only.has(id)),
  );
  const parts = strips.map(({ id, name, family, page }) => ({
    strip: { name, family, page },
    buttons: inOrder(document.buttons.filter(({ stripId }) => stripId === id)).map(bare),
  }));
  const number = new Map(strips.map(({ id }, at) => [id, at]));
  const pages = panel.pages.map(({ covers, ...page }) => ({
    ...page,
    covers: covers.flatMap((id) => number.get(id) ?? []),
  }));
  return {
    format: COPIED,
    version: COPIED_VERSION,
    ...(only === undefined ? { panel: { name: panel.name, pages } } : {}),
    needs: needsOf(
      document,
      parts.flatMap(({ buttons }) => buttons),
    ),
    strips: parts,
  };
}

const bare = ({
  id: _id,
  stripId: _strip,
  order: _order,
  ...button
}: Button): Omit<Button, 'id' | 'stripId' | 'order'> => button;

/** @param ids of the buttons; a strip all of whose buttons are among them is copied as a strip */
export function copiedOf(document: ShowDocument, ids: ReadonlySet<string>): Copied {
  const strips: Copied['strips'] = [];
  for (const strip of inOrder(document.strips)) {
    const all = inOrder(document.buttons.filter((button) => button.stripId === strip.id));
    const some = all.filter(({ id }) => ids.has(id));
    if (some.length === 0) continue;
    strips.push({
      ...(some.length === all.length ? { strip: { name: strip.name, family: strip.family } } : {}),
      buttons: some.map(bare),
    });
  }
  const needs = needsOf(
    document,
    strips.flatMap(({ buttons }) => buttons),
  );
  return { format: COPIED, version: COPIED_VERSION, needs, strips };
}

/** What is said of a text that is none of ours, by where it came from. */
const READ_WORDS = {
  clipboard: {
    none: 'What was copied is not Umbek buttons.',
    empty: 'Nothing was copied.',
    newer: 'These buttons were copied in a newer Umbek. Copy them from this one.',
    damaged: (where: string) => `These buttons are damaged at ${where}. Copy them again.`,
  },
  file: {
    none: 'The file holds no Umbek buttons, strips or panel.',
    empty: 'The file is empty.',
    newer: 'The file comes from a newer Umbek. Save it from this one.',
    damaged: (where: string) => `The file is damaged at ${where}. Save it again.`,
  },
} as const;

/** What a text holds, or why it is none of ours, in words. */
export function readCopied(
  text: string,
  from: keyof typeof READ_WORDS = 'clipboard',
): { readonly copied: Copied } | { readonly words: string } {
  const say = READ_WORDS[from];
  let content: unknown;
  try {
    content = JSON.parse(text);
  } catch {
    return { words: text.trim() === '' ? say.empty : say.none };
  }
  const kind = typeof content === 'object' && content !== null ? (content as Record<string, unknown>) : {};
  if (kind.format === 'umbek-show') return { words: 'This is a whole show. Import it in the Rig, under Show.' };
  if (kind.format !== COPIED) return { words: say.none };
  if (typeof kind.version === 'number' && kind.version > COPIED_VERSION) return { words: say.newer };
  try {
    const read = Copied.safeParse(content);
    if (read.success) return { copied: read.data };
    const [issue] = read.error.issues;
    return { words: say.damaged(issue?.path.join('.') ?? 'its beginning') };
  } catch {
    // Steps inside steps without an end.
    return { words: say.damaged('its steps, which are nested too deep') };
  }
}

/**
 * The changes that put copied buttons into a panel: whole strips below its strips, single buttons at the end of a strip.
 * @param stripId where single buttons go; left out: into a strip of their own
 * @param page that whole strips come to stand on
 * @param matches what stands here for what they name; left out: they name it as they did
 */
export function pasted(
  document: ShowDocument,
  panelId: string,
  { strips, needs }: Copied,
  newId: () => string,
  stripId?: string,
  page = '',
  matches: readonly Match[] = [],
): { readonly changes: Change[]; readonly buttons: string[] } {
  const brought = needs === undefined ? null : broughtAlong(document, needs, matches, newId);
  const changes: Change[] = brought === null ? [] : [...brought.changes];
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
    for (const item of copied) {
      order = orderBetween(order, null);
      const button: Button = {
        ...(brought === null ? item : namedHere(item, brought)),
        id: newId(),
        stripId: place,
        order,
      };
      buttons.push(button.id);
      changes.push(made('buttons', button));
    }
    if (whole === undefined) end = order;
  }
  return { changes, buttons };
}

/** The changes that make a panel of a file, under the name that it had. */
export function panelFromFile(
  document: ShowDocument,
  copied: Copied,
  newId: () => string,
  matches: readonly Match[],
): { readonly changes: Change[]; readonly panelId: string } {
  const own: Panel = {
    ...newPanel(document, newId()),
    ...(copied.panel === undefined ? {} : { name: copied.panel.name }),
  };
  const { changes } = pasted(document, own.id, copied, newId, undefined, '', matches);
  const strips = changes.flatMap(({ entity, to }) => (entity === 'strips' ? [to as Strip] : []));
  const wanted = copied.strips.flatMap(({ strip }) => (strip === undefined ? [] : [strip.page ?? '']));
  const pages = (copied.panel?.pages ?? []).map(({ covers, ...page }) => ({
    ...page,
    covers: covers.flatMap((at) => strips[at]?.id ?? []),
  }));
  const known = new Set(pages.map(({ id }) => id));
  const placed = changes.map((change) => {
    const at = change.entity === 'strips' ? strips.indexOf(change.to as Strip) : -1;
    const page = wanted[at] ?? '';
    return at < 0 || !known.has(page) ? change : { ...change, to: { ...(change.to as Strip), page } };
  });
  return { changes: [made('panels', { ...own, pages }), ...placed], panelId: own.id };
}
