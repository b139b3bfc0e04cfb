import { setUp } from './testEngine';
import { button, command } from './testShow';

const lever = button(1, [command('l', 'switcher', 'lever', { position: 0 })], {
  dial: { param: 'position', by: 0, min: 0, max: 1, step: 0.01, unit: '', reads: 'switcher.lever' },
});

function room() {
  const all = setUp([lever]);
  return {
    ...all,
    hand: (phase: 'down' | 'hold' | 'up', value: number) => all.press(lever, phase, { value }),
    sent: () => all.ports.switcher.sent.map(({ command: { params } }) => params.position),
  };
}

describe('a value in the hand', () => {
  it('goes where the hand let go, also when the last turn before it got lost', () => {
    const { hand, sent, clock } = room();
    hand('down', 0.2);
    clock.runTo(100);
    hand('hold', 0.5);
    hand('up', 0.8);
    hand('up', 0.9);
    expect(sent()).toEqual([0.2, 0.5, 0.8]);
  });

  it('stays where the hand let go, also when the device is too busy to have taken it yet', () => {
    const { hand, sent, clock, ports } = room();
    hand('down', 0.2);
    clock.runTo(100);
    hand('hold', 0.5);
    hand('up', 0.8);
    expect(sent()).toEqual([0.2, 0.5, 0.8]);
    // The later one takes the place of those before it; the last one waits in the queue for its turn.
    expect(ports.switcher.takenBack).toEqual([0, 1]);
    clock.runTo(3000);
    expect(ports.switcher.takenBack).toEqual([0, 1]);
  });

  it('and so does one whose station fell silent', () => {
    const { hand, sent, clock, ports } = room();
    hand('down', 0.2);
    clock.runTo(100);
    hand('hold', 0.5);
    clock.runTo(3000);
    expect(sent()).toEqual([0.2, 0.5]);
    expect(ports.switcher.takenBack).toEqual([0]);
  });

  it('is turned on by a station that stood still for longer than its lease', () => {
    const { hand, sent, clock } = room();
    hand('down', 0.2);
    clock.runTo(1500);
    expect(hand('hold', 0.6)).toMatchObject({ accepted: true });
    clock.runTo(3000);
    expect(hand('up', 1)).toMatchObject({ accepted: true });
    expect(sent()).toEqual([0.2, 0.6, 1]);
  });

  it('is let go for good after two seconds of silence, and by a stop-all', () => {
    const silent = room();
    silent.hand('down', 0.2);
    silent.clock.runTo(2100);
    expect(silent.hand('hold', 0.6)).toMatchObject({ accepted: false, error: { code: 'not-held' } });
    silent.hand('up', 0.7);
    expect(silent.sent()).toEqual([0.2]);
    const stopped = room();
    stopped.hand('down', 0.2);
    stopped.clock.runTo(1000);
    stopped.engine.stopAll('desk');
    expect(stopped.hand('hold', 0.6)).toMatchObject({ accepted: false, error: { code: 'not-held' } });
    stopped.hand('up', 0.7);
    expect(stopped.sent()).toEqual([0.2]);
  });

  it('never jumps at a press that brings no value, such as that of a key', () => {
    const { press, sent } = room();
    expect(press(lever)).toEqual({
      accepted: false,
      error: {
        code: 'no-value',
        message: `${lever.legend} is turned by hand: a key or a press cannot set it.`,
        mend: 'Turn it on its panel, or make it go step by step in the Bench.',
        short: 'turn it',
      },
    });
    expect(sent()).toEqual([]);
    // Tried as it is written, by whoever programs it.
    expect(press(lever, 'down', { pressId: 'p2', only: 'l' })).toMatchObject({ accepted: true });
    expect(sent()).toEqual([0]);
  });

  it('that goes step by step goes one on from what the device says, within its range', () => {
    const up = button(2, [command('u', 'switcher', 'lever', { position: 0 })], {
      dial: { param: 'position', by: 0.2, min: 0, max: 1, step: 0.01, unit: '', reads: 'switcher.lever' },
    });
    const { engine, ports, press } = setUp([up]);
    const sent = (): unknown[] => ports.switcher.sent.map(({ command: { params } }) => params.position);
    engine.board.set('switcher.lever', 0.5);
    press(up, 'down', { pressId: 'p1' });
    press(up, 'up', { pressId: 'p1' });
    engine.board.set('switcher.lever', 0.9);
    press(up, 'down', { pressId: 'p2' });
    press(up, 'up', { pressId: 'p2' });
    expect(sent()).toEqual([0.7, 1]);
    engine.board.forget('switcher.lever');
    expect(press(up, 'down', { pressId: 'p3' })).toMatchObject({ accepted: false, error: { code: 'unknown-value' } });
    expect(sent()).toEqual([0.7, 1]);
  });
});
