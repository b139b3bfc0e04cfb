import { LivePress } from '@umbek/protocol';
import fc from 'fast-check';
import { isPlainPress } from './liveDesk';

const maybe = <T>(right: fc.Arbitrary<T>) =>
  fc.oneof({ weight: 6, arbitrary: right as fc.Arbitrary<unknown> }, { weight: 1, arbitrary: fc.anything() });

describe('the quick look at a press', () => {
  it('lets nothing through that the schema would refuse', () => {
    const message = fc.record(
      {
        type: maybe(fc.constant('press')),
        pressId: maybe(fc.constantFrom('01J0C0RVANEH1PRESS00000001', '01J0C0RVANEH1PRESS0000000I', '')),
        buttonId: maybe(fc.string({ maxLength: 60 })),
        phase: maybe(fc.constantFrom('down', 'hold', 'up')),
        at: maybe(fc.double()),
        more: fc.anything(),
      },
      { requiredKeys: ['type', 'pressId', 'buttonId', 'phase'] },
    );
    let passed = 0;
    fc.assert(
      fc.property(message, (item) => {
        if (!isPlainPress(item)) return;
        passed += 1;
        expect(LivePress.safeParse(item).success).toBe(true);
      }),
      { seed: 8, numRuns: 3000 },
    );
    expect(passed).toBeGreaterThan(50);
  });
});
