import type { AppError, Button } from '../show/index';
import type { Clock } from './clock';
import { type DeedLedger, type WayBack, wayBack } from './deeds';
import { takeBackButton } from './pressedButton';
import type { StateBoard } from './stateBoard';

/** So long after the last thing that a press did, it can be taken back, milliseconds. */
export const TAKE_BACK_MS = 10_000;

/** A press as far as taking it back goes. */
export interface TakenPress {
  readonly pressId: string;
  readonly station: string;
  /** What it did; null until it was accepted. */
  deeds: DeedLedger | null;
  legend: string;
  takenBack: boolean;
}

/** What taking a station's last press back would do. */
export interface TakeBack extends WayBack {
  readonly pressId: string;
  readonly legend: string;
  /** For so long it can still be done, milliseconds. */
  readonly leftMs: number;
}

const OVER: AppError = {
  code: 'nothing-to-take-back',
  message: `There is nothing to take back: a press can be taken back within ${TAKE_BACK_MS / 1000} s.`,
  mend: 'Press the button that does what you want instead.',
};

/** The last press of each station, and what brings back what stood before it. */
export class TakeBacks {
  private readonly last = new Map<string, TakenPress>();

  constructor(private readonly deps: { readonly clock: Clock; readonly board: StateBoard }) {}

  /** A press was accepted. */
  pressed(press: TakenPress): void {
    this.last.set(press.station, press);
  }

  /** What a station's last press could be taken back to, as things are now; null when there is nothing, or its time is over. */
  ahead(station: string): TakeBack | null {
    const press = this.last.get(station);
    const leftMs = press === undefined ? 0 : this.left(press);
    if (press?.deeds == null || leftMs <= 0) return null;
    const { steps, stays } = wayBack(press.deeds, this.deps.board, 'takeBack');
    return { pressId: press.pressId, legend: press.legend, leftMs, steps, stays };
  }

  /** The press that takes another one back, made up of what brings back what stood before it. */
  button(target: TakenPress | undefined, station: string): Button | AppError {
    if (target?.deeds == null || target.station !== station || this.left(target) <= 0) return OVER;
    const { steps, stays } = wayBack(target.deeds, this.deps.board, 'takeBack');
    if (steps.length > 0) return takeBackButton(target.legend, steps);
    return { ...OVER, message: [`Nothing of ${target.legend} can be taken back.`, ...stays].join(' ') };
  }

  private left({ deeds, takenBack }: TakenPress): number {
    if (takenBack || deeds === null || deeds.lastAt === null) return 0;
    return deeds.lastAt + TAKE_BACK_MS - this.deps.clock.now();
  }
}
