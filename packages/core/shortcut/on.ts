import type { MidiOn, ShortcutOn } from '../show/entities';
import { keptFor as keptForKey, keyWords, type Layout, sameKey } from './key';

/** Whether two are the same thing pressed. */
export function sameOn(item: ShortcutOn, other: ShortcutOn): boolean {
  switch (item.kind) {
    case 'key':
      return other.kind === 'key' && sameKey(item, other);
    case 'code':
      return other.kind === 'code' && item.code === other.code;
    case 'midi':
      return (
        other.kind === 'midi' &&
        item.message === other.message &&
        item.channel === other.channel &&
        item.number === other.number
      );
    case 'stick':
      return other.kind === 'stick' && item.button === other.button;
    case 'axis':
      return other.kind === 'axis' && item.axis === other.axis;
  }
}

/** Why something cannot be a shortcut: what else it does, as the end of "{it} …". Null where it is free. */
export const keptFor = (on: ShortcutOn): string | null => (on.kind === 'key' ? keptForKey(on) : null);

/** What is pressed, as people read it. @param layout what this keyboard has printed at a place, where that is known */
export function onWords(on: ShortcutOn, layout?: Layout): string {
  switch (on.kind) {
    case 'key':
      return keyWords(on, layout);
    case 'code':
      return `Dial ${on.code}`;
    case 'midi':
      return `MIDI ${on.message === 'note' ? 'note' : 'controller'} ${on.number}, channel ${on.channel}`;
    case 'stick':
      return `Stick button ${on.button + 1}`;
    case 'axis':
      return `Stick axis ${on.axis + 1}`;
  }
}

/** From this value on a controller is down (MIDI 1.0, switches). */
const DOWN_FROM = 64;

/** What a MIDI message presses or lets go; null for every other message. @param bytes one whole message, as Web MIDI gives it */
export function midiOn(
  bytes: ArrayLike<number>,
): { readonly on: MidiOn; readonly down: boolean; readonly value: number } | null {
  const [status = 0, number = 0, value = 0] = [bytes[0], bytes[1], bytes[2]];
  const kind = status & 0xf0;
  if (status < 0x80 || number > 127 || value > 127 || bytes.length < 3) return null;
  const channel = (status & 0x0f) + 1;
  // A note on without velocity is a note off (MIDI 1.0).
  if (kind === 0x90 || kind === 0x80)
    return { on: { kind: 'midi', message: 'note', channel, number }, down: kind === 0x90 && value > 0, value };
  if (kind === 0xb0)
    return { on: { kind: 'midi', message: 'control', channel, number }, down: value >= DOWN_FROM, value };
  return null;
}
