import { crosspointKey, type DeviceCommand, protectKey, RouterSettings } from '@umbek/core/devices';
import type { Cancel, CommandEvent } from '@umbek/core/engine';
import type { PlainValue } from '@umbek/core/show';
import {
  ACKNOWLEDGE,
  decodeRouterMessage,
  encodeFrame,
  encodeRouterMessage,
  FrameReader,
  type RouterMessage,
} from '@umbek/wire/swp08';
import { ANSWER_LIMIT_MS, type QueuedCommand } from './commandQueue';
import type { ByteContext, ByteDriver, LinkState } from './context';
import { LinkedDriver } from './linkedDriver';
import { LET_GO, wordsOf } from './linkWords';

/** What a driver over a byte stream is given besides. */
export interface StreamContext extends ByteContext {
  /** Opens the connection; `connected` or `disconnected` of the driver follows. */
  readonly connect: () => void;
  /** Gives the connection up: `disconnected` follows. */
  readonly hangUp: () => void;
}

/** A closed connection is noticed at once; beats are for one that is open and dead. */
const BEAT_MS = 500;
/** A read-back that stands still for so long is begun again. */
const READ_AGAIN_MS = 1000;
/** Number under which a router knows who protected a destination: ours. */
const OUR_DEVICE = 1;

interface Flight {
  readonly entry: QueuedCommand;
  readonly destination: number;
  /** Of a connect, counted from 0; null of anything else. */
  readonly source: number | null;
  cancelLimit: Cancel;
}

/** A router behind SW-P-08 on TCP. A connect is done when the router says "connected"; every destination is read back with one dump. */
export class RouterDriver extends LinkedDriver<StreamContext> implements ByteDriver {
  private readonly settings: RouterSettings;
  private reader = new FrameReader();
  private link: 'none' | 'opening' | 'open' = 'none';
  private flight: Flight | null = null;
  private readonly points = new Map<string, PlainValue>();
  /** Destinations whose source or protection a read-back still waits for; null when none is under way. */
  private missing: { readonly sources: Set<number>; readonly protections: Set<number>; since: number } | null = null;
  private unsettled: QueuedCommand[] = [];

  constructor(settings: unknown, context: StreamContext) {
    super(context, BEAT_MS);
    this.settings = RouterSettings.parse(settings);
  }

  override close(): void {
    super.close();
    const { flight } = this;
    this.flight = null;
    flight?.cancelLimit();
    flight?.entry.tell({ type: 'outcome', outcome: 'lost', why: LET_GO });
  }

  connected(): void {
    this.link = 'open';
    this.reader = new FrameReader();
    this.readAll();
  }

  disconnected(): void {
    this.link = 'none';
    this.missing = null;
    // What is known is only as good as the connection: nobody would tell of a change.
    if (this.state === 'reached') this.liveness.lost();
  }

  send(id: string, command: DeviceCommand, onEvent: (event: CommandEvent) => void): Cancel {
    return this.sendInTurn({ id, command, lane: 'plain', tell: onEvent }, this.flight !== null, (entry) =>
      this.launch(entry),
    );
  }

  receive(bytes: Uint8Array): void {
    for (const event of this.reader.push(bytes)) {
      if (event.type === 'ack') this.liveness.heard();
      else if (event.type === 'nak') {
        this.liveness.heard();
        this.answer({ type: 'outcome', outcome: 'refused', why: 'The router refused the message.' });
      } else if (event.type === 'bad') this.foreign();
      else {
        this.context.transmit(ACKNOWLEDGE);
        const message = decodeRouterMessage(event.data);
        if (!message.ok) {
          this.foreign();
          continue;
        }
        this.liveness.heard();
        this.handle(message.value);
      }
    }
  }

  private handle(message: RouterMessage): void {
    switch (message.kind) {
      case 'dump':
        message.sources.forEach((source, index) =>
          this.points.set(crosspointKey(message.first + index + 1), source + 1),
        );
        message.sources.forEach((_, index) => this.missing?.sources.delete(message.first + index));
        return this.perhapsWhole();
      case 'protectDump':
        message.protections.forEach((protection, index) =>
          this.points.set(protectKey(message.first + index + 1), protection),
        );
        message.protections.forEach((_, index) => this.missing?.protections.delete(message.first + index));
        return this.perhapsWhole();
      case 'tally':
      case 'connected':
        this.tell({ [crosspointKey(message.destination + 1)]: message.source + 1 });
        // Another controller may connect something else to it at that very moment.
        if (
          message.kind === 'connected' &&
          this.flight?.destination === message.destination &&
          this.flight.source === message.source
        )
          this.answer({ type: 'outcome', outcome: 'done' });
        return;
      case 'protectTally':
      case 'protectConnected':
      case 'protectDisconnected': {
        this.tell({ [protectKey(message.destination + 1)]: message.protected });
        if (this.flight?.destination !== message.destination) return;
        const connects = this.flight.entry.command.command === 'connect';
        if (connects && message.protected)
          this.answer({
            type: 'outcome',
            outcome: 'refused',
            why: `Destination ${message.destination + 1} is protected.`,
          });
        else if (!connects && message.kind !== 'protectTally') this.answer({ type: 'outcome', outcome: 'done' });
        return;
      }
      default:
        // What only a controller says.
        this.foreign();
    }
  }

  private tell(points: Readonly<Record<string, PlainValue>>): void {
    for (const [point, value] of Object.entries(points)) this.points.set(point, value);
    if (this.state === 'reached') this.context.news.points(points);
  }

  private perhapsWhole(): void {
    if (this.missing === null) return;
    this.missing.since = this.context.clock.now();
    if (this.missing.sources.size > 0 || this.missing.protections.size > 0) return;
    this.missing = null;
    if (this.state !== 'reached') this.liveness.arrived();
    this.context.news.points(Object.fromEntries(this.points));
    const settled = this.unsettled;
    this.unsettled = [];
    for (const entry of settled) {
      const key = crosspointKey(Number(entry.command.params.destination));
      entry.tell({ type: 'settled', words: `Read back: ${key} ${String(this.points.get(key))}` });
    }
  }

  protected beat(): void {
    this.say({ kind: 'interrogate', destination: 0 });
  }

  protected probe(): void {
    if (this.link === 'none') {
      this.link = 'opening';
      this.context.connect();
    } else if (
      this.link === 'open' &&
      (this.missing === null || this.context.clock.now() - this.missing.since > READ_AGAIN_MS)
    )
      this.readAll();
  }

  private readAll(): void {
    const all = Array.from({ length: this.settings.destinations }, (_, index) => index);
    this.missing = { sources: new Set(all), protections: new Set(all), since: this.context.clock.now() };
    this.say({ kind: 'dumpRequest' });
    this.say({ kind: 'protectDumpRequest' });
  }

  private say(message: RouterMessage): void {
    if (this.link === 'open') this.context.transmit(encodeFrame(encodeRouterMessage(message)));
  }

  private launch(entry: QueuedCommand): void {
    const { clock } = this.context;
    const { command, params } = entry.command;
    const destination = Number(params.destination) - 1;
    const source = command === 'connect' ? Number(params.source) - 1 : null;
    const flight: Flight = { entry, destination, source, cancelLimit: () => undefined };
    this.flight = flight;
    if (source !== null) this.say({ kind: 'connect', destination, source });
    else
      this.say({ kind: params.on === true ? 'protectConnect' : 'protectDisconnect', destination, device: OUR_DEVICE });
    flight.cancelLimit = clock.at(clock.now() + ANSWER_LIMIT_MS, () => {
      if (this.flight !== flight) return;
      this.unsettled.push(entry);
      this.answer({ type: 'outcome', outcome: 'late', why: 'The router did not answer; its effect is unknown.' });
      this.readAll();
    });
  }

  private answer(event: CommandEvent): void {
    const { flight } = this;
    if (!flight) return;
    flight.cancelLimit();
    this.flight = null;
    flight.entry.tell(event);
    const next = this.queue.next();
    if (next) this.launch(next);
  }

  private foreign(): void {
    this.malformed += 1;
    this.liveness.foreign();
  }

  protected linkChanged(state: LinkState, silentFor: number | null): void {
    const words = wordsOf(state, this.context.title, 'SW-P-08', silentFor);
    this.context.news.reached(state === 'reached', words);
    if (state === 'reached') return;
    this.points.clear();
    this.queue.fail(`Not sent: ${words}`);
    if (this.flight) {
      this.unsettled.push(this.flight.entry);
      this.answer({ type: 'outcome', outcome: 'lost', why: 'The router fell silent; its effect is unknown.' });
    }
  }
}
