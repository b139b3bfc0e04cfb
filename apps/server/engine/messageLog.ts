import { decodeCommand, decodeInquiry, decodePacket, decodeReply } from '@umbek/wire/visca';
import { decodeOsc, hex } from '@umbek/wire/osc';

const KEPT = 200;

/** One datagram as it is shown to people. */
export interface ShownMessage {
  readonly at: string;
  readonly direction: 'out' | 'in';
  readonly words: string;
  readonly bytes: string;
}

interface Kept {
  readonly at: number;
  readonly out: boolean;
  readonly bytes: Uint8Array;
}

/**
 * The last messages from and to one device, as bytes; they are put into words when somebody looks. Heartbeats would push everything else
 * out within seconds, so they have a list of their own.
 */
export class MessageLog {
  private readonly plain: Kept[] = [];
  private readonly beats: Kept[] = [];

  constructor(private readonly protocol: 'visca' | 'osc') {}

  keep(bytes: Uint8Array, out: boolean, at: number): void {
    const list = this.isBeat(bytes) ? this.beats : this.plain;
    list.push({ at, out, bytes });
    if (list.length > KEPT) list.shift();
  }

  /** Newest first. */
  shown(heartbeats: boolean): ShownMessage[] {
    const all = heartbeats ? [...this.plain, ...this.beats].sort((a, b) => a.at - b.at).slice(-KEPT) : this.plain;
    return all
      .map(({ at, out, bytes }): ShownMessage => ({ at: new Date(at).toISOString(), direction: out ? 'out' : 'in', words: this.protocol === 'visca' ? viscaWords(bytes) : oscWords(bytes), bytes: hex(bytes) }))
      .reverse();
  }

  /** VISCA inquiries and what answers them; OSC ping and pong. */
  private isBeat(bytes: Uint8Array): boolean {
    if (this.protocol === 'osc') return bytes[1] === 0x70 ? bytes[2] === 0x6f : OSC_PING.test(Buffer.from(bytes.subarray(0, 24)).toString('latin1'));
    return (bytes[0] === 1 && bytes[1] === 0x10) || (bytes[0] === 1 && bytes[1] === 0x11 && bytes[9] === 0x50 && bytes.length > 11);
  }
}

const OSC_PING = /^\/\w+\/ping\0/;

const params = (value: object): string =>
  Object.entries(value)
    .filter(([key]) => key !== 'kind')
    .map(([key, one]) => `${key} ${String(one)}`)
    .join(', ');

function viscaWords(bytes: Uint8Array): string {
  const packet = decodePacket(bytes);
  if (!packet.ok) return `not VISCA: ${packet.error.message}`;
  const { type, sequence, payload } = packet.value;
  const number = `#${sequence}`;
  switch (type) {
    case 'command': {
      const command = decodeCommand(payload);
      return `${number} ${command.ok ? `${command.value.kind} ${params(command.value)}`.trim() : 'unknown command'}`;
    }
    case 'inquiry': {
      const inquiry = decodeInquiry(payload);
      return `${number} asks for ${inquiry.ok ? inquiry.value : 'something unknown'}`;
    }
    case 'reply': {
      const reply = decodeReply(payload);
      if (!reply.ok) return `${number} unknown reply`;
      if (reply.value.kind === 'answer') return `${number} answers`;
      if (reply.value.kind === 'error') return `${number} error: ${reply.value.error}`;
      return `${number} ${reply.value.kind === 'ack' ? 'acknowledged' : 'done'}`;
    }
    case 'control':
      return payload[0] === 1 ? 'sets the sequence number back' : 'control';
    case 'controlReply':
      return payload.length === 1 ? 'sequence number set back' : payload[1] === 1 ? `${number} sequence number not expected` : `${number} message not understood`;
    default:
      return type;
  }
}

function oscWords(bytes: Uint8Array): string {
  const messages = decodeOsc(bytes);
  if (!messages.ok) return `not OSC: ${messages.error.message}`;
  const [first, ...rest] = messages.value;
  const told = first ? `${first.address} ${first.values.map(String).join(' ')}` : 'an empty bundle';
  return rest.length === 0 ? told : `${told} · and ${rest.length} more`;
}
