import { type CommandDefinition, type DeviceCommand, kindOfProfile } from '@umbek/core/devices';
import type { Cancel, CommandEvent } from '@umbek/core/engine';
import type { CompiledProfile, Incoming, Outgoing } from '@umbek/core/profile';
import type { QueuedCommand } from './commandQueue';
import type { DriverContext, LinkState } from './context';
import { LinkedDriver } from './linkedDriver';
import { SILENCE_MS } from './liveness';
import { LET_GO, wordsOf } from './linkWords';
import { ProfileHead } from './profileHead';

/** What came of a message: gone out where nothing confirms, or answered. */
export type SendResult =
  | { readonly sent: true }
  | { readonly status: number; readonly text: string }
  | { readonly failed: 'refused' | 'foreign' | 'lost' };

/** What the driver of a profile is given besides. `then` never comes from inside the call. */
export interface ProfileContext extends DriverContext {
  /** Opens what the transport has to open; `connected` or `disconnected` of the driver follow. Nothing to do where there is no connection. */
  readonly connect: () => void;
  /** @param beat an ask, kept apart from what people send */
  readonly transmit: (message: Outgoing, beat: boolean, then: (result: SendResult) => void) => void;
  /** Leaves with the parent what ends a move, and after how long it ends in any case; null takes it back. */
  readonly leaveStops: (messages: readonly Outgoing[] | null, endsAfterMs?: number) => void;
  /** The show's position in a memory of this head, or an empty text. */
  readonly memoryAt: (number: number) => string;
}

/** A refused datagram is remembered for so long. */
const REFUSED_MS = 2500;
/** A stop is sent again so long after the first time, milliseconds, against loss: it may be the last that a moving device hears of us. */
const STOP_AGAIN_MS = [40, 120, 250];
/** With nothing to ask, this often it is looked whether it is still so. */
const LOOK_MS = 500;

/**
 * How a device by profile is known to be there: it answers what it is asked; or, with nothing to ask, its connection stands; or, with neither,
 * it is only told, and nothing but a closed port says that nobody listens.
 */
type Sign = 'answers' | 'connection' | 'none';

/** A device that a profile describes. What its transport cannot confirm ends as `sent`; HTTP answers make it done or refused. */
export class ProfileDriver extends LinkedDriver<ProfileContext> {
  private readonly sign: Sign;
  private readonly connects: boolean;
  private isConnected = false;
  private connecting = false;
  private busy = false;
  private present: QueuedCommand | null = null;
  private refusedAt = -Infinity;
  private readonly due: number[];
  private readonly commands: Readonly<Record<string, CommandDefinition>>;
  private readonly head: ProfileHead | null;
  private asked = 0;
  /** What ends the move that is under way. */
  private endedBy: readonly Outgoing[] | null = null;
  /** Forgets the end of a move that stated its length. */
  private cancelLength: Cancel = () => undefined;
  /** Counts what is asked of the device: a stop is repeated until something else is. */
  private turns = 0;
  /** A stop that did not get through: the device hears it as soon as it is back. */
  private owed: { readonly turn: number; readonly messages: readonly Outgoing[] } | null = null;

  constructor(
    private readonly compiled: CompiledProfile,
    context: ProfileContext,
  ) {
    const shortest = Math.min(...compiled.asks.map((ask) => ask.everyMs), LOOK_MS);
    super(
      context,
      shortest,
      Math.max(SILENCE_MS, 3.5 * Math.min(...compiled.asks.map((ask) => ask.everyMs), SILENCE_MS * 1000)),
    );
    const { transport } = compiled.profile;
    this.connects =
      transport.kind === 'tcp' ||
      transport.kind === 'webSocket' ||
      (transport.kind === 'midi' && transport.over === 'tcp');
    this.sign = compiled.asks.length > 0 ? 'answers' : this.connects ? 'connection' : 'none';
    this.due = compiled.asks.map(() => -Infinity);
    this.commands = kindOfProfile(compiled.profile).commands;
    const { clock, memoryAt, placeAt } = context;
    this.head =
      compiled.profile.part === 'ptzHead' ? new ProfileHead(compiled.profile, { clock, memoryAt, placeAt }) : null;
  }

  /** What ends the move that may be under way, as messages; none when nothing moves. */
  get stopMessages(): readonly Outgoing[] {
    return this.endedBy ?? [];
  }

  get words(): string {
    const { title } = this.context;
    if (this.sign !== 'none') return wordsOf(this.state, title, this.protocol, this.silentFor);
    return this.state === 'reached'
      ? `${title} only receives: its profile polls nothing, so whether it answers is unknown.`
      : `Nothing takes the messages at ${title}. Check power and port.`;
  }

  send(id: string, command: DeviceCommand, onEvent: (event: CommandEvent) => void): Cancel {
    const definition = this.commands[command.command];
    const lane = definition?.lane ?? 'plain';
    const entry: QueuedCommand = { id, command, lane, tell: onEvent };
    if (lane === 'stop') {
      // It waits for no answer of what it is to end.
      this.queue.fail('A stop went ahead of it.');
      this.stop(entry);
      return () => undefined;
    }
    this.turns += 1;
    if (definition?.endedBy !== undefined) {
      const ends = this.compiled.messagesOf(definition.endedBy.command, definition.endedBy.params);
      this.endedBy = ends.ok ? ends.value : null;
      this.context.leaveStops(this.endedBy);
    }
    return this.sendInTurn(entry, this.busy, (queuedCommand) => this.launch(queuedCommand));
  }

  /** Sends a stop now, and again against loss until something else is asked of the device. */
  private stop(entry: QueuedCommand): void {
    const { clock } = this.context;
    const turn = (this.turns += 1);
    const made = this.compiled.messagesOf(entry.command.command, entry.command.params);
    const messages = made.ok ? made.value : [];
    this.endedBy = null;
    this.cancelLength();
    this.carry(entry, (event) => {
      const lost = event.type === 'outcome' && event.outcome === 'lost';
      if (turn === this.turns) {
        this.owed = lost ? { turn, messages } : null;
        if (!lost) this.context.leaveStops(null);
      }
      entry.tell(event);
    });
    // What goes over a connection gets there, or the connection is known to be lost.
    for (const ms of this.mayGetLost ? STOP_AGAIN_MS : [])
      clock.at(clock.now() + ms, () => {
        if (turn === this.turns && !this.closed)
          for (const message of messages) this.context.transmit(message, false, () => undefined);
      });
  }

  override unreachable(): void {
    this.refusedAt = this.context.clock.now();
    this.connecting = false;
    super.unreachable();
  }

  connected(): void {
    this.connecting = false;
    this.isConnected = true;
    if (this.sign === 'connection') this.alive();
    else this.ask();
  }

  disconnected(): void {
    this.connecting = false;
    if (!this.isConnected) return;
    this.isConnected = false;
    this.liveness.lost();
  }

  /** Something that the device said. @param asked it answers an ask, so that it must mean something */
  receive(incoming: Incoming): void {
    const points = this.compiled.read(incoming);
    // A line that no pattern knows says nothing; from a device that was asked, it says that this is another device.
    if (Object.keys(points).length === 0 && this.sign === 'answers' && this.compiled.profile.points.length > 0)
      return this.notUnderstood();
    this.alive();
    if (Object.keys(points).length > 0) this.context.news.points(this.head?.reported(points, this.asked) ?? points);
  }

  notUnderstood(): void {
    this.malformed += 1;
    if (this.sign === 'answers') this.liveness.foreign();
  }

  protected beat(): void {
    if (this.sign === 'connection' ? this.isConnected : this.sign === 'none' && !this.refusedLately)
      this.liveness.heard();
    this.ask();
  }

  protected probe(): void {
    if (this.connects && !this.isConnected) {
      if (this.connecting) return;
      this.connecting = true;
      return this.context.connect();
    }
    if (this.sign === 'none') {
      if (!this.refusedLately) this.alive();
    } else this.ask(true);
  }

  /** Datagrams get lost without a word. */
  private get mayGetLost(): boolean {
    return !this.connects && this.compiled.profile.transport.kind !== 'http';
  }

  private get refusedLately(): boolean {
    return this.context.clock.now() - this.refusedAt < REFUSED_MS;
  }

  private get protocol(): string {
    return this.compiled.profile.name;
  }

  private get silentFor(): number | null {
    return this.lastHeard === null ? null : this.context.clock.now() - this.lastHeard;
  }

  private alive(): void {
    this.liveness.heard();
    if (this.state !== 'reached') this.liveness.arrived();
  }

  /** Asks what is due. @param all also what is not */
  private ask(all = false): void {
    if (this.connects && !this.isConnected) return;
    const now = this.context.clock.now();
    this.compiled.asks.forEach(({ everyMs, message }, index) => {
      if (!all && (this.due[index] ?? 0) > now + 1) return;
      this.due[index] = now + everyMs;
      if (index === 0) this.asked += 1;
      this.context.transmit(message, true, (result) => this.answered(result));
    });
  }

  /** What an answer over HTTP says of the device; its body is received besides. */
  private answered(result: SendResult): void {
    if (!('failed' in result)) return;
    if (result.failed === 'refused') this.unreachable();
    if (result.failed === 'foreign') this.notUnderstood();
  }

  override close(): void {
    super.close();
    this.cancelLength();
    const { present } = this;
    this.present = null;
    this.context.leaveStops(null);
    present?.tell({ type: 'outcome', outcome: 'lost', why: LET_GO });
  }

  private launch(entry: QueuedCommand): void {
    this.busy = true;
    this.present = entry;
    this.lasts(entry.command);
    this.carry(entry, (event) => {
      if (this.present !== entry) return;
      this.present = null;
      entry.tell(event);
      this.busy = false;
      const next = this.queue.next();
      if (next) this.launch(next);
    });
  }

  /** A move goes out: one that states its length is stopped after it, whatever else is asked of the head but another drive or a recall. */
  private lasts({ command, params }: DeviceCommand): void {
    const definition = this.commands[command];
    if (command === 'recall') {
      // A recall is the end of what drove: a length that the parent still counts would end it in its middle. Others may leave an axis driving.
      this.cancelLength();
      if (this.endedBy !== null) this.context.leaveStops(this.endedBy);
    }
    if (definition?.endedBy !== undefined) this.cancelLength();
    if (definition?.endedBy === undefined || typeof params.forSeconds !== 'number') return;
    const { clock } = this.context;
    const ms = params.forSeconds * 1000;
    const stop: DeviceCommand = definition.endedBy;
    // From now on, not from when it was asked for: it may have waited for its turn.
    this.context.leaveStops(this.endedBy, ms);
    this.cancelLength = clock.at(clock.now() + ms, () =>
      this.stop({ id: '', command: stop, lane: 'stop', tell: () => undefined }),
    );
  }

  /** Sends the messages of a command one after the other. @param finish told once, never from inside this call */
  private carry(entry: QueuedCommand, finish: (event: CommandEvent) => void): void {
    const { clock } = this.context;
    this.head?.sent(entry.command, this.asked);
    const messages = this.compiled.messagesOf(entry.command.command, entry.command.params);
    if (!messages.ok)
      return void clock.at(clock.now(), () =>
        finish({ type: 'outcome', outcome: 'refused', why: messages.error.message }),
      );
    const step = (at: number, confirmed: boolean): void => {
      const message = messages.value[at];
      if (message === undefined) return finish({ type: 'outcome', outcome: confirmed ? 'done' : 'sent' });
      this.context.transmit(message, false, (result) => {
        this.answered(result);
        if ('failed' in result)
          return finish(
            result.failed === 'refused'
              ? { type: 'outcome', outcome: 'refused', why: 'Nothing listens at the address.' }
              : { type: 'outcome', outcome: 'lost', why: 'Nothing was heard; its effect is unknown.' },
          );
        if ('status' in result && result.status >= 300)
          return finish({
            type: 'outcome',
            outcome: 'refused',
            why: `It answered ${result.status}${result.text === '' ? '.' : `: ${result.text.slice(0, 200)}`}`,
          });
        step(at + 1, 'status' in result);
      });
    };
    step(0, false);
  }

  protected linkChanged(state: LinkState): void {
    const { words } = this;
    this.context.news.reached(state === 'reached', words);
    if (state === 'reached') {
      const { owed } = this;
      this.owed = null;
      if (owed === null || owed.turn !== this.turns) return;
      for (const message of owed.messages) this.context.transmit(message, false, () => undefined);
      return this.context.leaveStops(null);
    }
    this.head?.forget();
    this.queue.fail(`Not sent: ${words}`);
  }
}
