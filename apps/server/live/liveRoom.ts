import type {
  DeviceHealth,
  LiveEdit,
  LiveFace,
  LivePoint,
  LiveRun,
  LiveShow,
  LiveStores,
  LiveServerMessage,
  LivesLast,
  Shown,
} from '@umbek/protocol';
import type { Cancel, Clock } from '@umbek/core/engine';

/** One page's connection, whatever carries it. */
export interface LiveClient {
  send(text: string): void;
  /** Bytes that its peer has not taken yet. */
  readonly bufferedAmount: number;
  /** Ends it: it behaves as no page of ours does. */
  close(): void;
}

/** Whoever was away for no longer is told which edits it missed, and need not load the show again. */
const RESUME_MS = 30_000;
/** Those that come back within so long are told how things are in one piece of work. */
const GATHER_MS = 50;
const COALESCE_MS = 20;
/** What changes often is told so often. */
const OFTEN_MS = 200;
/** A client further behind than this gets a fresh snapshot instead of the rest. */
const BEHIND_BYTES = 1_000_000;
/** So many characters go out to stations in one piece; a large edit told to fifty of them must not hold a press up. */
const CHARACTERS_AT_ONCE = 300_000;
/** So often it is looked whether such a client has caught up: there may be no change for a long time that would show it. */
const CAUGHT_UP_MS = 250;

/** The lamps of the link group. */
export interface RoomLamps {
  all(): Iterable<readonly [string, LiveFace]>;
  takeChanges(): Iterable<readonly [string, LiveFace]>;
  stripOf(buttonId: string): string | undefined;
  show(strips: ReadonlySet<string> | null): void;
}

export interface RoomSource {
  readonly epoch: number;
  /** Its messages count up from here: no other room of this engine counts there. */
  readonly from: number;
  revision(): number;
  show(): LiveShow;
  point(key: string): LivePoint | null;
  points(): Iterable<readonly [string, LivePoint]>;
  lamps(): RoomLamps;
  /** What silent devices had said last. */
  lastSeen(): Iterable<{ readonly at: number; readonly points: readonly (readonly [string, LivePoint])[] }>;
  runs(): LiveRun[];
  ended(): readonly LiveRun[];
  devices(): DeviceHealth[];
  stores(): LiveStores;
  readonly clock: Clock;
  /** Whether a key of the board is one that changes many times a second and is only looked at. */
  often(key: string): boolean;
}

/** What a station shows; null: everything. */
export class View {
  readonly strips: ReadonlySet<string>;
  readonly scopes: ReadonlySet<string>;
  /** Two stations that show the same have the same key. */
  readonly key: string;

  constructor({ strips, scopes }: Shown) {
    this.strips = new Set(strips);
    this.scopes = new Set(scopes);
    this.key = `${[...this.strips].sort().join(' ')}|${[...this.scopes].sort().join(' ')}`;
  }
}

interface Client {
  readonly socket: LiveClient;
  view: View | null;
  /** It lacks more than the next change, and is told everything when its turn comes. */
  stale: boolean;
  /** Where it was when it was last here; null where it was not, or not in this room. */
  since: number | null;
  /** What it is told next, in order: it waits for its turn. */
  waiting: string[];
}

/** A key of the board belongs to its device, or to what stands before its `@`. */
export const scopeOf = (key: string): string => /^[^.@]*/.exec(key)?.[0] ?? key;

/** JSON of faces by strip or of points by scope, each without its braces. */
type Parts = Map<string, string>;

/** What happened in one moment, turned into text once. Each station is told the parts that it shows. */
interface Moment {
  readonly n: number;
  readonly points: Parts;
  readonly faces: Parts;
  /** What every station is told, with a comma in front. */
  readonly rest: string;
}

/** The show was edited; edits that are not known, or large, are null. */
interface Edited {
  readonly n: number;
  readonly at: number;
  readonly edits: readonly LiveEdit[] | null;
}

/**
 * All clients of one link group. Each change is turned into text once, whatever the number of clients, and each client is told what it shows.
 * What changed is collected for 20 ms, so that fifty stations cost one message each and a press does not wait behind them. The station that pressed has its
 * answer and its outcome before that, from the server directly.
 */
export class LiveRoom {
  private readonly clients = new Map<LiveClient, Client>();
  /** Of the last half minute. */
  private readonly latelyEdited: Edited[] = [];
  private n: number;
  private readonly changedKeys = new Set<string>();
  private readonly changedRuns = new Map<string, LiveRun>();
  private devicesChanged = false;
  private storesChanged = false;
  private revisionChanged = false;
  private edits: LiveEdit[] = [];
  private editsWhole = true;
  private timer: Cancel | null = null;
  private readonly oftenKeys = new Set<string>();
  private oftenTimer: Cancel | null = null;
  private staleTimer: Cancel | null = null;
  private turnTimer: Cancel | null = null;
  /** When there was a turn last. */
  private turned = -Infinity;
  /** Characters that went out in this piece of work. */
  private out = 0;
  private drainTimer: Cancel | null = null;

  constructor(private readonly source: RoomSource) {
    this.n = source.from;
  }

  get size(): number {
    return this.clients.size;
  }

  /**
   * Whoever comes, also who comes back, is told all of what it shows: what went on with it while nobody showed it is not known here.
   * @param resume where it was: it is told which edits it missed
   */
  join(socket: LiveClient, view: View | null, resume: { epoch: number; n: number } | undefined): void {
    const here = resume !== undefined && resume.epoch === this.source.epoch && resume.n <= this.n;
    this.clients.set(socket, { socket, view, stale: true, since: here ? resume.n : null, waiting: [] });
    if (this.turnTimer !== null) return;
    const left = this.turned + GATHER_MS - this.source.clock.now();
    if (left > 0) this.turnIn(left);
    else this.turn();
  }

  /** @returns what it showed */
  leave(socket: LiveClient): View | null {
    const view = this.clients.get(socket)?.view ?? null;
    if (this.clients.delete(socket)) this.followViews();
    return view;
  }

  /** A station shows something else now: it is told what it did not have. */
  shows(socket: LiveClient, view: View): void {
    const client = this.clients.get(socket);
    if (client === undefined) return;
    this.publish();
    const before = client.view;
    client.view = view;
    this.followViews();
    const strips = [...view.strips].filter((strip) => before !== null && !before.strips.has(strip));
    const scopes = [...view.scopes].filter((scope) => before !== null && !before.scopes.has(scope));
    if ((strips.length === 0 && scopes.length === 0) || client.stale) return;
    const anew = new View({ strips, scopes });
    const message: LiveServerMessage = {
      type: 'changes',
      epoch: this.source.epoch,
      n: this.n,
      anew: { strips, scopes },
      points: this.pointsIn(anew),
      ...this.lastIn(anew),
      faces: this.facesIn(anew),
    };
    this.tell(client, JSON.stringify(message));
  }

  /** Faces are kept for what somebody shows. */
  private followViews(): void {
    const lamps = this.source.lamps();
    const strips = new Set<string>();
    let all = false;
    for (const { view } of this.clients.values()) {
      if (view === null) all = true;
      else for (const strip of view.strips) strips.add(strip);
    }
    lamps.show(all ? null : strips);
    // Whoever shows them is told all of them by themselves.
    lamps.takeChanges();
  }

  private pointsIn(view: View | null): Record<string, LivePoint> {
    const points: Record<string, LivePoint> = {};
    for (const [key, value] of this.source.points())
      if (view === null || view.scopes.has(scopeOf(key))) points[key] = value;
    return points;
  }

  private lastIn(view: View | null): { last?: LivesLast } {
    const last: Record<string, { value: LivePoint; agoMs: number }> = {};
    for (const { at, points } of this.source.lastSeen())
      for (const [key, value] of points)
        if ((view === null || view.scopes.has(scopeOf(key))) && this.source.point(key) === null)
          last[key] = { value, agoMs: Math.round(this.source.clock.now() - at) };
    return Object.keys(last).length === 0 ? {} : { last };
  }

  private facesIn(view: View | null): Record<string, LiveFace> {
    const lamps = this.source.lamps();
    const faces: Record<string, LiveFace> = {};
    for (const [id, face] of lamps.all())
      if (view === null || view.strips.has(lamps.stripOf(id) ?? '')) faces[id] = face;
    return faces;
  }

  /** Keys of the board that changed. */
  changed(keys: Iterable<string>): void {
    let soon = false;
    for (const key of keys) {
      if (this.source.often(key)) this.oftenKeys.add(key);
      else {
        this.changedKeys.add(key);
        soon = true;
      }
    }
    if (soon) this.arm();
    else if (this.oftenKeys.size > 0)
      this.oftenTimer ??= this.after(OFTEN_MS, () => {
        this.oftenTimer = null;
        for (const key of this.oftenKeys) this.changedKeys.add(key);
        this.oftenKeys.clear();
        this.arm();
      });
  }

  /** Faces changed, and no key of the board with them. */
  facesChanged(): void {
    this.arm();
  }

  deviceStates(): void {
    this.devicesChanged = true;
    this.arm();
  }

  storesState(): void {
    this.storesChanged = true;
    this.arm();
  }

  /** @param edit what was changed, where that is known and small */
  edited(edit?: LiveEdit): void {
    this.revisionChanged = true;
    if (edit) this.edits.push(edit);
    else this.editsWhole = false;
    this.arm();
  }

  run(run: LiveRun): void {
    this.changedRuns.set(run.runId, run);
    this.arm();
  }

  close(): void {
    this.timer?.();
    this.oftenTimer?.();
    this.staleTimer?.();
    this.turnTimer?.();
    this.drainTimer?.();
  }

  private after(ms: number, work: () => void): Cancel {
    const { clock } = this.source;
    return clock.at(clock.now() + ms, work);
  }

  private arm(): void {
    this.timer ??= this.after(COALESCE_MS, () => this.publish());
  }

  private publish(): void {
    this.timer?.();
    this.timer = null;
    if (this.drainTimer === null) this.out = 0;
    const faces: Parts = new Map();
    const points: Parts = new Map();
    const lamps = this.source.lamps();
    for (const [id, face] of lamps.takeChanges()) addPart(faces, lamps.stripOf(id) ?? '', id, face);
    for (const key of this.changedKeys) addPart(points, scopeOf(key), key, this.source.point(key));
    const runs = [...this.changedRuns.values()];
    const rest = {
      ...(runs.length > 0 ? { runs } : {}),
      ...(this.devicesChanged ? { devices: this.source.devices() } : {}),
      ...(this.storesChanged ? { stores: this.source.stores() } : {}),
      ...(this.revisionChanged
        ? {
            revision: this.source.revision(),
            show: this.source.show(),
            ...(this.editsWhole ? { edits: this.edits } : {}),
          }
        : {}),
    };
    const others = Object.keys(rest).length > 0 ? `,${JSON.stringify(rest).slice(1, -1)}` : '';
    if (faces.size === 0 && points.size === 0 && others === '') return;
    this.changedKeys.clear();
    this.changedRuns.clear();
    this.devicesChanged = false;
    this.storesChanged = false;
    this.n += 1;
    const at = this.source.clock.now();
    while ((this.latelyEdited[0]?.at ?? at) < at - RESUME_MS) this.latelyEdited.shift();
    if (this.revisionChanged) this.latelyEdited.push({ n: this.n, at, edits: this.editsWhole ? this.edits : null });
    this.revisionChanged = false;
    this.edits = [];
    this.editsWhole = true;
    this.send({ n: this.n, points, faces, rest: others });
  }

  private send(moment: Moment): void {
    const texts = new Map<string, string | null>();
    for (const client of this.clients.values()) {
      if (client.socket.bufferedAmount > BEHIND_BYTES) client.stale = true;
      else if (!client.stale) {
        const key = client.view?.key ?? '';
        let text = texts.get(key);
        if (text === undefined) texts.set(key, (text = this.textOf(moment, client.view)));
        if (text !== null) this.tell(client, text);
      }
    }
    this.watchStale();
  }

  /** Sends, or puts in line behind what this client is still to be told. */
  private tell(client: Client, text: string): void {
    if (client.waiting.length === 0 && this.out < CHARACTERS_AT_ONCE) {
      this.out += text.length;
      client.socket.send(text);
      return;
    }
    client.waiting.push(text);
    this.drainTimer ??= this.after(0, () => this.drain());
  }

  /** The next piece: presses that came meanwhile were taken first. */
  private drain(): void {
    this.drainTimer = null;
    this.out = 0;
    for (const client of this.clients.values()) {
      while (client.waiting.length > 0) {
        if (this.out >= CHARACTERS_AT_ONCE) {
          this.drainTimer = this.after(0, () => this.drain());
          return;
        }
        const text = client.waiting.shift() ?? '';
        this.out += text.length;
        client.socket.send(text);
      }
    }
  }

  /** What a station that shows this is told of a moment; null when nothing of it concerns it. */
  private textOf({ n, points, faces, rest }: Moment, view: View | null): string | null {
    const seenPoints = joined(points, view?.scopes);
    const seenFaces = joined(faces, view?.strips);
    if (seenPoints === '' && seenFaces === '' && rest === '') return null;
    return (
      `{"type":"changes","epoch":${this.source.epoch},"n":${n}` +
      (seenPoints === '' ? '' : `,"points":{${seenPoints}}`) +
      (seenFaces === '' ? '' : `,"faces":{${seenFaces}}`) +
      `${rest}}`
    );
  }

  private watchStale(): void {
    if (this.staleTimer !== null || ![...this.clients.values()].some((client) => client.stale)) return;
    this.staleTimer = this.after(CAUGHT_UP_MS, () => {
      this.staleTimer = null;
      if (this.turnTimer === null) this.turn();
    });
  }

  private turnIn(ms: number): void {
    this.turnTimer = this.after(ms, () => {
      this.turnTimer = null;
      this.turn();
    });
  }

  /**
   * Everything is told to the first who lacks it and to all who show the same; the others have turns of their own, behind presses that came meanwhile:
   * fifty stations that come back at once must not hold up a press.
   */
  private turn(): void {
    this.publish();
    // Those that came may show what nobody showed before.
    this.followViews();
    this.turned = this.source.clock.now();
    const lacking = [...this.clients.values()].filter(
      ({ stale, socket }) => stale && socket.bufferedAmount <= BEHIND_BYTES,
    );
    const [first] = lacking;
    if (first === undefined) return this.watchStale();
    const text = this.everything(first.view);
    const alike = lacking.filter(({ view }) => view?.key === first.view?.key);
    for (const client of alike) {
      client.stale = false;
      // It holds all of what waited.
      client.waiting = [];
      const missed = this.missedBy(client);
      this.tell(client, missed === null ? text : `${text.slice(0, -1)},"edits":${JSON.stringify(missed)}}`);
    }
    if (alike.length < lacking.length) this.turnIn(0);
    else this.watchStale();
  }

  /** Edits since a station was here; null where they are not all known, or there were none. */
  private missedBy(client: Client): LiveEdit[] | null {
    const { since } = client;
    client.since = this.n;
    if (since === null) return null;
    const edits: LiveEdit[] = [];
    for (const edited of this.latelyEdited) {
      if (edited.n <= since) continue;
      if (edited.edits === null) return null;
      edits.push(...edited.edits);
    }
    return edits.length === 0 ? null : edits;
  }

  /** @returns the message that holds all that such a station shows */
  private everything(view: View | null): string {
    const { source } = this;
    const message: LiveServerMessage = {
      type: 'snapshot',
      epoch: source.epoch,
      n: this.n,
      revision: source.revision(),
      show: source.show(),
      points: this.pointsIn(view),
      ...this.lastIn(view),
      faces: this.facesIn(view),
      runs: source.runs(),
      ended: source.ended(),
      devices: source.devices(),
      stores: source.stores(),
    };
    return JSON.stringify(message);
  }
}

function addPart(parts: Parts, of: string, key: string, value: unknown): void {
  const before = parts.get(of);
  parts.set(of, `${before === undefined ? '' : `${before},`}${JSON.stringify(key)}:${JSON.stringify(value)}`);
}

/** @param visible which of the parts; left out: all */
function joined(parts: Parts, visible: ReadonlySet<string> | undefined): string {
  let text = '';
  for (const [of, part] of parts) if (visible === undefined || visible.has(of)) text += text === '' ? part : `,${part}`;
  return text;
}
