import { VirtualClock } from '@umbek/core/rehearse';
import type { KeptMember } from './crewStore';
import { GRACE_MS, ROTATE_MS, SIGNED_IN_MS, STATION_LIMITS, StationKeys } from './stationKeys';
import type { KeptStation, StationStore } from './stationStore';
import { may } from './who';

class MemoryStore implements StationStore {
  readonly kept = new Map<string, KeptStation>();
  away = false;
  private there(): void {
    if (this.away) throw new Error('away');
  }
  list = (): Promise<KeptStation[]> => Promise.resolve().then(() => (this.there(), [...this.kept.values()]));
  save = (keptStation: KeptStation): Promise<void> =>
    Promise.resolve().then(() => (this.there(), void this.kept.set(keptStation.id, keptStation)));
  drop = (id: string): Promise<void> => Promise.resolve().then(() => (this.there(), void this.kept.delete(id)));
}

const PHONE = { name: 'Phone', person: 'Ines', device: 'Phone, Firefox', rights: ['see', 'operate'] as const };

async function opened(store = new MemoryStore(), clock = new VirtualClock(0, new Date('2026-08-12T20:00:00Z'))) {
  const reports: string[] = [];
  const crew = new Map<string, KeptMember>([
    ['della', { id: 'della', name: 'Della Quist', rights: ['see', 'program'], phrase: 'x' }],
  ]);
  const keys = new StationKeys(
    store,
    clock,
    {
      dismissed: (id) => reports.push(`dismissed ${id}`),
      changed: (id) => reports.push(`changed ${id}`),
      journal: (station, words) => reports.push(`${station}: ${words}`),
    },
    (id) => crew.get(id),
  );
  await keys.start();
  return { store, clock, keys, reports, crew };
}
const settle = (): Promise<void> => new Promise((next) => setImmediate(next));

describe('the key of a station', () => {
  it('says who comes and what it may, is kept by its hash alone, and is known after a start', async () => {
    const { store, clock, keys } = await opened();
    const key = await keys.admit('a', PHONE);
    expect(key).toMatch(/^[A-Za-z0-9_-]{43}$/);
    expect(JSON.stringify([...store.kept.values()])).not.toContain(key);
    const found = keys.find(key, '10.0.0.7');
    if (found.kind !== 'station') throw new Error(found.kind);
    expect(found.who).toMatchObject({ key: 'a', name: 'Phone', person: 'Ines', rights: ['see', 'operate'] });
    expect(may(found.who, 'operate')).toBe(true);
    expect(may(found.who, 'program')).toBe(false);
    const again = await opened(store, clock);
    expect(again.keys.find(key, '10.0.0.7').kind).toBe('station');
    // Never as text of the list that pages see.
    expect(JSON.stringify(again.keys.list())).not.toContain(store.kept.get('a')?.hash);
  });

  it('is asked for later where the database is away at the start, and goes on while it is away', async () => {
    const { store, keys, clock } = await opened();
    const key = await keys.admit('a', PHONE);
    store.away = true;
    const late = await opened(store, clock);
    expect(late.keys.find(key, 'x').kind).toBe('not-yet');
    expect(keys.find(key, 'x').kind).toBe('station');
    await expect(keys.admit('b', PHONE)).rejects.toThrow('away');
    await expect(keys.change('a', { ...PHONE, rights: ['see'] })).rejects.toThrow('away');
    expect(keys.list()).toMatchObject([{ rights: ['see', 'operate'] }]);
    store.away = false;
    clock.runTo(2000);
    await settle();
    expect(late.keys.find(key, 'x').kind).toBe('station');
  });

  it('counts with its rights of now, and ends at once when the station is sent away, also without a database', async () => {
    const { store, keys, reports } = await opened();
    const key = await keys.admit('a', PHONE);
    const found = keys.find(key, 'x');
    if (found.kind !== 'station') throw new Error(found.kind);
    await keys.change('a', { name: 'Wall', person: '', rights: ['see'] });
    expect(found.who).toMatchObject({ name: 'Wall', person: '', rights: ['see'] });
    store.away = true;
    await expect(keys.revoke('a')).rejects.toThrow('away');
    expect(keys.find(key, 'x').kind).toBe('unknown');
    expect(found.who.rights).toEqual([]);
    expect(reports).toEqual(['changed a', 'dismissed a']);
    expect(await keys.change('a', PHONE)).toBe(false);
  });

  it('from another address is refused while the station is connected, which is told; and taken when it has moved', async () => {
    const { keys } = await opened();
    const key = await keys.admit('a', PHONE);
    const gone = keys.connected('a', '10.0.0.7');
    expect(keys.find(key, '10.0.0.7').kind).toBe('station');
    expect(keys.find(key, '10.0.0.8').kind).toBe('elsewhere');
    expect(keys.list()).toMatchObject([{ present: 1, address: '10.0.0.7', note: expect.stringContaining('10.0.0.8') }]);
    gone();
    expect(keys.find(key, '10.0.0.8').kind).toBe('station');
    expect(keys.list()).toMatchObject([{ present: 0, address: '10.0.0.8' }]);
  });

  it('is changed for a new one after twelve hours; two pages are offered the same, and both go on for a minute', async () => {
    const { clock, keys } = await opened();
    const key = await keys.admit('a', PHONE);
    expect(await keys.nextKey('a')).toBeNull();
    clock.runTo(ROTATE_MS);
    const next = await keys.nextKey('a');
    if (next === null) throw new Error('No key was offered.');
    expect(await keys.nextKey('a')).toBe(next);
    // Not used yet: the old one goes on, however long.
    clock.runTo(2 * ROTATE_MS);
    expect(keys.find(key, 'x').kind).toBe('station');
    expect(keys.find(next, 'x').kind).toBe('station');
    expect(await keys.nextKey('a')).toBeNull();
    clock.runTo(2 * ROTATE_MS + GRACE_MS);
    expect(keys.find(key, 'x').kind).toBe('station');
  });

  it('that was given up and comes again later was copied: nobody is let in with either', async () => {
    const { store, clock, keys, reports } = await opened();
    const key = await keys.admit('a', PHONE);
    clock.runTo(ROTATE_MS);
    const next = (await keys.nextKey('a')) ?? '';
    expect(keys.find(next, 'x').kind).toBe('station');
    clock.runTo(ROTATE_MS + GRACE_MS + 1);
    expect(keys.find(key, '10.0.0.66').kind).toBe('copied');
    expect(keys.find(next, 'x').kind).toBe('unknown');
    expect(reports).toEqual([expect.stringMatching(/^Phone: .*10\.0\.0\.66/), 'dismissed a']);
    await settle();
    expect(store.kept.size).toBe(0);
  });

  it('10,000 guesses: none is in, and a station behind the same address is not hurt', async () => {
    const { keys } = await opened();
    const key = await keys.admit('a', PHONE);
    const kinds = Array.from(
      { length: 10_000 },
      (_none, at) => keys.find(String(at).padStart(43, '0'), 'guesser').kind,
    );
    expect(kinds.filter((kind) => kind === 'unknown')).toHaveLength(STATION_LIMITS.guessesAtOnce);
    expect(kinds.filter((kind) => kind === 'too-many-guesses')).toHaveLength(10_000 - STATION_LIMITS.guessesAtOnce);
    expect(keys.find(key, 'guesser').kind).toBe('station');
    expect(keys.find('x'.repeat(1_000_000), 'other').kind).toBe('unknown');
  });
});

describe('somebody of the crew at a station', () => {
  async function signedIn() {
    const all = await opened();
    const key = await all.keys.admit('a', PHONE);
    await all.keys.signIn('a', 'della');
    const found = all.keys.find(key, 'x');
    if (found.kind !== 'station') throw new Error(found.kind);
    return { ...all, key, who: found.who };
  }

  it('brings their rights along, and their name; signed out, the station is what it was', async () => {
    const { keys, who, reports } = await signedIn();
    expect(who).toMatchObject({ person: 'Della Quist', rights: ['see', 'operate', 'program'], signedIn: true });
    expect(keys.list()).toMatchObject([{ person: 'Ines', rights: ['see', 'operate'], signedIn: 'Della Quist' }]);
    await keys.signIn('a', null);
    expect(who).toMatchObject({ person: 'Ines', rights: ['see', 'operate'], signedIn: false });
    expect(reports).toEqual(['changed a', 'changed a']);
    expect(await keys.signIn('nothing', 'della')).toBe(false);
  });

  it('is signed out after twelve hours, which the page is told, also where a start lies between', async () => {
    const { clock, store, who, reports, key } = await signedIn();
    clock.runTo(SIGNED_IN_MS - 1);
    expect(who.signedIn).toBe(true);
    const again = await opened(store, clock);
    const found = again.keys.find(key, 'x');
    if (found.kind !== 'station') throw new Error(found.kind);
    expect(found.who.signedIn).toBe(true);
    clock.runTo(SIGNED_IN_MS);
    await settle();
    expect(who).toMatchObject({ signedIn: false, rights: ['see', 'operate'] });
    expect(found.who.signedIn).toBe(false);
    expect(reports).toEqual(['changed a', 'changed a']);
    expect(again.reports).toEqual(['changed a']);
    expect(store.kept.get('a')?.signedIn).toBeNull();
  });

  it('counts with their rights of now, and no more once they are deleted or have another pass phrase', async () => {
    const { keys, who, reports, crew, store } = await signedIn();
    crew.set('della', { id: 'della', name: 'Della', rights: ['see', 'admit'], phrase: 'x' });
    keys.crewChanged('della', false);
    expect(who).toMatchObject({ person: 'Della', rights: ['see', 'operate', 'admit'] });
    keys.crewChanged('tomasz', true);
    expect(who.signedIn).toBe(true);
    // Also while the database is away.
    store.away = true;
    keys.crewChanged('della', true);
    expect(who).toMatchObject({ person: 'Ines', rights: ['see', 'operate'], signedIn: false });
    expect(reports).toEqual(['changed a', 'changed a', 'changed a']);
  });

  it('is replaced by who works there next, and counts nowhere when the station is sent away', async () => {
    const { keys, who } = await signedIn();
    await keys.worksAt('a', 'Tomasz');
    expect(who).toMatchObject({ person: 'Tomasz', rights: ['see', 'operate'], signedIn: false });
    await keys.signIn('a', 'della');
    await keys.revoke('a');
    expect(who.rights).toEqual([]);
  });

  it('is in at once when the database is away, which whoever signed in is told', async () => {
    const { keys, who, store } = await signedIn();
    store.away = true;
    await expect(keys.signIn('a', null)).rejects.toThrow('away');
    expect(who.signedIn).toBe(false);
  });
});
