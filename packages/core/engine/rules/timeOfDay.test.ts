import { dayAt, instantOf, isTimeZone, nextInstant } from './timeOfDay';

// In 2026 clocks in Berlin go from 2:00 to 3:00 on 29 March, and from 3:00 back to 2:00 on 25 October (EU directive 2000/84/EC).
const ZONE = 'Europe/Berlin';
const utc = (text: string): number => Date.parse(text);

describe('times of day in a zone', () => {
  it('are an hour before UTC in winter and two in summer', () => {
    expect(instantOf('2026-01-10', '20:15:00', ZONE)).toBe(utc('2026-01-10T19:15:00Z'));
    expect(instantOf('2026-08-12', '20:15:00', ZONE)).toBe(utc('2026-08-12T18:15:00Z'));
  });

  it('come once in the hour that comes twice', () => {
    const first = nextInstant(utc('2026-10-24T22:00:00Z'), '02:30:00', '', ZONE);
    expect(first).toBe(utc('2026-10-25T00:30:00Z'));
    expect(nextInstant(first ?? 0, '02:30:00', '', ZONE)).toBe(utc('2026-10-26T01:30:00Z'));
  });

  it('come once where the hour is missing: half an hour after the jump', () => {
    const first = nextInstant(utc('2026-03-28T22:00:00Z'), '02:30:00', '', ZONE);
    expect(first).toBe(utc('2026-03-29T01:30:00Z'));
    expect(nextInstant(first ?? 0, '02:30:00', '', ZONE)).toBe(utc('2026-03-30T00:30:00Z'));
  });

  it('come on one day alone where one is named', () => {
    expect(nextInstant(utc('2026-08-01T00:00:00Z'), '20:15:00', '2026-08-12', ZONE)).toBe(utc('2026-08-12T18:15:00Z'));
    expect(nextInstant(utc('2026-08-12T18:15:00Z'), '20:15:00', '2026-08-12', ZONE)).toBeNull();
  });

  it('of a day is that of the zone', () => {
    expect(dayAt(utc('2026-08-12T23:30:00Z'), ZONE)).toBe('2026-08-13');
    expect(dayAt(utc('2026-08-12T23:30:00Z'), 'America/Lima')).toBe('2026-08-12');
  });

  it('know their zones', () => {
    expect([isTimeZone(''), isTimeZone(ZONE), isTimeZone('Corvane/Hill')]).toEqual([true, true, false]);
  });
});
