import type { DeviceCommand, DeviceKind } from '@umbek/core/devices';
import type { Cancel, CommandEvent } from '@umbek/core/engine';
import type { PlainValue } from '@umbek/core/show';
import { z } from 'zod';
import { ANSWER_LIMIT_MS, type QueuedCommand } from './commandQueue';
import { Doubts, unanswered } from './doubts';
import type { DriverContext, LinkState } from './context';
import { LinkedDriver } from './linkedDriver';
import { LET_GO, wordsOf } from './linkWords';

/** What a request came to. `body` is undefined when the answer was no JSON. */
export type HttpAnswer =
  { readonly status: number; readonly body: unknown } | { readonly failed: 'refused' | 'foreign' | 'lost' };

/** What a driver over HTTP is given besides. Callbacks never come from inside the call. */
export interface HttpContext extends DriverContext {
  readonly ask: (
    request: {
      readonly method: 'GET' | 'POST';
      readonly path: string;
      readonly body?: object;
      readonly limitMs: number;
    },
    then: (answer: HttpAnswer) => void,
  ) => void;
  /** Opens a stream of server-sent events; `ended` is called once, however it ends. */
  readonly listen: (
    path: string,
    events: { opened(): void; event(data: string): void; ended(why: 'refused' | 'foreign' | 'lost'): void },
  ) => Cancel;
}

/** A request costs a hundred times a datagram, and the stream tells changes at once: three beats within the silence are enough. */
const BEAT_MS = 550;
/** A question that asks for little is answered soon, or something is wrong. */
const QUESTION_LIMIT_MS = 1000;
/** After so long without an answer a command is sent again under the same id, on another connection. */
const RESEND_AFTER_MS = 300;

const Value = z.union([z.string(), z.number(), z.boolean()]);
const Whole = z.object({ device: z.string(), number: z.number(), points: z.record(z.string(), Value) });
const Alive = z.object({ device: z.string(), number: z.number() });
const Change = z.object({ number: z.number(), point: z.string(), value: Value });
const Outcome = z.object({ outcome: z.enum(['done', 'refused']), why: z.string().optional() });

interface Flight {
  readonly entry: QueuedCommand;
  readonly since: number;
}

/**
 * A device behind HTTP with JSON: `POST /commands/<command>` with an id and its parameters, `GET /state` for everything, `GET /alive`, and
 * `GET /events` for numbered changes as server-sent events. A command is sent again under the same id until it is answered: the device does
 * it once. A number that is missing makes the driver read everything again.
 */
export class HttpDriver extends LinkedDriver<HttpContext> {
  private flight: Flight | null = null;
  private number = -1;
  private readonly points = new Map<string, PlainValue>();
  private closeStream: Cancel | null = null;
  private reading = false;
  /** Something was missed: true until everything was read again, however often that takes. */
  private stale = false;
  private readonly doubts: Doubts;

  constructor(
    private readonly kind: DeviceKind,
    context: HttpContext,
    /** In front of every command id, so that another start of the engine never uses one again. */
    private readonly idPrefix: string,
  ) {
    super(context, BEAT_MS);
    this.doubts = new Doubts(context.clock);
  }

  override close(): void {
    super.close();
    this.closeStream?.();
    this.closeStream = null;
    const { flight } = this;
    this.flight = null;
    flight?.entry.tell({ type: 'outcome', outcome: 'lost', why: LET_GO });
  }

  send(id: string, command: DeviceCommand, onEvent: (event: CommandEvent) => void): Cancel {
    const entry = this.doubts.asked({ id, command, lane: 'plain', tell: onEvent }, this.unsettledBy(command));
    return this.sendInTurn(entry, this.flight !== null, (queuedCommand) => this.launch(queuedCommand));
  }

  protected beat(): void {
    this.context.ask({ method: 'GET', path: '/alive', limitMs: QUESTION_LIMIT_MS }, (answer) => {
      const alive = this.understood(answer, Alive);
      if (alive && (this.stale || this.doubts.wantsAnswer || alive.number !== this.number) && this.state === 'reached')
        this.readAll();
    });
  }

  protected probe(): void {
    if (this.closeStream === null) {
      this.closeStream = this.context.listen('/events', {
        opened: () => this.readAll(),
        event: (data) => this.change(data),
        ended: (why) => {
          this.closeStream = null;
          if (why === 'foreign') this.foreign();
          if (why === 'refused') this.liveness.refused();
        },
      });
    } else this.readAll();
  }

  private readAll(): void {
    this.stale = true;
    if (this.reading || this.closed) return;
    this.reading = true;
    const question = this.doubts.ask();
    this.context.ask({ method: 'GET', path: '/state', limitMs: QUESTION_LIMIT_MS }, (answer) => {
      this.reading = false;
      const whole = this.understood(answer, Whole);
      if (!whole || this.closed) return;
      // An older answer than what the stream has told since is no news.
      if (whole.number < this.number && this.state === 'reached') return this.again();
      this.number = whole.number;
      this.stale = false;
      for (const [point, value] of Object.entries(whole.points)) this.points.set(point, value);
      this.doubts.answered(question, this.points);
      if (this.state !== 'reached') this.liveness.arrived();
      this.context.news.points(Object.fromEntries([...this.points].filter(([point]) => !this.doubts.holds(point))));
      if (this.doubts.needsNewer(question)) this.readAll();
    });
  }

  /** Soon, but not at once: a device that answers old things for ever must not be asked without a pause. */
  private again(): void {
    const { clock } = this.context;
    clock.at(clock.now() + 20, () => !this.closed && this.state === 'reached' && this.readAll());
  }

  private change(data: string): void {
    let change: z.infer<typeof Change> | null = null;
    try {
      change = Change.safeParse(JSON.parse(data)).data ?? null;
    } catch {
      // Told below, with what is JSON but no change.
    }
    if (change === null) return this.foreign();
    this.liveness.heard();
    if (this.number < 0 || change.number <= this.number) return;
    const gap = change.number !== this.number + 1;
    this.number = change.number;
    this.points.set(change.point, change.value);
    // It may have been said before the device took the command: the stream and the reply have no order between them.
    if (!this.doubts.holds(change.point)) this.context.news.points({ [change.point]: change.value });
    if (gap) this.readAll();
  }

  /** The body of an answer that this kind of device gives; null for anything else, which is counted. */
  private understood<T extends { device: string }>(answer: HttpAnswer, schema: z.ZodType<T>): T | null {
    if ('failed' in answer) {
      if (answer.failed === 'foreign') this.foreign();
      if (answer.failed === 'refused') this.liveness.refused();
      return null;
    }
    const parsed = schema.safeParse(answer.body);
    if (!parsed.success || parsed.data.device !== this.kind.key) {
      this.foreign();
      return null;
    }
    this.liveness.heard();
    return parsed.data;
  }

  private foreign(): void {
    this.malformed += 1;
    this.liveness.foreign();
  }

  private launch(entry: QueuedCommand): void {
    const flight: Flight = { entry, since: this.context.clock.now() };
    this.flight = flight;
    this.ask(flight);
  }

  private ask(flight: Flight): void {
    const { id, command } = flight.entry;
    this.context.ask(
      {
        method: 'POST',
        path: `/commands/${command.command}`,
        body: { id: `${this.idPrefix}.${id}`, ...command.params },
        limitMs: RESEND_AFTER_MS,
      },
      (answer) => {
        if (this.flight !== flight) return;
        if (!('failed' in answer)) {
          const outcome = Outcome.safeParse(answer.body);
          if (outcome.success) {
            this.liveness.heard();
            const { outcome: how, why } = outcome.data;
            return this.finish(flight, { type: 'outcome', outcome: how, ...(why === undefined ? {} : { why }) });
          }
          this.foreign();
        }
        const { clock } = this.context;
        // A refused connection comes back at once; it is tried again at the pace of the others.
        if (clock.now() - flight.since < ANSWER_LIMIT_MS)
          return void clock.at(clock.now() + 50, () => this.flight === flight && this.ask(flight));
        this.finish(flight, unanswered((this.liveness.lastHeard ?? -1) > flight.since));
      },
    );
  }

  private finish(flight: Flight, event: CommandEvent): void {
    this.flight = null;
    flight.entry.tell(event);
    if (this.unsettledBy(flight.entry.command).length > 0 && this.state === 'reached') this.readAll();
    const next = this.queue.next();
    if (next) this.launch(next);
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
    this.closeStream?.();
    this.closeStream = null;
    this.queue.fail(`Not sent: ${words}`);
    if (this.flight) {
      this.finish(this.flight, {
        type: 'outcome',
        outcome: 'lost',
        why: 'The device fell silent; its effect is unknown.',
      });
    }
  }
}
