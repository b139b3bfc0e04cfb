import type { ButtonSet, Family, LampRule, Step } from '@umbek/core/show';

/** A strip of the demo before ids and order are given. */
export interface StripPlan {
  readonly name: string;
  readonly family: Family;
  /** Numbers its buttons from here instead of going on counting, so that the ids of the others stay. */
  readonly firstButton?: number;
  readonly buttons: readonly {
    legend: string;
    note?: string;
    mode?: 'press' | 'hold';
    guard?: 'none' | 'secondTouch';
    steps: Step[];
    releaseSteps?: Step[];
    sets?: ButtonSet[];
    lamps?: LampRule[];
  }[];
}
