import type { Clock, Reader, StateBoard } from '@umbek/core/engine';
import { onAirKey } from '@umbek/core/engine';

/** A lamp that could not be switched is tried again after so long. */
const AGAIN_MS = 1000;

interface HeadTallyDependencies {
  readonly board: StateBoard;
  readonly clock: Clock;
  /** Key of the head. */
  readonly camera: string;
  /** Keys of the sources that show its picture; none while its lamp is switched by hand. */
  readonly sources: () => readonly string[];
  /** Switches the lamp. @param then whether the head took it */
  readonly send: (on: boolean, then: (taken: boolean) => void) => void;
  readonly inTurn: (work: () => void) => void;
}

/**
 * Keeps a head's own tally lamp as the air is: red while one of its sources is seen. Where that is not known, the lamp stays as it is. Asked of the
 * same answer as lamps and guards.
 */
export class HeadTally implements Reader {
  private keys: string[] = [];
  /** What the head was told last and took; null when that is not known. */
  private lit: boolean | null = null;
  private busy = false;
  private waiting = false;
  private closed = false;

  constructor(private readonly deps: HeadTallyDependencies) {
    this.follow();
  }

  /** The show was edited: other sources, or another setting. */
  follow(): void {
    const { board, camera, sources } = this.deps;
    board.unsubscribe(this.keys, this);
    const watched = sources();
    this.keys = watched.length === 0 ? [] : [`${camera}.reached`, ...watched.map(onAirKey)];
    if (watched.length === 0) this.lit = null;
    board.subscribe(this.keys, this);
    this.wake();
  }

  /** Nothing is sent while changes are being told: it follows in a turn of its own. */
  wake(): void {
    this.lookAfter(0);
  }

  close(): void {
    this.closed = true;
    this.deps.board.unsubscribe(this.keys, this);
  }

  private lookAfter(ms: number): void {
    if (this.waiting) return;
    this.waiting = true;
    const { clock, inTurn } = this.deps;
    clock.at(clock.now() + ms, () => {
      this.waiting = false;
      inTurn(() => this.look());
    });
  }

  private look(): void {
    const { board, camera, sources, send } = this.deps;
    if (this.closed || this.busy) return;
    // A head that was away may have been switched off and on.
    if (board.read(`${camera}.reached`) !== true) {
      this.lit = null;
      return;
    }
    const onAir = sources().map((source) => board.read(onAirKey(source)));
    const on = onAir.includes(true);
    if (onAir.length === 0 || on === this.lit || (!on && onAir.some((verdict) => verdict !== false))) return;
    this.busy = true;
    send(on, (taken) => {
      this.busy = false;
      this.lit = taken ? on : null;
      this.lookAfter(taken ? 0 : AGAIN_MS);
    });
  }
}
