import { applyChanges, entryOf } from './apply';
import type { Change } from './edits';
import type { Button, ShowDocument, Strip } from './entities';

export { applyChanges };

/** The strip of this name is in thumb's reach from every panel, not only from its own. */
export const TAKE_STRIP = 'Take';

/** What a button does is the engine's matter: a station that shows it needs none of it. */
const UNSEEN: ReadonlySet<string> = new Set([
  'steps',
  'releaseSteps',
  'sets',
  'additions',
  'lamps',
] satisfies (keyof Button)[]);

/** @param take the take strips, whose buttons tell what they would take: they are kept whole */
const seenOnly = (button: Button, take: ReadonlySet<string>): Button =>
  take.has(button.stripId) ? button : { ...button, steps: [], releaseSteps: [], sets: [], additions: [], lamps: [] };

const takeStrips = (document: ShowDocument): Set<string> =>
  new Set(document.strips.flatMap(({ id, name }) => (name === TAKE_STRIP ? [id] : [])));

/** The strips that a station shows which shows these panels. */
export const shownStrips = (document: ShowDocument, panels: ReadonlySet<string>): Strip[] =>
  document.strips.filter((strip) => panels.has(strip.panelId) || strip.name === TAKE_STRIP);

/** Whether an edit makes something and changes it on: it is told as it was sent, which may lack what the schema adds. */
export function madeAndChangedOn(changes: readonly Change[]): boolean {
  const made = new Set(changes.flatMap(({ field, to, id }) => (field === '*' && to !== null ? [id] : [])));
  return changes.some(({ field, id }) => field !== '*' && made.has(id));
}

/** The show as a station needs it that operates these panels: their buttons alone, all but the take strip's without what they do, no macros, no people and no triggers. */
export function viewOf(document: ShowDocument, panels: ReadonlySet<string>): ShowDocument {
  const strips = new Set(shownStrips(document, panels).map(({ id }) => id));
  const take = takeStrips(document);
  return {
    ...document,
    macros: [],
    people: [],
    triggers: [],
    buttons: document.buttons.flatMap((button) => (strips.has(button.stripId) ? [seenOnly(button, take)] : [])),
  };
}

/**
 * The view after an edit of the whole show.
 * @returns null when it cannot be told from the edit alone, such as buttons that came from a panel that is not shown: it is loaded anew then
 */
export function viewAfter(
  view: ShowDocument,
  panels: ReadonlySet<string>,
  changes: readonly Change[],
): ShowDocument | null {
  const held = new Map(view.buttons.map((button) => [button.id, button]));
  const take = takeStrips(view);
  const strips = new Set(shownStrips(view, panels).map(({ id }) => id));
  // Strips that are made with their buttons in one edit.
  for (const { entity, field, to } of changes) {
    const strip = entity === 'strips' && field === '*' ? (to as Strip | null) : null;
    if (strip !== null && (panels.has(strip.panelId) || strip.name === TAKE_STRIP)) strips.add(strip.id);
    if (strip?.name === TAKE_STRIP) take.add(strip.id);
  }
  const visible: Change[] = [];
  for (const change of changes) {
    const { entity, field, id } = change;
    if (entity === 'macros' || entity === 'people' || entity === 'triggers') continue;
    // A strip that comes to be shown brings buttons along.
    if (entity === 'strips' && (field === 'panelId' || field === 'name')) return null;
    if (entity !== 'buttons') {
      visible.push(change);
      continue;
    }
    const made = field === '*' && change.to !== null ? (change.to as Button) : null;
    if (field === 'stripId' || (made !== null && change.from !== null)) return null;
    if (made !== null) {
      if (!strips.has(made.stripId)) continue;
      held.set(id, made);
      visible.push({ ...change, to: seenOnly(made, take) });
      continue;
    }
    const button = held.get(id);
    if (button === undefined || (UNSEEN.has(field) && !take.has(button.stripId))) continue;
    visible.push(field === '*' ? { ...change, from: entryOf(view, 'buttons', id) ?? null } : change);
  }
  if (madeAndChangedOn(visible)) return null;
  const after = applyChanges(view, visible);
  return after.ok ? after.value : null;
}
