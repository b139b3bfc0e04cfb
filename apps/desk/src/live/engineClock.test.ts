import { EngineClock } from './engineClock';

describe('the engine’s clock as a page knows it', () => {
  it('takes the tightest of several exchanges, not the last', () => {
    const clock = new EngineClock();
    // The engine is 1,000 ms ahead. A quick exchange: 4 ms. Then a slow one, whose answer took 300 ms on its way back.
    clock.measured(100, 1102, 104);
    clock.measured(200, 1201, 501);
    // Its bounds: 998 to 1,001 ms, the first of them from the quick one.
    expect(clock.at(600)).toBeCloseTo(1599.5, 0);
  });

  it('begins anew when an exchange contradicts what it knows: the page slept for a minute and its clock with it', () => {
    const clock = new EngineClock();
    clock.measured(100, 1102, 104);
    clock.measured(200, 61_202, 204);
    expect(clock.at(300)).toBeCloseTo(61_300, 0);
  });

  it('follows clocks that drift apart', () => {
    const clock = new EngineClock();
    for (let at = 0; at <= 3_600_000; at += 700) clock.measured(at, at * 1.0001 + 500, at + 4);
    expect(Math.abs((clock.at(3_600_000) ?? 0) - (3_600_000 * 1.0001 + 500))).toBeLessThan(5);
  });

  it('knows nothing before the first answer', () => {
    expect(new EngineClock().at(5)).toBeNull();
  });
});
