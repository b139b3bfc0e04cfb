import type { Algorithm } from '@node-rs/argon2';
import type { Clock } from '@umbek/core/engine';
import type { CrewMember, Right } from '@umbek/protocol';
import { RequestAllowances } from '../live/limits';
import type { CrewStore, KeptMember } from './crewStore';

export const CREW_LIMITS = {
  /** People of one installation. */
  members: 200,
  /** Pass phrases that are not right, of one station: so many a second, and so many at once. Beyond them its phrases are not looked at. */
  guessesASecond: 0.1,
  guessesAtOnce: 5,
  /** Pass phrases that are looked at or wait for it at one time: each takes a core for some 20 ms, beside the show. */
  atOnce: 4,
} as const;

/** OWASP's least for Argon2id: 19 MiB, twice over, one lane. More would take the machine from the show. */
const COST = { algorithm: 2 satisfies Algorithm.Argon2id, memoryCost: 19_456, timeCost: 2, parallelism: 1 } as const;
/** A database that was away is asked again after so long. */
const AGAIN_MS = 2000;

export type Proof = 'right' | 'wrong' | 'too-many-guesses' | 'busy' | 'unknown';

/** The crew: people who work here, with the rights that they bring to a station once they have signed in at it. */
export class Crew {
  private members: Map<string, KeptMember> | null = null;
  private readonly guesses: RequestAllowances;
  private again: () => void = () => undefined;
  private closed = false;
  private looking = 0;
  /** Somebody's name or rights are others now, or their pass phrase is: then they are signed in nowhere. */
  onChanged: (id: string, signedOut: boolean) => void = () => undefined;

  constructor(
    private readonly store: CrewStore,
    private readonly clock: Clock,
  ) {
    this.guesses = new RequestAllowances(clock, CREW_LIMITS.guessesASecond, CREW_LIMITS.guessesAtOnce);
  }

  /** Reads what is kept, as soon as the database is there. */
  async start(): Promise<void> {
    this.again();
    try {
      this.members = new Map((await this.store.list()).map((member) => [member.id, member]));
    } catch {
      if (!this.closed) this.again = this.clock.at(this.clock.now() + AGAIN_MS, () => void this.start());
      return;
    }
    // Who was signed in before a start counts again from now on.
    for (const id of this.members.keys()) this.onChanged(id, false);
  }

  close(): void {
    this.closed = true;
    this.again();
  }

  /** By name; null before it is known. */
  list(): CrewMember[] | null {
    if (this.members === null) return null;
    return [...this.members.values()]
      .sort((keptMember, other) => keptMember.name.localeCompare(other.name))
      .map(({ id, name, rights, phrase }) => ({ id, name, rights: [...rights], hasPhrase: phrase !== null }));
  }

  find(id: string): KeptMember | undefined {
    return this.members?.get(id);
  }

  /**
   * Takes somebody on, or changes what is known of them.
   * @param phrase null: they have none; left out: as it was
   * @throws when the database is away; nothing is changed then
   */
  async save(
    id: string,
    {
      name,
      rights,
      phrase,
    }: { readonly name: string; readonly rights: readonly Right[]; readonly phrase?: string | null },
  ): Promise<void> {
    const before = this.members?.get(id);
    const kept: KeptMember = {
      id,
      name,
      rights,
      phrase: phrase === undefined ? (before?.phrase ?? null) : phrase === null ? null : await hashOf(phrase),
    };
    await this.store.save(kept);
    this.members?.set(id, kept);
    this.onChanged(id, phrase !== undefined);
  }

  /** From this moment on they bring no rights to any station. @returns whether there was somebody. @throws when they may come back at the next start: the database is away */
  async remove(id: string): Promise<boolean> {
    const was = this.members?.delete(id) === true;
    if (was) this.onChanged(id, true);
    await this.store.drop(id);
    return was;
  }

  /** Whether this is somebody's pass phrase. @param station whose guesses are counted */
  async prove(id: string, phrase: string, station: string): Promise<Proof> {
    const hash = this.members?.get(id)?.phrase ?? null;
    if (hash === null) return 'unknown';
    if (!this.guesses.allows(station)) return 'too-many-guesses';
    if (this.looking >= CREW_LIMITS.atOnce) return 'busy';
    this.looking += 1;
    // Counted before it is looked at: guesses that come together are as many as those that come one by one.
    this.guesses.allow(station);
    try {
      const { verify } = await import('@node-rs/argon2');
      const right = await verify(hash, plain(phrase));
      // Changed while it was looked at: the one that holds now was not proved.
      if (!right || this.members?.get(id)?.phrase !== hash) return 'wrong';
      return 'right';
    } finally {
      this.looking -= 1;
    }
  }
}

/** The same letters typed on different keyboards are one phrase. */
const plain = (phrase: string): string => phrase.normalize('NFC');

async function hashOf(phrase: string): Promise<string> {
  // Only where it is needed: an engine without a crew starts without it.
  const { hash } = await import('@node-rs/argon2');
  return hash(plain(phrase), COST);
}
