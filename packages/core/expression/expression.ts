import { type ASTNode, Environment } from '@marcbachmann/cel-js';
import { RE2JS } from 're2js';
import { type AppError, fail, ok, type PlainValue, type Result } from '../show/index';
import { plainFault } from './plainFault';

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
  /**
   * Numbers that it names, each once, at which what counts in whole seconds passes from one side to the other between two of them: those with a fraction,
   * and all where something has to be over or under.
   */
  readonly limits: readonly number[];
  /** All keys read in the present state. */
  readsNow(read: ReadKey): readonly string[];
  evaluate(read: ReadKey): Verdict | ExpressionFault;
}

/** Bounds what one expression may be and may cost, whoever wrote it. */
const MOST_NODES = 500;
const DEEPEST = 40;
const MOST_IN_A_LIST = 100;
/** A list gone through inside a list gone through, and no deeper. */
const DEEPEST_ROUNDS = 2;
const LONGEST_TEXT = 2000;
const LONGEST_PATTERN = 200;

const environment = new Environment({
  unlistedVariablesAreDyn: true,
  limits: {
    maxAstNodes: MOST_NODES,
    maxDepth: DEEPEST,
    maxListElements: MOST_IN_A_LIST,
    maxMapEntries: MOST_IN_A_LIST,
  },
});
environment.registerFunction('at(string): map', () => new Map());
environment.registerFunction('onAir(string): bool', () => false);
environment.registerFunction('onPreview(string): bool', () => false);
environment.registerFunction('input(string): int', () => 0n);
environment.registerFunction('picture(string): string', () => '');
environment.registerFunction('armed(string): bool', () => false);
environment.registerFunction('holds(string): bool', () => false);
/** Entries of a list at most. */
export const MOST_LINES = 1000;
// Devices tell what they list one a line, and a list of the show is kept so: as CEL goes through it, it is a list of texts.
environment.registerFunction('lines(string): list<string>', (text: string) => linesOf(text));
// The library's own "matches" may take time that grows without bound with the text; this one grows with its length alone.
environment.registerFunction('string.matchesLinear(string): bool', (text: string, pattern: string) =>
  patternOf(pattern).matcher(text).find(),
);

/** The entries of a text that lists one a line: empty ones are none, and what comes after the thousandth is left out. */
export const linesOf = (text: string): string[] => text.split('\n').filter(Boolean).slice(0, MOST_LINES);

const patterns = new Map<string, RE2JS>();

/** A pattern ready to be used; the last hundred are kept. @throws when it is none, or longer than 200 characters */
function patternOf(text: string): RE2JS {
  let pattern = patterns.get(text);
  if (pattern !== undefined) return pattern;
  if (text.length > LONGEST_PATTERN) throw new Error(`A pattern has at most ${LONGEST_PATTERN} characters.`);
  pattern = RE2JS.compile(text);
  if (patterns.size >= 100) patterns.clear();
  patterns.set(text, pattern);
  return pattern;
}

/** Functions that ask something of a source by its key, or of a trigger by its id; on the board it stands under `function@key`. */
const SOURCE_FUNCTIONS: ReadonlySet<string> = new Set(['onAir', 'onPreview', 'input', 'picture', 'armed', 'holds']);
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
  if (typeof value === 'string')
    return value.length > LONGEST_TEXT
      ? new ExpressionFault(`The text is longer than ${LONGEST_TEXT} characters.`)
      : value;
  if (typeof value === 'number')
    return Number.isFinite(value) ? value : new ExpressionFault('The result is no finite number.');
  if (typeof value === 'boolean') return value;
  return new ExpressionFault('The expression gives neither text, number nor yes/no.');
}

interface Name {
  readonly scope: string;
  readonly field: string;
  readonly key: string;
}

interface Indirection {
  readonly alias: string;
  readonly which: Evaluator;
  /** The key that is read, when `which` gives this. */
  readonly keyFor: (which: string) => string;
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
  const walk = (part: ASTNode, locals: ReadonlySet<string>, rounds = 0): void => {
    if (part.op === 'call' && SOURCE_FUNCTIONS.has(part.args[0])) {
      const name = part.args[0];
      const [which] = part.args[1];
      if (which === undefined)
        throw new BadName(`${name}() needs the key of a source, such as ${name}("roofCam").`, part.start);
      const alias = `indirect${indirections.length}`;
      if (which.op === 'value' && typeof which.args === 'string') {
        const key = `${name}@${which.args}`;
        names.set(key, { scope: `source_${name}`, field: which.args, key });
        cuts.push({ start: part.start, end: part.end, text: `source_${name}[${JSON.stringify(which.args)}]` });
        return;
      }
      indirections.push({ alias, which: evaluatorOf(which, source), keyFor: (found) => `${name}@${found}` });
      cuts.push({ start: part.start, end: part.end, text: `${alias}.found` });
      return;
    }
    if (part.op === 'rcall' && part.args[0] === 'matches') {
      const start = source.indexOf('matches', part.args[1].end);
      cuts.push({ start, end: start + 'matches'.length, text: 'matchesLinear' });
    }
    if (part.op === '.' && part.args[0].op === 'call' && part.args[0].args[0] === 'at') {
      const [which] = part.args[0].args[1];
      if (which === undefined) throw new BadName('at() needs a device key, such as at(chosen.camera).', part.start);
      const alias = `indirect${indirections.length}`;
      const field = part.args[1];
      indirections.push({ alias, which: evaluatorOf(which, source), keyFor: (found) => `${found}.${field}` });
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
      const deepest = /\blines\s*\(/.test(source) ? 1 : DEEPEST_ROUNDS;
      if (rounds >= deepest)
        throw new BadName(
          deepest === 1
            ? 'A condition that goes through lines of a text goes through no list inside it.'
            : `Lists are gone through at most ${DEEPEST_ROUNDS} deep in one condition.`,
          part.start,
        );
      walk(part.args[1], locals, rounds);
      const inner = new Set([...locals, part.args[2][0].args]);
      part.args[2].slice(1).forEach((argument) => walk(argument, inner, rounds + 1));
      return;
    }
    childrenOf(part).forEach((child) => walk(child, locals, rounds));
  };
  walk(node, new Set());
  let text = source.slice(node.start, node.end);
  for (const cut of cuts.sort((a, b) => b.start - a.start))
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
      const value = read(indirection.keyFor(String(which)));
      if (value === UNKNOWN) return UNKNOWN;
      (this.context[indirection.alias] ??= {}).found = toCel(value);
    }
    try {
      return fromCel(this.work(this.context));
    } catch (error) {
      return new ExpressionFault(plainFault(error instanceof Error ? error.message : String(error)));
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
 * @param text CEL; names are `device.point`, `value.name`, `chosen.name`, `param.name`, `at(chosen.camera).point`; sources are asked for
 * with `onAir("key")`, `onPreview("key")`, `input("key")` and `picture("key")` (good, none, black, frozen), of a trigger by its id with `armed("id")` and `holds("id")`
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
  if (text.length > LONGEST_TEXT) return wrong(`It is longer than ${LONGEST_TEXT} characters.`, LONGEST_TEXT);
  try {
    const parsed = environment.parse(text);
    const checked = parsed.check();
    if (!checked.valid) return wrong(plainFault(checked.error?.message), checked.error?.range?.start ?? 0);
    const evaluator = evaluatorOf(parsed.ast, text);
    const reads = [
      ...new Set(
        [...evaluator.names, ...evaluator.indirections.flatMap((item) => item.which.names)].map((name) => name.key),
      ),
    ];
    return ok({
      text,
      reads,
      indirect: evaluator.indirections.length > 0,
      limits: limitsIn(text),
      readsNow: (read) => [
        ...reads,
        ...evaluator.indirections.flatMap((item) => {
          const which = item.which.run(read);
          return typeof which === 'string' ? [item.keyFor(which)] : [];
        }),
      ],
      evaluate: (read) => evaluator.run(read),
    });
  } catch (error) {
    if (error instanceof BadName) return wrong(error.message, error.start);
    const start = (error as { range?: { start: number } }).range?.start ?? 0;
    return wrong(plainFault(error instanceof Error ? error.message : String(error)), start);
  }
}

/** So many expressions are kept ready. */
const MOST_KEPT = 20_000;
const kept = new Map<string, Result<Expression, AppError>>();

/** The same, parsed once for each text: shows say the same thing in many places. */
export function compiledExpression(text: string): Result<Expression, AppError> {
  let known = kept.get(text);
  if (known === undefined) {
    known = compileExpression(text);
    if (kept.size >= MOST_KEPT) kept.clear();
    kept.set(text, known);
  }
  return known;
}

/** Quoted texts hold no numbers. What is compared strictly turns between two whole numbers, however whole its limit is. */
function limitsIn(text: string): readonly number[] {
  const bare = text.replace(/"(\\.|[^"\\])*"|'(\\.|[^'\\])*'/g, '');
  const numbers = [...new Set((bare.match(/(?<![\w.])\d+(\.\d+)?/g) ?? []).map(Number))];
  return /[<>](?!=)/.test(bare) ? numbers : numbers.filter((number) => !Number.isInteger(number));
}
