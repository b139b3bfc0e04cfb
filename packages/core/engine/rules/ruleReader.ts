import { type Expression, ExpressionFault, type ReadKey, UNKNOWN, type Verdict } from '../../expression/index';
import type { PlainValue, Trigger } from '../../show/index';
import type { Cancel } from '../clock';
import type { Counting } from '../counting';
import type { Program } from '../program';
import { boardKey, reachedKey, readerFor } from '../scope';
import type { Reader, StateBoard } from '../stateBoard';

/** Rules choose and read as the stations of this link group do. */
export const RULES_LINK_GROUP = 'main';

/** What a rule's condition went from and to; unknown where that could not be told before. */
export interface Edge {
  readonly from: Verdict;
  readonly to: PlainValue;
}

/** Reads what one rule goes by, and tells when it becomes something else. */
export class RuleReader implements Reader {
  private keys: readonly string[] = [];
  private readonly expression: Expression | undefined;
  private readonly read: ReadKey;
  /** Where it goes by parts of a second. */
  private readonly fine: Counting | null;
  private next: Cancel = () => undefined;
  /** As last known: a point that a command has just made unknown is told again in a moment. */
  private known: PlainValue | typeof UNKNOWN = UNKNOWN;
  private fault: string | null = null;
  private verdict: Verdict = UNKNOWN;

  constructor(
    readonly trigger: Trigger,
    private readonly board: StateBoard,
    private readonly program: Program,
    counting: Counting,
    private readonly onEdge: (reader: RuleReader, edge: Edge) => void,
    /** It is known again and says the same as before. */
    private readonly onKnown: (reader: RuleReader) => void,
    /** It can no longer be worked out, or can again. */
    private readonly onTrouble: (reader: RuleReader) => void,
  ) {
    const read = readerFor(board, RULES_LINK_GROUP);
    const { on } = trigger;
    const text = on.kind === 'turns' ? on.condition : on.kind === 'changes' ? on.of : null;
    this.expression = text === null ? undefined : program.expression(text);
    this.fine = this.expression !== undefined && counting.concerns(this.expression) ? counting : null;
    this.read = this.fine === null ? read : this.fine.reader(read);
    this.evaluate();
    this.known = this.verdict;
    this.listen();
  }

  /** What it says now; unknown where it cannot be worked out. */
  get now(): Verdict {
    return this.verdict;
  }

  /** Why it cannot be worked out; null where it can. */
  get trouble(): string | null {
    return this.fault;
  }

  /** Board keys that it goes by now. */
  get reads(): readonly string[] {
    return (this.expression?.readsNow(this.read) ?? []).map((key) => boardKey(key, RULES_LINK_GROUP));
  }

  wake(): void {
    const before = this.known;
    const wasUnknown = this.verdict === UNKNOWN;
    this.evaluate();
    if (this.expression?.indirect === true) {
      this.board.unsubscribe(this.keys, this);
      this.listen();
    }
    if (this.verdict === UNKNOWN) {
      // What a silent device was is no longer known: what it says when it is back is no event.
      if (this.devices().some((device) => this.board.read(reachedKey(device)) !== true)) this.known = UNKNOWN;
      return;
    }
    this.known = this.verdict;
    if (before !== this.verdict) this.onEdge(this, { from: before, to: this.verdict });
    else if (wasUnknown) this.onKnown(this);
  }

  close(): void {
    this.next();
    this.board.unsubscribe(this.keys, this);
  }

  private devices(): string[] {
    const { reads, program } = this;
    const devices = reads.map((key) => key.slice(0, Math.max(0, key.indexOf('.'))));
    // Whether a source is on air is worked out from whatever puts pictures on air.
    const onAir = reads.some((key) => key.includes('@') && !key.startsWith('chosen@'))
      ? [...program.devices.keys()].filter((device) => program.kindOf(device)?.airOf !== undefined)
      : [];
    return [...new Set([...devices, ...onAir])].filter((device) => program.devices.has(device));
  }

  private listen(): void {
    this.keys = [...new Set([...this.reads, ...this.devices().map(reachedKey)])];
    this.board.subscribe(this.keys, this);
  }

  private evaluate(): void {
    const value = this.expression?.evaluate(this.read) ?? UNKNOWN;
    this.verdict = value instanceof ExpressionFault ? UNKNOWN : value;
    const before = this.fault;
    this.fault =
      value instanceof ExpressionFault
        ? value.message
        : value !== UNKNOWN && typeof value !== 'boolean' && this.trigger.on.kind === 'turns'
          ? `it says ${value === '' ? 'nothing' : String(value)}, where yes or no is asked.`
          : null;
    if (before !== this.fault) this.onTrouble(this);
    if (this.fine === null || this.expression === undefined) return;
    this.next();
    this.next = this.fine.wakeAtNext(this.expression, () => this.board.turn(() => this.wake()));
  }
}
