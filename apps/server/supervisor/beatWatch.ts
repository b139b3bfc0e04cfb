import type { Cancel, Clock } from '@umbek/core/engine';

export const BEAT_MS = 100;
/** While something moves, so long without a beat makes the parent stop it. */
export const STOP_AFTER_MS = 600;
/** An engine that has not beaten for so long hangs: it is ended. */
export const HUNG_AFTER_MS = 2000;
const LOOK_MS = 50;
/** One that is being born is given so long for its first beat. */
const BIRTH_MS = 60_000;

/** Listens to the engine's beat. A parent that was itself late counts that as its own silence, not the engine's. */
export class BeatWatch {
  private lastBeat: number;
  private lastLook: number;
  private stopped = false;
  private born = false;
  private closed = false;
  private cancel: Cancel = () => undefined;

  constructor(
    private readonly clock: Clock,
    private readonly listener: {
      moving(): boolean;
      /** Something moves and nobody knows whether it will be ended. */
      stopMoves(silentMs: number): void;
      hung(silentMs: number): void;
    },
  ) {
    this.lastBeat = this.lastLook = clock.now();
    this.look();
  }

  beat(): void {
    this.lastBeat = this.clock.now();
    this.stopped = false;
    this.born = true;
  }

  close(): void {
    this.closed = true;
    this.cancel();
  }

  private look(): void {
    const now = this.clock.now();
    const late = now - this.lastLook - LOOK_MS;
    if (late > LOOK_MS) this.lastBeat = Math.min(now, this.lastBeat + late);
    this.lastLook = now;
    const silent = now - this.lastBeat;
    if (silent >= STOP_AFTER_MS && !this.stopped && this.listener.moving()) {
      this.stopped = true;
      this.listener.stopMoves(silent);
    }
    if (silent >= (this.born ? HUNG_AFTER_MS : BIRTH_MS)) {
      this.lastBeat = now;
      this.listener.hung(silent);
    }
    // Whoever is told that it hangs may be done with it by now.
    if (!this.closed) this.cancel = this.clock.at(now + LOOK_MS, () => this.look());
  }
}
