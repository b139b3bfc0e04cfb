import { VirtualClock } from '@umbek/core/rehearse';
import { isValid } from 'ulid';
import { MemoryTokenStore } from './memoryTokenStore';
import { hashOf, pressOf, TOKEN_LIMITS, Tokens } from './tokens';

async function opened(store = new MemoryTokenStore()) {
  const clock = new VirtualClock(0, new Date('2026-08-12T20:00:00Z'));
  const tokens = new Tokens(store, clock);
  await tokens.start();
  return { store, clock, tokens };
}
const settle = (): Promise<void> => new Promise((next) => setImmediate(next));

describe('tokens', () => {
  it('are 256 bits, told once, and kept by their hash alone', async () => {
    const { store, tokens } = await opened();
    const token = await tokens.make('a', 'Sound desk', null);
    expect(token).toMatch(/^umbek_[A-Za-z0-9_-]{43}$/);
    expect(JSON.stringify(store.kept)).not.toContain(token);
    expect(store.kept[0]?.hash).toBe(hashOf(token));
    expect(JSON.stringify(tokens.list())).not.toContain(hashOf(token));
    expect(tokens.find(token, 'x')).toMatchObject({ kind: 'token', token: { name: 'Sound desk' } });
    expect(tokens.list()).toMatchObject([{ id: 'a', usedAt: '2026-08-12T20:00:00.000Z' }]);
    expect(await tokens.make('b', 'Other', null)).not.toBe(token);
  });

  it('are known after a start, also while the database is away later; one that is revoked is not', async () => {
    const { store, clock } = await opened();
    const first = new Tokens(store, clock);
    await first.start();
    const [item, two] = [await first.make('a', 'One', null), await first.make('b', 'Two', [{ macro: 'm' }])];
    const again = new Tokens(store, clock);
    expect(again.find(item, 'x').kind).toBe('not-yet');
    await again.start();
    store.away = true;
    expect(again.find(two, 'x')).toMatchObject({ kind: 'token', token: { may: [{ macro: 'm' }] } });
    await expect(again.make('c', 'Three', null)).rejects.toThrow('away');
    // Revoked at once, and told that it may be known again.
    await expect(again.revoke('a')).rejects.toThrow('away');
    expect(again.find(item, 'x').kind).toBe('unknown');
    store.away = false;
    expect(await again.revoke('b')).toBe(true);
    expect(again.find(two, 'x').kind).toBe('unknown');
    expect(await again.revoke('b')).toBe(false);
  });

  it('of a database that is away at the start are asked for again', async () => {
    const store = new MemoryTokenStore();
    store.away = true;
    const { clock, tokens } = await opened(store);
    expect(tokens.list()).toBeNull();
    store.away = false;
    clock.runTo(2000);
    await settle();
    expect(tokens.list()).toEqual([]);
  });

  it('10,000 guesses: none is in, the address is locked out after twenty, and who has a token is not hurt', async () => {
    const { tokens } = await opened();
    const token = await tokens.make('a', 'Sound desk', null);
    const kinds = new Map<string, number>();
    for (let count = 0; count < 10_000; count += 1) {
      const { kind } = tokens.find(`umbek_${String(count).padStart(43, '0')}`, 'guesser');
      kinds.set(kind, (kinds.get(kind) ?? 0) + 1);
    }
    expect([...kinds]).toEqual([
      ['unknown', TOKEN_LIMITS.guessesAtOnce],
      ['too-many-guesses', 10_000 - TOKEN_LIMITS.guessesAtOnce],
    ]);
    // From another address, and behind the same one.
    expect(tokens.find(token, 'other').kind).toBe('token');
    expect(tokens.find(token, 'guesser').kind).toBe('token');
    expect(tokens.find('', 'other').kind).toBe('unknown');
    expect(tokens.find('x'.repeat(1_000_000), 'another').kind).toBe('unknown');
  });

  it('in an address opens nothing as a bearer token, and a bearer token nothing as a link', async () => {
    const { tokens } = await opened();
    const link = await tokens.make('a', 'Panel', [{ macro: 'm' }], 'link');
    const bearer = await tokens.make('b', 'Desk', null);
    expect(tokens.find(link, 'x', 'link')).toMatchObject({ kind: 'token', token: { name: 'Panel' } });
    expect(tokens.find(link, 'x').kind).toBe('unknown');
    expect(tokens.find(bearer, 'x', 'link').kind).toBe('unknown');
    expect(tokens.list()?.map(({ kind }) => kind)).toEqual(['link', 'bearer']);
  });

  it('a storm with one is slowed down, and others are not', async () => {
    const { tokens, clock } = await opened();
    const [item, two] = [await tokens.make('a', 'One', null), await tokens.make('b', 'Two', null)];
    const kinds = Array.from({ length: 100 }, () => tokens.find(item, 'x').kind);
    expect(kinds.filter((kind) => kind === 'token')).toHaveLength(TOKEN_LIMITS.runsAtOnce);
    expect(tokens.find(two, 'x').kind).toBe('token');
    clock.runTo(1000);
    expect(
      Array.from({ length: 30 }, () => tokens.find(item, 'x').kind).filter((kind) => kind === 'token'),
    ).toHaveLength(TOKEN_LIMITS.runsASecond);
  });

  it('a run key is one press of one token, and an id like any other', () => {
    const id = pressOf('a', 'take 7');
    expect(pressOf('a', 'take 7')).toBe(id);
    expect(isValid(id)).toBe(true);
    expect(id[0] !== undefined && id[0] <= '7').toBe(true);
    expect(new Set([id, pressOf('b', 'take 7'), pressOf('a', 'take 8')]).size).toBe(3);
  });
});
