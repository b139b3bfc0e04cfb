import { Chance } from './chance';
import { exhaustive, random, schedules, type StaleCase, WIRES } from './stale';

/** 2,000 in `npm test`; with more, every pair is played as well. */
const SCHEDULES = Number(process.env.UMBEK_SCHEDULES ?? 2000);

describe('a value that a command made unknown', () => {
  it.each(WIRES.map((wire) => [wire.name, wire] as const))(
    'comes back no sooner than it is true: %s, each message lost, doubled or late, singly and in pairs',
    (_name, wire: StaleCase) => {
      const { played, early } = exhaustive(wire, SCHEDULES > 2000);
      expect(early).toEqual([]);
      expect(played).toBeGreaterThan(200);
    },
  );

  it.each(WIRES.map((wire) => [wire.name, wire] as const))(
    '%s, schedules of three to five faults',
    (_name, wire: StaleCase) => {
      const early = schedules(new Chance(4711), random(wire), Math.ceil(SCHEDULES / WIRES.length), wire);
      expect(early).toEqual([]);
    },
  );

  it('is seen too soon by a driver that tells it from its copy: the test can fail', () => {
    const [osc] = WIRES;
    if (osc === undefined) throw new Error('no wire');
    expect(exhaustive({ ...osc, trusting: true }).early.length).toBeGreaterThan(0);
  });
});
