import type { Step } from '../show/index';
import { ruled, rule, turns } from './rules/testRules';
import { command } from './testShow';
import { setValue } from './rules/testRules';

const LEFT = 'spool.ch2Layer1Left';
const PLAYS = 'spool.ch2Layer1Playing';
/** A rule that waits for a condition once the clip plays, then mixes. */
const waits = (until: string, timeoutMs = 60_000) =>
  rule(1, {
    on: turns(PLAYS),
    steps: [
      { id: 'w', onFail: 'stop', kind: 'wait', until, timeoutMs } as Step,
      command('m', 'switcher', 'mix', { frames: 25 }),
    ],
  });

/** A clip of 20 s on channel 2, at a place in it; when the switcher was told something, milliseconds after it began to play. */
function played(rules: ReturnType<typeof rule>[], from = 0) {
  const test = ruled(rules);
  test.does('spool', 'cue', { channel: 2, layer: 1, clip: 'Holding loop' });
  if (from > 0) test.does('spool', 'goTo', { channel: 2, layer: 1, seconds: from });
  test.does('spool', 'play', { channel: 2, layer: 1 });
  const began = test.entries.find((entry) => entry.kind === 'command' && entry.command.command === 'play')?.t ?? 0;
  const counts = (): number[] =>
    test.entries.flatMap((entry) =>
      entry.kind === 'command' && entry.device === 'switcher' ? [Math.round((entry.t - began) * 10) / 10] : [],
    );
  return { ...test, counts };
}

describe('what counts in seconds', () => {
  it('is known between two of them: half a second before its end', () => {
    const { pass, counts } = played([waits(`${PLAYS} && ${LEFT} < 0.5`)]);
    pass(25_000);
    // 20 s less 0.5 s; the player takes 3 ms to begin.
    expect(counts()).toHaveLength(1);
    expect(counts()[0]).toBeGreaterThanOrEqual(19_500);
    expect(counts()[0]).toBeLessThan(19_510);
  });

  it('is under five seconds as soon as five are left, and at five where it is asked whether it is at most that', () => {
    const under = played([waits(`${LEFT} < 5`)]);
    under.pass(25_000);
    const most = played([waits(`${LEFT} <= 5`)]);
    most.pass(25_000);
    for (const [at] of [under.counts(), most.counts()]) {
      expect(at).toBeGreaterThanOrEqual(15_000);
      expect(at).toBeLessThan(15_010);
    }
  });

  it('goes by the end of the clip, wherever it was begun', () => {
    const { pass, counts } = played([waits(`${PLAYS} && ${LEFT} < 1.25`)], 7.3);
    pass(25_000);
    // 20 − 7.3 − 1.25 = 11.45 s.
    expect(counts()[0]).toBeGreaterThanOrEqual(11_450);
    expect(counts()[0]).toBeLessThan(11_460);
  });

  it('stands still with the clip, and goes on from where that stands', () => {
    const { pass, does, counts } = played([waits(`${PLAYS} && ${LEFT} < 0.5`)]);
    pass(10_160);
    does('spool', 'pause', { channel: 2, layer: 1 });
    pass(30_000);
    does('spool', 'play', { channel: 2, layer: 1 });
    expect(counts()).toEqual([]);
    pass(15_000);
    // 19.5 s of playing and about 30.1 s of standing.
    expect(counts()).toHaveLength(1);
    expect(counts()[0]).toBeGreaterThan(49_500);
    expect(counts()[0]).toBeLessThan(49_720);
  });

  it('fires a when rule at its moment, and only while it plays', () => {
    const near = rule(2, {
      on: turns(`${LEFT} < 2.5`),
      onlyIf: PLAYS,
      steps: [command('p', 'switcher', 'preview', { source: 'deskCam' })],
    });
    const { pass, does, counts } = played([near]);
    pass(25_000);
    expect(counts()[0]).toBeGreaterThanOrEqual(17_500);
    expect(counts()[0]).toBeLessThan(17_510);
    // Cued anew and cleared: nothing was near its end.
    does('spool', 'cue', { channel: 2, layer: 1, clip: 'Holding loop' });
    does('spool', 'clear', { channel: 2, layer: 1 });
    pass(5000);
    expect(counts()).toHaveLength(1);
  });

  it('is not run ahead of when the device falls silent', () => {
    const { pass, engine, counts } = played([waits(`${PLAYS} && ${LEFT} < 0.5`, 600_000)]);
    pass(10_100);
    engine.newsOf('spool').reached(false, 'silent');
    pass(60_000);
    expect(counts()).toEqual([]);
  });

  it('leaves other numbers alone', () => {
    const { engine, pass, sent } = ruled([
      rule(3, { on: turns('value.meteors > 2.5'), steps: [setValue('value.client', 'x')] }),
    ]);
    engine.board.set('value.meteors', 3);
    pass(50);
    expect(engine.board.read('value.client')).toBe('x');
    expect(sent('switcher')).toEqual([]);
  });
});
