import type { DeviceCommand, DeviceKind, ModelReply, Points, RunningModel } from '@umbek/core/devices';
import type { Cancel, Clock } from '@umbek/core/engine';
import { type Effect, EFFECTS_KEPT, type Sender, type StandinReport } from './port';

/** A kind's model under way on a clock, with what was done to it: the inside of every stand-in whose protocol adds nothing of its own. */
export class ModelDevice {
  private readonly model: RunningModel;
  private readonly waiting = new Map<string, (reply: ModelReply) => void>();
  private readonly effects: Effect[] = [];
  private cancelWake: Cancel = () => undefined;
  private count = 0;
  /** Everything as last told. */
  points: Points;
  malformed = 0;

  constructor(
    readonly kind: DeviceKind,
    settings: unknown,
    private readonly clock: Clock,
    /** Told what changed, before the answer to the command that changed it. */
    private readonly onChange: (changes: Points) => void,
  ) {
    this.model = kind.startModel(settings, clock.now());
    const { points, wakeAt } = this.model.step({ type: 'read', now: clock.now() });
    this.points = points;
    this.wake(wakeAt);
  }

  /** Carries a command out. @param id the controller's own id of it */
  command(command: DeviceCommand, from: Sender, id: string, then: (reply: ModelReply) => void): void {
    this.effects.push({ at: this.clock.wall().getTime(), from, id, command: command.command, params: command.params });
    if (this.effects.length > EFFECTS_KEPT) this.effects.shift();
    const key = `${(this.count += 1)}`;
    this.waiting.set(key, then);
    this.step({ type: 'command', id: key, command, now: this.clock.now() });
  }

  /** Something that no controller asks for. @returns why it cannot be, or null */
  simulate(what: string): string | null {
    if (this.kind.simulations?.[what] === undefined) return `${this.kind.words} cannot be made to ${what}.`;
    let why: string | null = null;
    const key = `${(this.count += 1)}`;
    this.waiting.set(key, () => undefined);
    const { replies } = this.step({
      type: 'command',
      id: key,
      command: { command: what, params: {} },
      now: this.clock.now(),
    });
    for (const reply of replies) if (reply.event === 'refused') why = reply.why ?? 'Refused.';
    return why;
  }

  report(): StandinReport {
    return { points: this.points, effects: this.effects, malformed: this.malformed };
  }

  private step(input: Parameters<RunningModel['step']>[0]): ReturnType<RunningModel['step']> {
    const result = this.model.step(input);
    this.wake(result.wakeAt);
    if (result.replies.length === 0) this.publish(result.points);
    for (const reply of result.replies) {
      this.clock.at(reply.at, () => {
        this.publish(this.model.step({ type: 'read', now: this.clock.now() }).points);
        const tell = this.waiting.get(reply.id);
        if (reply.event !== 'accepted') this.waiting.delete(reply.id);
        tell?.(reply);
      });
    }
    return result;
  }

  private wake(at: number | null): void {
    this.cancelWake();
    if (at !== null) this.cancelWake = this.clock.at(at, () => this.step({ type: 'wake', now: this.clock.now() }));
  }

  private publish(points: Points): void {
    const changes = Object.fromEntries(Object.entries(points).filter(([point, value]) => this.points[point] !== value));
    this.points = { ...this.points, ...points };
    if (Object.keys(changes).length > 0) this.onChange(changes);
  }
}
