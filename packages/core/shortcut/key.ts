/** Computer keys as shortcuts: stored by their physical place, whatever letters the layout puts there. */
import type { KeyOn } from '../show/entities';

/** What a browser tells of a key that goes down. Names of places: W3C UI Events KeyboardEvent code Values. */
export interface KeyEvent {
  readonly code: string;
  readonly shiftKey: boolean;
  readonly ctrlKey: boolean;
  readonly altKey: boolean;
  readonly metaKey: boolean;
}

export type Layout = (code: string) => string | undefined;

/** Keys that change what others mean: they are never a shortcut by themselves. */
const MODIFIER = /^(Shift|Control|Alt|Meta|OS)(Left|Right)?$|^(CapsLock|NumLock|ScrollLock|Fn|FnLock)$/;

/** A place that a shortcut may name; some keyboards send none for some keys. */
const PLACE = /^[A-Z][A-Za-z0-9]{0,30}$/;

/** The key with what is held beside it. Null for a modifier, and for a key without a place. */
export function keyOn({ code, shiftKey, ctrlKey, altKey, metaKey }: KeyEvent): KeyOn | null {
  if (MODIFIER.test(code) || !PLACE.test(code) || code === 'Unidentified') return null;
  return { kind: 'key', code, shift: shiftKey, ctrl: ctrlKey, alt: altKey, meta: metaKey };
}

export const sameKey = (item: KeyOn, other: KeyOn): boolean =>
  item.code === other.code &&
  item.shift === other.shift &&
  item.ctrl === other.ctrl &&
  item.alt === other.alt &&
  item.meta === other.meta;

/** What the page does with a key by itself, as the end of "{key} …". */
const OWN: Readonly<Record<string, string>> = {
  Tab: 'goes from one control to the next',
  Enter: 'presses the cap that has the focus',
  NumpadEnter: 'presses the cap that has the focus',
  Space: 'presses the cap that has the focus',
  Escape: 'closes what is open',
  ArrowUp: 'goes from cap to cap',
  ArrowDown: 'goes from cap to cap',
  ArrowLeft: 'goes from cap to cap',
  ArrowRight: 'goes from cap to cap',
  Home: 'turns a value to its end, or goes to the first cap',
  End: 'turns a value to its end, or goes to the last cap',
  PageUp: 'turns a value, or scrolls',
  PageDown: 'turns a value, or scrolls',
  F11: 'belongs to the browser',
  F12: 'belongs to the browser',
};
/** With Ctrl: what browsers keep, and what a page is not given back. */
const WITH_CTRL = new Set(['KeyW', 'KeyT', 'KeyN', 'KeyQ', 'Tab', 'F4', 'PageUp', 'PageDown']);
const UNDO = new Set(['KeyZ', 'KeyY']);

/** Why a key cannot be a shortcut: what else it does. Null where it is free. */
export function keptFor(on: KeyOn): string | null {
  if (on.meta) return 'belongs to the system';
  if (on.alt && (on.code === 'F4' || on.code === 'Tab')) return 'belongs to the system';
  if (on.ctrl && WITH_CTRL.has(on.code)) return 'belongs to the browser';
  if (on.ctrl && UNDO.has(on.code)) return 'takes edits back';
  return Object.hasOwn(OWN, on.code) ? (OWN[on.code] ?? null) : null;
}

/** Places whose names are no words. */
const NAMES: Readonly<Record<string, string>> = {
  Minus: '-',
  Equal: '=',
  BracketLeft: '[',
  BracketRight: ']',
  Backslash: '\\',
  IntlBackslash: '<',
  Semicolon: ';',
  Quote: "'",
  Backquote: '`',
  Comma: ',',
  Period: '.',
  Slash: '/',
  NumpadAdd: 'Numpad +',
  NumpadSubtract: 'Numpad -',
  NumpadMultiply: 'Numpad *',
  NumpadDivide: 'Numpad /',
  NumpadDecimal: 'Numpad .',
  NumpadComma: 'Numpad ,',
  NumpadEnter: 'Numpad Enter',
  ArrowUp: 'Up',
  ArrowDown: 'Down',
  ArrowLeft: 'Left',
  ArrowRight: 'Right',
  PageUp: 'Page up',
  PageDown: 'Page down',
  PrintScreen: 'Print screen',
};

const placeWords = (code: string): string =>
  NAMES[code] ?? code.replace(/^(Key|Digit)(?=.$)/, '').replace(/^Numpad(?=\d$)/, 'Numpad ');

/** A key as people read it: "Ctrl + Shift + A". @param layout what this keyboard has printed at a place, where that is known */
export function keyWords({ code, shift, ctrl, alt, meta }: KeyOn, layout?: Layout): string {
  const printed = /^Numpad|^F\d/.test(code) ? undefined : layout?.(code);
  const key = printed === undefined || printed.trim() === '' ? placeWords(code) : printed.toUpperCase();
  return [ctrl ? 'Ctrl' : '', alt ? 'Alt' : '', shift ? 'Shift' : '', meta ? 'Meta' : '', key]
    .filter(Boolean)
    .join(' + ');
}
