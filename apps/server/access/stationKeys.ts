import { createHash, randomBytes } from 'node:crypto';
import type { Clock } from '@umbek/core/engine';
import { type JoinedStation, type Right, RIGHTS } from '@umbek/protocol';
import { RequestAllowances } from '../live/limits';
import type { KeptMember } from './crewStore';
import type { KeptStation, StationStore } from './stationStore';
import type { Who } from './who';

export const STATION_LIMITS = {
  /** Stations of one installation. */
  stations: 250,
  /** Keys that nobody knows, of one address: so many a second, and so many at once. */
  guessesASecond: 0.2,
  guessesAtOnce: 20,
} as const;

/** 256 bits: beyond guessing. */
const BYTES = 32;
const LONGEST = 200;
const HOUR_MS = 3_600_000;
/** A key is changed for a new one after so long, the next time that a page is loaded. */
export const ROTATE_MS = 12 * HOUR_MS;
/** Requests that were on their way with the key before are still taken for so long. */
export const GRACE_MS = 60_000;
/** Whoever signed in at a station is signed out after so long: the longest shift. */
export const SIGNED_IN_MS = 12 * HOUR_MS;
/** A database that was away is asked again after so long. */
const AGAIN_MS = 2000;

export type FoundStation =
  | { readonly kind: 'station'; readonly who: Who }
  | { readonly kind: 'unknown' | 'too-many-guesses' | 'elsewhere' | 'copied' | 'not-yet' };

interface Here {
  /** Its record now: a right that is taken away counts from that moment. */
  kept: KeptStation;
  readonly who: Who;
  /** Addresses of its open connections, one for each. */
  readonly open: string[];
  address: string;
  /** When the key before this one was given up, on the engine's clock. */
  retiredAt: number;
  /** The key that it was offered and has not used yet: two pages that load at once are offered the same. */
  offered: string | null;
  note: string;
  cancelSignedIn: () => void;
}

const hashOf = (key: string): string => createHash('sha256').update(key).digest('hex');

/**
 * The stations that were let in from the network, each with its key. They are held in memory by the hashes of their keys, so that a station is
 * known while the database is away. A key is changed for a new one from time to time: whoever comes with the old one later has a copy, and as
 * nobody can tell which of the two is the thief, neither is let in any more.
 */
export class StationKeys {
  private byId: Map<string, Here> | null = null;
  private byHash = new Map<string, Here>();
  private readonly guesses: RequestAllowances;
  private again: () => void = () => undefined;
  private closed = false;

  constructor(
    private readonly store: StationStore,
    private readonly clock: Clock,
    private readonly listener: {
      /** Its open connections have to end. */
      dismissed(id: string): void;
      /** Its name, person or rights are others now. */
      changed(id: string): void;
      /** For the as-run. */
      journal(station: string, words: string): void;
    },
    /** Who of the crew that is; undefined: nobody any more. */
    private readonly member: (id: string) => KeptMember | undefined = () => undefined,
  ) {
    this.guesses = new RequestAllowances(clock, STATION_LIMITS.guessesASecond, STATION_LIMITS.guessesAtOnce);
  }

  /** Reads what is kept, as soon as the database is there. */
  async start(): Promise<void> {
    this.again();
    try {
      const kept = await this.store.list();
      this.byId = new Map();
      this.byHash = new Map();
      for (const station of kept) this.watchSignedIn(this.add(station));
    } catch {
      if (!this.closed) this.again = this.clock.at(this.clock.now() + AGAIN_MS, () => void this.start());
    }
  }

  close(): void {
    this.closed = true;
    this.again();
    for (const here of this.byId?.values() ?? []) here.cancelSignedIn();
  }

  /** Whose key this is. @param address from which it came */
  find(key: string, address: string): FoundStation {
    if (this.byId === null) return { kind: 'not-yet' };
    const hash = key.length > LONGEST ? '' : hashOf(key);
    const here = this.byHash.get(hash);
    if (here === undefined) return { kind: this.guesses.allow(address) ? 'unknown' : 'too-many-guesses' };
    if (here.open.some((candidate) => candidate !== address)) {
      here.note = `Its key came from ${address} while it was connected from ${here.open[0] ?? ''}, and was refused there.`;
      return { kind: 'elsewhere' };
    }
    if (hash === here.kept.retiredHash && this.clock.now() - here.retiredAt > GRACE_MS) {
      this.listener.journal(
        here.kept.name,
        `A key of ${here.kept.name} that had been changed for a new one came again, from ${address}: somebody has a copy. The station is not let in any more.`,
      );
      this.revoke(here.kept.id).catch(() => undefined);
      return { kind: 'copied' };
    }
    if (hash === here.kept.nextHash) this.promote(here);
    here.address = address;
    return { kind: 'station', who: here.who };
  }

  /** A page of a station is connected. @returns what is called when it is gone */
  connected(id: string, address: string): () => void {
    const here = this.byId?.get(id);
    if (here === undefined) return () => undefined;
    here.open.push(address);
    return () => {
      const at = here.open.indexOf(address);
      if (at >= 0) here.open.splice(at, 1);
    };
  }

  /** What is kept, the oldest first; null before it is known. */
  list(): JoinedStation[] | null {
    if (this.byId === null) return null;
    return [...this.byId.values()].map(({ kept, open, address, note }) => ({
      id: kept.id,
      name: kept.name,
      person: kept.person,
      device: kept.device,
      rights: [...kept.rights],
      signedIn: this.signedInAt(kept)?.name ?? null,
      joinedAt: kept.joinedAt,
      address,
      present: open.length,
      note,
    }));
  }

  /** Lets a station in. @returns its key, told this once. @throws when the database is away: it would be forgotten at the next start */
  async admit(id: string, station: Pick<KeptStation, 'name' | 'person' | 'device' | 'rights'>): Promise<string> {
    const key = randomBytes(BYTES).toString('base64url');
    const now = this.clock.wall().toISOString();
    const kept: KeptStation = {
      ...station,
      id,
      hash: hashOf(key),
      nextHash: null,
      retiredHash: null,
      keyFrom: now,
      joinedAt: now,
      signedIn: null,
    };
    await this.store.save(kept);
    this.add(kept);
    return key;
  }

  /** A key in place of the one that a station has had for long; null: none is due, or it cannot be kept now. */
  async nextKey(id: string): Promise<string | null> {
    const here = this.byId?.get(id);
    if (here === undefined) return null;
    if (this.clock.wall().getTime() - Date.parse(here.kept.keyFrom) < ROTATE_MS) return null;
    if (here.offered !== null) return here.offered;
    const key = randomBytes(BYTES).toString('base64url');
    here.offered = key;
    const kept = { ...here.kept, nextHash: hashOf(key) };
    try {
      await this.store.save(kept);
    } catch {
      here.offered = null;
      return null;
    }
    this.replace(here, { ...here.kept, nextHash: kept.nextHash });
    return key;
  }

  /** Another name, person or rights. @returns whether there is such a station. @throws when the database is away; nothing is changed then */
  async change(
    id: string,
    to: { readonly name: string; readonly person: string; readonly rights: readonly Right[] },
  ): Promise<boolean> {
    const here = this.byId?.get(id);
    if (here === undefined) return false;
    const kept = { ...here.kept, ...to };
    await this.store.save(kept);
    this.replace(here, kept);
    this.listener.changed(id);
    return true;
  }

  /**
   * From this moment on somebody of the crew works at a station and brings their rights along, or nobody does.
   * @returns whether there is such a station. @throws when it may be otherwise after the next start: the database is away
   */
  async signIn(id: string, crew: string | null): Promise<boolean> {
    const here = this.byId?.get(id);
    if (here === undefined) return false;
    const until = new Date(this.clock.wall().getTime() + SIGNED_IN_MS).toISOString();
    this.replace(here, { ...here.kept, signedIn: crew === null ? null : { crew, until } });
    this.watchSignedIn(here);
    this.listener.changed(id);
    await this.store.save(here.kept);
    return true;
  }

  /** Somebody works at a station from now on who brings no rights along; whoever was signed in is not any more. @throws like `signIn` */
  async worksAt(id: string, person: string): Promise<boolean> {
    const here = this.byId?.get(id);
    if (here === undefined) return false;
    here.cancelSignedIn();
    this.replace(here, { ...here.kept, person, signedIn: null });
    this.listener.changed(id);
    await this.store.save(here.kept);
    return true;
  }

  /** Somebody of the crew is called otherwise or may do something else. @param signedOut they are signed in nowhere any more */
  crewChanged(crew: string, signedOut: boolean): void {
    for (const [id, here] of this.byId ?? [])
      if (here.kept.signedIn?.crew === crew) {
        if (signedOut) this.signIn(id, null).catch(() => undefined);
        else this.listener.changed(id);
      }
  }

  private signedInAt({ signedIn }: KeptStation): KeptMember | undefined {
    if (signedIn === null || this.clock.wall().getTime() >= Date.parse(signedIn.until)) return undefined;
    return this.member(signedIn.crew);
  }

  /** Signs somebody out when their time is over, also while the page is open. */
  private watchSignedIn(here: Here): void {
    here.cancelSignedIn();
    const { id, signedIn } = here.kept;
    if (signedIn === null) return;
    const left = Math.min(SIGNED_IN_MS, Date.parse(signedIn.until) - this.clock.wall().getTime());
    here.cancelSignedIn = this.clock.at(this.clock.now() + Math.max(0, left), () => {
      if (!this.closed && here.kept.signedIn === signedIn) this.signIn(id, null).catch(() => undefined);
    });
  }

  /** From this moment on it is not let in, also while the database is away. @returns whether there was one. @throws when it may come back at the next start: the database is away */
  async revoke(id: string): Promise<boolean> {
    const here = this.byId?.get(id);
    if (here !== undefined) {
      this.byId?.delete(id);
      for (const [hash, item] of this.byHash) if (item === here) this.byHash.delete(hash);
      here.cancelSignedIn();
      here.kept = { ...here.kept, rights: [], signedIn: null };
      this.listener.dismissed(id);
    }
    await this.store.drop(id);
    return here !== undefined;
  }

  /** The station came with the key that it was offered: the one before it is given up. */
  private promote(here: Here): void {
    const { kept } = here;
    if (kept.nextHash === null) return;
    here.retiredAt = this.clock.now();
    here.offered = null;
    const next: KeptStation = {
      ...kept,
      hash: kept.nextHash,
      nextHash: null,
      retiredHash: kept.hash,
      keyFrom: this.clock.wall().toISOString(),
    };
    this.replace(here, next);
    // Not kept: after a start the offered key is taken once more.
    this.store.save(next).catch(() => undefined);
  }

  private add(kept: KeptStation): Here {
    const signedIn = (): KeptMember | undefined => this.signedInAt(here.kept);
    // The address of nothing is kept: a station that comes after a start comes from anywhere.
    const here: Here = {
      kept,
      who: {
        key: kept.id,
        get name() {
          return here.kept.name;
        },
        get person() {
          return signedIn()?.name ?? here.kept.person;
        },
        get rights() {
          const theirs = signedIn()?.rights ?? [];
          return RIGHTS.filter((right) => here.kept.rights.includes(right) || theirs.includes(right));
        },
        get signedIn() {
          return signedIn() !== undefined;
        },
      },
      open: [],
      address: '',
      retiredAt: -Infinity,
      offered: null,
      note: '',
      cancelSignedIn: () => undefined,
    };
    this.byId?.set(kept.id, here);
    this.index(here);
    return here;
  }

  private replace(here: Here, kept: KeptStation): void {
    for (const hash of [here.kept.hash, here.kept.nextHash, here.kept.retiredHash])
      if (hash !== null) this.byHash.delete(hash);
    here.kept = kept;
    this.index(here);
  }

  private index(here: Here): void {
    const { hash, nextHash, retiredHash } = here.kept;
    for (const item of [retiredHash, hash, nextHash]) if (item !== null) this.byHash.set(item, here);
  }
}
