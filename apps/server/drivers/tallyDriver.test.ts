import type { CommandEvent } from '@umbek/core/engine';
import { VirtualClock } from '@umbek/core/rehearse';
import { decodeTally } from '@umbek/wire/tsl';
import { TallyDriver, type TallySource } from './tallyDriver';

function setUp() {
  const clock = new VirtualClock();
  const packets: string[] = [];
  const reached: string[] = [];
  const sources: TallySource[] = [
    { input: 1, name: 'Desk cam', onProgram: true, onPreview: false },
    { input: 2, name: 'Lucía', onProgram: false, onPreview: true },
  ];
  const driver = new TallyDriver(
    { screen: 3, brightness: 2 },
    {
      clock,
      title: 'Tally at 127.0.0.1:7030',
      transmit: (bytes) => {
        const packet = decodeTally(bytes);
        packets.push(
          packet.ok
            ? `${packet.value.screen}: ${packet.value.displays.map((display) => `${display.index} ${display.text} ${display.textLamp} ${display.brightness}`).join(', ')}`
            : packet.error.message,
        );
      },
      guard: () => undefined,
      placeAt: () => '',
      news: { points: () => undefined, reached: (yes, words) => reached.push(`${yes}: ${words}`) },
    },
    () => sources,
  );
  return { clock, driver, packets, reached, sources };
}

describe('tally out', () => {
  it('tells every source when it begins, at each change and once a second', () => {
    const { clock, driver, packets, reached, sources } = setUp();
    driver.open();
    expect(packets).toEqual(['3: 1 Desk cam red 2, 2 Lucía green 2']);
    expect(reached).toEqual(['true: Tally at 127.0.0.1:7030 only receives: its protocol has no answers.']);
    // Nothing that makes a difference, nothing to tell.
    driver.changed();
    expect(packets).toHaveLength(1);
    sources[1] = { input: 2, name: 'Lucía', onProgram: true, onPreview: true };
    driver.changed();
    expect(packets.at(-1)).toBe('3: 1 Desk cam red 2, 2 Lucía red 2');
    clock.runTo(2500);
    expect(packets).toHaveLength(4);
  });

  it('is not reached while the machine reports a closed port, and is again 2.5 s after the last report', () => {
    const { clock, driver, reached } = setUp();
    driver.open();
    clock.runTo(1500);
    driver.unreachable();
    expect(reached.at(-1)).toBe('false: Nothing takes the packets at Tally at 127.0.0.1:7030. Check power and port.');
    clock.runTo(3900);
    expect(driver.state).toBe('silent');
    clock.runTo(5000);
    expect(driver.state).toBe('reached');
  });

  it('refuses commands: the protocol has none', () => {
    const { clock, driver } = setUp();
    const events: CommandEvent[] = [];
    driver.send('1', { command: 'blink', params: {} }, (event) => events.push(event));
    expect(events).toEqual([]);
    clock.runTo(0);
    expect(events).toEqual([{ type: 'outcome', outcome: 'refused', why: 'The displays take no commands.' }]);
  });
});
