import { VirtualClock } from '@umbek/core/rehearse';
import { HERE } from '../access/who';
import { GONE_MS, Reservers } from './reservers';

function opened(before: { device: string; owner: string }[] = []) {
  const clock = new VirtualClock(0, new Date('2026-08-12T20:00:00Z'));
  const done: string[] = [];
  const here = new Set(['Desk']);
  let allowed = true;
  const reservers = new Reservers({
    engine: {
      reserve: (device: string, by: { station: string; rank: number }) => (
        done.push(`${by.station} reserves ${device} with ${by.rank}`),
        allowed
      ),
      reservations: () => before,
      free: (device: string, by: { station: string }) => (done.push(`${by.station} frees ${device}`), allowed),
    } as never,
    clock,
    isHere: (owner) => here.has(owner),
  });
  return { clock, done, here, reservers, allow: (to: boolean) => (allowed = to) };
}

describe('a head that was reserved', () => {
  it('is free again when the station has been gone for half a minute, and not when it came back before', () => {
    const { clock, done, here, reservers } = opened();
    expect(reservers.set('roofCam', true, HERE, 'Desk', 'Ines')).toBe(true);
    here.delete('Desk');
    clock.runTo(20_000);
    here.add('Desk');
    clock.runTo(100_000);
    expect(done).toEqual(['Desk reserves roofCam with 3']);
    here.delete('Desk');
    clock.runTo(100_000 + GONE_MS - 1);
    expect(done).toHaveLength(1);
    clock.runTo(100_000 + GONE_MS * 1.2);
    expect(done).toEqual(['Desk reserves roofCam with 3', 'Umbek frees roofCam']);
    clock.runTo(500_000);
    expect(done).toHaveLength(2);
  });

  it('counts by the key of a station that joined, whatever it is called; freed by hand, it is nobody’s', () => {
    const { clock, done, here, reservers } = opened();
    const who = { ...HERE, key: 'k1', rights: ['see', 'program'] as const };
    reservers.set('roofCam', true, who, 'Tablet', '');
    here.add('k1');
    clock.runTo(100_000);
    expect(done).toEqual(['Tablet reserves roofCam with 2']);
    reservers.set('roofCam', false, who, 'Tablet', '');
    here.delete('k1');
    clock.runTo(300_000);
    expect(done).toEqual(['Tablet reserves roofCam with 2', 'Tablet frees roofCam']);
  });

  it('stays reserved over the engine’s death while its station comes back, and not for one that does not', () => {
    const { clock, done } = opened([
      { device: 'roofCam', owner: 'Desk' },
      { device: 'domeCam', owner: 'k9' },
    ]);
    clock.runTo(GONE_MS * 2);
    expect(done).toEqual(['Umbek frees domeCam']);
  });

  it('that somebody with more right has stays theirs', () => {
    const { reservers, allow } = opened();
    allow(false);
    expect(reservers.set('roofCam', true, HERE, 'Desk', '')).toBe(false);
  });
});
