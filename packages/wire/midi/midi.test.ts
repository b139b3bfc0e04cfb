import fc from 'fast-check';
import { encodeMidi, type MidiMessage, MidiReader } from './index';

const message: fc.Arbitrary<MidiMessage> = fc
  .record({
    message: fc.constantFrom('noteOff' as const, 'noteOn' as const, 'control' as const, 'programChange' as const),
    channel: fc.integer({ min: 1, max: 16 }),
    number: fc.integer({ min: 0, max: 127 }),
    value: fc.integer({ min: 0, max: 127 }),
  })
  .map((item) => (item.message === 'programChange' ? { ...item, value: 0 } : item));

describe('MIDI', () => {
  it('is the bytes of the standard: status with the channel from 0, then seven-bit data', () => {
    expect([...encodeMidi({ message: 'noteOn', channel: 1, number: 60, value: 100 })]).toEqual([0x90, 60, 100]);
    expect([...encodeMidi({ message: 'control', channel: 16, number: 7, value: 127 })]).toEqual([0xbf, 7, 127]);
    expect([...encodeMidi({ message: 'programChange', channel: 3, number: 5, value: 0 })]).toEqual([0xc2, 5]);
  });

  it('brings messages back however the stream is cut', () => {
    fc.assert(
      fc.property(fc.array(message, { maxLength: 20 }), fc.integer({ min: 1, max: 5 }), (messages, size) => {
        const bytes = Uint8Array.from(messages.flatMap((midi) => [...encodeMidi(midi)]));
        const reader = new MidiReader();
        const found: MidiMessage[] = [];
        for (let at = 0; at < bytes.length; at += size) found.push(...reader.push(bytes.slice(at, at + size)));
        expect(found).toEqual(messages);
      }),
      { seed: 11 },
    );
  });

  it('keeps running status, and lets real-time and system bytes pass', () => {
    // Note on of channel 1 twice with one status byte, a clock in between, then a system message whose data belong to nobody.
    expect(new MidiReader().push(Uint8Array.of(0x90, 60, 0xf8, 100, 62, 90, 0xf2, 1, 2, 0x80, 60, 0))).toEqual([
      { message: 'noteOn', channel: 1, number: 60, value: 100 },
      { message: 'noteOn', channel: 1, number: 62, value: 90 },
      { message: 'noteOff', channel: 1, number: 60, value: 0 },
    ]);
  });

  it('takes any bytes without a throw', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 100 }), (bytes) => void new MidiReader().push(bytes)),
      { seed: 12, numRuns: 1000 },
    );
  });
});
