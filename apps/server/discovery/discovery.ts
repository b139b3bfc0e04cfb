import { DEVICE_KINDS } from '@umbek/core/devices';
import type { ShowDocument } from '@umbek/core/show';
import type { FoundReply } from '@umbek/protocol';

/** Services of DNS-SD (RFC 6763) that a device that can be driven announces, and the kind that it is where it does not say so itself. */
export const SERVICES = [
  { type: 'visca', protocol: 'udp', kind: 'ptzHead' },
  { type: 'swp08', protocol: 'tcp', kind: 'router' },
  { type: 'osc', protocol: 'udp', kind: null },
  { type: 'http', protocol: 'tcp', kind: null },
] as const;

/** What somebody on the network says of a service. */
export interface Announced {
  readonly name: string;
  readonly type: string;
  /** From where it was said: an address in it could be anybody's. */
  readonly from: string;
  readonly port: number;
  readonly txt: Readonly<Record<string, unknown>>;
}

/** Listens for announcements. @returns what ends it */
export type Listen = (up: (announced: Announced) => void, down: (announced: Announced) => void) => () => void;

/** So many are kept: whoever announces without end fills no memory. */
const MOST = 200;
const LONGEST_NAME = 60;

/** Devices that announce themselves on the network. An announcement only offers: nothing is spoken to before a person has added it. */
export class Discovery {
  private readonly found = new Map<string, { name: string; kind: string; host: string; port: number }>();
  private readonly end: () => void;

  /** @param listen null: Umbek listens on its own machine only */
  constructor(private readonly listen: Listen | null) {
    this.end =
      listen?.(
        (announced) => this.up(announced),
        (announced) => this.found.delete(keyOf(announced)),
      ) ?? (() => undefined);
  }

  close(): void {
    this.end();
  }

  /** Those that can be driven, by name; with the device of the show that stands there already. */
  list({ devices }: Pick<ShowDocument, 'devices'>): FoundReply {
    return {
      listens: this.listen !== null,
      found: [...this.found.values()]
        .map((item) => ({
          ...item,
          device: devices.find(({ host, port }) => host === item.host && port === item.port)?.name ?? null,
        }))
        .sort((item, other) => item.name.localeCompare(other.name)),
    };
  }

  private up(announced: Announced): void {
    const said = typeof announced.txt.kind === 'string' ? announced.txt.kind : '';
    const kind = Object.hasOwn(DEVICE_KINDS, said) ? said : SERVICES.find(({ type }) => type === announced.type)?.kind;
    // Printers and web pages announce themselves as well: what nobody could drive is not offered.
    if (kind === undefined || kind === null || !(announced.port > 0 && announced.port < 65_536)) return;
    const key = keyOf(announced);
    if (!this.found.has(key) && this.found.size >= MOST) return;
    const name = [...announced.name]
      .filter((letter) => letter >= ' ' && letter !== '\u007f')
      .slice(0, LONGEST_NAME)
      .join('')
      .trim();
    this.found.set(key, {
      name: name === '' ? announced.from : name,
      kind,
      host: announced.from,
      port: announced.port,
    });
  }
}

const keyOf = ({ name, type, from, port }: Announced): string => `${type} ${from} ${port} ${name.slice(0, 200)}`;
