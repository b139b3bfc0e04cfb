import type { PlainValue } from '../show/index';
import type { DeviceCommand, DeviceKind, ModelReply, Points, RunningModel } from '../devices/index';
import type { Cancel, Clock, CommandEvent, DeviceNews, DevicePort } from '../engine/index';

/** A model has a command as soon as it is sent. */
const TOO_LATE: Cancel = () => undefined;
const NOTHING: Cancel = () => undefined;
const DONE: CommandEvent = { type: 'outcome', outcome: 'done' };

function eventOf(reply: ModelReply): CommandEvent {
  if (reply.event === 'accepted') return { type: 'accepted' };
  if (reply.why !== undefined) return { type: 'outcome', outcome: reply.event, why: reply.why };
  return reply.event === 'done' ? DONE : { type: 'outcome', outcome: reply.event };
}

/** A device port that ends in a model instead of a socket. Answers come with the model's own delays. */
export class ModelPort implements DevicePort {
  private readonly model: RunningModel;
  private readonly waiting = new Map<string, (event: CommandEvent) => void>();
  private cancelWake: Cancel = NOTHING;

  /** A map: a switcher has hundreds of points, and an object of so many keys is slow to look into. */
  private readonly shown = new Map<string, PlainValue>();
  private unsettled = false;

  constructor(
    private readonly kind: DeviceKind,
    settings: unknown,
    private readonly clock: Clock,
    private readonly news: DeviceNews,
    from: Points = {},
  ) {
    this.model = kind.startModel(settings, clock.now(), from);
  }

  /** Says that the device is there and what it shows. */
  begin(): void {
    this.news.reached(true, 'Rehearsed');
    this.news.points(this.model.step({ type: 'read', now: this.clock.now() }).points);
  }

  send(commandId: string, command: DeviceCommand, onEvent: (event: CommandEvent) => void): Cancel {
    // The engine has forgotten the points that this command unsettles; the next answer tells all of them again.
    if (this.kind.commands[command.command]?.unsettles) this.unsettled = true;
    const now = this.clock.now();
    const { replies, points, wakeAt } = this.model.step({ type: 'command', id: commandId, command, now });
    const [only] = replies;
    if (replies.length === 1 && only !== undefined && only.id === commandId && only.event !== 'accepted') {
      this.wakeAt(wakeAt);
      // Most commands have this one answer and nothing after it: nobody has to be remembered for later.
      this.clock.at(only.at, () => {
        onEvent(eventOf(only));
        this.publish(points);
      });
      return TOO_LATE;
    }
    this.waiting.set(commandId, onEvent);
    this.heard(replies, points, wakeAt);
    return TOO_LATE;
  }

  private readonly wake = (): void => {
    const { replies, points, wakeAt } = this.model.step({ type: 'wake', now: this.clock.now() });
    this.heard(replies, points, wakeAt);
  };

  private wakeAt(time: number | null): void {
    this.cancelWake();
    this.cancelWake = time === null ? NOTHING : this.clock.at(time, this.wake);
  }

  private heard(replies: readonly ModelReply[], points: Points, wakeAt: number | null): void {
    this.wakeAt(wakeAt);
    if (replies.length === 0) this.publish(points);
    // What a device says about itself is heard with its answer, not before it.
    else for (const reply of replies) this.clock.at(reply.at, () => this.answer(reply, points));
  }

  private answer(reply: ModelReply, points: Points): void {
    const tell = this.waiting.get(reply.id);
    if (reply.event !== 'accepted') this.waiting.delete(reply.id);
    tell?.(eventOf(reply));
    this.publish(points);
  }

  /** Only what changed. */
  private publish(points: Points): void {
    let changes: Record<string, PlainValue> | null = null;
    for (const point in points) {
      const value = points[point];
      if (value === undefined || (value === this.shown.get(point) && !this.unsettled)) continue;
      changes ??= {};
      changes[point] = value;
      this.shown.set(point, value);
    }
    if (changes !== null) this.news.points(changes);
    this.unsettled = false;
  }
}
