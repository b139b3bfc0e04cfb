import fc from 'fast-check';
import { fromBuffer, toBuffer } from 'osc-min';
import { decodeOsc, deviceMessageOf, encodeDeviceMessage, encodeOsc, encodeRequest, hex, requestOf } from './index';

const text = fc.string({ minLength: 1, maxLength: 20 }).filter((value) => !value.includes('\0'));

describe('OSC', () => {
  it('is the bytes of the protocol, with each argument typed', () => {
    // Address, type tags and text are padded with zeros to four bytes; i is 32 bits big-endian.
    const bytes = encodeOsc([encodeRequest('switcher', 'preview', 'a1', [{ value: 4, whole: true }])]);
    expect(hex(bytes)).toBe(
      '2F 73 77 69 74 63 68 65 72 2F 70 72 65 76 69 65 77 00 00 00 2C 73 69 00 61 31 00 00 00 00 00 04',
    );
    expect(hex(encodeOsc([{ address: '/x', args: [{ type: 'f', value: 1 }] }]))).toBe(
      '2F 78 00 00 2C 66 00 00 3F 80 00 00',
    );
  });

  it('brings requests back as they went', () => {
    fc.assert(
      fc.property(
        text.filter((id) => id.length <= 60),
        text,
        fc.integer({ min: -2e9, max: 2e9 }),
        fc.boolean(),
        (id, word, number, yes) => {
          const bytes = encodeOsc([
            encodeRequest('captions', 'nameIn', id, [
              { value: word, whole: false },
              { value: number, whole: true },
              { value: yes, whole: false },
            ]),
          ]);
          const decoded = decodeOsc(bytes);
          expect(decoded.ok && decoded.value.map((message) => requestOf(message, 'captions'))).toEqual([
            { verb: 'nameIn', id, values: [word, number, yes] },
          ]);
        },
      ),
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

  const plain = fc.oneof(
    text.map((value) => ({ type: 's' as const, value })),
    fc.integer({ min: -(2 ** 31), max: 2 ** 31 - 1 }).map((value) => ({ type: 'i' as const, value })),
    fc.float({ noNaN: true }).map((value) => ({ type: 'f' as const, value })),
    fc.boolean().map((value) => ({ type: 'b' as const, value })),
  );
  const messages = fc.array(
    fc.record({ address: text.map((value) => `/${value}`), args: fc.array(plain, { maxLength: 6 }) }),
    { minLength: 1, maxLength: 4 },
  );
  /** As the general library is told it. */
  const theirs = ({ address, args }: { address: string; args: readonly { type: string; value: unknown }[] }) => ({
    oscType: 'message' as const,
    address,
    args: args.map(({ type, value }) =>
      type === 'b' ? value : { type: type === 's' ? 'string' : type === 'i' ? 'integer' : 'float', value },
    ),
  });
  const valued = ({ address, args }: { address: string; args: readonly { value: unknown }[] }) => ({
    address,
    values: args.map(({ value }) => value),
  });

  it('is read by a general library as it was meant, and reads what that one writes', () => {
    fc.assert(
      fc.property(messages, (sent) => {
        const [only] = sent;
        const packet = fromBuffer(Buffer.from(encodeOsc(sent)));
        const heard = packet.oscType === 'bundle' ? packet.elements : [packet];
        expect(heard.map((element) => element.oscType === 'message' && valued(element as never))).toEqual(
          sent.map(valued),
        );
        const other =
          sent.length === 1 && only ? theirs(only) : { oscType: 'bundle', timetag: [0, 1], elements: sent.map(theirs) };
        const { buffer, byteOffset, byteLength } = toBuffer(other as never);
        const decoded = decodeOsc(new Uint8Array(buffer, byteOffset, byteLength));
        expect(decoded.ok && decoded.value).toEqual(sent.map(valued));
      }),
      { seed: 7 },
    );
  });

  it('reads doubles and long numbers, and says what is not right', () => {
    const bytes = (...parts: (string | readonly number[] | Buffer)[]) =>
      Buffer.concat(parts.map((part) => (typeof part === 'string' ? Buffer.from(part) : Buffer.from(part))));
    const long = decodeOsc(bytes('/x\0\0', ',dh\0', [0x3f, 0xf8, 0, 0, 0, 0, 0, 0], [0, 0, 0, 1, 0, 0, 0, 2]));
    expect(long.ok && long.value).toEqual([{ address: '/x', values: [1.5, 2 ** 32 + 2] }]);
    const why = (part: Buffer): string => {
      const result = decodeOsc(part);
      return result.ok ? 'fine' : result.error.message;
    };
    expect(why(bytes('x\0\0\0'))).toBe('An address begins with a slash.');
    expect(why(bytes('/xyz'))).toBe('A text has no end.');
    expect(why(bytes('/x\0\0', ',i\0\0', [0, 0]))).toBe('It ends too early.');
    expect(why(bytes('/x\0\0', ',i\0\0', [0, 0, 0, 1], [0, 0, 0, 2]))).toBe('There is more than the type tags tell.');
    expect(why(bytes('/x\0\0', ',b\0\0', [0, 0, 0, 0]))).toBe('An argument of this type is not used here.');
    expect(why(bytes('#bundle\0', [0, 0, 0, 0, 0, 0, 0, 1], [0, 0, 0, 64], '/x\0\0'))).toBe(
      'A part of a bundle is longer than the bundle.',
    );
    const nested = (depth: number): Buffer =>
      depth === 0
        ? bytes('/x\0\0')
        : bytes('#bundle\0', [0, 0, 0, 0, 0, 0, 0, 1], [0, 0, 0, nested(depth - 1).length], nested(depth - 1));
    expect([why(nested(8)), why(nested(9))]).toEqual(['fine', 'Bundles are nested too deep.']);
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
