import type { DeviceCommand, DeviceKind } from '@umbek/core/devices';
import type { Cancel, CommandEvent } from '@umbek/core/engine';
import type { PlainValue } from '@umbek/core/show';
import {
  decodeOsc,
  type DeviceMessage,
  deviceMessageOf,
  encodeOsc,
  encodeRequest,
  type OscMessage,
} from '@umbek/wire/osc';
import { ANSWER_LIMIT_MS, type QueuedCommand, RESEND_MS } from './commandQueue';
import { Doubts, unanswered } from './doubts';
import type { ByteContext, ByteDriver, LinkState } from './context';
import { LinkedDriver } from './linkedDriver';
import { LET_GO, wordsOf } from './linkWords';

/** Bundles are kept below what goes through any network in one piece: the smallest MTU of IPv6 less its headers. */
const LONGEST_BUNDLE = 1200;
/** So many bytes a bundle puts in front of all, and in front of each message (OSC 1.0 specification, OSC Bundles). */
const BUNDLE_HEAD = 16;
const MESSAGE_HEAD = 4;

/** What is under way: one command, or those that left together. */
interface Flight {
  /** Those that have not been answered yet. */
  readonly open: Map<string, { readonly entry: QueuedCommand; readonly message: OscMessage }>;
  readonly since: number;
  cancelResend: Cancel;
}

/**
 * A device behind OSC with request ids. A command is sent again under the same id until it is answered: the device does it once.
 * States carry running numbers; a number that is missing makes the driver read everything again.
 */
export class OscDriver extends LinkedDriver<ByteContext> implements ByteDriver {
  private flight: Flight | null = null;
  /** Commands of one instant that leave together, as soon as the last of them has come. */
  private gathered: QueuedCommand[] = [];
  private gathers: Cancel | null = null;
  /** Number of the latest state taken; −1 before the first read. */
  private number = -1;
  private readonly points = new Map<string, PlainValue>();
  private reading: { readonly id: string; readonly since: number; readonly question: number } | null = null;
  private readonly doubts: Doubts;
  private readonly names = new Map<string, readonly string[]>();

  constructor(
    private readonly kind: DeviceKind,
    context: ByteContext,
    /** In front of every request id, so that another start of the engine never uses one again. */
    private readonly idPrefix: string,
  ) {
    super(context);
    this.doubts = new Doubts(context.clock);
  }

  override close(): void {
    this.scatter();
    super.close();
    const { flight } = this;
    this.flight = null;
    flight?.cancelResend();
    for (const { entry } of flight?.open.values() ?? []) entry.tell({ type: 'outcome', outcome: 'lost', why: LET_GO });
  }

  /** @param together others of this instant follow: they leave in one bundle */
  send(id: string, command: DeviceCommand, onEvent: (event: CommandEvent) => void, together = false): Cancel {
    const entry = this.doubts.asked({ id, command, lane: 'plain', tell: onEvent }, this.unsettledBy(command));
    if (this.flight === null && this.queue.size === 0 && (together || this.gathered.length > 0))
      return this.gather(entry);
    return this.sendInTurn(entry, this.flight !== null, (queuedCommand) => this.launch([queuedCommand]));
  }

  private gather(entry: QueuedCommand): Cancel {
    const { clock } = this.context;
    this.gathered.push(entry);
    // Nothing is kept beyond this instant.
    this.gathers ??= clock.at(clock.now(), () => this.leave());
    return () => {
      if (!this.gathered.includes(entry)) return;
      this.gathered = this.gathered.filter((queuedCommand) => queuedCommand !== entry);
      clock.at(clock.now(), () =>
        entry.tell({ type: 'outcome', outcome: 'refused', why: 'Cancelled before it was sent.' }),
      );
    };
  }

  leave(): void {
    this.gathers?.();
    this.gathers = null;
    const entries = this.gathered;
    this.gathered = [];
    if (entries.length > 0) this.launch(entries);
  }

  /** What was gathered is not sent any more: it ends with what waits. */
  private scatter(): void {
    this.gathers?.();
    this.gathers = null;
    for (const entry of this.gathered.splice(0)) this.queue.add(entry);
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
    else for (const message of messages) this.handle(message);
    if (answersRead && this.state !== 'reached') {
      this.liveness.arrived();
      this.tellAll();
    }
    // What nobody can vouch for is asked for as soon as somebody could.
    if (this.doubts.wantsAnswer && this.state === 'reached') this.readAll();
  }

  /** Everything but what a command has made unknown. */
  private tellAll(): void {
    this.context.news.points(Object.fromEntries([...this.points].filter(([point]) => !this.doubts.holds(point))));
  }

  private handle(message: DeviceMessage): void {
    switch (message.kind) {
      case 'ok':
        return this.answered(message.id, { type: 'outcome', outcome: 'done' });
      case 'refused':
        return this.answered(message.id, { type: 'outcome', outcome: 'refused', why: message.why });
      case 'pong':
        // A device that counts lower than before was switched off and on. A read that was not answered is asked for again: it may have got lost.
        if (message.number < this.number) this.number = -1;
        if (
          this.reading !== null ||
          this.number < 0 ||
          message.number !== this.number ||
          this.state !== 'reached' ||
          this.doubts.wantsAnswer
        )
          this.readAll();
        return;
      case 'state': {
        if (message.number <= this.number || this.number < 0) return;
        const gap = message.number !== this.number + 1;
        this.number = message.number;
        this.points.set(message.point, this.rounded(message.value));
        // It may have been said before the device took the command, and have been under way for long.
        if (!this.doubts.holds(message.point))
          this.context.news.points({ [message.point]: this.rounded(message.value) });
        if (gap) this.readAll();
      }
    }
  }

  private takeWhole(messages: readonly DeviceMessage[]): void {
    const question = this.reading?.question ?? 0;
    this.reading = null;
    const states = messages.flatMap((message) => (message.kind === 'state' ? [message] : []));
    const newest = Math.max(...states.map((message) => message.number), 0);
    // Older than what was told since: nothing of it is news, and nothing is settled by it.
    if (newest < this.number && this.state === 'reached') return;
    for (const { point, value } of states) this.points.set(point, this.rounded(value));
    this.number = Math.max(newest, this.number, 0);
    this.doubts.answered(question, this.points);
    if (this.state === 'reached') this.tellAll();
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

  private readAll(): void {
    const now = this.context.clock.now();
    if (this.reading && now - this.reading.since < RESEND_MS * 2 && !this.doubts.needsNewer(this.reading.question))
      return;
    const question = this.doubts.ask();
    this.reading = { id: `read-${this.idPrefix}-${question}`, since: now, question };
    this.transmit('read', this.reading.id, []);
  }

  private transmit(verb: string, id: string, values: readonly { value: PlainValue; whole: boolean }[]): void {
    this.context.transmit(encodeOsc([encodeRequest(this.kind.key, verb, id, values)]));
  }

  private pump(): void {
    if (this.flight) return;
    const entry = this.queue.next();
    if (entry) this.launch([entry]);
  }

  private launch(entries: readonly QueuedCommand[]): void {
    const open = entries.map((entry) => {
      const id = `${this.idPrefix}.${entry.id}`;
      const values = this.namesOf(entry.command.command).map((name) => {
        const value = entry.command.params[name] ?? '';
        return { value, whole: Number.isInteger(value) };
      });
      return [id, { entry, message: encodeRequest(this.kind.key, entry.command.command, id, values) }] as const;
    });
    const flight: Flight = { open: new Map(open), since: this.context.clock.now(), cancelResend: () => undefined };
    this.flight = flight;
    this.transmitAll(flight);
    this.armResend(flight);
  }

  /** Whatever is not answered yet in as few datagrams as hold it. */
  private transmitAll({ open }: Flight): void {
    let bundle: OscMessage[] = [];
    let length = BUNDLE_HEAD;
    for (const { message } of open.values()) {
      const more = open.size === 1 ? 0 : encodeOsc([message]).length + MESSAGE_HEAD;
      if (bundle.length > 0 && length + more > LONGEST_BUNDLE) {
        this.context.transmit(encodeOsc(bundle));
        bundle = [];
        length = BUNDLE_HEAD;
      }
      bundle.push(message);
      length += more;
    }
    if (bundle.length > 0) this.context.transmit(encodeOsc(bundle));
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
        this.transmitAll(flight);
        return this.armResend(flight);
      }
      this.endAll(flight, unanswered((this.liveness.lastHeard ?? -1) > flight.since));
    });
  }

  private answered(id: string, event: CommandEvent): void {
    const { flight } = this;
    const found = flight?.open.get(id);
    if (flight === null || found === undefined) return;
    flight.open.delete(id);
    if (flight.open.size === 0) return this.finish(flight, [found.entry], event);
    found.entry.tell(event);
    this.unsettled([found.entry]);
  }

  private endAll(flight: Flight, event: CommandEvent): void {
    const entries = [...flight.open.values()].map(({ entry }) => entry);
    flight.open.clear();
    this.finish(flight, entries, event);
  }

  private finish(flight: Flight, entries: readonly QueuedCommand[], event: CommandEvent): void {
    flight.cancelResend();
    this.flight = null;
    for (const entry of entries) entry.tell(event);
    this.unsettled(entries);
    this.pump();
  }

  /** What a command has made unknown is asked for. */
  private unsettled(entries: readonly QueuedCommand[]): void {
    if (this.state === 'reached' && entries.some(({ command }) => this.unsettledBy(command).length > 0)) this.readAll();
  }

  private unsettledBy({ command }: DeviceCommand): readonly string[] {
    return this.kind.commands[command]?.unsettles ?? [];
  }

  protected linkChanged(state: LinkState, silentFor: number | null): void {
    const words = wordsOf(state, this.context.title, this.kind.protocol, silentFor);
    this.context.news.reached(state === 'reached', words);
    if (state === 'reached') return;
    this.number = -1;
    this.points.clear();
    this.reading = null;
    this.scatter();
    this.queue.fail(`Not sent: ${words}`);
    if (this.flight)
      this.endAll(this.flight, {
        type: 'outcome',
        outcome: 'lost',
        why: 'The device fell silent; its effect is unknown.',
      });
  }
}
