import type { ReadKey } from '../expression/index';
import type { Cancel } from './clock';
import type { DeedLedger } from './deeds';
import type { DriveLedger } from './driveLedger';
import type { Step } from '../show/index';
import type { Run } from './run';
import type { Scope } from './scope';

/** Something a task waits for. `hurry` ends the waiting at once, as if it had been over: a stop-all waits for nothing. */
export interface Hold {
  readonly cancel: Cancel;
  readonly hurry: () => void;
}

export type StepResult = { readonly ok: true } | { readonly ok: false; readonly why: string };
export type Finish = (result: StepResult) => void;
export const FINE: StepResult = { ok: true };

/** What has to happen when a part of a run is ended before it came to its own end: stop steps of a macro, release steps of a held button. */
export interface Closing {
  readonly owner: Task;
  /** Where its steps stand in the as-run. */
  readonly path: string;
  /** What is to be done; a function where that depends on what was done. */
  readonly steps: readonly Step[] | (() => readonly Step[]);
}

/**
 * A list of steps under way: one node in the tree of a run. It owns what it waits for and the lists inside it. Cancelling goes down,
 * ends come up; whatever comes later for a node that is over is told in the as-run and changes nothing.
 */
export class Task {
  readonly children = new Set<Task>();
  over = false;
  /** When the present step was due: later pauses count from here, so that lateness does not add up. */
  due: number;
  /** The step that this list stands in goes on when the list fails. */
  tolerant = false;
  /** Its steps wait for no touch, also in a run that is stepped through. */
  ungated: boolean;
  /** Its command leaves with others of this instant. */
  together = false;
  /** Set where a macro or a held button begins: what ends it early. */
  closing: Closing | null = null;
  /** Called when the node is over, however it came to that. */
  onOver: (() => void) | null = null;
  /** Ends this list as failed, from a move that failed after its step had ended. */
  fail: (why: string) => void = () => undefined;
  /** Where what it does is written down, for as long as it may be taken back; null where nobody asks. */
  deeds: DeedLedger | null;
  private readonly holds: Hold[] = [];

  constructor(
    readonly run: Run,
    readonly parent: Task | null,
    readonly scope: Scope,
    readonly read: ReadKey,
    readonly path: string,
    due: number,
    readonly depth: number,
    /** Release and stop steps: each is tried, whatever the others did. */
    readonly eachTried: boolean,
    /** Where moves without an end are written down until they are ended. */
    readonly drives: DriveLedger,
  ) {
    this.due = due;
    this.ungated = parent?.ungated ?? false;
    this.deeds = parent === null ? (run.request.deeds ?? null) : parent.deeds;
    parent?.children.add(this);
  }

  hold(hold: Hold): void {
    this.holds.push(hold);
  }

  /** No longer waits for it. A list waits for one thing at a time, so that the last one is nearly always meant. */
  letGo(hold: Hold): void {
    if (this.holds[this.holds.length - 1] === hold) this.holds.pop();
    else if (this.holds.includes(hold)) this.holds.splice(this.holds.indexOf(hold), 1);
  }

  /** Came to its own end. */
  end(): void {
    if (this.over) return;
    this.over = true;
    this.parent?.children.delete(this);
    this.onOver?.();
  }

  /** Ends this node and all inside it. @returns what has to happen because they were ended early, innermost first */
  cancel(closings: Closing[] = []): Closing[] {
    if (this.over) return closings;
    this.over = true;
    for (const child of [...this.children]) child.cancel(closings);
    for (const hold of this.holds.splice(0)) hold.cancel();
    if (this.closing !== null) closings.push(this.closing);
    this.parent?.children.delete(this);
    this.onOver?.();
    return closings;
  }

  /** Whatever waits in here and further in goes on now. */
  hurry(): void {
    for (const child of [...this.children]) child.hurry();
    for (const hold of this.holds.splice(0)) {
      hold.cancel();
      hold.hurry();
    }
  }

  isWithin(other: Task): boolean {
    return this === other || this.parent?.isWithin(other) === true;
  }
}
