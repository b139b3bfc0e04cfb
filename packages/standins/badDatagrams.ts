import type { DeviceKind } from '@umbek/core/devices';
import { encodeDeviceMessage, encodeOsc, type OscValue } from '@umbek/wire/osc';
import { encodePacket, encodePanTilt, encodeReply, encodeZoom, type HeadReply } from '@umbek/wire/visca';
import { implausibleValue } from './badBytes';

const whole = (chance: () => number, most: number): number => Math.floor(chance() * most);

const HEAD_SAYS: readonly ((chance: () => number) => HeadReply)[] = [
  (chance) => encodePanTilt(whole(chance, 65_536) - 32_768, whole(chance, 65_536) - 32_768),
  (chance) => encodeZoom(whole(chance, 65_536)),
  (chance) => ({ kind: 'done', socket: 1 + whole(chance, 2) }),
  (chance) => ({ kind: 'ack', socket: 1 + whole(chance, 2) }),
  () => ({ kind: 'error', socket: 0, error: 'bufferFull' }),
  () => ({ kind: 'error', socket: 1, error: 'cancelled' }),
];

/** A datagram of the device's own protocol that says what cannot be, or answers what nobody asked. */
export function implausibleDatagram(kind: DeviceKind, chance: () => number): Uint8Array {
  if (kind.wire === 'visca') {
    const say = HEAD_SAYS[whole(chance, HEAD_SAYS.length)] ?? HEAD_SAYS[0];
    const reply = say?.(chance) ?? { kind: 'done', socket: 1 };
    return encodePacket({ type: 'reply', sequence: whole(chance, 400), payload: encodeReply(reply) });
  }
  const points = Object.keys(kind.points);
  const point = points[whole(chance, points.length)] ?? 'nothing';
  const value = implausibleValue(chance) as OscValue;
  const messages = [
    { kind: 'state', point, number: whole(chance, 2_000_000_000), value },
    { kind: 'state', point: '__proto__', number: whole(chance, 50), value },
    { kind: 'ok', id: `e1.${whole(chance, 100)}` },
    { kind: 'pong', id: 'beat', number: whole(chance, 2_000_000_000) - 1_000_000_000 },
    { kind: 'refused', id: `e1.${whole(chance, 100)}`, why: String(value) },
  ] as const;
  const message = messages[whole(chance, messages.length)] ?? messages[0];
  return encodeOsc([encodeDeviceMessage(kind.key, message)]);
}
