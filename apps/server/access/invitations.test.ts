import { VirtualClock } from '@umbek/core/rehearse';
import { INVITATION_LIMITS, Invitations } from './invitations';

const opened = () => {
  const clock = new VirtualClock(0, new Date('2026-08-12T20:00:00Z'));
  return { clock, invitations: new Invitations(clock) };
};
const phone = (address = '10.0.0.7') => ({ name: 'Phone', device: 'Phone, Firefox', address });
const GRANT = { name: 'Phone', person: 'Ines', rights: ['see', 'operate'] as const };
const admits =
  (keys: string[]) =>
  (device: string, { name }: { name: string }) => {
    keys.push(`${name}/${device}`);
    return Promise.resolve('the key');
  };

describe('an invitation', () => {
  it('is good once, for the device that a person lets in, which fetches its key once', async () => {
    const { invitations } = opened();
    const invitation = invitations.invite();
    expect(invitation?.code).toMatch(/^\d{6}$/);
    const asked = invitations.ask({ code: invitation?.code ?? '' }, phone());
    if (asked.kind !== 'asking') throw new Error(asked.kind);
    expect(invitations.ask({ code: invitation?.code ?? '' }, phone()).kind).toBe('wrong');
    expect(invitations.ask({ secret: invitation?.secret ?? '' }, phone()).kind).toBe('wrong');
    expect(invitations.waiting()).toEqual([{ id: asked.id, ...phone() }]);
    const keys: string[] = [];
    const wait = (secret = asked.secret) => invitations.waited(asked.id, secret, admits(keys));
    expect(await wait()).toEqual({ state: 'waiting' });
    expect(invitations.answer(asked.id, GRANT)).toBe(true);
    // Somebody else who admits comes too late, and nobody else fetches the key.
    expect(invitations.answer(asked.id, null)).toBe(false);
    expect(await wait('another secret')).toEqual({ state: 'over' });
    expect(keys).toEqual([]);
    expect(await wait()).toEqual({ state: 'in', key: 'the key' });
    expect(await wait()).toEqual({ state: 'over' });
    expect(keys).toEqual(['Phone/Phone, Firefox']);
  });

  it('ends after two minutes, unused, unanswered or not fetched', async () => {
    const { clock, invitations } = opened();
    const invitation = invitations.invite();
    clock.runTo(INVITATION_LIMITS.lastsMs - 1);
    const asked = invitations.ask({ secret: invitation?.secret ?? '' }, phone());
    expect(asked.kind).toBe('asking');
    const late = invitations.invite();
    clock.runTo(2 * INVITATION_LIMITS.lastsMs);
    expect(invitations.ask({ code: late?.code ?? '' }, phone()).kind).toBe('wrong');
    expect(invitations.waiting()).toEqual([]);
    if (asked.kind !== 'asking') throw new Error(asked.kind);
    expect(invitations.answer(asked.id, GRANT)).toBe(false);
    expect(await invitations.waited(asked.id, asked.secret, admits([]))).toEqual({ state: 'over' });
  });

  it('that is refused or taken back lets nobody in', async () => {
    const { invitations } = opened();
    const back = invitations.invite();
    invitations.end(back?.id ?? '');
    expect(invitations.ask({ code: back?.code ?? '' }, phone()).kind).toBe('wrong');
    const asked = invitations.ask({ code: invitations.invite()?.code ?? '' }, phone());
    if (asked.kind !== 'asking') throw new Error(asked.kind);
    invitations.answer(asked.id, null);
    expect(await invitations.waited(asked.id, asked.secret, admits([]))).toEqual({ state: 'refused' });
  });

  it('whose key cannot be kept is answered again when the database is back', async () => {
    const { invitations } = opened();
    const asked = invitations.ask({ code: invitations.invite()?.code ?? '' }, phone());
    if (asked.kind !== 'asking') throw new Error(asked.kind);
    invitations.answer(asked.id, GRANT);
    await expect(invitations.waited(asked.id, asked.secret, () => Promise.reject(new Error('away')))).rejects.toThrow(
      'away',
    );
    expect(await invitations.waited(asked.id, asked.secret, admits([]))).toEqual({ state: 'in', key: 'the key' });
  });

  it('10,000 guesses of one address: five are looked at, then one in ten seconds; another address is not hurt', () => {
    const { clock, invitations } = opened();
    const invitation = invitations.invite();
    const wrong = String((Number(invitation?.code) + 1) % 1_000_000).padStart(6, '0');
    const kinds = Array.from({ length: 10_000 }, () => invitations.ask({ code: wrong }, phone('10.0.0.66')).kind);
    expect(kinds.filter((kind) => kind === 'wrong')).toHaveLength(INVITATION_LIMITS.guessesAtOnce);
    expect(kinds.filter((kind) => kind === 'too-many-guesses')).toHaveLength(10_000 - INVITATION_LIMITS.guessesAtOnce);
    // Not even with the right one, until it has waited.
    expect(invitations.ask({ code: invitation?.code ?? '' }, phone('10.0.0.66')).kind).toBe('too-many-guesses');
    clock.runTo(10_000);
    expect(invitations.ask({ code: wrong }, phone('10.0.0.66')).kind).toBe('wrong');
    expect(invitations.ask({ code: wrong }, phone('10.0.0.66')).kind).toBe('too-many-guesses');
    expect(invitations.ask({ code: invitation?.code ?? '' }, phone('10.0.0.7')).kind).toBe('asking');
  });

  it('there are no more than twenty, and none has the figures of another', () => {
    const { clock, invitations } = opened();
    const all = Array.from({ length: 21 }, () => invitations.invite());
    expect(all[20]).toBeNull();
    expect(new Set(all.map((invitation) => invitation?.code)).size).toBe(21);
    clock.runTo(INVITATION_LIMITS.lastsMs);
    expect(invitations.invite()).not.toBeNull();
  });
});
