import type { SecondPress } from './run';
import type { Task } from './task';

export type Verdict =
  | { readonly kind: 'begin' }
  /** The thing is not begun: this run answers for it, or it begins when that one is over. */
  | { readonly kind: 'instead'; readonly runId: string; readonly waits: boolean };

const BEGIN: Verdict = { kind: 'begin' };
/** So many starts of one thing wait behind it. */
const MOST_WAITING = 50;

/** What happens when a thing is started that is under way already: the programmer chose one of four answers. */
export class SecondPresses {
  private readonly present = new Map<string, Task>();
  private readonly waiting = new Map<string, (() => boolean)[]>();

  constructor(private readonly end: (task: Task, why: string) => void) {}

  /**
   * @param within the list that wants to begin it; what it stands inside of is no first press
   * @param begin called when it is this one's turn, where it has to wait; false when it is no longer wanted
   */
  meet(identity: string, rule: SecondPress, within: Task | null, begin: () => boolean): Verdict {
    const present = this.present.get(identity);
    if (present === undefined || within?.isWithin(present) === true) return BEGIN;
    const { runId } = present.run;
    switch (rule) {
      case 'ignore':
        return { kind: 'instead', runId, waits: false };
      case 'runAfterwards': {
        const waiting = this.waiting.get(identity) ?? [];
        if (waiting.length < MOST_WAITING) this.waiting.set(identity, [...waiting, begin]);
        return { kind: 'instead', runId, waits: waiting.length < MOST_WAITING };
      }
      case 'end':
        this.end(present, 'Pressed again.');
        return { kind: 'instead', runId, waits: false };
      case 'startOver':
        this.end(present, 'Started over.');
        return BEGIN;
    }
  }

  began(identity: string, task: Task): void {
    const present = this.present.get(identity);
    if (present !== undefined && present !== task && task.isWithin(present)) return;
    this.present.set(identity, task);
    const before = task.onOver;
    task.onOver = () => {
      before?.();
      if (this.present.get(identity) === task) this.present.delete(identity);
    };
  }

  /** The thing and all that had to follow it are over: the next one that waits begins. */
  over(identity: string, task: Task): void {
    const present = this.present.get(identity);
    if (present !== undefined && present !== task) return;
    const waiting = this.waiting.get(identity) ?? [];
    this.waiting.delete(identity);
    for (let next = waiting.shift(); next !== undefined; next = waiting.shift()) {
      if (!next()) continue;
      if (waiting.length > 0) this.waiting.set(identity, waiting);
      return;
    }
  }

  clear(): void {
    this.waiting.clear();
  }
}
