import { createHash, randomBytes, randomInt, timingSafeEqual } from 'node:crypto';
import type { Clock } from '@umbek/core/engine';
import type { AskingStation, Right } from '@umbek/protocol';
import { RequestAllowances } from '../live/limits';

export const INVITATION_LIMITS = {
  /** An invitation is good for so long, and an answer is waited for as long. */
  lastsMs: 120_000,
  /** Invitations, and stations that wait, at one time. */
  atOnce: 20,
  /** Codes that are not right, of one address: so many a second, and so many at once. Beyond them its codes are not looked at. */
  guessesASecond: 0.1,
  guessesAtOnce: 5,
} as const;

const BYTES = 16;

interface Invitation {
  readonly id: string;
  readonly code: string;
  readonly secret: string;
  readonly endsAt: number;
}

/** As what somebody is let in. */
export interface Grant {
  readonly name: string;
  readonly person: string;
  readonly rights: readonly Right[];
}

/** Null: it is not let in. */
type Answer = Grant | null;

interface Asking extends AskingStation {
  /** SHA-256 of what proves that the same page asks again. */
  readonly proof: string;
  readonly endsAt: number;
  answer: Answer | undefined;
}

export type Asked =
  | { readonly kind: 'asking'; readonly id: string; readonly secret: string }
  | { readonly kind: 'wrong' | 'too-many-guesses' | 'too-many' };

export type Waited =
  { readonly state: 'waiting' | 'refused' | 'over' } | { readonly state: 'in'; readonly key: string };

const sha = (text: string): string => createHash('sha256').update(text).digest('hex');
const same = (item: string, other: string): boolean => timingSafeEqual(Buffer.from(sha(item)), Buffer.from(sha(other)));

/**
 * Invitations: six figures to be typed and a secret for a QR code, good once, for two minutes. What they open is only the question whether to let
 * this device in, which a person answers. Held in memory: an engine that began anew invites anew.
 */
export class Invitations {
  private readonly open = new Map<string, Invitation>();
  private readonly asking = new Map<string, Asking>();
  private readonly guesses: RequestAllowances;

  constructor(private readonly clock: Clock) {
    this.guesses = new RequestAllowances(clock, INVITATION_LIMITS.guessesASecond, INVITATION_LIMITS.guessesAtOnce);
  }

  /** @returns null when there are too many already */
  invite(): Invitation | null {
    this.forget();
    if (this.open.size >= INVITATION_LIMITS.atOnce) return null;
    let code: string;
    do code = String(randomInt(1_000_000)).padStart(6, '0');
    while ([...this.open.values()].some((candidate) => candidate.code === code));
    const invitation: Invitation = {
      id: randomBytes(BYTES).toString('base64url'),
      code,
      secret: randomBytes(BYTES).toString('base64url'),
      endsAt: this.clock.now() + INVITATION_LIMITS.lastsMs,
    };
    this.open.set(invitation.id, invitation);
    return invitation;
  }

  /** It is taken back before its time. */
  end(id: string): void {
    this.open.delete(id);
  }

  /** Somebody shows an invitation. @param address from which: each has few guesses, and then none for a while, also with the right one */
  ask(
    shown: { readonly code?: string; readonly secret?: string },
    station: { readonly name: string; readonly device: string; readonly address: string },
  ): Asked {
    this.forget();
    if (!this.guesses.allows(station.address)) return { kind: 'too-many-guesses' };
    const invitation = [...this.open.values()].find(({ code, secret }) =>
      shown.secret === undefined ? same(code, shown.code ?? '') : same(secret, shown.secret),
    );
    if (invitation === undefined) {
      this.guesses.allow(station.address);
      return { kind: 'wrong' };
    }
    if (this.asking.size >= INVITATION_LIMITS.atOnce) return { kind: 'too-many' };
    this.open.delete(invitation.id);
    const id = randomBytes(BYTES).toString('base64url');
    const secret = randomBytes(BYTES).toString('base64url');
    this.asking.set(id, {
      ...station,
      id,
      proof: sha(secret),
      endsAt: this.clock.now() + INVITATION_LIMITS.lastsMs,
      answer: undefined,
    });
    return { kind: 'asking', id, secret };
  }

  /** Those that wait for an answer. */
  waiting(): AskingStation[] {
    this.forget();
    return [...this.asking.values()]
      .filter(({ answer }) => answer === undefined)
      .map(({ id, name, device, address }) => ({ id, name, device, address }));
  }

  /** The answer to one that waits. @param grant null: it is not let in @returns whether it waited still */
  answer(id: string, grant: Grant | null): boolean {
    this.forget();
    const asking = this.asking.get(id);
    if (asking === undefined || asking.answer !== undefined) return false;
    asking.answer = grant;
    return true;
  }

  /** What became of one that asked. @param admit makes its key, which is made when it is fetched, and once @throws what `admit` throws; it may ask again then */
  async waited(id: string, secret: string, admit: (device: string, grant: Grant) => Promise<string>): Promise<Waited> {
    this.forget();
    const asking = this.asking.get(id);
    if (asking === undefined || !same(asking.proof, sha(secret))) return { state: 'over' };
    const { answer } = asking;
    if (answer === undefined) return { state: 'waiting' };
    this.asking.delete(id);
    if (answer === null) return { state: 'refused' };
    try {
      return { state: 'in', key: await admit(asking.device, answer) };
    } catch (error) {
      this.asking.set(id, asking);
      throw error;
    }
  }

  private forget(): void {
    const now = this.clock.now();
    for (const [id, { endsAt }] of this.open) if (endsAt <= now) this.open.delete(id);
    for (const [id, { endsAt }] of this.asking) if (endsAt <= now) this.asking.delete(id);
  }
}
