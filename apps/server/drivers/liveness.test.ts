import { VirtualClock } from '@umbek/core/rehearse';
import { Liveness } from './liveness';
import { wordsOf } from './linkWords';

function setUp() {
  const clock = new VirtualClock();
  const reports: string[] = [];
  const asked: string[] = [];
  const liveness = new Liveness(clock, {
    beat: () => asked.push(`beat ${clock.now()}`),
    probe: () => asked.push(`probe ${clock.now()}`),
    changed: (state, silentFor) => reports.push(`${state} ${String(silentFor)} at ${clock.now()}`),
  });
  return { clock, liveness, reports, asked };
}

describe('whether a device is heard', () => {
  it('is looked for with growing intervals, and called silent once it was looked for twice', () => {
    const { clock, liveness, reports, asked } = setUp();
    liveness.open();
    clock.runTo(3000);
    // 200 ms times 1.5 each: 300, 450, 675, then a second at the most.
    expect(asked).toEqual(['probe 0', 'probe 300', 'probe 750', 'probe 1425', 'probe 2425']);
    expect(reports).toEqual(['silent null at 300']);
  });

  it('is reached only when its driver says so, then beaten every 200 ms and silent 1.8 s after its last word', () => {
    const { clock, liveness, reports, asked } = setUp();
    liveness.open();
    clock.runTo(100);
    liveness.heard();
    expect(reports).toEqual([]);
    liveness.arrived();
    asked.length = 0;
    clock.runTo(1000);
    expect(asked).toEqual(['beat 300', 'beat 500', 'beat 700', 'beat 900']);
    clock.runTo(1899);
    expect(liveness.state).toBe('reached');
    clock.runTo(2100);
    expect(reports).toEqual(['reached 0 at 100', 'silent 1800 at 1900']);
  });

  it('is silent at once after two refusals of the machine itself, one alone is chance', () => {
    const { liveness, reports } = setUp();
    liveness.open();
    liveness.heard();
    liveness.arrived();
    liveness.refused();
    liveness.heard();
    liveness.refused();
    expect(liveness.state).toBe('reached');
    liveness.refused();
    expect(reports.at(-1)).toBe('silent 0 at 0');
  });

  it('is foreign while only what is not its protocol comes', () => {
    const { clock, liveness, reports } = setUp();
    liveness.open();
    liveness.foreign();
    clock.runTo(400);
    expect(reports).toEqual(['foreign null at 300']);
    clock.runTo(4000);
    expect(liveness.state).toBe('silent');
  });

  it('is told in words with the mend', () => {
    expect(wordsOf('silent', 'Dome cam at 127.0.0.1:52383', 'VISCA over IP', 12_400)).toBe(
      'Dome cam at 127.0.0.1:52383 does not answer. Last reply 12 s ago. Check power and port.',
    );
    expect(wordsOf('silent', 'Dome cam', 'VISCA over IP', null)).toBe(
      'Dome cam does not answer. It was never heard. Check power and port.',
    );
    expect(wordsOf('foreign', 'Dome cam', 'VISCA over IP', 100)).toBe(
      'Dome cam answers, but not as VISCA over IP. Check the port.',
    );
  });
});
