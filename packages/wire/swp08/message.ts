import { type Decoded, decoded, undecoded } from '../result';

/** What a router and its controller say. Destinations and sources count from 0 here, as on the wire; matrix and level are 0. */
export type RouterMessage =
  | { readonly kind: 'interrogate'; readonly destination: number }
  | { readonly kind: 'connect' | 'tally' | 'connected'; readonly destination: number; readonly source: number }
  | { readonly kind: 'dumpRequest' | 'protectDumpRequest' }
  /** Sources of destinations from `first` on. */
  | { readonly kind: 'dump'; readonly first: number; readonly sources: readonly number[] }
  | { readonly kind: 'protectInterrogate'; readonly destination: number }
  | { readonly kind: 'protectConnect' | 'protectDisconnect'; readonly destination: number; readonly device: number }
  | {
      readonly kind: 'protectTally' | 'protectConnected' | 'protectDisconnected';
      readonly destination: number;
      readonly device: number;
      readonly protected: boolean;
    }
  | { readonly kind: 'protectDump'; readonly first: number; readonly protections: readonly boolean[] };

/** Command bytes of SW-P-08. */
const CODE = {
  interrogate: 0x01,
  connect: 0x02,
  tally: 0x03,
  connected: 0x04,
  protectInterrogate: 0x0a,
  protectTally: 0x0b,
  protectConnect: 0x0c,
  protectConnected: 0x0d,
  protectDisconnect: 0x0e,
  protectDisconnected: 0x0f,
  protectDumpRequest: 0x13,
  protectDump: 0x14,
  dumpRequest: 0x15,
  dumpBytes: 0x16,
  dump: 0x17,
} as const;

/** Most entries of a word dump. */
export const DUMP_ENTRIES = 64;
/** Numbers go up to this: three bits and seven. */
export const LARGEST_NUMBER = 1023;
const MATRIX_LEVEL = 0;

/** Bits 4 to 6 hold what is above 7 bits of the destination, bits 0 to 2 of the source or device. */
const multiplier = (destination: number, other: number): number => ((destination >> 7) << 4) | (other >> 7);

export function encodeRouterMessage(message: RouterMessage): Uint8Array {
  switch (message.kind) {
    case 'interrogate':
    case 'protectInterrogate':
      return Uint8Array.of(
        CODE[message.kind],
        MATRIX_LEVEL,
        multiplier(message.destination, 0),
        message.destination & 0x7f,
      );
    case 'connect':
    case 'tally':
    case 'connected':
      return Uint8Array.of(
        CODE[message.kind],
        MATRIX_LEVEL,
        multiplier(message.destination, message.source),
        message.destination & 0x7f,
        message.source & 0x7f,
      );
    case 'dumpRequest':
    case 'protectDumpRequest':
      return Uint8Array.of(CODE[message.kind], MATRIX_LEVEL);
    case 'dump':
      return Uint8Array.of(
        CODE.dump,
        MATRIX_LEVEL,
        message.sources.length,
        message.first >> 8,
        message.first & 0xff,
        ...message.sources.flatMap((source) => [source >> 8, source & 0xff]),
      );
    case 'protectConnect':
    case 'protectDisconnect':
      return Uint8Array.of(
        CODE[message.kind],
        MATRIX_LEVEL,
        multiplier(message.destination, message.device),
        message.destination & 0x7f,
        message.device & 0x7f,
      );
    case 'protectTally':
    case 'protectConnected':
    case 'protectDisconnected':
      return Uint8Array.of(
        CODE[message.kind],
        MATRIX_LEVEL,
        message.protected ? 1 : 0,
        multiplier(message.destination, message.device),
        message.destination & 0x7f,
        message.device & 0x7f,
      );
    case 'protectDump':
      return Uint8Array.of(
        CODE.protectDump,
        MATRIX_LEVEL,
        message.protections.length,
        message.first >> 8,
        message.first & 0xff,
        ...message.protections.flatMap((protection) => [protection ? 0x10 : 0, 0]),
      );
  }
}

/** The message in a frame's data, or why it is none. */
export function decodeRouterMessage(data: Uint8Array): Decoded<RouterMessage> {
  const at = (index: number): number => data[index] ?? 0;
  const need = (length: number, message: RouterMessage): Decoded<RouterMessage> =>
    data.length === length
      ? decoded(message)
      : undecoded('bad-payload', `The message is ${data.length} bytes long instead of ${length}.`);
  const destinationOf = (mult: number, low: number): number => (((at(mult) >> 4) & 7) << 7) | (at(low) & 0x7f);
  const otherOf = (mult: number, low: number): number => ((at(mult) & 7) << 7) | (at(low) & 0x7f);
  switch (data[0]) {
    case CODE.interrogate:
      return need(4, { kind: 'interrogate', destination: destinationOf(2, 3) });
    case CODE.protectInterrogate:
      return need(4, { kind: 'protectInterrogate', destination: destinationOf(2, 3) });
    case CODE.connect:
      return need(5, { kind: 'connect', destination: destinationOf(2, 3), source: otherOf(2, 4) });
    case CODE.tally:
      return need(5, { kind: 'tally', destination: destinationOf(2, 3), source: otherOf(2, 4) });
    case CODE.connected:
      return need(5, { kind: 'connected', destination: destinationOf(2, 3), source: otherOf(2, 4) });
    case CODE.dumpRequest:
      return need(2, { kind: 'dumpRequest' });
    case CODE.protectDumpRequest:
      return need(2, { kind: 'protectDumpRequest' });
    case CODE.dumpBytes: {
      const count = at(2);
      return need(4 + count, { kind: 'dump', first: at(3), sources: [...data.subarray(4, 4 + count)] });
    }
    case CODE.dump: {
      const count = at(2);
      return need(5 + 2 * count, {
        kind: 'dump',
        first: (at(3) << 8) | at(4),
        sources: Array.from({ length: count }, (_, index) => (at(5 + 2 * index) << 8) | at(6 + 2 * index)),
      });
    }
    case CODE.protectConnect:
      return need(5, { kind: 'protectConnect', destination: destinationOf(2, 3), device: otherOf(2, 4) });
    case CODE.protectDisconnect:
      return need(5, { kind: 'protectDisconnect', destination: destinationOf(2, 3), device: otherOf(2, 4) });
    case CODE.protectTally:
      return need(6, {
        kind: 'protectTally',
        destination: destinationOf(3, 4),
        device: otherOf(3, 5),
        protected: at(2) !== 0,
      });
    case CODE.protectConnected:
      return need(6, {
        kind: 'protectConnected',
        destination: destinationOf(3, 4),
        device: otherOf(3, 5),
        protected: at(2) !== 0,
      });
    case CODE.protectDisconnected:
      return need(6, {
        kind: 'protectDisconnected',
        destination: destinationOf(3, 4),
        device: otherOf(3, 5),
        protected: at(2) !== 0,
      });
    case CODE.protectDump: {
      const count = at(2);
      return need(5 + 2 * count, {
        kind: 'protectDump',
        first: (at(3) << 8) | at(4),
        protections: Array.from({ length: count }, (_, index) => (at(5 + 2 * index) & 0x70) !== 0),
      });
    }
    default:
      return undecoded('bad-payload', `Message ${data[0] ?? 'without a byte'} is not known here.`);
  }
}
