import type { DeviceCommand } from '@umbek/core/devices';
import type { Cancel, CommandEvent } from '@umbek/core/engine';
import { CommandQueue, type QueuedCommand } from './commandQueue';
import type { Driver, DriverContext, LinkState } from './context';
import { Liveness } from './liveness';

/** What drivers have in common: whether the device is heard, and the queue of what is to be sent. */
export abstract class LinkedDriver<Context extends DriverContext = DriverContext> implements Driver {
  malformed = 0;
  /** True once the device was let go: nothing of this driver sends any more. */
  protected closed = false;
  protected readonly liveness: Liveness;
  protected readonly queue: CommandQueue;

  constructor(
    protected readonly context: Context,
    beatMs?: number,
    silenceMs?: number,
  ) {
    this.queue = new CommandQueue(context.clock);
    this.liveness = new Liveness(
      context.clock,
      {
        beat: () => this.beat(),
        probe: () => this.probe(),
        changed: (state, silentFor) => this.linkChanged(state, silentFor),
      },
      beatMs,
      silenceMs,
    );
  }

  get state(): LinkState {
    return this.liveness.state;
  }

  get lastHeard(): number | null {
    return this.liveness.lastHeard;
  }

  open(): void {
    this.closed = false;
    this.liveness.open();
  }

  close(): void {
    this.closed = true;
    this.liveness.close();
    this.queue.fail('The device was closed.');
  }

  unreachable(): void {
    this.liveness.refused();
  }

  /** For devices that take one command at a time: now when nothing is under way, or in its turn. @returns what takes it back while it waits */
  protected sendInTurn(entry: QueuedCommand, busy: boolean, launch: (entry: QueuedCommand) => void): Cancel {
    if (busy || this.queue.size > 0) return this.queue.add(entry);
    launch(entry);
    return () => undefined;
  }

  abstract send(id: string, command: DeviceCommand, onEvent: (event: CommandEvent) => void, more?: boolean): Cancel;
  /** Asks something cheap of a device that is heard. */
  protected abstract beat(): void;
  /** Looks for a device that is not. */
  protected abstract probe(): void;
  protected abstract linkChanged(state: LinkState, silentForMs: number | null): void;
}
