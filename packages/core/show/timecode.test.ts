import fc from 'fast-check';
import { FRAME_RATES, frameMs } from './frames';
import { timecodeSeconds, timecodeText } from './timecode';

describe('timecode', () => {
  it('counts whole rates by their frames', () => {
    expect(timecodeSeconds('10:15:00:12', 25)).toBeCloseTo(36_900.48, 9);
    expect(timecodeText(36_900.48, 25)).toBe('10:15:00:12');
    expect(timecodeText(36_900.519, 25)).toBe('10:15:00:12');
    expect(timecodeText(59.99, 50)).toBe('00:00:59:49');
    expect(timecodeText(86_400, 25)).toBe('00:00:00:00');
  });

  it('leaves out the numbers that drop-frame leaves out, and no frame', () => {
    // 29.97: 1,798 frames in the first minute after 00:00:59;29, which is frame 1,799; frame 1,800 is 00:01:00;02.
    expect(timecodeText((1799 * frameMs(29.97)) / 1000, 29.97)).toBe('00:00:59;29');
    expect(timecodeText((1800 * frameMs(29.97)) / 1000, 29.97)).toBe('00:01:00;02');
    // Ten minutes have 17,982 frames, and their last one is 00:09:59;29.
    expect(timecodeText((17_981 * frameMs(29.97)) / 1000, 29.97)).toBe('00:09:59;29');
    expect(timecodeText((17_982 * frameMs(29.97)) / 1000, 29.97)).toBe('00:10:00;00');
    // An hour has 107,892 of them: 3,599.9964 s.
    expect(timecodeSeconds('01:00:00;00', 29.97)).toBeCloseTo(3599.9964, 6);
    // At 59.94 four are left out.
    expect(timecodeText((3600 * frameMs(59.94)) / 1000, 59.94)).toBe('00:01:00;04');
    expect(timecodeSeconds('00:01:00;03', 59.94)).toBeNull();
    expect(timecodeSeconds('00:01:00;01', 29.97)).toBeNull();
    expect(timecodeSeconds('00:10:00;01', 29.97)).not.toBeNull();
  });

  it('is not dropped at 23.98', () => {
    expect(timecodeSeconds('00:01:00:00', 23.98)).toBeCloseTo(60.06, 9);
    expect(timecodeText(60.06, 23.98)).toBe('00:01:00:00');
  });

  it('takes nothing else for one', () => {
    for (const text of ['', '10:15', '24:00:00:00', '10:60:00:00', '10:00:60:00', '10:00:00:25', '10:00:00:1', 'ten'])
      expect([text, timecodeSeconds(text, 25)]).toEqual([text, null]);
    expect(timecodeSeconds(' 9:59:59:24 ', 25)).toBeCloseTo(35_999.96, 9);
  });

  it('there and back is the same frame, at every rate', () => {
    fc.assert(
      fc.property(fc.constantFrom(...FRAME_RATES), fc.integer({ min: 0, max: 2_000_000 }), (rate, frame) => {
        const seconds = (frame * frameMs(rate)) / 1000;
        const text = timecodeText(seconds, rate);
        expect(timecodeSeconds(text, rate)).toBeCloseTo(seconds, 6);
      }),
      { numRuns: 500 },
    );
  });
});
