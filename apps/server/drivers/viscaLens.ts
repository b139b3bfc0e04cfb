import { type DeviceCommand, focusOfCode, type Points } from '@umbek/core/devices';
import { type HeadInquiry, nibbleOf, whiteBalanceOf, zoomOf } from '@umbek/wire/visca';

/** What a head is asked beside where it looks; one of them with each heartbeat, so that a change made elsewhere is seen within 1.2 s. */
export const LENS_INQUIRIES: readonly HeadInquiry[] = [
  'power',
  'focusMode',
  'focus',
  'exposureMode',
  'iris',
  'whiteBalance',
];

/** What to read back after a command that sets something; empty for commands that move. */
export function inquiriesAfter(command: string): readonly HeadInquiry[] {
  switch (command) {
    case 'focusMode':
    case 'focus':
      return ['focusMode', 'focus'];
    case 'irisMode':
    case 'iris':
      return ['exposureMode', 'iris'];
    case 'whiteBalance':
      return ['whiteBalance'];
    case 'power':
      return ['power'];
    default:
      return [];
  }
}

/** Points from the answer to one of these inquiries; undefined when the answer cannot be read. */
export function lensPoints(inquiry: HeadInquiry, data: Uint8Array): Points | undefined {
  const nibble = nibbleOf(data);
  switch (inquiry) {
    case 'power':
      return nibble === undefined ? undefined : { power: nibble === 2 };
    case 'focusMode':
      return nibble === undefined ? undefined : { focusMode: nibble === 2 ? 'auto' : 'manual' };
    case 'exposureMode':
      return nibble === undefined ? undefined : { irisMode: nibble === 0 ? 'auto' : 'manual' };
    case 'whiteBalance': {
      const mode = whiteBalanceOf(data);
      return mode === undefined ? undefined : { whiteBalance: mode };
    }
    case 'focus':
    case 'iris': {
      const code = zoomOf(data);
      if (!code.ok) return undefined;
      return inquiry === 'focus' ? { focus: focusOfCode(code.value) } : { iris: code.value & 0xff };
    }
    default:
      return undefined;
  }
}

/** The tally lamp cannot be asked for: what it was last told is what is known. */
export const tallyTold = (command: DeviceCommand): Points =>
  command.command === 'tally' ? { tally: command.params.on === true } : {};
