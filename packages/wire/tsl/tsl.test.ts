import fc from 'fast-check';
import { decodeTally, type Display, encodeTally, hex } from './index';

const lamp = fc.constantFrom('off' as const, 'red' as const, 'green' as const, 'amber' as const);
const display = (text: fc.Arbitrary<string>): fc.Arbitrary<Display> =>
  fc.record({
    index: fc.integer({ min: 0, max: 65_534 }),
    text,
    left: lamp,
    textLamp: lamp,
    right: lamp,
    brightness: fc.integer({ min: 0, max: 3 }),
  });

describe('TSL UMD 5.0', () => {
  it('is the bytes of the protocol', () => {
    // 0E 00 bytes follow; version 0; ASCII; screen 0; display 4; red left (1 << 4), red text (1 << 2), brightness 3 (3 << 6) = D4 hex; four letters.
    const [packet] = encodeTally([
      { index: 4, text: 'ROOF', left: 'red', textLamp: 'red', right: 'off', brightness: 3 },
    ]);
    expect(hex(packet ?? new Uint8Array())).toBe('0E 00 00 00 00 00 04 00 D4 00 04 00 52 4F 4F 46');
  });

  it('writes names beyond ASCII as UTF-16', () => {
    const [packet] = encodeTally([
      { index: 1, text: 'Lucía', left: 'off', textLamp: 'green', right: 'off', brightness: 1 },
    ]);
    expect(packet?.[3]).toBe(1);
    expect(decodeTally(packet ?? new Uint8Array())).toMatchObject({
      ok: true,
      value: { displays: [{ text: 'Lucía', textLamp: 'green' }] },
    });
  });

  it('comes back as it went, in packets of at most 2,048 bytes', () => {
    const text = fc.oneof(
      fc.string({ maxLength: 40 }).map((item) => item.replace(/[^\x20-\x7e]/g, '')),
      fc.constantFrom('Señal', 'Ночь', '夜'),
    );
    fc.assert(
      fc.property(
        fc.array(display(text), { minLength: 1, maxLength: 120 }),
        fc.integer({ min: 0, max: 65_535 }),
        (displays, screen) => {
          const packets = encodeTally(displays, screen);
          expect(packets.every((packet) => packet.length <= 2048)).toBe(true);
          const back = packets.flatMap((packet) => {
            const decoded = decodeTally(packet);
            return decoded.ok && decoded.value.screen === screen ? decoded.value.displays : [];
          });
          expect(back).toEqual(displays);
        },
      ),
      { seed: 21, numRuns: 60 },
    );
  });

  it('takes any bytes without a throw', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 80 }), (bytes) => {
        const decoded = decodeTally(bytes);
        if (!decoded.ok) expect(decoded.error.message).not.toBe('');
      }),
      { seed: 22, numRuns: 2000 },
    );
  });
});
