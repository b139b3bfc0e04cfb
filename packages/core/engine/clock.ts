/** Takes a scheduled call back; calling it again, or after the call ran, does nothing. */
export type Cancel = () => void;

/**
 * Time as the engine sees it: real, or virtual in rehearsal. Nothing in the core asks anything else for the time.
 * Calls due at the same moment run in the order they were scheduled.
 */
export interface Clock {
  /** Milliseconds, monotonic, from an arbitrary zero. */
  now(): number;
  /** Calls `run` when `now()` has reached `dueMs`. A due time that is past is called soon, after input that already waits. */
  at(dueMs: number, run: () => void): Cancel;
  /** The time of day, for people. */
  wall(): Date;
}
