import type { DeviceCommand, DeviceKind } from '@umbek/core/devices';
import type { Cancel, CommandEvent } from '@umbek/core/engine';
import type { PlainValue } from '@umbek/core/show';
import { decodeOsc, type DeviceMessage, deviceMessageOf, encodeOsc, encodeRequest } from '@umbek/wire/osc';
import { ANSWER_LIMIT_MS, type QueuedCommand, RESEND_MS } from './commandQueue';
import type { ByteContext, ByteDriver, LinkState } from './context';
import { LinkedDriver } from './linkedDriver';
import { wordsOf } from './linkWords';

interface Flight {
  readonly entry: QueuedCommand;
  readonly bytes: Uint8Array;
  readonly since: number;
  cancelResend: Cancel;
}

/**
 * A device behind OSC with request ids. A command is sent again under the same id until it is answered: the device does it once.
 * States carry running numbers; a number that is missing makes the driver read everything again.
 */
export class OscDriver extends LinkedDriver<ByteContext> implements ByteDriver {
  private flight: Flight | null = null;
  /** Number of the latest state taken; −1 before the first read. */
  private number = -1;
  private readonly points = new Map<string, PlainValue>();
  private reading: { readonly id: string; readonly since: number } | null = null;
  private readCount = 0;
  private readonly names = new Map<string, readonly string[]>();
  /** Commands of unknown effect that wait for the next whole read. */
  private unsettled: QueuedCommand[] = [];

  constructor(
    private readonly kind: DeviceKind,
    context: ByteContext,
    /** In front of every request id, so that another start of the engine never uses one again. */
    private readonly idPrefix: string,
  ) {
    super(context);
  }

  override close(): void {
    super.close();
    this.flight?.cancelResend();
    this.flight = null;
  }

  send(id: string, command: DeviceCommand, onEvent: (event: CommandEvent) => void): Cancel {
    return this.sendInTurn({ id, command, lane: 'plain', tell: onEvent }, this.flight !== null, (entry) =>
      this.launch(entry),
    );
  }

  receive(bytes: Uint8Array): void {
    const decoded = decodeOsc(bytes);
    const messages = decoded.ok
      ? decoded.value.flatMap((message) => deviceMessageOf(message, this.kind.key) ?? [])
      : [];
    if (messages.length === 0) {
      this.malformed += 1;
      this.liveness.foreign();
      return;
    }
    this.liveness.heard();
    const answersRead = messages.some((message) => message.kind === 'ok' && message.id === this.reading?.id);
    if (answersRead) this.takeWhole(messages);
    else for (const message of messages) this.take(message);
    if (answersRead && this.state !== 'reached') {
      this.liveness.arrived();
      this.context.news.points(Object.fromEntries(this.points));
    }
  }

  private take(message: DeviceMessage): void {
    switch (message.kind) {
      case 'ok':
        return this.answered(message.id, { type: 'outcome', outcome: 'done' });
      case 'refused':
        return this.answered(message.id, { type: 'outcome', outcome: 'refused', why: message.why });
      case 'pong':
        // A device that counts lower than before was switched off and on. A read that was not answered is asked for again: it may have got lost.
        if (this.reading !== null || this.number < 0 || message.number !== this.number || this.state !== 'reached')
          this.readAll(message.number < this.number);
        return;
      case 'state': {
        if (message.number <= this.number || this.number < 0) return;
        const gap = message.number !== this.number + 1;
        this.number = message.number;
        this.points.set(message.point, this.rounded(message.value));
        this.context.news.points({ [message.point]: this.rounded(message.value) });
        if (gap) this.readAll(false);
      }
    }
  }

  private takeWhole(messages: readonly DeviceMessage[]): void {
    this.reading = null;
    for (const message of messages) {
      if (message.kind !== 'state' || message.number < this.number) continue;
      this.number = message.number;
      this.points.set(message.point, this.rounded(message.value));
    }
    if (this.number < 0) this.number = 0;
    if (this.state === 'reached') this.context.news.points(Object.fromEntries(this.points));
    const settled = this.unsettled;
    this.unsettled = [];
    const words = `Read back: ${[...this.points]
      .slice(0, 6)
      .map(([point, value]) => `${point} ${String(value)}`)
      .join(', ')}`;
    for (const entry of settled) entry.tell({ type: 'settled', words });
  }

  /** Floats of 32 bits come back with noise in the eighth digit. */
  private rounded(value: PlainValue): PlainValue {
    return typeof value === 'number' ? Math.round(value * 1e4) / 1e4 : value;
  }

  protected beat(): void {
    this.transmit('ping', 'beat', []);
  }

  protected probe(): void {
    this.beat();
  }

  private readAll(restarted: boolean): void {
    const now = this.context.clock.now();
    if (this.reading && now - this.reading.since < RESEND_MS * 2) return;
    if (restarted) this.number = -1;
    this.reading = { id: `read-${(this.readCount += 1)}`, since: now };
    this.transmit('read', this.reading.id, []);
  }

  private transmit(verb: string, id: string, values: readonly { value: PlainValue; whole: boolean }[]): void {
    this.context.transmit(encodeOsc([encodeRequest(this.kind.key, verb, id, values)]));
  }

  private pump(): void {
    if (this.flight) return;
    const entry = this.queue.next();
    if (entry) this.launch(entry);
  }

  private launch(entry: QueuedCommand): void {
    const values = this.namesOf(entry.command.command).map((name) => {
      const value = entry.command.params[name] ?? '';
      return { value, whole: Number.isInteger(value) };
    });
    const bytes = encodeOsc([
      encodeRequest(this.kind.key, entry.command.command, `${this.idPrefix}.${entry.id}`, values),
    ]);
    const flight: Flight = { entry, bytes, since: this.context.clock.now(), cancelResend: () => undefined };
    this.flight = flight;
    this.context.transmit(bytes);
    this.armResend(flight);
  }

  /** Parameters in the order in which they go on the wire. */
  private namesOf(command: string): readonly string[] {
    let names = this.names.get(command);
    if (names === undefined)
      this.names.set(command, (names = Object.keys(this.kind.commands[command]?.params.shape ?? {})));
    return names;
  }

  private armResend(flight: Flight): void {
    const { clock } = this.context;
    flight.cancelResend = clock.at(clock.now() + RESEND_MS, () => {
      if (this.flight !== flight) return;
      if (clock.now() - flight.since < ANSWER_LIMIT_MS) {
        this.context.transmit(flight.bytes);
        return this.armResend(flight);
      }
      const alive = (this.liveness.lastHeard ?? -1) > flight.since;
      this.unsettled.push(flight.entry);
      this.finish(flight, {
        type: 'outcome',
        outcome: alive ? 'late' : 'lost',
        why: alive
          ? 'The device is alive but did not answer; its effect is unknown.'
          : 'Nothing was heard; its effect is unknown.',
      });
      this.readAll(false);
    });
  }

  private answered(id: string, event: CommandEvent): void {
    if (this.flight && id === `${this.idPrefix}.${this.flight.entry.id}`) this.finish(this.flight, event);
  }

  private finish(flight: Flight, event: CommandEvent): void {
    flight.cancelResend();
    this.flight = null;
    flight.entry.tell(event);
    if (this.state === 'reached') this.retell(flight.entry.command.command);
    this.pump();
  }

  /** The engine has forgotten what a command unsettles; what was read stands again until a newer state comes. */
  private retell(command: string): void {
    for (const point of this.kind.commands[command]?.unsettles ?? []) {
      const value = this.points.get(point);
      if (value !== undefined) this.context.news.points({ [point]: value });
    }
  }

  protected linkChanged(state: LinkState, silentFor: number | null): void {
    const words = wordsOf(state, this.context.title, this.kind.protocol, silentFor);
    this.context.news.reached(state === 'reached', words);
    if (state === 'reached') return;
    this.number = -1;
    this.points.clear();
    this.queue.fail(`Not sent: ${words}`);
    if (this.flight) {
      this.unsettled.push(this.flight.entry);
      this.finish(this.flight, {
        type: 'outcome',
        outcome: 'lost',
        why: 'The device fell silent; its effect is unknown.',
      });
    }
  }
}
