import { decodeCommand, decodeInquiry, decodePacket, decodeReply } from '@umbek/wire/visca';
import type { Wire } from '@umbek/core/devices';
import { decodeOsc, hex } from '@umbek/wire/osc';
import { decodeRouterMessage, FrameReader } from '@umbek/wire/swp08';
import { decodeTally } from '@umbek/wire/tsl';

const KEPT = 200;
/** Bytes that are kept of one message. */
const LONGEST_KEPT = 4096;

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

  constructor(
    private readonly protocol: Wire,
    /** Time of day, milliseconds since 1970. */
    private readonly now: () => number = () => Date.now(),
  ) {}

  /** @param beat an ask or the answer to one, where the bytes do not tell */
  keep(bytes: Uint8Array, out: boolean, beat = false): void {
    const list = beat || this.isBeat(bytes) ? this.beats : this.plain;
    // A device that floods us with long messages is not kept whole.
    list.push({ at: this.now(), out, bytes: bytes.length > LONGEST_KEPT ? bytes.slice(0, LONGEST_KEPT) : bytes });
    if (list.length > KEPT) list.shift();
  }

  /** Newest first. */
  shown(heartbeats: boolean): ShownMessage[] {
    const all = heartbeats ? [...this.plain, ...this.beats].sort((a, b) => a.at - b.at).slice(-KEPT) : this.plain;
    return all
      .map(({ at, out, bytes }): ShownMessage => ({
        at: new Date(at).toISOString(),
        direction: out ? 'out' : 'in',
        words: this.words(bytes),
        bytes: hex(bytes),
      }))
      .reverse();
  }

  /** Whatever a device said, it can be shown. */
  private words(bytes: Uint8Array): string {
    try {
      return WORDS[this.protocol](bytes);
    } catch {
      return 'not understood';
    }
  }

  /** VISCA inquiries and what answers them; OSC ping and pong; "alive"; acknowledgements and the tally of the first destination. */
  private isBeat(bytes: Uint8Array): boolean {
    if (this.protocol === 'tsl' || this.protocol === 'profile') return false;
    if (this.protocol === 'http') return HTTP_ALIVE.test(Buffer.from(bytes.subarray(0, 12)).toString('latin1'));
    if (this.protocol === 'swp08') return bytes.length === 2 || ROUTER_BEAT.test(hex(bytes.subarray(0, 16)));
    if (this.protocol === 'osc')
      return bytes[1] === 0x70
        ? bytes[2] === 0x6f
        : OSC_BEAT.test(Buffer.from(bytes.subarray(0, 52)).toString('latin1'));
    return (
      (bytes[0] === 1 && bytes[1] === 0x10) ||
      (bytes[0] === 1 && bytes[1] === 0x11 && bytes[9] === 0x50 && bytes.length > 11)
    );
  }
}

const HTTP_ALIVE = /^(GET )?\/alive/;
/** Interrogate and tally of destination 1, alone or after an acknowledgement. */
const ROUTER_BEAT = /^(10 06 )?10 02 0[13] 00 0. 00/;
/** A ping, a bundle of levels, or where the buffer of a replay server has got to: 25 and one a second would push everything else out. */
const OSC_BEAT =
  /^\/\w+\/ping\0|^#bundle.{12}\/soundMixer\/state\/ch\d+Level|^\/soundMixer\/state\/ch\d+Level|^(#bundle.{12})?\/replayServer\/state\/buffer(Start|End)\0/s;

const params = (value: object): string =>
  Object.entries(value)
    .filter(([key]) => key !== 'kind')
    .map(([key, item]) => `${key} ${String(item)}`)
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
      return payload.length === 1
        ? 'sequence number set back'
        : payload[1] === 1
          ? `${number} sequence number not expected`
          : `${number} message not understood`;
    default:
      return type;
  }
}

function oscWords(bytes: Uint8Array): string {
  const messages = decodeOsc(bytes);
  if (!messages.ok) return `not OSC: ${messages.error.message}`;
  const [first, ...rest] = messages.value;
  const words = first ? `${first.address} ${first.values.map(String).join(' ')}` : 'an empty bundle';
  return rest.length === 0 ? words : `${words} · and ${rest.length} more`;
}

function routerWords(bytes: Uint8Array): string {
  const frames = new FrameReader().push(bytes).map((event) => {
    if (event.type !== 'data') return { ack: 'received', nak: 'refused', bad: 'not SW-P-08' }[event.type];
    const message = decodeRouterMessage(event.data);
    if (!message.ok) return `unknown message: ${message.error.message}`;
    const { kind, ...rest } = message.value;
    const numbers = Object.entries(rest).map(
      ([key, value]) =>
        `${key} ${Array.isArray(value) ? `${value.length} entries` : typeof value === 'number' ? value + 1 : String(value)}`,
    );
    return `${kind} ${numbers.join(', ')}`.trim();
  });
  return frames.length <= 3 ? frames.join(' · ') : `${frames.slice(0, 3).join(' · ')} · and ${frames.length - 3} more`;
}

function tallyWords(bytes: Uint8Array): string {
  const tally = decodeTally(bytes);
  if (!tally.ok) return `not TSL UMD: ${tally.error.message}`;
  return tally.value.displays.map((display) => `${display.index} ${display.text} ${display.textLamp}`).join(', ');
}

/** Text as text; OSC as OSC; other bytes speak for themselves. */
function plainWords(bytes: Uint8Array): string {
  if (bytes[0] === 0x2f || (bytes[0] === 0x23 && bytes[1] === 0x62)) {
    const osc = decodeOsc(bytes);
    if (osc.ok) return oscWords(bytes);
  }
  const text = Buffer.from(bytes).toString('utf8');
  // eslint-disable-next-line no-control-regex
  return /[\u0000-\u0008\u000e-\u001f\ufffd]/.test(text) ? `${bytes.length} bytes` : text.trim();
}

const WORDS: Readonly<Record<Wire, (bytes: Uint8Array) => string>> = {
  visca: viscaWords,
  osc: oscWords,
  http: (bytes) => Buffer.from(bytes).toString('utf8'),
  swp08: routerWords,
  tsl: tallyWords,
  profile: plainWords,
};
