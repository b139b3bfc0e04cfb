import { changed, made } from '../changes';
import { inOrder, orderBetween } from '../order';
import type { Button, Change, ShowDocument, Strip } from '../../show/index';
import type { ButtonPlan } from '../strips/plan';
import { MOST_COUNTED, seriesOf } from './series';
import { type Slot, slotsOf } from './slots';
import { swapped, swappedName } from './swap';

export { MOST_COUNTED } from './series';

/** More buttons than this in one go are a slip of the finger; the first ones count along. */
export const MOST_BUTTONS = 1000;

/** What can count in buttons that are filled on from. */
export interface Counter {
  readonly key: string;
  /** What counts: "Source", "Output". */
  readonly words: string;
  /** What the first button has of it. */
  readonly now: string;
  /** Steps after which the copies of these buttons do not overlap with them. */
  readonly step: number;
  /** So many times these buttons can be followed by others at that step. */
  readonly most: number;
}

/** How buttons are filled on. */
export interface CountPlan {
  /** Keys of what counts from button to button: one or several, together. */
  readonly across: readonly string[];
  /** How far it counts each time, 1 or more. */
  readonly step: number;
  /** So many times the buttons are followed by others, 0 to `MOST_COUNTED`. */
  readonly more: number;
  /** What counts from strip to strip; null for no more strips. */
  readonly down: string | null;
  /** So many strips follow. */
  readonly strips: number;
  /** Colours: as their sources have in the Rig, or as the first buttons have. */
  readonly colour: 'source' | 'same';
}

/** What a count would make, seen before it is made. */
export interface Counted {
  /** Buttons that follow in the strip. */
  readonly across: readonly ButtonPlan[];
  readonly strips: readonly { readonly name: string; readonly buttons: readonly ButtonPlan[] }[];
  /** Why it makes fewer than asked for; null when it does not. */
  readonly end: string | null;
}

/** The slots of one button under keys that the same slots of its neighbours have too. */
function keyed(button: Button, document: ShowDocument): Map<string, Slot> {
  const found = new Map<string, Slot>();
  for (const slot of slotsOf(button, document)) {
    const base = slot.kind === 'number' ? `number.${slot.of.param}` : slot.kind;
    let key = base;
    for (let again = 2; found.has(key); again += 1) key = `${base}.${again}`;
    found.set(key, slot);
  }
  return found;
}

/** What people count by most stands first. A button that recalls goes to the camera's next position: its source alone would no longer be its camera. */
const RANK: Readonly<Record<Slot['kind'], number>> = {
  position: 0,
  person: 0,
  source: 1,
  reframe: 2,
  number: 3,
  text: 4,
  device: 5,
};

/** What of these buttons can count: what every one of them has. */
export function countersOf(document: ShowDocument, buttons: readonly Button[]): Counter[] {
  const [first, ...others] = buttons.map((button) => keyed(button, document));
  if (first === undefined) return [];
  const slots = [...first].sort(([, a], [, b]) => RANK[a.kind] - RANK[b.kind]);
  return slots.flatMap(([key, slot]) => {
    const all = [slot, ...others.map((other) => other.get(key))];
    const series = all.flatMap((item) => (item === undefined ? [] : (seriesOf(item, document) ?? [])));
    const [own] = series;
    if (own === undefined || own.all === 1 || series.length < buttons.length) return [];
    const step = new Set(all.map((item) => item?.value)).size;
    const most = Math.min(MOST_COUNTED, Math.floor(Math.min(...series.map(({ room }) => room)) / step));
    return [{ key, words: slot.words, now: own.onward(0)?.name ?? '', step, most }];
  });
}

const GONE = 'What it names is no longer in the show.';

const planOf = ({ id: _id, stripId: _strip, order: _order, ...button }: Button): ButtonPlan => button;

/** One button, so many steps further in each of these counters. @returns the button, or why the rig ends before */
function further(
  document: ShowDocument,
  button: Button,
  keys: readonly string[],
  by: number,
  from: ButtonPlan = planOf(button),
): ButtonPlan | string {
  const slots = keyed(button, document);
  let next = from;
  for (const key of keys) {
    const slot = slots.get(key);
    if (slot === undefined) continue;
    const series = seriesOf(slot, document);
    const to = series?.onward(by);
    if (to === undefined) return series?.end ?? GONE;
    next = swapped(next, slot, to.value, document);
    if (slot.kind !== 'device') continue;
    const along = withCamera(document, next, slot.value, String(to.value));
    if (typeof along === 'string') return along;
    next = along;
  }
  return next;
}

/** A button that has gone to another camera recalls that camera's position of the same name, and shows that camera's source. */
function withCamera(document: ShowDocument, button: ButtonPlan, from: string, to: string): ButtonPlan | string {
  const name = document.devices.find(({ key }) => key === to)?.name ?? to;
  let next = button;
  for (const slot of slotsOf(button, document)) {
    if (slot.kind === 'position') {
      const own = document.positions.find((position) => position.key === slot.value && position.camera === from);
      if (own === undefined) continue;
      const other = document.positions.find((position) => position.camera === to && position.name === own.name);
      if (other === undefined) return `${name} has no position called ${own.name}.`;
      next = swapped(next, slot, other.key, document);
    } else if (slot.kind === 'source') {
      const own = document.sources.find((source) => source.key === slot.value && source.camera === from);
      if (own === undefined) continue;
      const other = document.sources.find((source) => source.camera === to);
      if (other === undefined) return `${name} is no source of the switcher.`;
      next = swapped(next, slot, other.key, document);
    }
  }
  return next;
}

function coloured(
  document: ShowDocument,
  button: ButtonPlan,
  original: Button,
  colour: CountPlan['colour'],
): ButtonPlan {
  if (colour === 'same') return button;
  const [slot] = slotsOf(button, document).filter(({ kind }) => kind === 'source');
  const source = document.sources.find(({ key }) => key === slot?.value);
  if (source === undefined) return button;
  const strip = document.strips.find(({ id }) => id === original.stripId);
  return { ...button, family: source.family === strip?.family ? null : source.family };
}

/** What a count makes, in the order in which it stands. Beyond the end of the rig it makes what there is, and says so. */
export function counted(document: ShowDocument, buttons: readonly Button[], plan: CountPlan): Counted {
  let end: string | null = null;
  let room = MOST_BUTTONS;
  const row = (count: number, down: number): ButtonPlan[] => {
    const made: ButtonPlan[] = [];
    for (let at = 0; at <= count; at += 1) {
      if (room < buttons.length) {
        end = `At most ${MOST_BUTTONS} buttons are made in one go.`;
        break;
      }
      const group = buttons.map((button): ButtonPlan | string => {
        const below = plan.down === null || down === 0 ? planOf(button) : further(document, button, [plan.down], down);
        return typeof below === 'string' ? below : further(document, button, plan.across, at * plan.step, below);
      });
      const why = group.find((candidate) => typeof candidate === 'string');
      if (why !== undefined) {
        end = why;
        break;
      }
      room -= group.length;
      group.forEach((item, index) => {
        const original = buttons[index];
        if (typeof item !== 'string' && original) made.push(coloured(document, item, original, plan.colour));
      });
    }
    return made;
  };
  const more = Math.min(MOST_COUNTED, Math.max(0, plan.more));
  const across = plan.across.length === 0 ? [] : row(more, 0).slice(buttons.length);
  const strips: { name: string; buttons: ButtonPlan[] }[] = [];
  const [first] = buttons;
  const slot = first && plan.down !== null ? keyed(first, document).get(plan.down) : undefined;
  for (let down = 1; slot !== undefined && down <= Math.min(MOST_COUNTED, plan.strips); down += 1) {
    const series = seriesOf(slot, document);
    const to = series?.onward(down);
    const made = to === undefined ? [] : row(plan.across.length === 0 ? 0 : across.length / buttons.length, down);
    if (to === undefined) end = series?.end ?? GONE;
    if (made.length === 0 || to === undefined) break;
    const name = document.strips.find(({ id }) => id === first?.stripId)?.name ?? '';
    const next = swappedName(name, slot, to.value, document);
    strips.push({ name: next === name ? `${name} ${down + 1}`.slice(0, 120) : next, buttons: made });
  }
  return { across, strips, end };
}

/** The changes that make what a count shows: behind its buttons, and in strips below theirs. */
export function countedChanges(
  document: ShowDocument,
  buttons: readonly Button[],
  { across, strips }: Counted,
  newId: () => string,
): { readonly changes: Change[]; readonly buttons: string[] } {
  const last = buttons.at(-1);
  const strip = document.strips.find(({ id }) => id === last?.stripId);
  if (last === undefined || strip === undefined) return { changes: [], buttons: [] };
  const changes: Change[] = [];
  const ids: string[] = [];
  const fill = (plans: readonly ButtonPlan[], stripId: string, from: string | null, until: string | null): void => {
    let order = from;
    for (const plan of plans) {
      order = orderBetween(order, until);
      const button: Button = { ...plan, id: newId(), stripId, order };
      ids.push(button.id);
      changes.push(made('buttons', button));
    }
  };
  const siblings = inOrder(document.buttons.filter((button) => button.stripId === strip.id));
  fill(across, strip.id, last.order, siblings[siblings.findIndex(({ id }) => id === last.id) + 1]?.order ?? null);
  const others = inOrder(document.strips.filter((candidate) => candidate.panelId === strip.panelId));
  const below = others[others.findIndex(({ id }) => id === strip.id) + 1]?.order ?? null;
  let order = strip.order;
  for (const item of strips) {
    order = orderBetween(order, below);
    const added: Strip = {
      id: newId(),
      panelId: strip.panelId,
      name: item.name,
      family: strip.family,
      page: strip.page,
      order,
    };
    changes.push(made('strips', added));
    fill(item.buttons, added.id, null, null);
  }
  return { changes, buttons: ids };
}

/**
 * Buttons that exist count on from the first of them, each in its place, and keep everything else of their own.
 * @returns the changes, how many have nothing of that kind, and why some were left when the rig ended before them
 */
export function renumbered(
  document: ShowDocument,
  buttons: readonly Button[],
  key: string,
  step: number,
): { readonly changes: Change[]; readonly without: number; readonly end: string | null } {
  const [first] = buttons;
  const start = first && keyed(first, document).get(key);
  if (start === undefined) return { changes: [], without: buttons.length, end: null };
  const series = seriesOf(start, document);
  if (series === null) return { changes: [], without: 0, end: GONE };
  let without = 0;
  let end: string | null = null;
  const changes = buttons.flatMap((button, at): Change[] => {
    const slot = keyed(button, document).get(key);
    if (slot === undefined || slot.kind !== start.kind) {
      without += 1;
      return [];
    }
    const to = series.onward(at * step);
    if (to === undefined) {
      end = series.end;
      return [];
    }
    if (to.value === slot.value) return [];
    const next = swapped(planOf(button), slot, to.value, document);
    return (['legend', 'note', 'steps', 'releaseSteps', 'sets', 'additions', 'dial', 'lamps'] as const).flatMap(
      (field) =>
        JSON.stringify(next[field]) === JSON.stringify(button[field])
          ? []
          : [changed('buttons', button, field, next[field])],
    );
  });
  return { changes, without, end };
}
