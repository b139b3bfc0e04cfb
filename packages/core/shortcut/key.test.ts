import { keptFor, keyOn, keyWords, sameKey } from './key';

const event = (code: string, held: Partial<Record<'shiftKey' | 'ctrlKey' | 'altKey' | 'metaKey', boolean>> = {}) => ({
  code,
  shiftKey: false,
  ctrlKey: false,
  altKey: false,
  metaKey: false,
  ...held,
});
const on = (code: string, held = {}) => {
  const key = keyOn(event(code, held));
  if (key === null) throw new Error(`${code} is no key.`);
  return key;
};

describe('a key', () => {
  it('is its place with what is held beside it, and no modifier by itself', () => {
    expect(keyOn(event('KeyA', { ctrlKey: true }))).toEqual({
      kind: 'key',
      code: 'KeyA',
      shift: false,
      ctrl: true,
      alt: false,
      meta: false,
    });
    for (const code of ['ShiftLeft', 'ControlRight', 'AltLeft', 'MetaLeft', 'OSLeft', 'CapsLock', 'NumLock', 'Fn', ''])
      expect([code, keyOn(event(code))]).toEqual([code, null]);
    // Some keyboards tell no place of some keys.
    expect(keyOn(event('Unidentified'))).toBeNull();
    expect(keyOn(event('constructor'))).toBeNull();
  });

  it('with Shift is another one than without', () => {
    expect(sameKey(on('F5'), on('F5'))).toBe(true);
    expect(sameKey(on('F5'), on('F5', { shiftKey: true }))).toBe(false);
    expect(sameKey(on('Digit1'), on('Numpad1'))).toBe(false);
  });

  it.each([
    ['KeyA', { ctrlKey: true, shiftKey: true, altKey: true }, 'Ctrl + Alt + Shift + A'],
    ['Digit1', {}, '1'],
    ['Numpad1', {}, 'Numpad 1'],
    ['NumpadAdd', {}, 'Numpad +'],
    ['F13', { shiftKey: true }, 'Shift + F13'],
    ['BracketLeft', {}, '['],
    ['PageUp', {}, 'Page up'],
  ])('%s %j is told as %s', (code, held, words) => expect(keyWords(on(code, held))).toBe(words));

  it('is told by what the keyboard has printed there; the numpad and the F keys are the same on all', () => {
    const german = (code: string): string | undefined =>
      new Map([
        ['KeyY', 'z'],
        ['Numpad1', 'End'],
        ['F5', 'x'],
        ['Semicolon', 'ö'],
        ['KeyA', ' '],
      ]).get(code);
    expect(keyWords(on('KeyY'), german)).toBe('Z');
    expect(keyWords(on('Semicolon'), german)).toBe('Ö');
    expect(keyWords(on('Numpad1'), german)).toBe('Numpad 1');
    expect(keyWords(on('F5'), german)).toBe('F5');
    expect(keyWords(on('KeyA'), german)).toBe('A');
    expect(keyWords(on('KeyB'), german)).toBe('B');
  });

  it('that the page, the browser or the system uses is none to give away', () => {
    for (const [code, held, why] of [
      ['Enter', {}, 'presses the cap that has the focus'],
      ['ArrowUp', { shiftKey: true }, 'goes from cap to cap'],
      ['KeyW', { ctrlKey: true }, 'belongs to the browser'],
      ['KeyZ', { ctrlKey: true }, 'takes edits back'],
      ['F4', { altKey: true }, 'belongs to the system'],
      ['KeyA', { metaKey: true }, 'belongs to the system'],
      ['F12', {}, 'belongs to the browser'],
    ] as const)
      expect([code, keptFor(on(code, held))]).toEqual([code, why]);
    for (const code of ['KeyZ', 'F4', 'F5', 'KeyW', 'Digit0', 'NumpadDecimal']) expect(keptFor(on(code))).toBeNull();
  });
});
