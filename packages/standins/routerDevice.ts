import { crosspointKey, type DeviceKind, protectKey, RouterSettings } from '@umbek/core/devices';
import type { Clock } from '@umbek/core/engine';
import {
  ACKNOWLEDGE,
  decodeRouterMessage,
  DUMP_ENTRIES,
  encodeFrame,
  encodeRouterMessage,
  FrameReader,
  REFUSE,
  type RouterMessage,
} from '@umbek/wire/swp08';
import { ModelDevice } from './modelDevice';
import type { StandinReport } from './port';

/** One controller's connection to a router. */
export interface Controller {
  receive(bytes: Uint8Array): void;
  closed(): void;
}

/** A router behind SW-P-08, free of sockets. Every change is told to every controller; a destination that is protected answers a connect with its protection. */
export class RouterDevice {
  private readonly controllers = new Set<(message: RouterMessage) => void>();
  private readonly destinations: number;
  private readonly sources: number;
  private readonly device: ModelDevice;
  private count = 0;

  constructor(
    kind: DeviceKind,
    settings: Readonly<Record<string, unknown>>,
    clock: Clock,
    private readonly refusing: () => boolean,
  ) {
    ({ destinations: this.destinations, sources: this.sources } = RouterSettings.parse(settings));
    this.device = new ModelDevice(kind, settings, clock, (changes) => {
      for (const [point, value] of Object.entries(changes)) {
        const destination = Number(/^out(\d+)/.exec(point)?.[1]) - 1;
        for (const say of this.controllers) {
          if (typeof value === 'number') say({ kind: 'connected', destination, source: value - 1 });
          else {
            const on = value === true;
            say({ kind: on ? 'protectConnected' : 'protectDisconnected', destination, device: 0, protected: on });
          }
        }
      }
    });
  }

  report(): StandinReport {
    return this.device.report();
  }

  simulate(what: string): string | null {
    return this.device.simulate(what);
  }

  /** A controller connects. @param send puts bytes on its connection */
  connect(peer: string, send: (bytes: Uint8Array) => void): Controller {
    const reader = new FrameReader();
    const say = (message: RouterMessage): void => send(encodeFrame(encodeRouterMessage(message)));
    this.controllers.add(say);
    return {
      receive: (bytes) => {
        for (const event of reader.push(bytes)) {
          if (event.type === 'bad') {
            this.device.malformed += 1;
            send(REFUSE);
          }
          if (event.type !== 'data') continue;
          const message = decodeRouterMessage(event.data);
          send(message.ok ? ACKNOWLEDGE : REFUSE);
          if (message.ok) this.serve(message.value, peer, say, send);
          else this.device.malformed += 1;
        }
      },
      closed: () => this.controllers.delete(say),
    };
  }

  private sourceAt(destination: number): number {
    return Number(this.device.points[crosspointKey(destination + 1)]) - 1;
  }

  private isProtected(destination: number): boolean {
    return this.device.points[protectKey(destination + 1)] === true;
  }

  private serve(
    message: RouterMessage,
    peer: string,
    say: (message: RouterMessage) => void,
    send: (bytes: Uint8Array) => void,
  ): void {
    if ('destination' in message && message.destination >= this.destinations) return send(REFUSE);
    const protection = (destination: number): RouterMessage => ({
      kind: 'protectTally',
      destination,
      device: 0,
      protected: this.isProtected(destination),
    });
    switch (message.kind) {
      case 'interrogate':
        return say({ kind: 'tally', destination: message.destination, source: this.sourceAt(message.destination) });
      case 'protectInterrogate':
        return say(protection(message.destination));
      case 'dumpRequest':
        for (const [first, length] of this.pieces())
          say({ kind: 'dump', first, sources: list(length, (index) => this.sourceAt(first + index)) });
        return;
      case 'protectDumpRequest':
        for (const [first, length] of this.pieces())
          say({ kind: 'protectDump', first, protections: list(length, (index) => this.isProtected(first + index)) });
        return;
      case 'connect': {
        const { destination, source } = message;
        if (this.refusing() || source >= this.sources) return send(REFUSE);
        const params = { destination: destination + 1, source: source + 1 };
        return this.device.command({ command: 'connect', params }, peer, this.nextId(), (reply) => {
          if (reply.event === 'refused') say(protection(destination));
          // One that changes nothing is answered as well.
          else if (this.sourceAt(destination) === source) say({ kind: 'connected', destination, source });
        });
      }
      case 'protectConnect':
      case 'protectDisconnect': {
        const { destination } = message;
        const on = message.kind === 'protectConnect';
        if (this.refusing()) return send(REFUSE);
        const params = { destination: destination + 1, on };
        return this.device.command({ command: 'protect', params }, peer, this.nextId(), () =>
          say({ kind: on ? 'protectConnected' : 'protectDisconnected', destination, device: 0, protected: on }),
        );
      }
      default:
        this.device.malformed += 1;
        return send(REFUSE);
    }
  }

  private nextId(): string {
    return `${(this.count += 1)}`;
  }

  private pieces(): [first: number, length: number][] {
    const found: [number, number][] = [];
    for (let first = 0; first < this.destinations; first += DUMP_ENTRIES)
      found.push([first, Math.min(DUMP_ENTRIES, this.destinations - first)]);
    return found;
  }
}

const list = <T>(length: number, of: (index: number) => T): T[] => Array.from({ length }, (_, index) => of(index));
