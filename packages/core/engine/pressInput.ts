import type { AppError, PlainValue } from '../show/index';
import type { DirectCommand } from './directButton';

/** One phase of a press, as it comes in from whichever station and way. */
export interface PressInput {
  readonly pressId: string;
  readonly buttonId: string;
  readonly phase: 'down' | 'hold' | 'up';
  readonly station: string;
  readonly person?: string | undefined;
  /** How much right whoever presses has: the more, the higher. Left out: every right. */
  readonly rank?: number | undefined;
  /** Link group whose selections the press uses. */
  readonly linkGroup?: string;
  /** Time of the touch on the engine's clock, milliseconds; left out: now. Not a time of day: a stepped clock refuses no press. */
  readonly at?: number | undefined;
  /** In place of a button of the show; `buttonId` then only names it in the journal. */
  readonly direct?: DirectCommand | undefined;
  /** Only this step of the button, to try it alone. */
  readonly only?: string;
  /** Takes this press of the same station back; `buttonId` then only names it in the journal. */
  readonly takeBack?: string | undefined;
  /** Of a value in the hand: what it is turned to; with each renewal anew. */
  readonly value?: number | undefined;
  /** Id of the shortcut that makes it; left out: a hand on the cap. */
  readonly shortcut?: string | undefined;
  /** Of a macro: parameters in place of those that it begins with. */
  readonly given?: Readonly<Record<string, PlainValue>> | undefined;
  /** With `only`: the steps behind that one as well. */
  readonly onward?: boolean;
  /** Each step waits for a touch. Of a press button; a held one cannot wait. */
  readonly stepped?: boolean;
  /** True when no second touch is to be asked for: a rehearsal has no hands. */
  readonly sure?: boolean;
}

/** What a phase of a press was answered, before any device has replied. */
export type PressAnswer =
  { readonly accepted: true; readonly runId: string | null } | { readonly accepted: false; readonly error: AppError };

/** A hand took a device that another one had been moving. */
export interface Taken {
  /** Key of the device, or of the source whose window is moved. */
  readonly device: string;
  readonly from: TakenHand;
  readonly by: TakenHand;
}
export interface TakenHand {
  readonly pressId: string;
  readonly station: string;
  readonly person: string;
}
