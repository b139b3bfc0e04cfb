import { UNKNOWN, type Verdict } from '../../expression/index';
import type { PlainValue, Trigger } from '../../show/index';
import type { Cancel, Clock } from '../clock';
import type { Journal } from '../journal';
import type { StateBoard } from '../stateBoard';
import { wasKey } from './ruleView';

/** What a rule goes by is written down no more often than this, milliseconds: levels come and go. */
const WAS_EVERY_MS = 1000;

export interface WentByDependencies {
  readonly clock: Clock;
  readonly board: StateBoard;
  readonly journal: Journal;
  /** What a rule goes by now; unknown also where there is no such rule. */
  readonly now: (trigger: string) => Verdict;
  /** Something happened while the engine was away. */
  readonly missed: (trigger: Trigger, what: string) => void;
  /** A rule goes by something else than before: to be looked at in a turn of its own. */
  readonly turned: (trigger: string) => void;
}

/**
 * What *when* rules went by last stands in the journal: whether a condition held, and the time of day that is due next. The engine that begins after one
 * that died tells from it what was missed, each once; it does nothing of it.
 */
export class WentBy {
  /** What rules went by before the engine died, until it is known what that is now. */
  private readonly before = new Map<string, PlainValue>();
  /** When what a rule goes by was written down last. */
  private readonly writtenAt = new Map<string, number>();
  /** Writes that are due. */
  private readonly due = new Map<string, Cancel>();

  constructor(private readonly deps: WentByDependencies) {}

  /** What the journal holds of a rule. */
  restore(trigger: string): void {
    const was = this.deps.board.read(wasKey(trigger));
    if (was !== UNKNOWN) this.before.set(trigger, was);
  }

  /** A rule that goes by the time of day begins. @param wall milliseconds since 1970 */
  beginsAt(trigger: Trigger, wall: number): void {
    const due = this.before.get(trigger.id);
    this.before.delete(trigger.id);
    if (typeof due === 'number' && due < wall && trigger.on.kind === 'time')
      this.deps.missed(trigger, `It was ${trigger.on.at}`);
  }

  /** What a rule goes by is known: for the first time since the engine began it may be other than before. */
  known(trigger: Trigger): void {
    const now = this.deps.now(trigger.id);
    if (now === UNKNOWN || trigger.on.kind !== 'turns') return;
    const was = this.before.get(trigger.id);
    this.before.delete(trigger.id);
    if (typeof was === 'boolean' && was !== now && now === trigger.on.to)
      this.deps.missed(trigger, 'Its condition turned');
    if (was !== now) this.deps.turned(trigger.id);
  }

  /** It goes by something else: told from before the engine died where that is still open, and written down. */
  look(trigger: Trigger): void {
    if (this.before.has(trigger.id)) this.known(trigger);
    this.keep(trigger.id);
  }

  /** The time at which a rule is due next, milliseconds since 1970. */
  keepTime(trigger: string, at: number): void {
    if (this.deps.board.read(wasKey(trigger)) !== at) this.write(trigger, at);
  }

  private keep(trigger: string): void {
    const { clock, board } = this.deps;
    const now = this.deps.now(trigger);
    if (now === UNKNOWN || this.due.has(trigger) || board.read(wasKey(trigger)) === now) return;
    const due = (this.writtenAt.get(trigger) ?? -Infinity) + WAS_EVERY_MS;
    if (clock.now() < due) {
      const write = (): void => {
        this.due.delete(trigger);
        this.keep(trigger);
      };
      this.due.set(
        trigger,
        clock.at(due, () => board.turn(write)),
      );
      return;
    }
    this.writtenAt.set(trigger, clock.now());
    this.write(trigger, now);
  }

  private write(trigger: string, value: PlainValue): void {
    const { clock, board, journal } = this.deps;
    board.set(wasKey(trigger), value);
    journal.append({ kind: 'set', t: clock.now(), key: wasKey(trigger), value });
  }

  /** A rule is gone, or is another one now. */
  end(trigger: string): void {
    this.due.get(trigger)?.();
    this.due.delete(trigger);
    this.before.delete(trigger);
  }
}
