import type { KeptToken, TokenStore } from './tokenStore';

/** Tokens kept nowhere, for tests; `away` is a database that does not answer. */
export class MemoryTokenStore implements TokenStore {
  kept: KeptToken[] = [];
  away = false;
  private there(): void {
    if (this.away) throw new Error('away');
  }
  list = (): Promise<KeptToken[]> => Promise.resolve().then(() => (this.there(), [...this.kept]));
  add = (token: KeptToken): Promise<void> => Promise.resolve().then(() => (this.there(), void this.kept.push(token)));
  drop = (id: string): Promise<void> =>
    Promise.resolve().then(
      () => (this.there(), void (this.kept = this.kept.filter((keptToken) => keptToken.id !== id))),
    );
}
