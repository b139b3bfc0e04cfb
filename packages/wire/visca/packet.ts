import { type Decoded, decoded, undecoded } from '../result';

/** Payload types of VISCA over IP, as they stand in the first two bytes of the header. */
export const PACKET_TYPES = {
  command: 0x0100,
  inquiry: 0x0110,
  reply: 0x0111,
  setting: 0x0120,
  control: 0x0200,
  controlReply: 0x0201,
} as const;
export type PacketType = keyof typeof PACKET_TYPES;

/** One datagram: header of 8 bytes (type, payload length, sequence number; big-endian), then the payload. */
export interface Packet {
  readonly type: PacketType;
  /** 0 … 2³²−1; a reply carries the number of what it answers. */
  readonly sequence: number;
  readonly payload: Uint8Array;
}

const HEADER_BYTES = 8;
const NAMES = new Map<number, PacketType>(
  Object.entries(PACKET_TYPES).map(([name, code]) => [code, name as PacketType]),
);

export function encodePacket(packet: Packet): Uint8Array {
  const bytes = new Uint8Array(HEADER_BYTES + packet.payload.length);
  const view = new DataView(bytes.buffer);
  view.setUint16(0, PACKET_TYPES[packet.type]);
  view.setUint16(2, packet.payload.length);
  view.setUint32(4, packet.sequence >>> 0);
  bytes.set(packet.payload, HEADER_BYTES);
  return bytes;
}

/** Any byte string gives a packet or a typed error. */
export function decodePacket(bytes: Uint8Array): Decoded<Packet> {
  if (bytes.length < HEADER_BYTES + 1) return undecoded('too-short', `${bytes.length} bytes; a packet has at least 9.`);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const type = NAMES.get(view.getUint16(0));
  if (type === undefined)
    return undecoded('bad-header', `Payload type ${view.getUint16(0).toString(16)} is not VISCA over IP.`);
  if (view.getUint16(2) !== bytes.length - HEADER_BYTES)
    return undecoded('bad-length', 'The length in the header is not that of the payload.');
  return decoded({ type, sequence: view.getUint32(4), payload: bytes.slice(HEADER_BYTES) });
}
