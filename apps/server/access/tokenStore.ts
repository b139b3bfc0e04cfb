import { TokenKind, TokenMay } from '@umbek/protocol';
import { asc, eq } from 'drizzle-orm';
import type { Database } from '../database/database';
import { tokens } from '../database/schema';

/** A token as it is kept: never the token itself. */
export interface KeptToken {
  readonly id: string;
  readonly name: string;
  /** SHA-256 of the token, in hexadecimal. */
  readonly hash: string;
  readonly may: TokenMay;
  readonly kind: TokenKind;
  readonly madeAt: string;
}

/** Where tokens are kept. Every call throws when the database is away. */
export interface TokenStore {
  list(): Promise<KeptToken[]>;
  add(token: KeptToken): Promise<void>;
  drop(id: string): Promise<void>;
}

/** Tokens in PostgreSQL. */
export class PgTokenStore implements TokenStore {
  constructor(
    private readonly db: Database,
    private readonly ready: () => Promise<void>,
  ) {}

  async list(): Promise<KeptToken[]> {
    await this.ready();
    const rows = await this.db.select().from(tokens).orderBy(asc(tokens.madeAt), asc(tokens.id));
    return rows.map(({ may, kind, madeAt, ...row }) => ({
      ...row,
      kind: TokenKind.catch('bearer').parse(kind),
      // What cannot be read may run nothing, rather than everything.
      may: may === null ? null : (TokenMay.safeParse(may).data ?? []),
      madeAt: madeAt.toISOString(),
    }));
  }

  async add({ madeAt, ...token }: KeptToken): Promise<void> {
    await this.ready();
    await this.db.insert(tokens).values({ ...token, madeAt: new Date(madeAt) });
  }

  async drop(id: string): Promise<void> {
    await this.ready();
    await this.db.delete(tokens).where(eq(tokens.id, id));
  }
}
