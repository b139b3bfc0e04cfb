import { type Decoded, decoded, undecoded } from '../result';

/** Direction of a drive axis: −1 left or down, 1 right or up, 0 stands. */
export type Direction = -1 | 0 | 1;

/** What a controller says to a head. Speeds are steps (pan 1–24, tilt 1–20, zoom 0–7); angles are counts; zoom is a motor code 0…0x4000. */
export type HeadCommand =
  | { readonly kind: 'recall' | 'store' | 'reset'; readonly number: number }
  | {
      readonly kind: 'drive';
      readonly panStep: number;
      readonly tiltStep: number;
      readonly pan: Direction;
      readonly tilt: Direction;
    }
  | {
      readonly kind: 'absolute';
      readonly panStep: number;
      readonly tiltStep: number;
      readonly panCounts: number;
      readonly tiltCounts: number;
    }
  | { readonly kind: 'home' | 'zoomStop' }
  | { readonly kind: 'zoomDrive'; readonly direction: 1 | -1; readonly step: number }
  | { readonly kind: 'zoomDirect'; readonly code: number }
  /** Focus and exposure: the head's own decision, or by hand (which direct values need first). */
  | { readonly kind: 'focusMode' | 'exposureMode'; readonly auto: boolean }
  /** 0x1000 far … 0xF000 near. */
  | { readonly kind: 'focusDirect'; readonly code: number }
  /** Step of the iris, 0 closed. */
  | { readonly kind: 'irisDirect'; readonly step: number }
  | { readonly kind: 'whiteBalance'; readonly mode: WhiteBalance }
  | { readonly kind: 'power' | 'tally'; readonly on: boolean }
  | { readonly kind: 'cancel'; readonly socket: number };

export const WHITE_BALANCES = { auto: 0x00, indoor: 0x01, outdoor: 0x02, onePush: 0x03, manual: 0x05 } as const;
export type WhiteBalance = keyof typeof WHITE_BALANCES;
const whiteBalanceBy = (code: number | undefined): WhiteBalance | undefined =>
  (Object.keys(WHITE_BALANCES) as WhiteBalance[]).find((name) => WHITE_BALANCES[name] === code);

export type HeadInquiry =
  'panTilt' | 'zoom' | 'power' | 'focusMode' | 'focus' | 'exposureMode' | 'iris' | 'whiteBalance';

/** What a head says. Sockets are 1 or 2; error codes are those of the protocol. */
export type HeadReply =
  | { readonly kind: 'ack' | 'done'; readonly socket: number }
  | { readonly kind: 'error'; readonly socket: number; readonly error: HeadError }
  /** Answer to an inquiry; what its nibbles mean depends on the question. */
  | { readonly kind: 'answer'; readonly data: Uint8Array };

export const HEAD_ERRORS = {
  1: 'length',
  2: 'syntax',
  3: 'bufferFull',
  4: 'cancelled',
  5: 'noSocket',
  0x41: 'notExecutable',
} as const;
export type HeadError = (typeof HEAD_ERRORS)[keyof typeof HEAD_ERRORS];

const END = 0xff;
/** Four nibbles, most significant first; negative counts as two's complement of 16 bits. */
const nibbles = (value: number): number[] => [12, 8, 4, 0].map((shift) => ((value & 0xffff) >> shift) & 0xf);
const unsigned = (data: Uint8Array, from: number): number =>
  [0, 1, 2, 3].reduce((sum, at) => (sum << 4) | ((data[from + at] ?? 0) & 0xf), 0);
const signed = (data: Uint8Array, from: number): number => (unsigned(data, from) << 16) >> 16;

const panCode: Record<Direction, number> = { [-1]: 1, 1: 2, 0: 3 };
const tiltCode: Record<Direction, number> = { 1: 1, [-1]: 2, 0: 3 };
const directionOf = (code: number | undefined, table: Record<Direction, number>): Direction | undefined =>
  ([-1, 0, 1] as const).find((direction) => table[direction] === code);

/** Payload for camera address 1. */
export function encodeCommand(command: HeadCommand): Uint8Array {
  const bytes = (...body: number[]): Uint8Array => Uint8Array.from([0x81, 0x01, ...body, END]);
  switch (command.kind) {
    case 'reset':
      return bytes(0x04, 0x3f, 0x00, command.number);
    case 'store':
      return bytes(0x04, 0x3f, 0x01, command.number);
    case 'recall':
      return bytes(0x04, 0x3f, 0x02, command.number);
    case 'drive':
      return bytes(0x06, 0x01, command.panStep, command.tiltStep, panCode[command.pan], tiltCode[command.tilt]);
    case 'absolute':
      return bytes(
        0x06,
        0x02,
        command.panStep,
        command.tiltStep,
        ...nibbles(command.panCounts),
        ...nibbles(command.tiltCounts),
      );
    case 'home':
      return bytes(0x06, 0x04);
    case 'zoomStop':
      return bytes(0x04, 0x07, 0x00);
    case 'zoomDrive':
      return bytes(0x04, 0x07, (command.direction === 1 ? 0x20 : 0x30) | (command.step & 7));
    case 'zoomDirect':
      return bytes(0x04, 0x47, ...nibbles(command.code));
    case 'focusMode':
      return bytes(0x04, 0x38, command.auto ? 0x02 : 0x03);
    case 'focusDirect':
      return bytes(0x04, 0x48, ...nibbles(command.code));
    case 'exposureMode':
      return bytes(0x04, 0x39, command.auto ? 0x00 : 0x03);
    case 'irisDirect':
      return bytes(0x04, 0x4b, ...nibbles(command.step & 0xff));
    case 'whiteBalance':
      return bytes(0x04, 0x35, WHITE_BALANCES[command.mode]);
    case 'power':
      return bytes(0x04, 0x00, command.on ? 0x02 : 0x03);
    case 'tally':
      return bytes(0x7e, 0x01, 0x0a, 0x00, command.on ? 0x02 : 0x03);
    case 'cancel':
      return Uint8Array.from([0x81, 0x20 | (command.socket & 0xf), END]);
  }
}

export function decodeCommand(payload: Uint8Array): Decoded<HeadCommand> {
  if (payload[0] !== 0x81 || payload[payload.length - 1] !== END)
    return undecoded('bad-payload', 'A command is 81 … FF.');
  const body = payload.subarray(1, -1);
  const [a, b, c, d] = body;
  if (body.length === 1 && a !== undefined && a >> 4 === 2) return decoded({ kind: 'cancel', socket: a & 0xf });
  const is = (length: number, ...head: number[]): boolean =>
    body.length === length && head.every((byte, at) => body[at] === byte);
  const at = (index: number): number => body[index] ?? 0;
  if (is(5, 0x01, 0x04, 0x3f) && d !== undefined && d <= 2 && at(4) <= 127) {
    return decoded({ kind: (['reset', 'store', 'recall'] as const)[d] ?? 'reset', number: at(4) });
  }
  if (is(7, 0x01, 0x06, 0x01)) {
    const [pan, tilt] = [directionOf(at(5), panCode), directionOf(at(6), tiltCode)];
    if (pan === undefined || tilt === undefined) return undecoded('bad-payload', 'A drive direction is 01, 02 or 03.');
    return decoded({ kind: 'drive', panStep: at(3), tiltStep: at(4), pan, tilt });
  }
  if (is(13, 0x01, 0x06, 0x02))
    return decoded({
      kind: 'absolute',
      panStep: at(3),
      tiltStep: at(4),
      panCounts: signed(body, 5),
      tiltCounts: signed(body, 9),
    });
  if (is(3, 0x01, 0x06, 0x04)) return decoded({ kind: 'home' });
  if (is(4, 0x01, 0x04, 0x07)) {
    if (d === 0) return decoded({ kind: 'zoomStop' });
    if (d !== undefined && (d & 0xf) <= 7 && (d >> 4 === 2 || d >> 4 === 3))
      return decoded({ kind: 'zoomDrive', direction: d >> 4 === 2 ? 1 : -1, step: d & 7 });
  }
  if (is(7, 0x01, 0x04, 0x47)) return decoded({ kind: 'zoomDirect', code: unsigned(body, 3) });
  if (is(4, 0x01, 0x04, 0x38) && (d === 2 || d === 3)) return decoded({ kind: 'focusMode', auto: d === 2 });
  if (is(7, 0x01, 0x04, 0x48)) return decoded({ kind: 'focusDirect', code: unsigned(body, 3) });
  if (is(4, 0x01, 0x04, 0x39) && (d === 0 || d === 3)) return decoded({ kind: 'exposureMode', auto: d === 0 });
  if (is(7, 0x01, 0x04, 0x4b)) return decoded({ kind: 'irisDirect', step: unsigned(body, 3) & 0xff });
  if (is(4, 0x01, 0x04, 0x35)) {
    const mode = whiteBalanceBy(d);
    if (mode !== undefined) return decoded({ kind: 'whiteBalance', mode });
  }
  if (is(4, 0x01, 0x04, 0x00) && (d === 2 || d === 3)) return decoded({ kind: 'power', on: d === 2 });
  if (is(6, 0x01, 0x7e, 0x01, 0x0a, 0x00) && (at(5) === 2 || at(5) === 3))
    return decoded({ kind: 'tally', on: at(5) === 2 });
  return undecoded('unknown-message', `Command ${String(a)} ${String(b)} ${String(c)} is not known.`);
}

const INQUIRIES: Record<HeadInquiry, readonly number[]> = {
  panTilt: [0x06, 0x12],
  zoom: [0x04, 0x47],
  power: [0x04, 0x00],
  focusMode: [0x04, 0x38],
  focus: [0x04, 0x48],
  exposureMode: [0x04, 0x39],
  iris: [0x04, 0x4b],
  whiteBalance: [0x04, 0x35],
};

export const encodeInquiry = (inquiry: HeadInquiry): Uint8Array =>
  Uint8Array.from([0x81, 0x09, ...INQUIRIES[inquiry], END]);

export function decodeInquiry(payload: Uint8Array): Decoded<HeadInquiry> {
  if (payload.length === 5 && payload[0] === 0x81 && payload[1] === 0x09 && payload[4] === END) {
    for (const [name, [a, b]] of Object.entries(INQUIRIES))
      if (payload[2] === a && payload[3] === b) return decoded(name as HeadInquiry);
  }
  return undecoded('unknown-message', 'This inquiry is not known.');
}

export function encodeReply(reply: HeadReply): Uint8Array {
  switch (reply.kind) {
    case 'ack':
      return Uint8Array.from([0x90, 0x40 | reply.socket, END]);
    case 'done':
      return Uint8Array.from([0x90, 0x50 | reply.socket, END]);
    case 'error': {
      const code = Object.entries(HEAD_ERRORS).find(([, name]) => name === reply.error)?.[0];
      return Uint8Array.from([0x90, 0x60 | reply.socket, Number(code), END]);
    }
    case 'answer':
      return Uint8Array.from([0x90, 0x50, ...reply.data, END]);
  }
}

export function decodeReply(payload: Uint8Array): Decoded<HeadReply> {
  const [start, second = 0, third = 0] = payload;
  if (start !== 0x90 || payload.length < 3 || payload[payload.length - 1] !== END)
    return undecoded('bad-payload', 'A reply is 90 … FF.');
  const [high, socket] = [second >> 4, second & 0xf];
  if (high === 4 && payload.length === 3) return decoded({ kind: 'ack', socket });
  if (high === 5 && payload.length === 3) return decoded({ kind: 'done', socket });
  if (high === 5 && socket === 0) {
    const data = payload.slice(2, -1);
    if (data.some((byte) => byte > 0xf)) return undecoded('bad-payload', 'An answer is made of nibbles.');
    return decoded({ kind: 'answer', data });
  }
  const error = (HEAD_ERRORS as Record<number, HeadError>)[third];
  if (high === 6 && payload.length === 4 && error !== undefined) return decoded({ kind: 'error', socket, error });
  return undecoded('unknown-message', 'This reply is not known.');
}

export const encodePanTilt = (panCounts: number, tiltCounts: number): HeadReply => ({
  kind: 'answer',
  data: Uint8Array.from([...nibbles(panCounts), ...nibbles(tiltCounts)]),
});
export const encodeZoom = (code: number): HeadReply => ({ kind: 'answer', data: Uint8Array.from(nibbles(code)) });

/** Pan and tilt in counts from the answer to that inquiry. */
export const panTiltOf = (data: Uint8Array): Decoded<{ panCounts: number; tiltCounts: number }> =>
  data.length === 8
    ? decoded({ panCounts: signed(data, 0), tiltCounts: signed(data, 4) })
    : undecoded('bad-length', 'Pan and tilt are eight nibbles.');

/** Zoom motor code from the answer to that inquiry. */
export const zoomOf = (data: Uint8Array): Decoded<number> =>
  data.length === 4 ? decoded(unsigned(data, 0)) : undecoded('bad-length', 'Zoom is four nibbles.');

/** Answer to an inquiry for one of two states (02 yes, 03 no), as power and automatic focus are told. */
export const encodeFlag = (yes: boolean): HeadReply => ({ kind: 'answer', data: Uint8Array.from([yes ? 2 : 3]) });
/** Answer to the exposure mode (00 auto, 03 manual). */
export const encodeExposure = (auto: boolean): HeadReply => ({ kind: 'answer', data: Uint8Array.from([auto ? 0 : 3]) });
export const encodeWhiteBalance = (mode: WhiteBalance): HeadReply => ({
  kind: 'answer',
  data: Uint8Array.from([WHITE_BALANCES[mode]]),
});

/** A single nibble of an answer, or undefined when it has another length. */
export const nibbleOf = (data: Uint8Array): number | undefined => (data.length === 1 ? data[0] : undefined);
export const whiteBalanceOf = (data: Uint8Array): WhiteBalance | undefined => whiteBalanceBy(nibbleOf(data));

/** Control payloads: set the sequence number back, and what a head answers out of turn. */
export const RESET_SEQUENCE = Uint8Array.from([0x01]);
export const SEQUENCE_ERROR = Uint8Array.from([0x0f, 0x01]);
export const NOT_UNDERSTOOD = Uint8Array.from([0x0f, 0x02]);
