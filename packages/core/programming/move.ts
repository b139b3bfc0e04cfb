import { changed } from './changes';
import { chosenButtons } from './chosen';
import { inOrder, orderBetween } from './order';
import type { Button, Change, ShowDocument } from '../show/index';

/**
 * The changes that put buttons into a strip, in the order in which the panel shows them.
 * @param before the button that they stand before; null: at the end
 * @returns none where they stand there already
 */
export function movedTo(
  document: ShowDocument,
  ids: ReadonlySet<string>,
  stripId: string,
  before: string | null,
): Change[] {
  const moving = chosenButtons(document, ids);
  const all = inOrder(document.buttons.filter((button) => button.stripId === stripId));
  // What moves along is no place to stand before: the next one that stays is.
  const from = all.findIndex(({ id }) => id === before);
  const stays = from < 0 ? undefined : all.slice(from).find(({ id }) => !ids.has(id));
  const rest = all.filter(({ id }) => !ids.has(id));
  const at = stays === undefined ? rest.length : rest.indexOf(stays);
  const next = [...rest.slice(0, at), ...moving, ...rest.slice(at)];
  if (next.length === all.length && next.every((button, index) => button === all[index])) return [];
  let order = rest[at - 1]?.order ?? null;
  const until = rest[at]?.order ?? null;
  return moving.flatMap((button) => {
    order = orderBetween(order, until);
    return [
      ...(button.stripId === stripId ? [] : [changed('buttons', button, 'stripId', stripId)]),
      changed('buttons', button, 'order', order),
    ];
  });
}

/** One place on, among its neighbours or to the strip above or below. @returns none at the end of the way */
export function movedBy(
  document: ShowDocument,
  ids: ReadonlySet<string>,
  way: 'left' | 'right' | 'up' | 'down',
): Change[] {
  const [first] = chosenButtons(document, ids);
  const strip = document.strips.find(({ id }) => id === first?.stripId);
  if (first === undefined || strip === undefined) return [];
  const inStrip = (id: string): Button[] => inOrder(document.buttons.filter((button) => button.stripId === id));
  const all = inStrip(strip.id);
  const before = all.slice(0, all.indexOf(first)).filter(({ id }) => !ids.has(id)).length;
  if (way === 'left' || way === 'right') {
    const rest = all.filter(({ id }) => !ids.has(id));
    if (way === 'left' ? before === 0 : before >= rest.length) return [];
    return movedTo(document, ids, strip.id, rest[way === 'left' ? before - 1 : before + 1]?.id ?? null);
  }
  const strips = inOrder(document.strips.filter(({ panelId }) => panelId === strip.panelId));
  const other = strips[strips.indexOf(strip) + (way === 'up' ? -1 : 1)];
  return other === undefined ? [] : movedTo(document, ids, other.id, inStrip(other.id)[before]?.id ?? null);
}
