/** Board key of whether a rule may fire. */
export const armedKey = (trigger: string): string => `armed@${trigger}`;

/**
 * Board key of what a *when* rule went by last: whether its condition held, or the time of day at which it is due next, milliseconds since 1970. The
 * next engine tells from it what was missed.
 */
export const wasKey = (trigger: string): string => `was@${trigger}`;

/**
 * Board key of until when a hand keeps a *follow* rule off, milliseconds since 1970; 0: nothing does. An edit and the next engine go by it: who cuts by
 * hand is not overruled because a machine began anew.
 */
export const keptOffKey = (trigger: string): string => `keptOff@${trigger}`;

/** Board key that tells pages that a rule holds or tells otherwise than before: its state, and a number that counts up. */
export const ruleKey = (trigger: string): string => `rule@${trigger}`;

/** Board key of whether a rule holds something now. */
export const holdsKey = (trigger: string): string => `holds@${trigger}`;

/** Board keys of how many rules are armed, and of which hold something now, by name. */
export const RULES_ARMED = 'rules@armed';
export const RULES_HOLD = 'rules@hold';

/** Who armed, disarmed or fired a rule by hand. */
export interface ByHand {
  readonly station: string;
  readonly person?: string | undefined;
  /** How much right they have: the more, the higher. Left out: every right. */
  readonly rank?: number | undefined;
}

/** One cause in a chain. */
export interface WhyEntry {
  readonly kind: 'lamp' | 'point' | 'command' | 'run' | 'press' | 'trigger' | 'device';
  /** Key of a point, id of a button, run, press or trigger. */
  readonly id: string;
  /** Milliseconds of the engine's clock; null where it is not known, such as what was so before the engine began. */
  readonly t: number | null;
  readonly words: string;
}

/** One event of a rule, with what came of it. */
export interface RuleEdge {
  /** Milliseconds of the engine's clock. */
  readonly t: number;
  readonly what: 'fired' | 'notFired' | 'holds' | 'left' | 'changed';
  readonly words: string;
  /** What its condition read then, in words. */
  readonly read: readonly string[];
  /** Board key whose change it was; left out where none was. */
  readonly key?: string | undefined;
  /** What led to it, the newest cause first, as it was then. */
  readonly because: readonly WhyEntry[];
  readonly runId?: string | undefined;
  /** Of what was fired by hand. */
  readonly by?: ByHand | undefined;
}

/** A rule as others see it. */
export interface RuleView {
  readonly id: string;
  readonly armed: boolean;
  /**
   * `holds`: a *follow* rule follows. `waiting`: its condition holds, and something keeps it from doing so. `changed`: somebody put something else there,
   * or cut by hand.
   */
  readonly state: 'rests' | 'holds' | 'changed' | 'waiting';
  /** Engine time at which it last fired, or began to hold; null: not since the engine began. */
  readonly lastFired: number | null;
  readonly lastWords: string;
  readonly edges: readonly RuleEdge[];
}
