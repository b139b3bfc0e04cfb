import { kindOf, type ListDefinition, placeOf } from '../devices/index';
import { MOST_LINES } from '../expression/index';
import type { PlainValue } from '../show/index';
import type { Cancel, Clock } from './clock';
import { peopleInOrder } from './people';
import type { Program } from './program';
import type { Reader, StateBoard } from './stateBoard';

/** A place that was left stays empty for so long: who reaches for it does not meet another thing. Milliseconds. */
const REST_MS = 3000;
/** Places of the people list. */
export const PEOPLE_PLACES = 24;
/** Where the people of the show stand, in place of a device of that key. */
export const PEOPLE_SCOPE = 'people';

/** One thing of a list: what it is named by, and what else is told beside it, by the end of the key. */
interface Item {
  readonly id: PlainValue;
  readonly more: Readonly<Record<string, string>>;
}

/** What is given to each place by turns of the clock. */
class Places {
  private readonly taken: (PlainValue | null)[];
  private readonly leftAt: number[];
  private readonly lastOf: (PlainValue | null)[];

  constructor(most: number) {
    this.taken = Array.from({ length: most }, () => null);
    this.lastOf = Array.from({ length: most }, () => null);
    this.leftAt = Array.from({ length: most }, () => -Infinity);
  }

  /**
   * Who stays keeps their place; who comes back within its rest gets it again; who is new gets the first one that has rested.
   * @returns what stands at each place, and when to look again for somebody who waits for one; null when nobody does
   */
  place(
    items: readonly Item[],
    now: number,
  ): { readonly at: readonly (PlainValue | null)[]; readonly again: number | null } {
    const here = new Set(items.map(({ id }) => id));
    this.taken.forEach((id, place) => {
      if (id === null || here.has(id)) return;
      this.taken[place] = null;
      this.leftAt[place] = now;
      this.lastOf[place] = id;
    });
    const placed = new Set(this.taken.filter((id) => id !== null));
    let again: number | null = null;
    for (const { id } of items) {
      if (placed.has(id)) continue;
      const own = this.taken.findIndex((candidate, place) => candidate === null && this.lastOf[place] === id);
      const free =
        own >= 0
          ? own
          : this.taken.findIndex(
              (candidate, place) => candidate === null && now >= (this.leftAt[place] ?? 0) + REST_MS,
            );
      if (free < 0) {
        const rests = this.taken.flatMap((item, place) =>
          item === null ? [(this.leftAt[place] ?? now) + REST_MS] : [],
        );
        if (rests.length > 0) again = Math.min(again ?? Infinity, ...rests);
        continue;
      }
      this.taken[free] = id;
      placed.add(id);
    }
    return { at: this.taken, again };
  }
}

/** One list under way. */
class Followed implements Reader {
  private readonly places: Places;
  private waiting: Cancel | null = null;

  constructor(
    private readonly deps: { readonly board: StateBoard; readonly clock: Clock },
    private readonly scope: string,
    private readonly name: (place: number) => string,
    private readonly most: number,
    private readonly nothing: PlainValue,
    private readonly parts: readonly string[],
    /** Undefined while it is not known. */
    private readonly items: () => readonly Item[] | undefined,
    private readonly keys: readonly string[],
  ) {
    this.places = new Places(most);
    deps.board.subscribe(keys, this);
    this.wake();
  }

  wake(): void {
    const { board, clock } = this.deps;
    this.waiting?.();
    this.waiting = null;
    const items = this.items();
    // A silent device's points are unknown, these among them; its places are kept for when it answers again.
    if (items === undefined) return;
    const { at, again } = this.places.place(items, clock.now());
    const byId = new Map(items.map((item) => [item.id, item]));
    for (let place = 1; place <= this.most; place += 1) {
      const id = at[place - 1] ?? null;
      const key = `${this.scope}.${this.name(place)}`;
      board.set(key, id ?? this.nothing);
      const more = id === null ? undefined : byId.get(id)?.more;
      for (const part of this.parts) board.set(`${key}${part}`, more?.[part] ?? '');
    }
    if (again !== null) this.waiting = clock.at(again, () => board.turn(() => this.wake()));
  }

  close(): void {
    this.waiting?.();
    this.deps.board.unsubscribe(this.keys, this);
  }
}

/**
 * Keeps on the board what stands at each place of what devices list, and of the people list. Strips that follow a list read these places: things
 * come and go, and none moves while it is there.
 */
export class LiveLists {
  private readonly followed = new Map<string, { readonly list: Followed; readonly of: object }>();

  constructor(
    private readonly deps: { readonly board: StateBoard; readonly clock: Clock },
    private program: Program,
  ) {
    this.follow(program);
  }

  /** Goes over to an edited show. */
  follow(program: Program): void {
    const before = this.program;
    this.program = program;
    const { document } = program;
    const stays = new Set<string>();
    for (const device of document.devices)
      for (const [name, list] of Object.entries(kindOf(device, document)?.lists ?? {})) {
        const key = `${device.key}.${name}`;
        stays.add(key);
        if (this.followed.get(key)?.of === list) continue;
        this.end(key);
        this.followed.set(key, { of: list, list: this.ofDevice(device.key, name, list) });
      }
    if (!program.devices.has(PEOPLE_SCOPE)) {
      stays.add(PEOPLE_SCOPE);
      const people = this.followed.get(PEOPLE_SCOPE);
      if (people === undefined) this.followed.set(PEOPLE_SCOPE, { of: LiveLists, list: this.ofPeople() });
      else if (before.document.people !== document.people) people.list.wake();
    }
    for (const key of [...this.followed.keys()]) if (!stays.has(key)) this.end(key);
  }

  private end(key: string): void {
    this.followed.get(key)?.list.close();
    this.followed.delete(key);
  }

  private ofDevice(device: string, name: string, { point, most, type, id }: ListDefinition): Followed {
    const { board } = this.deps;
    const key = `${device}.${point}`;
    const items = (): readonly Item[] | undefined => {
      const text = board.read(key);
      if (typeof text !== 'string') return undefined;
      const lines = [...new Set(text.split('\n').filter(Boolean))];
      const ids = lines.map((line) => (id === undefined ? line : id(line)));
      // A line that names nothing stands nowhere.
      return ids.flatMap((item) => (Number.isNaN(item) ? [] : [{ id: item, more: {} }]));
    };
    const nothing = type === 'number' ? 0 : '';
    return new Followed(this.deps, device, (place) => placeOf(name, place), most, nothing, [], items, [key]);
  }

  private ofPeople(): Followed {
    const items = (): readonly Item[] => {
      const people = peopleInOrder(this.program);
      const names = people.slice(0, MOST_LINES).map(({ name }) => name);
      this.deps.board.set(`${PEOPLE_SCOPE}.${PEOPLE_NAMES}`, names.join('\n'));
      return people
        .slice(0, PEOPLE_PLACES)
        .map(({ key, name, title }) => ({ id: key, more: { Name: name, Title: title } }));
    };
    return new Followed(this.deps, PEOPLE_SCOPE, (place) => `at${place}`, PEOPLE_PLACES, '', PEOPLE_PARTS, items, []);
  }
}

const PEOPLE_PARTS = ['Name', 'Title'] as const;
/** The names of the people list, one a line: as many as an expression goes through. */
const PEOPLE_NAMES = 'names';

/** Whether a name of the people's scope is one of its places, such as `at3` or `at3Name`, or all names. */
export function isPeoplePlace(field: string): boolean {
  if (field === PEOPLE_NAMES) return true;
  const place = Number(/^at(\d{1,2})(Name|Title)?$/.exec(field)?.[1]);
  return place >= 1 && place <= PEOPLE_PLACES;
}
