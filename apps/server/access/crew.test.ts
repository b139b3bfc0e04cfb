import { VirtualClock } from '@umbek/core/rehearse';
import { CREW_LIMITS, Crew, type Proof } from './crew';
import type { CrewStore, KeptMember } from './crewStore';

class MemoryStore implements CrewStore {
  readonly kept = new Map<string, KeptMember>();
  away = false;
  private there(): void {
    if (this.away) throw new Error('away');
  }
  list = (): Promise<KeptMember[]> => Promise.resolve().then(() => (this.there(), [...this.kept.values()]));
  save = (keptMember: KeptMember): Promise<void> =>
    Promise.resolve().then(() => (this.there(), void this.kept.set(keptMember.id, keptMember)));
  drop = (id: string): Promise<void> => Promise.resolve().then(() => (this.there(), void this.kept.delete(id)));
}

const RIGHTS = ['see', 'operate', 'program'] as const;
const PHRASE = 'four quiet wooden boats';

async function opened(store = new MemoryStore(), clock = new VirtualClock(0, new Date('2026-08-12T20:00:00Z'))) {
  const changed: string[] = [];
  const crew = new Crew(store, clock);
  crew.onChanged = (id, signedOut) => changed.push(`${id}${signedOut ? ' signed out' : ''}`);
  await crew.start();
  return { store, clock, crew, changed };
}

describe('the crew', () => {
  it('proves somebody by their pass phrase, which is kept as Argon2id alone', async () => {
    const { store, crew } = await opened();
    await crew.save('a', { name: 'Ines Halloran', rights: RIGHTS, phrase: PHRASE });
    expect(store.kept.get('a')?.phrase).toMatch(/^\$argon2id\$v=19\$m=19456,t=2,p=1\$/);
    expect(JSON.stringify(crew.list())).toBe(
      '[{"id":"a","name":"Ines Halloran","rights":["see","operate","program"],"hasPhrase":true}]',
    );
    expect(await crew.prove('a', PHRASE, 'tablet')).toBe('right');
    expect(await crew.prove('a', 'four quiet wooden boat', 'tablet')).toBe('wrong');
    expect(await crew.prove('nobody', PHRASE, 'tablet')).toBe('unknown');
  });

  it('takes a phrase as the same letters, however a keyboard puts them together', async () => {
    const { crew } = await opened();
    await crew.save('a', { name: 'Ines', rights: RIGHTS, phrase: 'caf\u00e9 au bord de mer' });
    expect(await crew.prove('a', 'cafe\u0301 au bord de mer', 'tablet')).toBe('right');
  });

  it('keeps the phrase where another name is given, and tells that rights changed', async () => {
    const { crew, changed } = await opened();
    await crew.save('a', { name: 'Ines', rights: RIGHTS, phrase: PHRASE });
    await crew.save('a', { name: 'Ines Halloran', rights: ['see'] });
    expect(await crew.prove('a', PHRASE, 'tablet')).toBe('right');
    await crew.save('a', { name: 'Ines Halloran', rights: ['see'], phrase: 'another one entirely' });
    expect(await crew.prove('a', PHRASE, 'tablet')).toBe('wrong');
    await crew.save('a', { name: 'Ines Halloran', rights: ['see'], phrase: null });
    expect(await crew.prove('a', 'another one entirely', 'tablet')).toBe('unknown');
    expect(await crew.remove('a')).toBe(true);
    expect(await crew.remove('a')).toBe(false);
    expect(changed).toEqual(['a signed out', 'a', 'a signed out', 'a signed out', 'a signed out']);
  });

  it('looks at five phrases of one station at once, then at one in ten seconds, and at those of others as ever', async () => {
    const { clock, crew } = await opened();
    await crew.save('a', { name: 'Ines', rights: RIGHTS, phrase: PHRASE });
    const said: Proof[] = [];
    for (let n = 0; n < 7; n += 1) said.push(await crew.prove('a', `guess number ${n}`, 'tablet'));
    expect(said).toEqual(['wrong', 'wrong', 'wrong', 'wrong', 'wrong', 'too-many-guesses', 'too-many-guesses']);
    expect(await crew.prove('a', PHRASE, 'tablet')).toBe('too-many-guesses');
    expect(await crew.prove('a', PHRASE, 'phone')).toBe('right');
    clock.runTo(10_000);
    expect(await crew.prove('a', PHRASE, 'tablet')).toBe('right');
    expect(await crew.prove('a', PHRASE, 'tablet')).toBe('too-many-guesses');
  });

  it('looks at four at one time, so that many who sign in together leave the machine to the show', async () => {
    const { crew } = await opened();
    await crew.save('a', { name: 'Ines', rights: RIGHTS, phrase: PHRASE });
    const said = await Promise.all([1, 2, 3, 4, 5, 6].map((n) => crew.prove('a', PHRASE, `station ${n}`)));
    expect(said.filter((proof) => proof === 'right')).toHaveLength(CREW_LIMITS.atOnce);
    expect(said.filter((proof) => proof === 'busy')).toHaveLength(2);
    expect(await crew.prove('a', PHRASE, 'station 7')).toBe('right');
  });

  it('does not take a phrase that was changed while it was looked at', async () => {
    const { crew } = await opened();
    await crew.save('a', { name: 'Ines', rights: RIGHTS, phrase: PHRASE });
    const proved = crew.prove('a', PHRASE, 'tablet');
    await crew.save('a', { name: 'Ines', rights: RIGHTS, phrase: null });
    expect(await proved).toBe('wrong');
  });

  it('is asked for later where the database is away, and changes nothing while it is', async () => {
    const store = new MemoryStore();
    const first = await opened(store);
    await first.crew.save('a', { name: 'Ines', rights: RIGHTS, phrase: PHRASE });
    store.away = true;
    await expect(first.crew.save('a', { name: 'Ines', rights: ['see'] })).rejects.toThrow('away');
    expect(first.crew.find('a')?.rights).toEqual(RIGHTS);
    const { crew, clock } = await opened(store);
    expect(crew.list()).toBeNull();
    expect(await crew.prove('a', PHRASE, 'tablet')).toBe('unknown');
    store.away = false;
    clock.runTo(2000);
    await new Promise((next) => setImmediate(next));
    expect(crew.list()).toHaveLength(1);
    // Deleted while it is away, somebody counts no more from that moment.
    store.away = true;
    await expect(crew.remove('a')).rejects.toThrow('away');
    expect(crew.find('a')).toBeUndefined();
    crew.close();
  });
});
