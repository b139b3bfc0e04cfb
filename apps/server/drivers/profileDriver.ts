import type { DeviceCommand } from '@umbek/core/devices';
import type { Cancel, CommandEvent } from '@umbek/core/engine';
import type { CompiledProfile, Incoming, Outgoing } from '@umbek/core/profile';
import type { QueuedCommand } from './commandQueue';
import type { DriverContext, LinkState } from './context';
import { LinkedDriver } from './linkedDriver';
import { SILENCE_MS } from './liveness';
import { LET_GO, wordsOf } from './linkWords';

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
}

/** A refused datagram is remembered for so long. */
const REFUSED_MS = 2500;
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
  }

  get words(): string {
    const { title } = this.context;
    if (this.sign !== 'none') return wordsOf(this.state, title, this.protocol, this.silentFor);
    return this.state === 'reached'
      ? `${title} only receives: its profile polls nothing, so whether it answers is unknown.`
      : `Nothing takes the messages at ${title}. Check power and port.`;
  }

  send(id: string, command: DeviceCommand, onEvent: (event: CommandEvent) => void): Cancel {
    return this.sendInTurn({ id, command, lane: 'plain', tell: onEvent }, this.busy, (entry) => this.launch(entry));
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
    if (Object.keys(points).length > 0) this.context.news.points(points);
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
    const { present } = this;
    this.present = null;
    present?.tell({ type: 'outcome', outcome: 'lost', why: LET_GO });
  }

  private launch(entry: QueuedCommand): void {
    this.busy = true;
    this.present = entry;
    const { clock } = this.context;
    const messages = this.compiled.messagesOf(entry.command.command, entry.command.params);
    const finish = (event: CommandEvent): void => {
      if (this.present !== entry) return;
      this.present = null;
      entry.tell(event);
      this.busy = false;
      const next = this.queue.next();
      if (next) this.launch(next);
    };
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
    if (state !== 'reached') this.queue.fail(`Not sent: ${words}`);
  }
}
