import { createHash, randomBytes } from 'node:crypto';
import type { Clock } from '@umbek/core/engine';
import type { TokenKind, TokenMay, TokensReply } from '@umbek/protocol';
import { Allowance, RequestAllowances } from '../live/limits';
import type { KeptToken, TokenStore } from './tokenStore';

/** What other gear may ask of the engine. */
export const TOKEN_LIMITS = {
  /** Tokens of one installation. */
  tokens: 200,
  /** Runs of one token a second, and so many at once. */
  runsASecond: 20,
  runsAtOnce: 60,
  /** Tokens that nobody knows, of one address: so many a second, and so many at once. */
  guessesASecond: 0.2,
  guessesAtOnce: 20,
} as const;

/** 256 bits: beyond guessing. */
const BYTES = 32;
/** Of an OSC sender 128, which are beyond guessing too: many senders take short addresses only. */
const OSC_BYTES = 16;
const PREFIX = 'umbek_';
/** Longer than any of ours, so that nothing long is worked on. */
const LONGEST = 200;
/** A database that was away is asked again after so long. */
const AGAIN_MS = 2000;

export type Found =
  | { readonly kind: 'token'; readonly token: KeptToken }
  | { readonly kind: 'unknown' | 'too-many-guesses' | 'not-yet' }
  | { readonly kind: 'too-many-runs' };

export const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex');

/**
 * The tokens of this installation. They are held in memory by their hashes, so that gear is answered while the database is away; only at a start
 * without a database is it told to try again.
 */
export class Tokens {
  private byHash: Map<string, KeptToken> | null = null;
  private readonly usedAt = new Map<string, string>();
  private readonly runs = new Map<string, Allowance>();
  private readonly guesses: RequestAllowances;
  private again: () => void = () => undefined;
  private closed = false;
  /** Called once it is known which tokens there are. */
  onKnown: () => void = () => undefined;

  constructor(
    private readonly store: TokenStore,
    private readonly clock: Clock,
  ) {
    this.guesses = new RequestAllowances(clock, TOKEN_LIMITS.guessesASecond, TOKEN_LIMITS.guessesAtOnce);
  }

  /** Reads what is kept, as soon as the database is there. */
  async start(): Promise<void> {
    this.again();
    try {
      const kept = await this.store.list();
      this.byHash = new Map(kept.map((token) => [token.hash, token]));
      this.onKnown();
    } catch {
      if (!this.closed) this.again = this.clock.at(this.clock.now() + AGAIN_MS, () => void this.start());
    }
  }

  close(): void {
    this.closed = true;
    this.again();
  }

  /** Who asks with this token, for one run. @param address from which it came @param kind how it came: one way opens nothing by the other */
  find(token: string, address: string, kind: TokenKind = 'bearer'): Found {
    const found = this.know(token, address, kind);
    return found.kind === 'token' && !this.spend(found.token.id) ? { kind: 'too-many-runs' } : found;
  }

  /** Like `find`, and spends no run. A guess costs its address: after some of them it is no longer looked at whether one is right, unless it is. */
  know(token: string, address: string, kind: TokenKind): Exclude<Found, { kind: 'too-many-runs' }> {
    if (this.byHash === null) return { kind: 'not-yet' };
    const kept = token.length > LONGEST ? undefined : this.byHash.get(hashOf(token));
    if (kept?.kind !== kind) return { kind: this.guesses.allow(address) ? 'unknown' : 'too-many-guesses' };
    return { kind: 'token', token: kept };
  }

  /** One run more with a token. @returns whether it is allowed */
  spend(id: string): boolean {
    let allowance = this.runs.get(id);
    if (allowance === undefined) {
      allowance = new Allowance(this.clock, TOKEN_LIMITS.runsASecond, TOKEN_LIMITS.runsAtOnce);
      this.runs.set(id, allowance);
    }
    if (!allowance.allow()) return false;
    this.usedAt.set(id, this.clock.wall().toISOString());
    return true;
  }

  /** Whether there is a token of this kind. */
  has(kind: TokenKind): boolean {
    return [...(this.byHash?.values() ?? [])].some((keptToken) => keptToken.kind === kind);
  }

  /** @returns what is kept, the oldest first; null before it is known */
  list(): TokensReply['tokens'] | null {
    if (this.byHash === null) return null;
    return [...this.byHash.values()].map(({ id, name, may, kind, madeAt }) => ({
      id,
      name,
      may,
      kind,
      madeAt,
      usedAt: this.usedAt.get(id) ?? null,
    }));
  }

  /** @returns the token, told this once. @throws when the database is away: it would be forgotten at the next start */
  async make(id: string, name: string, may: TokenMay, kind: TokenKind = 'bearer'): Promise<string> {
    const token =
      kind === 'osc'
        ? randomBytes(OSC_BYTES).toString('base64url')
        : `${PREFIX}${randomBytes(BYTES).toString('base64url')}`;
    const kept: KeptToken = { id, name, hash: hashOf(token), may, kind, madeAt: this.clock.wall().toISOString() };
    await this.store.add(kept);
    this.byHash?.set(kept.hash, kept);
    return token;
  }

  /** From this moment on it is unknown, also while the database is away. @returns whether there was one. @throws when it may come back at the next start: the database is away */
  async revoke(id: string): Promise<boolean> {
    const kept = [...(this.byHash?.values() ?? [])].find((keptToken) => keptToken.id === id);
    if (kept !== undefined) this.byHash?.delete(kept.hash);
    this.runs.delete(id);
    this.usedAt.delete(id);
    await this.store.drop(id);
    return kept !== undefined;
  }
}

/** Crockford's base 32, in which ids are written. */
const DIGITS = '0123456789ABCDEFGHJKMNPQRSTVWXYZ';

/** The press that a run key of a token stands for: the same one is the same press, also after the engine was started again. */
export function pressOf(tokenId: string, runKey: string): string {
  let rest = BigInt(`0x${createHash('sha256').update(`${tokenId} ${runKey}`).digest('hex').slice(0, 32)}`);
  let id = '';
  for (let at = 0; at < 26; at += 1) {
    id = (DIGITS[Number(rest % 32n)] ?? '0') + id;
    rest /= 32n;
  }
  return id;
}
