import fc from 'fast-check';
import {
  decodeCommand,
  decodeInquiry,
  decodePacket,
  decodeReply,
  encodeCommand,
  encodeInquiry,
  encodePacket,
  encodePanTilt,
  encodeReply,
  type HeadCommand,
  type HeadReply,
  hex,
  panTiltOf,
  zoomOf,
} from './index';

const step = (max: number) => fc.integer({ min: 1, max });
const direction = fc.constantFrom(-1 as const, 0 as const, 1 as const);
const counts = fc.integer({ min: -32_768, max: 32_767 });
const command: fc.Arbitrary<HeadCommand> = fc.oneof(
  fc.record({
    kind: fc.constantFrom('recall' as const, 'store' as const, 'reset' as const),
    number: fc.integer({ min: 0, max: 127 }),
  }),
  fc.record({
    kind: fc.constant('drive' as const),
    panStep: step(24),
    tiltStep: step(20),
    pan: direction,
    tilt: direction,
  }),
  fc.record({
    kind: fc.constant('absolute' as const),
    panStep: step(24),
    tiltStep: step(20),
    panCounts: counts,
    tiltCounts: counts,
  }),
  fc.record({ kind: fc.constantFrom('home' as const, 'zoomStop' as const) }),
  fc.record({
    kind: fc.constant('zoomDrive' as const),
    direction: fc.constantFrom(1 as const, -1 as const),
    step: fc.integer({ min: 0, max: 7 }),
  }),
  fc.record({ kind: fc.constant('zoomDirect' as const), code: fc.integer({ min: 0, max: 0x4000 }) }),
  fc.record({ kind: fc.constant('cancel' as const), socket: fc.constantFrom(1, 2) }),
);
const reply: fc.Arbitrary<HeadReply> = fc.oneof(
  fc.record({ kind: fc.constantFrom('ack' as const, 'done' as const), socket: fc.constantFrom(1, 2) }),
  fc.record({
    kind: fc.constant('error' as const),
    socket: fc.constantFrom(0, 1, 2),
    error: fc.constantFrom(
      'length' as const,
      'syntax' as const,
      'bufferFull' as const,
      'cancelled' as const,
      'noSocket' as const,
      'notExecutable' as const,
    ),
  }),
);

describe('VISCA messages', () => {
  it.each<[HeadCommand, string]>([
    [{ kind: 'recall', number: 1 }, '81 01 04 3F 02 01 FF'],
    [{ kind: 'store', number: 16 }, '81 01 04 3F 01 10 FF'],
    [{ kind: 'drive', panStep: 24, tiltStep: 20, pan: -1, tilt: 1 }, '81 01 06 01 18 14 01 01 FF'],
    [{ kind: 'drive', panStep: 1, tiltStep: 1, pan: 0, tilt: 0 }, '81 01 06 01 01 01 03 03 FF'],
    // −12.45° at 0.075° a count is −166 counts: FF5A in two's complement of 16 bits.
    [
      { kind: 'absolute', panStep: 24, tiltStep: 20, panCounts: -166, tiltCounts: 40 },
      '81 01 06 02 18 14 0F 0F 05 0A 00 00 02 08 FF',
    ],
    [{ kind: 'home' }, '81 01 06 04 FF'],
    [{ kind: 'zoomStop' }, '81 01 04 07 00 FF'],
    [{ kind: 'zoomDrive', direction: 1, step: 3 }, '81 01 04 07 23 FF'],
    [{ kind: 'zoomDirect', code: 0x4000 }, '81 01 04 47 04 00 00 00 FF'],
    [{ kind: 'cancel', socket: 2 }, '81 22 FF'],
  ])('are the bytes of the protocol: %j', (message, bytes) => {
    expect(hex(encodeCommand(message))).toBe(bytes);
  });

  it('come back as they went', () => {
    fc.assert(
      fc.property(command, (message) =>
        expect(decodeCommand(encodeCommand(message))).toEqual({ ok: true, value: message }),
      ),
      { seed: 1 },
    );
    fc.assert(
      fc.property(reply, (message) => expect(decodeReply(encodeReply(message))).toEqual({ ok: true, value: message })),
      { seed: 2 },
    );
    for (const inquiry of ['panTilt', 'zoom', 'power'] as const)
      expect(decodeInquiry(encodeInquiry(inquiry))).toEqual({ ok: true, value: inquiry });
    fc.assert(
      fc.property(counts, counts, (panCounts, tiltCounts) => {
        const answer = decodeReply(encodeReply(encodePanTilt(panCounts, tiltCounts)));
        expect(answer.ok && answer.value.kind === 'answer' && panTiltOf(answer.value.data)).toEqual({
          ok: true,
          value: { panCounts, tiltCounts },
        });
      }),
      { seed: 3 },
    );
  });

  it('reads a zoom answer', () => {
    expect(zoomOf(Uint8Array.from([4, 0, 0, 0]))).toEqual({ ok: true, value: 0x4000 });
    expect(zoomOf(Uint8Array.from([4, 0, 0]))).toMatchObject({ ok: false });
  });

  it('answers any bytes with a value or a typed error, never a throw', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 40 }), (bytes) => {
        for (const decode of [decodePacket, decodeCommand, decodeInquiry, decodeReply]) {
          const result = decode(bytes);
          if (!result.ok) expect(result.error.message).not.toBe('');
        }
      }),
      { seed: 4, numRuns: 2000 },
    );
  });
});

describe('packets', () => {
  it('carry type, length and number big-endian', () => {
    const bytes = encodePacket({
      type: 'command',
      sequence: 0x01020304,
      payload: encodeCommand({ kind: 'recall', number: 1 }),
    });
    expect(hex(bytes)).toBe('01 00 00 07 01 02 03 04 81 01 04 3F 02 01 FF');
    expect(decodePacket(bytes)).toMatchObject({ ok: true, value: { type: 'command', sequence: 0x01020304 } });
  });

  it.each([
    ['01 00 00 08 00 00 00 01 81 01 06 04 FF', 'bad-length'],
    ['55 00 00 05 00 00 00 01 81 01 06 04 FF', 'bad-header'],
    ['01 00 00', 'too-short'],
  ])('that are wrong say why: %s', (text, code) => {
    expect(decodePacket(Uint8Array.from(text.split(' ').map((byte) => parseInt(byte, 16))))).toMatchObject({
      ok: false,
      error: { code },
    });
  });
});
