import fc from 'fast-check';
import { decodeOsc, deviceMessageOf, encodeDeviceMessage, encodeOsc, encodeRequest, hex, requestOf } from './index';

const text = fc.string({ minLength: 1, maxLength: 20 }).filter((value) => !value.includes('\0'));

describe('OSC', () => {
  it('is the bytes of the protocol, with each argument typed', () => {
    // Address, type tags and text are padded with zeros to four bytes; i is 32 bits big-endian.
    const bytes = encodeOsc([encodeRequest('switcher', 'preview', 'a1', [{ value: 4, whole: true }])]);
    expect(hex(bytes)).toBe('2F 73 77 69 74 63 68 65 72 2F 70 72 65 76 69 65 77 00 00 00 2C 73 69 00 61 31 00 00 00 00 00 04');
    expect(hex(encodeOsc([{ address: '/x', args: [{ type: 'f', value: 1 }] }]))).toBe('2F 78 00 00 2C 66 00 00 3F 80 00 00');
  });

  it('brings requests back as they went', () => {
    fc.assert(
      fc.property(text.filter((id) => id.length <= 60), text, fc.integer({ min: -2e9, max: 2e9 }), fc.boolean(), (id, word, number, yes) => {
        const bytes = encodeOsc([encodeRequest('captions', 'nameIn', id, [{ value: word, whole: false }, { value: number, whole: true }, { value: yes, whole: false }])]);
        const decoded = decodeOsc(bytes);
        expect(decoded.ok && decoded.value.map((message) => requestOf(message, 'captions'))).toEqual([{ verb: 'nameIn', id, values: [word, number, yes] }]);
      }),
      { seed: 5 },
    );
  });

  it('keeps the messages of a bundle together', () => {
    const bytes = encodeOsc([
      encodeDeviceMessage('switcher', { kind: 'state', point: 'program', number: 7, value: 4 }),
      encodeDeviceMessage('switcher', { kind: 'state', point: 'mixing', number: 8, value: true }),
      encodeDeviceMessage('switcher', { kind: 'refused', id: 'a1', why: 'no' }),
      encodeDeviceMessage('switcher', { kind: 'pong', id: 'b', number: 8 }),
    ]);
    const decoded = decodeOsc(bytes);
    expect(decoded.ok && decoded.value.map((message) => deviceMessageOf(message, 'switcher'))).toEqual([
      { kind: 'state', point: 'program', number: 7, value: 4 },
      { kind: 'state', point: 'mixing', number: 8, value: true },
      { kind: 'refused', id: 'a1', why: 'no' },
      { kind: 'pong', id: 'b', number: 8 },
    ]);
  });

  it('answers any bytes with a value or a typed error, never a throw', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 64 }), (bytes) => {
        const result = decodeOsc(bytes);
        if (!result.ok) expect(result.error.code).toBe('bad-payload');
      }),
      { seed: 6, numRuns: 2000 },
    );
  });
});
