import { type ASTNode, Environment } from '@marcbachmann/cel-js';
import { type AppError, fail, ok, type PlainValue, type Result } from '../show/index';

/** The value of something nobody can vouch for at present: a silent device's point, a choice not yet made. */
export const UNKNOWN: unique symbol = Symbol('unknown');
export type Verdict = PlainValue | typeof UNKNOWN;

/** An expression that parsed but could not be worked out with the present values, such as text compared with a number. */
export class ExpressionFault {
  constructor(readonly message: string) {}
}

/** Gives the present value of a key such as `switcher.program`, or UNKNOWN. */
export type ReadKey = (key: string) => Verdict;

/**
 * A parsed CEL expression that knows what it reads.
 *
 * Unknown follows Kleene's three-valued logic at `&&`, `||` and `!`: `false && unknown` is false, `true || unknown` is true,
 * everything else that touches an unknown is unknown.
 */
export interface Expression {
  readonly text: string;
  /** Keys read whatever the state is, in order of appearance. */
  readonly reads: readonly string[];
  /** True when a key depends on another's value (`at(chosen.camera).travelling`): ask `readsNow` after each change. */
  readonly indirect: boolean;
  /** All keys read in the present state. */
  readsNow(read: ReadKey): readonly string[];
  evaluate(read: ReadKey): Verdict | ExpressionFault;
}

const environment = new Environment({ unlistedVariablesAreDyn: true });
environment.registerFunction('at(string): map', () => new Map());
// CEL keeps int and double apart; a level in dB or an angle is a double now and whole the next moment, so arithmetic may mix.
for (const [operator, sum] of [
  ['+', (a: number, b: number) => a + b],
  ['-', (a: number, b: number) => a - b],
  ['*', (a: number, b: number) => a * b],
  ['/', (a: number, b: number) => a / b],
] as const) {
  environment.registerOperator(`double ${operator} int`, (a: number, b: bigint) => sum(a, Number(b)));
  environment.registerOperator(`int ${operator} double`, (a: bigint, b: number) => sum(Number(a), b));
}

type CelContext = Record<string, Record<string, PlainValue | bigint>>;

const toCel = (value: PlainValue): PlainValue | bigint =>
  typeof value === 'number' && Number.isSafeInteger(value) ? BigInt(value) : value;

function fromCel(value: unknown): PlainValue | ExpressionFault {
  if (typeof value === 'bigint') return Number(value);
  if (typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean') return value;
  return new ExpressionFault('The expression gives neither text, number nor yes/no.');
}

interface Name {
  readonly scope: string;
  readonly field: string;
  readonly key: string;
}

interface Indirection {
  readonly alias: string;
  readonly field: string;
  readonly which: Evaluator;
}

interface Evaluator {
  readonly names: readonly Name[];
  readonly indirections: readonly Indirection[];
  run(read: ReadKey): Verdict | ExpressionFault;
}

/** CEL's own macros bring a variable of their own as first argument. */
const BINDING_MACROS = new Set(['all', 'exists', 'exists_one', 'map', 'filter']);

class BadName extends Error {
  constructor(
    message: string,
    readonly start: number,
  ) {
    super(message);
  }
}

const isNode = (part: unknown): part is ASTNode =>
  typeof part === 'object' && part !== null && 'op' in part && 'args' in part;

function childrenOf(node: ASTNode): ASTNode[] {
  const found: ASTNode[] = [];
  const visit = (part: unknown): void => {
    if (isNode(part)) found.push(part);
    else if (Array.isArray(part)) part.forEach(visit);
  };
  visit(node.args);
  return found;
}

/** Collects names and `at(…)` uses of a leaf, and writes the leaf anew with an alias for each `at(…)`. */
function leafOf(node: ASTNode, source: string): Evaluator {
  const names = new Map<string, Name>();
  const indirections: Indirection[] = [];
  const cuts: { start: number; end: number; text: string }[] = [];
  const walk = (part: ASTNode, locals: ReadonlySet<string>): void => {
    if (part.op === '.' && part.args[0].op === 'call' && part.args[0].args[0] === 'at') {
      const [which] = part.args[0].args[1];
      if (which === undefined) throw new BadName('at() needs a device key, such as at(chosen.camera).', part.start);
      const alias = `indirect${indirections.length}`;
      indirections.push({ alias, field: part.args[1], which: evaluatorOf(which, source) });
      cuts.push({ start: part.start, end: part.end, text: `${alias}.found` });
      return;
    }
    if (part.op === '.' && part.args[0].op === 'id' && !locals.has(part.args[0].args)) {
      const [scope, field] = [part.args[0].args, part.args[1]];
      names.set(`${scope}.${field}`, { scope, field, key: `${scope}.${field}` });
      return;
    }
    if (part.op === 'id') {
      if (locals.has(part.args)) return;
      throw new BadName(`"${part.args}" is not a name that can be read.`, part.start);
    }
    if (part.op === 'rcall' && BINDING_MACROS.has(part.args[0]) && part.args[2][0]?.op === 'id') {
      walk(part.args[1], locals);
      const inner = new Set([...locals, part.args[2][0].args]);
      part.args[2].slice(1).forEach((argument) => walk(argument, inner));
      return;
    }
    childrenOf(part).forEach((child) => walk(child, locals));
  };
  walk(node, new Set());
  let text = source.slice(node.start, node.end);
  for (const cut of cuts.reverse())
    text = text.slice(0, cut.start - node.start) + cut.text + text.slice(cut.end - node.start);
  const parsed = environment.parse(text);
  return new Leaf([...names.values()], indirections, (context) => parsed(context));
}

/** The smallest piece that is handed to CEL as a whole. Its context object is kept between calls: evaluation allocates next to nothing. */
class Leaf implements Evaluator {
  private readonly context: CelContext = {};

  constructor(
    readonly names: readonly Name[],
    readonly indirections: readonly Indirection[],
    private readonly work: (context: CelContext) => unknown,
  ) {
    for (const name of names) this.context[name.scope] ??= {};
    for (const { alias } of indirections) this.context[alias] = {};
  }

  run(read: ReadKey): Verdict | ExpressionFault {
    for (const name of this.names) {
      const value = read(name.key);
      if (value === UNKNOWN) return UNKNOWN;
      (this.context[name.scope] ??= {})[name.field] = toCel(value);
    }
    for (const indirection of this.indirections) {
      const which = indirection.which.run(read);
      if (which === UNKNOWN || which instanceof ExpressionFault) return which;
      const value = read(`${which}.${indirection.field}`);
      if (value === UNKNOWN) return UNKNOWN;
      (this.context[indirection.alias] ??= {}).found = toCel(value);
    }
    try {
      return fromCel(this.work(this.context));
    } catch (error) {
      return new ExpressionFault(
        (error instanceof Error ? error.message : String(error)).split('\n')[0] ?? 'unknown fault',
      );
    }
  }
}

function evaluatorOf(node: ASTNode, source: string): Evaluator {
  switch (node.op) {
    case '&&':
      return new Junction(evaluatorOf(node.args[0], source), evaluatorOf(node.args[1], source), false);
    case '||':
      return new Junction(evaluatorOf(node.args[0], source), evaluatorOf(node.args[1], source), true);
    case '!_':
      return new Negation(evaluatorOf(node.args, source));
    default:
      return leafOf(node, source);
  }
}

/** `&&` (decided by false) and `||` (decided by true). */
class Junction implements Evaluator {
  readonly names: readonly Name[];
  readonly indirections: readonly Indirection[];

  constructor(
    private readonly left: Evaluator,
    private readonly right: Evaluator,
    private readonly decidedBy: boolean,
  ) {
    this.names = [...left.names, ...right.names];
    this.indirections = [...left.indirections, ...right.indirections];
  }

  run(read: ReadKey): Verdict | ExpressionFault {
    const left = this.left.run(read);
    if (left === this.decidedBy) return left;
    const right = this.right.run(read);
    if (right === this.decidedBy) return right;
    if (left instanceof ExpressionFault) return left;
    if (right instanceof ExpressionFault) return right;
    if (left === UNKNOWN || right === UNKNOWN) return UNKNOWN;
    if (typeof left !== 'boolean' || typeof right !== 'boolean')
      return new ExpressionFault('Both sides of && and || must be yes or no.');
    return !this.decidedBy;
  }
}

class Negation implements Evaluator {
  readonly names: readonly Name[];
  readonly indirections: readonly Indirection[];

  constructor(private readonly inner: Evaluator) {
    this.names = inner.names;
    this.indirections = inner.indirections;
  }

  run(read: ReadKey): Verdict | ExpressionFault {
    const value = this.inner.run(read);
    if (value === UNKNOWN || value instanceof ExpressionFault) return value;
    return typeof value === 'boolean' ? !value : new ExpressionFault('Only yes or no can be negated.');
  }
}

/**
 * Parses a CEL expression and takes from its syntax tree the points and values that it reads.
 * @param text CEL; names are `device.point`, `value.name`, `chosen.name`, `param.name`, `at(chosen.camera).point`
 * @param path where the text stands, for the error
 */
export function compileExpression(text: string, path = ''): Result<Expression, AppError> {
  const wrong = (message: string, start: number): { readonly ok: false; readonly error: AppError } =>
    fail({
      code: 'bad-expression',
      message: `${message} (at character ${start + 1} of "${text}")`,
      mend: 'Write a condition such as switcher.program == 4; names are device.point, value.name, chosen.name or param.name.',
      path,
    });
  try {
    const parsed = environment.parse(text);
    const checked = parsed.check();
    if (!checked.valid) return wrong(firstLine(checked.error?.message), checked.error?.range?.start ?? 0);
    const evaluator = evaluatorOf(parsed.ast, text);
    const reads = [
      ...new Set(
        [...evaluator.names, ...evaluator.indirections.flatMap((one) => one.which.names)].map((name) => name.key),
      ),
    ];
    return ok({
      text,
      reads,
      indirect: evaluator.indirections.length > 0,
      readsNow: (read) => [
        ...reads,
        ...evaluator.indirections.flatMap((one) => {
          const which = one.which.run(read);
          return typeof which === 'string' ? [`${which}.${one.field}`] : [];
        }),
      ],
      evaluate: (read) => evaluator.run(read),
    });
  } catch (error) {
    if (error instanceof BadName) return wrong(error.message, error.start);
    const start = (error as { range?: { start: number } }).range?.start ?? 0;
    return wrong(firstLine(error instanceof Error ? error.message : String(error)), start);
  }
}

const firstLine = (message = 'This is not a CEL expression.'): string => message.split('\n')[0] ?? message;
