import type { MidiOn } from '@umbek/core/show';
import { lampValue, MidiLamps, PressedDevices } from './midiLamps';

const note = (number: number): MidiOn => ({ kind: 'midi', message: 'note', channel: 3, number });
const pedal: MidiOn = { kind: 'midi', message: 'control', channel: 16, number: 64 };

function keys() {
  const sent: string[] = [];
  let now = 0;
  const lamps = new MidiLamps(
    (bytes) => sent.push(bytes.map((byte) => byte.toString(16)).join(' ')),
    () => now,
  );
  return { lamps, sent: () => sent.splice(0), wait: (ms: number) => (now += ms) };
}

describe('the lamps of MIDI keys', () => {
  it('are notes and controllers of the key itself, told when they change', () => {
    const { lamps, sent } = keys();
    lamps.set(note(60), lampValue('onAir', false));
    lamps.set(note(60), 127);
    lamps.set(pedal, lampValue('chosen', false));
    lamps.set(note(60), lampValue('onAir', true));
    // 0x92: note on, channel 3; 0xbf: controller, channel 16.
    expect(sent()).toEqual(['92 3c 7f', 'bf 40 40', '92 3c 0']);
    expect([lampValue('onPreview', false), lampValue(null, false), lampValue(undefined, false)]).toEqual([96, 0, 0]);
  });

  it('are all told to a device that comes, and go dark with their button or their page', () => {
    const { lamps, sent } = keys();
    lamps.set(note(60), 127);
    lamps.set(note(61), 0);
    lamps.set(pedal, 64);
    sent();
    lamps.again();
    expect(sent()).toEqual(['92 3c 7f', '92 3d 0', 'bf 40 40']);
    lamps.only([pedal]);
    expect(sent()).toEqual(['92 3c 0']);
    lamps.dark();
    expect(sent()).toEqual(['bf 40 0']);
    lamps.again();
    expect(sent()).toEqual([]);
  });

  it('that come back through a loop are no press, and a finger ten milliseconds later is one', () => {
    const { lamps, wait } = keys();
    lamps.set(note(60), 127);
    expect([lamps.isEcho(note(60)), lamps.isEcho(note(61))]).toEqual([true, false]);
    wait(10);
    expect(lamps.isEcho(note(60))).toBe(false);
    // A lamp that goes out is no press when it comes back.
    lamps.set(note(60), 0);
    expect(lamps.isEcho(note(60))).toBe(false);
  });
});

it('only devices on which something was pressed are told, also after a restart, and twenty at most', () => {
  let kept: string | null = 'no list';
  Object.defineProperty(globalThis, 'window', {
    configurable: true,
    value: { localStorage: { getItem: () => kept, setItem: (_key: string, value: string) => (kept = value) } },
  });
  const devices = new PressedDevices();
  expect([...devices.names]).toEqual([]);
  expect([devices.add('Keys'), devices.add('Keys')]).toEqual([true, false]);
  expect([...new PressedDevices().names]).toEqual(['Keys']);
  for (let count = 0; count < 30; count += 1) devices.add(`Loop ${count}`);
  expect(devices.names.size).toBe(20);
});
