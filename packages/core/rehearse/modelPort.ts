import type { PlainValue } from '../show/index';
import type { DeviceCommand, DeviceKind, ModelReply, Points, RunningModel } from '../devices/index';
import type { Cancel, Clock, CommandEvent, DeviceNews, DevicePort } from '../engine/index';

/** A model has a command as soon as it is sent. */
const TOO_LATE: Cancel = () => undefined;

/** A device port that ends in a model instead of a socket. Answers come with the model's own delays. */
export class ModelPort implements DevicePort {
  private readonly model: RunningModel;
  private readonly waiting = new Map<string, (event: CommandEvent) => void>();
  private cancelWake: Cancel = () => undefined;

  /** A map: a switcher has hundreds of points, and an object of so many keys is slow to look into. */
  private readonly told = new Map<string, PlainValue>();
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
    this.waiting.set(commandId, onEvent);
    // The engine has forgotten the points that this command unsettles; the next answer tells all of them again.
    if (this.kind.commands[command.command]?.unsettles) this.unsettled = true;
    this.take({ type: 'command', id: commandId, command, now: this.clock.now() });
    return TOO_LATE;
  }

  private take(input: Parameters<RunningModel['step']>[0]): void {
    const { replies, points, wakeAt } = this.model.step(input);
    this.cancelWake();
    if (wakeAt !== null) this.cancelWake = this.clock.at(wakeAt, () => this.take({ type: 'wake', now: this.clock.now() }));
    if (replies.length === 0) this.publish(points);
    // What a device says about itself is heard with its answer, not before it.
    else for (const reply of replies) this.clock.at(reply.at, () => this.answer(reply, points));
  }

  private answer(reply: ModelReply, points: Points): void {
    const tell = this.waiting.get(reply.id);
    if (reply.event === 'accepted') tell?.({ type: 'accepted' });
    else {
      this.waiting.delete(reply.id);
      tell?.({ type: 'outcome', outcome: reply.event, ...(reply.why === undefined ? {} : { why: reply.why }) });
    }
    this.publish(points);
  }

  /** Only what changed. */
  private publish(points: Points): void {
    let changes: Record<string, PlainValue> | null = null;
    for (const point in points) {
      const value = points[point];
      if (value === undefined || (value === this.told.get(point) && !this.unsettled)) continue;
      changes ??= {};
      changes[point] = value;
      this.told.set(point, value);
    }
    if (changes !== null) this.news.points(changes);
    this.unsettled = false;
  }
}
