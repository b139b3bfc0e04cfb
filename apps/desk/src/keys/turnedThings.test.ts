import type { Shortcut, ShortcutOn } from '@umbek/core/show';
import { TurnedThings } from './turnedThings';

const KNOB: ShortcutOn = { kind: 'midi', message: 'control', channel: 1, number: 7 };
const DIAL = { param: 'level', by: 0, min: 0, max: 127, step: 1, unit: 'dB', reads: 'x' };

function opened(on: ShortcutOn = KNOB) {
  let value: number | undefined = 64;
  const done: string[] = [];
  const state = { on, there: true };
  const things = new TurnedThings({
    find: () =>
      state.there
        ? { shortcut: { id: 's', on: state.on } as Shortcut, button: { id: 'b', legend: 'Host', dial: DIAL } as never }
        : null,
    value: () => value,
    hold: () => {
      done.push('held');
      return { to: (to) => done.push(String(to)), end: () => done.push('let go') };
    },
    tell: (_on, _id, words) => done.push(`told: ${words}`),
    now: () => Date.now(),
  });
  return { things, done, state, says: (to: number | undefined) => (value = to) };
}

describe('a knob of a machine', () => {
  beforeEach(() => jest.useFakeTimers());
  afterEach(() => jest.useRealTimers());

  it('tells once which way to turn it, holds the value from where it has met it, and lets go at rest', () => {
    const { things, done } = opened();
    for (const at of [10, 20, 30]) expect(things.moved('midi a 7', KNOB, at)).toBe(true);
    expect(done).toEqual(['told: turn it up, to 64 dB']);
    things.moved('midi a 7', KNOB, 64);
    things.moved('midi a 7', KNOB, 70);
    expect(done.slice(1)).toEqual(['held', '64', 'told: ', '70']);
    jest.advanceTimersByTime(400);
    expect(done.at(-1)).toBe('let go');
    things.moved('midi a 7', KNOB, 71);
    expect(done.slice(-3)).toEqual(['held', '71', 'told: ']);
  });

  it('that is pulled out lets go once, and turns nothing when it is back before it has met the value', () => {
    const { things, done } = opened();
    things.moved('midi a 7', KNOB, 64);
    things.letGo('midi b ');
    expect(done).not.toContain('let go');
    things.letGo('midi a ');
    jest.advanceTimersByTime(1000);
    expect(done.filter((candidate) => candidate === 'let go')).toHaveLength(1);
    things.moved('midi a 7', KNOB, 100);
    expect(done.at(-1)).toBe('told: turn it down, to 64 dB');
  });

  it('without ends goes on from the value; where nobody knows it, it says so', () => {
    const { things, done, says } = opened({ ...KNOB, endless: true });
    things.moved('midi a 7', KNOB, 3);
    things.moved('midi a 7', KNOB, 127);
    expect(done).toEqual(['held', '67', 'told: ', '66']);
    jest.advanceTimersByTime(5000);
    says(undefined);
    things.moved('midi a 7', KNOB, 1);
    expect(done.at(-1)).toBe('told: its value is not known yet');
  });

  it('of a stick stands at most at its far end, or the other way round', () => {
    const lever: ShortcutOn = { kind: 'axis', axis: 2 };
    const shared = opened(lever);
    shared.things.moved('stick 0 axis 2', lever, 0);
    shared.things.moved('stick 0 axis 2', lever, -1);
    expect(shared.done.at(-1)).toBe('127');
    const other = opened({ ...lever, reversed: true });
    other.things.moved('stick 0 axis 2', lever, 0);
    other.things.moved('stick 0 axis 2', lever, -1);
    expect(other.done.at(-1)).toBe('0');
  });

  it('that turns something else now, or nothing, begins anew', () => {
    const { things, done, state } = opened();
    things.moved('midi a 7', KNOB, 64);
    state.on = { ...KNOB, endless: true };
    things.moved('midi a 7', KNOB, 1);
    expect(done).toEqual(['held', '64', 'told: ', 'let go', 'held', '65', 'told: ']);
    state.there = false;
    expect(things.moved('midi a 7', KNOB, 1)).toBe(false);
  });
});
