import fc from 'fast-check';
import { hex } from '../osc/index';
import {
  ACKNOWLEDGE,
  decodeRouterMessage,
  encodeFrame,
  encodeRouterMessage,
  type FrameEvent,
  FrameReader,
  REFUSE,
  type RouterMessage,
} from './index';

describe('SW-P-08 frames', () => {
  it('are 10 02, data, count, checksum, 10 03', () => {
    // Connect destination 4 to source 8: 02 00 00 04 08, five bytes; 02+04+08+05 = 13 hex, its complement ED.
    expect(hex(encodeFrame(encodeRouterMessage({ kind: 'connect', destination: 4, source: 8 })))).toBe(
      '10 02 02 00 00 04 08 05 ED 10 03',
    );
  });

  it('double every 10 between', () => {
    // Destination 16 is 10 hex; 02+10+01+05 = 18 hex, its complement E8.
    expect(hex(encodeFrame(encodeRouterMessage({ kind: 'connect', destination: 16, source: 1 })))).toBe(
      '10 02 02 00 00 10 10 01 05 E8 10 03',
    );
  });

  it('come back as they went, however the stream is cut', () => {
    fc.assert(
      fc.property(
        fc.array(fc.uint8Array({ minLength: 1, maxLength: 60 }), { minLength: 1, maxLength: 6 }),
        fc.integer({ min: 1, max: 9 }),
        (frames, piece) => {
          const stream = Uint8Array.from(frames.flatMap((frame) => [...encodeFrame(frame), ...ACKNOWLEDGE]));
          const reader = new FrameReader();
          const events: FrameEvent[] = [];
          for (let at = 0; at < stream.length; at += piece)
            events.push(...reader.push(stream.subarray(at, at + piece)));
          expect(events).toEqual(frames.flatMap((data) => [{ type: 'data', data }, { type: 'ack' }]));
        },
      ),
      { seed: 11 },
    );
  });

  it('tell a wrong checksum, a refusal and strange bytes, and find their way again', () => {
    const frame = encodeFrame(Uint8Array.of(0x15, 0));
    const broken = Uint8Array.from(frame);
    broken[2] = 0x14;
    const reader = new FrameReader();
    const events = [
      ...reader.push(broken),
      ...reader.push(REFUSE),
      ...reader.push(Buffer.from('HTTP/1.1 400 Bad Request')),
      ...reader.push(frame),
    ];
    expect(events.map((event) => event.type)).toEqual(['bad', 'nak', 'bad', 'data']);
  });

  it('take any bytes without a throw', () => {
    fc.assert(
      fc.property(fc.array(fc.uint8Array({ maxLength: 400 }), { maxLength: 5 }), (pieces) => {
        const reader = new FrameReader();
        for (const piece of pieces)
          for (const event of reader.push(piece)) if (event.type === 'data') decodeRouterMessage(event.data);
      }),
      { seed: 12, numRuns: 500 },
    );
  });
});

describe('SW-P-08 messages', () => {
  const number = fc.integer({ min: 0, max: 1023 });
  const message: fc.Arbitrary<RouterMessage> = fc.oneof(
    fc.record({ kind: fc.constantFrom('interrogate' as const, 'protectInterrogate' as const), destination: number }),
    fc.record({
      kind: fc.constantFrom('connect' as const, 'tally' as const, 'connected' as const),
      destination: number,
      source: number,
    }),
    fc.record({ kind: fc.constantFrom('dumpRequest' as const, 'protectDumpRequest' as const) }),
    fc.record({ kind: fc.constant('dump' as const), first: number, sources: fc.array(number, { maxLength: 64 }) }),
    fc.record({
      kind: fc.constantFrom('protectConnect' as const, 'protectDisconnect' as const),
      destination: number,
      device: number,
    }),
    fc.record({
      kind: fc.constantFrom('protectTally' as const, 'protectConnected' as const, 'protectDisconnected' as const),
      destination: number,
      device: number,
      protected: fc.boolean(),
    }),
    fc.record({
      kind: fc.constant('protectDump' as const),
      first: number,
      protections: fc.array(fc.boolean(), { maxLength: 64 }),
    }),
  );

  it('come back as they went', () => {
    fc.assert(
      fc.property(message, (router) => {
        expect(decodeRouterMessage(encodeRouterMessage(router))).toEqual({ ok: true, value: router });
      }),
      { seed: 13 },
    );
  });

  it('carry numbers above 127 in the multiplier', () => {
    // Destination 700 = 5·128 + 60, source 1000 = 7·128 + 104: multiplier 57 hex.
    expect(hex(encodeRouterMessage({ kind: 'connect', destination: 700, source: 1000 }))).toBe('02 00 57 3C 68');
  });

  it('read a dump of bytes, and tell what is cut short or unknown', () => {
    expect(decodeRouterMessage(Uint8Array.of(0x16, 0, 2, 5, 7, 9))).toEqual({
      ok: true,
      value: { kind: 'dump', first: 5, sources: [7, 9] },
    });
    expect([
      decodeRouterMessage(Uint8Array.of(0x02, 0, 0)).ok,
      decodeRouterMessage(Uint8Array.of(0x7f)).ok,
      decodeRouterMessage(new Uint8Array()).ok,
    ]).toEqual([false, false, false]);
  });
});
