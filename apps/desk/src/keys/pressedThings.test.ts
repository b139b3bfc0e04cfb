import type { ShortcutOn } from '@umbek/core/show';
import { MOST_A_SECOND, PressedThings } from './pressedThings';

const note = (number: number): ShortcutOn => ({ kind: 'midi', message: 'note', channel: 1, number });

function things() {
  const reports: string[] = [];
  const clock = { now: 0 };
  const pressed = new PressedThings(
    (on) => {
      if (on.kind !== 'midi' || on.number > 99) return null;
      reports.push(`down ${on.number}`);
      return `p${on.number}`;
    },
    (pressId) => reports.push(`up ${pressId}`),
    () => clock.now,
  );
  return { reports, clock, pressed };
}

describe('things that are pressed', () => {
  it('press once however often they say so, and let go once', () => {
    const { reports, pressed } = things();
    expect(pressed.down('midi a 60', note(60))).toBe(true);
    expect(pressed.down('midi a 60', note(60))).toBe(true);
    expect(pressed.up('midi a 60')).toBe(true);
    expect(pressed.up('midi a 60')).toBe(false);
    expect(pressed.down('midi a 120', note(120))).toBe(false);
    expect(pressed.up('midi a 120')).toBe(false);
    expect(reports).toEqual(['down 60', 'up p60']);
  });

  it('of a device that is pulled out are let go, and those of another one stay', () => {
    const { reports, pressed } = things();
    pressed.down('midi a 60', note(60));
    pressed.down('midi a 61', note(61));
    pressed.down('midi b 62', note(62));
    pressed.letGo('midi a ');
    expect(reports.slice(3)).toEqual(['up p60', 'up p61']);
    expect(pressed.isDown('midi b 62')).toBe(true);
    pressed.letGo('');
    expect(reports.at(-1)).toBe('up p62');
  });

  it('of a device that babbles press no more than hands do, and each is let go', () => {
    const { reports, clock, pressed } = things();
    for (let number = 0; number < 100; number += 1) {
      clock.now = number;
      pressed.down(`midi a ${number}`, note(number));
      pressed.up(`midi a ${number}`);
    }
    expect(reports).toHaveLength(2 * MOST_A_SECOND);
    clock.now = 1000;
    expect(pressed.down('midi a 1', note(1))).toBe(true);
  });
});
