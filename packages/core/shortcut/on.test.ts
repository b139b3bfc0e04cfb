import type { Macro, Shortcut, ShortcutOn } from '../show/index';
import { dialled, longerCodes } from './dial';
import { shortcutOn } from './find';
import { midiOn, onWords, sameOn } from './on';

const note = (number: number, channel = 1): ShortcutOn => ({ kind: 'midi', message: 'note', channel, number });
const code = (digits: string): ShortcutOn => ({ kind: 'code', code: digits });
const shortcut = (id: string, on: ShortcutOn, runs: Shortcut['runs'], station: string | null = null): Shortcut => ({
  id,
  on,
  runs,
  station,
  order: `a${id}`,
});
const macro = (id: string, number: number): Macro => ({ id, number }) as Macro;

describe('what is pressed', () => {
  it('is the same thing only where everything of it is', () => {
    const all: ShortcutOn[] = [
      { kind: 'key', code: 'F2', shift: false, ctrl: false, alt: false, meta: false },
      code('60'),
      note(60),
      note(61),
      note(60, 2),
      { kind: 'midi', message: 'control', channel: 1, number: 60 },
      { kind: 'stick', button: 0 },
      { kind: 'stick', button: 1 },
      { kind: 'axis', axis: 1 },
      { kind: 'axis', axis: 2 },
    ];
    all.forEach((item, at) =>
      all.forEach((other, where) => expect([at, where, sameOn(item, other)]).toEqual([at, where, at === where])),
    );
    expect(all.map((on) => onWords(on))).toEqual([
      'F2',
      'Dial 60',
      'MIDI note 60, channel 1',
      'MIDI note 61, channel 1',
      'MIDI note 60, channel 2',
      'MIDI controller 60, channel 1',
      'Stick button 1',
      'Stick button 2',
      'Stick axis 2',
      'Stick axis 3',
    ]);
  });

  it.each([
    ['note on', [0x90, 60, 100], { on: note(60), down: true, value: 100 }],
    ['note on without velocity, which is off', [0x91, 60, 0], { on: note(60, 2), down: false, value: 0 }],
    ['note off', [0x80, 60, 64], { on: note(60), down: false, value: 64 }],
    [
      'pedal down',
      [0xb0, 64, 64],
      { on: { kind: 'midi', message: 'control', channel: 1, number: 64 }, down: true, value: 64 },
    ],
    [
      'pedal up',
      [0xb0, 64, 63],
      { on: { kind: 'midi', message: 'control', channel: 1, number: 64 }, down: false, value: 63 },
    ],
    ['clock', [0xf8], null],
    ['program change', [0xc0, 5], null],
    ['half a message', [0x90, 60], null],
    ['data where a status should be', [0x10, 60, 1], null],
    ['bytes that no wire has', [0x90, 200, 100], null],
    ['nothing', [], null],
  ])('MIDI: %s', (_name, bytes, what) => expect(midiOn(bytes)).toEqual(what));

  it('is the same controller or lever, whichever way it is told to turn', () => {
    const knob = { kind: 'midi', message: 'control', channel: 1, number: 7 } as const;
    expect(sameOn(knob, { ...knob, endless: true })).toBe(true);
    expect(sameOn({ kind: 'axis', axis: 3 }, { kind: 'axis', axis: 3, reversed: true })).toBe(true);
  });

  it('counts at its own station before everywhere, and at no other', () => {
    const all = [
      shortcut('1', note(60), { button: 'everywhere' }),
      shortcut('2', note(60), { button: 'left' }, 'L'),
      shortcut('3', note(61), { button: 'only left' }, 'L'),
    ];
    expect(shortcutOn(all, note(60))?.id).toBe('1');
    expect(shortcutOn(all, note(60), 'L')?.id).toBe('2');
    expect(shortcutOn(all, note(60), 'R')?.id).toBe('1');
    expect(shortcutOn(all, note(61), 'R')).toBeUndefined();
    expect(shortcutOn(all, note(61))).toBeUndefined();
  });
});

describe('a code on a dial pad', () => {
  const show = {
    macros: [macro('m1', 1), macro('m12', 12), macro('m120', 120), macro('m9', 9)],
    shortcuts: [
      shortcut('a', code('9'), { button: 'b9' }),
      shortcut('b', code('77'), { macro: 'm12' }),
      shortcut('c', code('5'), { button: 'left' }, 'L'),
      shortcut('d', code('5'), { button: 'right' }, 'R'),
    ],
  };

  it('is a macro’s number unless it was given another, and a given code comes first', () => {
    expect(dialled(show, '1', null)).toEqual({ runs: { macro: 'm1' } });
    expect(dialled(show, '120', null)).toEqual({ runs: { macro: 'm120' } });
    expect(dialled(show, '12', null)).toBeNull();
    expect(dialled(show, '77', null)).toEqual({ runs: { macro: 'm12' }, shortcut: 'b' });
    expect(dialled(show, '9', null)).toEqual({ runs: { button: 'b9' }, shortcut: 'a' });
    for (const half of ['', '7', '01', '1200']) expect(dialled(show, half, null)).toBeNull();
  });

  it('means different things on two pads, and nothing on a third', () => {
    expect(dialled(show, '5', 'L')?.runs).toEqual({ button: 'left' });
    expect(dialled(show, '5', 'R')?.runs).toEqual({ button: 'right' });
    expect(dialled(show, '5', null)).toBeNull();
  });

  it('tells how many longer ones begin so', () => {
    expect(longerCodes(show, '1', null)).toBe(1);
    expect(longerCodes(show, '7', null)).toBe(1);
    expect(longerCodes(show, '', 'L')).toBe(5);
    expect(longerCodes(show, '77', null)).toBe(0);
  });
});
