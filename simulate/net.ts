import type { DeviceKind, Wire } from '@umbek/core/devices';
import { DEVICE_KINDS } from '@umbek/core/devices';
import {
  babble,
  type Effect,
  HttpDevice,
  implausibleDatagram,
  implausibleJson,
  OscStandin,
  PtzHeadStandin,
  RouterDevice,
} from '@umbek/standins';
import type { Address, HttpSide, Network, StreamEvents } from '../apps/server/border/network';
import type { Chance } from './chance';
import type { SimClock, SimProcess } from './processes';
import { type Inner, lights, mast, OF_PROFILE, slit } from './profiled';

/** What is wrong with the way to one device. */
export interface LinkFaults {
  drop: number;
  double: number;
  /** Longest extra delay, milliseconds; keeps no order on datagrams. */
  delayMs: number;
  silent: boolean;
  refuse: boolean;
  /** Nothing listens at its address. */
  dead: boolean;
  implausible: boolean;
  babbling: boolean;
}

export const WELL: LinkFaults = {
  drop: 0,
  double: 0,
  delayMs: 0,
  silent: false,
  refuse: false,
  dead: false,
  implausible: false,
  babbling: false,
};

/** Way there or back without any fault, milliseconds. */
const WAY_MS = 0.4;

interface DeviceConfig {
  readonly key: string;
  readonly kind: string;
  readonly port: number;
  readonly settings: Readonly<Record<string, unknown>>;
  readonly repeats?: boolean;
}

/** A stand-in on the simulated net: the device itself is real, the way to it can be bad. Switched off and on it has forgotten everything. */
export class SimDevice {
  faults: LinkFaults = { ...WELL };
  readonly wire: Wire | 'slit' | 'lights' | 'mast';
  readonly kind: DeviceKind;
  inner: Inner;
  /** Until when messages that were delayed may still be under way. */
  delayedUntil = 0;
  readonly eventStreams = new Set<(data: string) => void>();
  readonly effects: Effect[] = [];

  constructor(
    readonly config: DeviceConfig,
    private readonly net: SimNet,
  ) {
    this.kind = DEVICE_KINDS[config.kind] ?? missing(config.kind);
    this.wire = config.kind === 'generic' ? (OF_PROFILE[String(config.settings.profile)] ?? 'lights') : this.kind.wire;
    this.inner = this.start();
  }

  /** Switched off and on: it stands where it stood, and has forgotten what it was told. */
  restart(): void {
    this.effects.push(...this.inner.report().effects);
    this.eventStreams.clear();
    this.inner = this.start();
  }

  allEffects(): Effect[] {
    return [...this.effects, ...this.inner.report().effects];
  }

  points(): Readonly<Record<string, unknown>> {
    return this.inner.report().points;
  }

  private start(): Inner {
    const { config, kind, net } = this;
    const { clock } = net;
    const refusing = (): boolean => this.faults.refuse;
    const send = (bytes: Uint8Array, to: string): void => net.fromDevice(this, bytes, to);
    switch (this.wire) {
      case 'visca': {
        const head = new PtzHeadStandin(config.settings, config.repeats ?? false, { clock, refusing, send });
        return { datagram: (bytes, from) => head.receive(bytes, from), report: () => head.report() };
      }
      case 'osc': {
        const device = new OscStandin(kind, config.settings, { clock, refusing, send });
        return {
          datagram: (bytes, from) => device.receive(bytes, from),
          report: () => device.report(),
          simulate: (what) => device.simulate(what),
        };
      }
      case 'http': {
        const device = new HttpDevice(kind, config.settings, clock, refusing, (data) => {
          for (const stream of this.eventStreams) stream(data);
        });
        return { ask: (...all) => device.ask(...all), report: () => device.report() };
      }
      case 'swp08': {
        const device = new RouterDevice(kind, config.settings, clock, refusing);
        return { connect: (peer, say) => device.connect(peer, say), report: () => device.report() };
      }
      case 'tsl':
        return { datagram: () => undefined, report: () => ({ points: {}, effects: [] }) };
      case 'mast':
        return mast(clock);
      default:
        return this.wire === 'slit' ? slit() : lights(send);
    }
  }
}

function missing(kind: string): never {
  throw new Error(`There is no kind ${kind}.`);
}

type Told = Parameters<Network['datagrams']>[1];

/** The simulated net: every message takes its time, and may be lost, doubled, late, or something else altogether. */
export class SimNet {
  private readonly devices = new Map<number, SimDevice>();
  private readonly sockets = new Map<string, { process: SimProcess; events: Told }>();
  private count = 0;
  /** Faults that really met a message, by wire. */
  readonly met = new Set<string>();

  constructor(
    readonly clock: SimClock,
    private readonly chance: Chance,
  ) {}

  add(config: DeviceConfig): SimDevice {
    const device = new SimDevice(config, this);
    this.devices.set(config.port, device);
    return device;
  }

  /** The device at a port. */
  at(port: number): SimDevice {
    return this.devices.get(port) ?? missing(String(port));
  }

  /** Carries something over the way to or from a device. */
  private carry(device: SimDevice, datagram: boolean, work: () => void, notBefore = 0): number {
    const { faults } = device;
    const meet = (fault: string): void => void this.met.add(`${device.wire} ${fault}`);
    if (faults.dead) return -1;
    if (faults.silent) {
      meet('silent');
      return -1;
    }
    if (datagram && this.chance.is(faults.drop)) {
      meet('drop');
      return -1;
    }
    const copies = datagram && this.chance.is(faults.double) ? 2 : 1;
    if (copies === 2) meet('double');
    let at = 0;
    for (let copy = 0; copy < copies; copy += 1) {
      const extra = faults.delayMs === 0 ? 0 : this.chance.next() * faults.delayMs;
      if (extra > 0) meet('delay');
      at = Math.max(notBefore, this.clock.now() + WAY_MS + extra);
      device.delayedUntil = Math.max(device.delayedUntil, at);
      this.clock.at(at, work);
    }
    return at;
  }

  /** A datagram of somebody outside the engine: the parent with its stops. */
  send(port: number, bytes: Uint8Array, from: string): void {
    const device = this.devices.get(port);
    if (device === undefined || device.faults.dead) return;
    this.carry(device, true, () => device.inner.datagram?.(bytes, from));
  }

  /** The same over a connection of its own. */
  sendOver(port: number, messages: readonly Uint8Array[], from: string): void {
    const device = this.devices.get(port);
    if (device === undefined || device.faults.dead) return;
    this.carry(device, false, () => {
      const connection = device.inner.connect?.(from, () => undefined);
      // What it is sent comes behind the greeting, and in order.
      let at = 0;
      for (const bytes of messages) at = this.carry(device, false, () => connection?.receive(bytes), at);
    });
  }

  fromDevice(device: SimDevice, bytes: Uint8Array, to: string): void {
    const socket = this.sockets.get(to);
    const { faults } = device;
    let said = bytes;
    if (faults.babbling) said = babble(this.chance.next);
    else if (faults.implausible && this.chance.is(0.3)) said = implausibleDatagram(device.kind, this.chance.next);
    if (said !== bytes) this.met.add(`${device.wire} ${faults.babbling ? 'babbling' : 'implausible'}`);
    this.carry(device, true, () => {
      if (this.sockets.get(to) === socket) socket?.process.reach(() => socket.events.message(said));
    });
  }

  /** A device that has gone mad speaks unasked. */
  badly(device: SimDevice): void {
    const { faults } = device;
    if ((!faults.babbling && !faults.implausible) || faults.silent || faults.dead) return;
    const bytes = faults.babbling ? babble(this.chance.next) : implausibleDatagram(device.kind, this.chance.next);
    this.met.add(`${device.wire} ${faults.babbling ? 'babbling' : 'implausible'}`);
    for (const { process, events } of this.socketsOf(device)) process.reach(() => events.message(bytes));
    for (const stream of device.eventStreams)
      stream(
        faults.babbling
          ? Buffer.from(bytes).toString('latin1')
          : implausibleJson('{"number":7,"point":"recording","value":true}', this.chance.next),
      );
    for (const item of this.open)
      if (item.device === device) item.data(faults.babbling ? bytes : Uint8Array.from([0x10, 2, 3, 0, 9]));
  }

  private socketsOf(device: SimDevice) {
    return [...this.sockets].flatMap(([address, socket]) =>
      address.endsWith(`>${device.config.port}`) ? [socket] : [],
    );
  }

  private readonly open = new Set<{ device: SimDevice; data: (bytes: Uint8Array) => void; cut: () => void }>();

  /** Cuts every connection to a device. */
  cut(device: SimDevice): void {
    for (const item of [...this.open]) if (item.device === device) item.cut();
  }

  /** The net as one process sees it; nothing comes of a process that is dead. */
  side(process: SimProcess): Network {
    return {
      datagrams: (to, events) => this.datagrams(process, to, events),
      stream: (to, limitMs, events) => this.stream(process, to, limitMs, events),
      webSocket: (to, _path, limitMs, events) => ({
        ...this.stream(process, to, limitMs, events),
        text: () => undefined,
      }),
      http: (to) => this.http(process, to),
    };
  }

  private datagrams(process: SimProcess, to: Address, events: Told) {
    const address = `engine:${(this.count += 1)}>${to.port}`;
    this.sockets.set(address, { process, events });
    this.clock.at(this.clock.now(), () => process.reach(() => events.open()));
    return {
      send: (bytes: Uint8Array) => {
        if (!process.alive || !this.sockets.has(address)) return;
        const device = this.devices.get(to.port);
        if (device === undefined || device.faults.dead) {
          this.clock.at(
            this.clock.now() + WAY_MS,
            () => this.sockets.has(address) && process.reach(() => events.refused()),
          );
          return;
        }
        const sent = bytes.slice();
        this.carry(device, true, () => device.inner.datagram?.(sent, address));
      },
      close: () => void this.sockets.delete(address),
    };
  }

  private stream(process: SimProcess, to: Address, limitMs: number, events: StreamEvents) {
    const device = this.devices.get(to.port);
    const peer = `engine:${(this.count += 1)}`;
    let state: 'opening' | 'open' | 'closed' = 'opening';
    let controller: { receive(bytes: Uint8Array): void; closed(): void } | undefined;
    let there = 0;
    let back = 0;
    const close = (): void => {
      if (state === 'closed') return;
      state = 'closed';
      controller?.closed();
      this.open.delete(entry);
      this.clock.at(this.clock.now(), () => process.reach(() => events.closed()));
    };
    const data = (bytes: Uint8Array): void => {
      if (device === undefined) return;
      const said = device.faults.babbling ? babble(this.chance.next) : bytes;
      if (said !== bytes) this.met.add(`${device.wire} babbling`);
      const at = this.carry(device, false, () => state === 'open' && process.reach(() => events.data(said)), back);
      if (at > 0) back = at;
    };
    const entry = { device: device as SimDevice, data, cut: close };
    if (device === undefined || device.faults.dead || device.inner.connect === undefined)
      this.clock.at(this.clock.now() + WAY_MS, () => {
        process.reach(() => events.refused());
        close();
      });
    else if (device.faults.silent) this.clock.at(this.clock.now() + limitMs, close);
    else
      this.carry(device, false, () => {
        if (state !== 'opening' || !process.alive) return;
        state = 'open';
        this.open.add(entry);
        controller = device.inner.connect?.(peer, data);
        process.reach(() => events.connected());
      });
    return {
      write: (bytes: Uint8Array) => {
        if (state !== 'open' || device === undefined || !process.alive) return;
        const sent = bytes.slice();
        const at = this.carry(device, false, () => state === 'open' && controller?.receive(sent), there);
        if (at > 0) there = at;
      },
      destroy: close,
    };
  }

  private http(process: SimProcess, to: Address): HttpSide {
    let closed = false;
    const open = new Set<() => void>();
    const device = this.devices.get(to.port);
    const meet = (fault: string): void => void this.met.add(`${device?.wire ?? ''} ${fault}`);
    return {
      ask: ({ method, path, body = '', limitMs }, then) => {
        let over = false;
        const answer: typeof then = (reply) => {
          if (over || closed) return;
          over = true;
          process.reach(() => then(reply));
        };
        if (device === undefined || device.faults.dead || device.inner.ask === undefined)
          return void this.clock.at(this.clock.now() + WAY_MS, () => answer({ failed: 'refused' }));
        this.clock.at(this.clock.now() + limitMs, () => answer({ failed: 'lost' }));
        // A lost request or reply is a connection that broke.
        if (this.chance.is(device.faults.drop)) return meet('drop');
        this.carry(device, false, () => {
          device.inner.ask?.(method, path, body, 'engine', (reply) => {
            if (this.chance.is(device.faults.drop)) return meet('drop');
            let text = String(reply.body);
            if (device.faults.babbling) text = Buffer.from(babble(this.chance.next)).toString('latin1');
            else if (device.faults.implausible) text = implausibleJson(text, this.chance.next);
            if (text !== String(reply.body)) meet(device.faults.babbling ? 'babbling' : 'implausible');
            this.carry(device, false, () => answer({ status: reply.status, text }));
          });
        });
        return undefined;
      },
      listen: (_path, events) => {
        let over = false;
        let back = 0;
        const event = (data: string): void => {
          if (over || device === undefined) return;
          const at = this.carry(device, false, () => !over && process.reach(() => events.event(data)), back);
          if (at > 0) back = at;
        };
        const end = (why: 'refused' | 'lost'): void => {
          if (over) return;
          over = true;
          device?.eventStreams.delete(event);
          if (!closed) process.reach(() => events.ended(why));
        };
        if (device === undefined || device.faults.dead) this.clock.at(this.clock.now() + WAY_MS, () => end('refused'));
        else
          this.carry(device, false, () => {
            if (over || !process.alive) return;
            device.eventStreams.add(event);
            this.open.add({ device, data: () => undefined, cut: () => end('lost') });
            process.reach(() => events.opened());
          });
        open.add(() => {
          over = true;
          device?.eventStreams.delete(event);
        });
        return () => {
          over = true;
          device?.eventStreams.delete(event);
        };
      },
      close: () => {
        closed = true;
        for (const item of open) item();
      },
    };
  }
}
